import type { Syllable } from "../../core/rhythm";
import { escaped, placeInPicture } from "./pencil-svg";

/** Units of the engraver: below the staff, clear of stems and rests. */
const BELOW = 1250;
const LETTER = 420;

/** Writes counting syllables under the heads and rests of an engraved page, all of a system on one height. */
export function withSyllables(svg: string, syllables: readonly Syllable[]): string {
  return syllables.reduce((picture, { eventId, text }) => {
    const place = placeInPicture(picture, eventId);
    if (!place) return picture;
    const drawn = `<text class="syllable" x="${place.x + 110}" y="${place.top + BELOW}" text-anchor="middle" font-size="${LETTER}px" fill="#16302f">${escaped(text)}</text>`;
    return picture.slice(0, place.opened) + drawn + picture.slice(place.opened);
  }, svg);
}
