import type { Syllable } from "../../core/rhythm";
import type { Score } from "../../core/score";
import { escaped, placeInPicture } from "./pencil-svg";

const LETTER = 405;

/** The score with syllables as words under its notes: the engraver makes room for them. Rests take no words. */
export function withSungSyllables(score: Score, syllables: readonly Syllable[]): Score {
  const texts = new Map(syllables.map(({ eventId, text }) => [eventId, text]));
  const [part, ...others] = score.parts;
  const measures = part.measures.map((measure) => ({
    ...measure,
    events: measure.events.map((event) => {
      const lyric = texts.get(event.id);
      return lyric && event.kind === "note" ? { ...event, lyric } : event;
    }),
  }));
  return { ...score, parts: [{ ...part, measures }, ...others] };
}

/** Writes what is counted on rests into an engraved page, on the height of the words beside them. */
export function withRestSyllables(svg: string, score: Score, syllables: readonly Syllable[]): string {
  const rests = new Set(
    score.parts[0].measures.flatMap((measure) =>
      measure.events.filter((event) => event.kind === "rest").map((event) => event.id),
    ),
  );
  return syllables
    .filter(({ eventId }) => rests.has(eventId))
    .reduce((picture, { eventId, text }) => {
      const place = placeInPicture(picture, eventId);
      const height = place && wordsHeight(picture, place.opened);
      if (!place || height === null) return picture;
      const drawn = `<text class="syllable" x="${place.x + 110}" y="${height}" text-anchor="middle" font-size="${LETTER}px">${escaped(text)}</text>`;
      return picture.slice(0, place.opened) + drawn + picture.slice(place.opened);
    }, svg);
}

/** The height of the words in the system around a place of the picture; null where there are none. */
function wordsHeight(picture: string, at: number): number | null {
  const from = picture.lastIndexOf('class="system"', at);
  const next = picture.indexOf('class="system"', at);
  const system = picture.slice(from, next < 0 ? undefined : next);
  const word = /class="syl"[^>]*>\s*<text x="-?\d+" y="(-?\d+)"/.exec(system);
  return word ? Number(word[1]) : null;
}
