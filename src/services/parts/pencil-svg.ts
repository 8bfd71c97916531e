import type { PencilView } from "../shelf/schema";

/** Units of the engraver: a staff space is 180, a staff 720 high. */
const STAFF_HEIGHT = 720;
const LETTER = 400;
const ROW = 400;

/**
 * Draws pencil marks into an engraved part, so that screen and paper show the same. Accidentals stand before the note,
 * names and positions above, breaths after it over the staff, reminders below. A mark whose note is not in the picture is
 * left out.
 */
export function withPencil(
  svg: string,
  marks: readonly Pick<PencilView, "eventId" | "kind" | "text">[],
): string {
  const taken = new Map<string, number>();
  return marks.reduce((picture, { eventId, kind, text }) => {
    const place = placeInPicture(picture, eventId);
    if (!place) return picture;
    const { x, y, top, opened } = place;
    // Reminders and dynamics share the rows below the staff.
    const side = kind === "dynamic" ? "reminder" : kind;
    const row = taken.get(`${eventId} ${side}`) ?? 0;
    taken.set(`${eventId} ${side}`, row + 1);
    const below = { x: x + 110, y: Math.max(top + STAFF_HEIGHT, y) + 520 + ROW * row, anchor: "middle" };
    const spot = {
      accidental: { x: x - 60 - 200 * row, y: y + 140, anchor: "end" },
      name: { x: x + 110, y: Math.min(top, y) - 300 - ROW * row, anchor: "middle" },
      position: { x: x + 110, y: Math.min(top, y) - 300 - ROW * row, anchor: "middle" },
      breath: { x: x + 420, y: top - 60, anchor: "middle" },
      reminder: below,
      dynamic: below,
    }[kind];
    const letters = kind === "breath" ? "’" : text;
    const drawn = `<text class="pencil" x="${spot.x}" y="${spot.y}" text-anchor="${spot.anchor}" font-size="${kind === "breath" ? 2 * LETTER : LETTER}px" font-style="italic" fill="#4d4a45">${escaped(letters)}</text>`;
    return picture.slice(0, opened) + drawn + picture.slice(opened);
  }, svg);
}

/** Where a head or rest stands in an engraved part: its place, the top line of its staff, and where its group opens. */
export function placeInPicture(
  picture: string,
  eventId: string,
): { x: number; y: number; top: number; opened: number } | null {
  const start = picture.indexOf(`<g id="${eventId}" class="`);
  if (start < 0) return null;
  const opened = picture.indexOf(">", start) + 1;
  const place = /translate\((-?\d+), (-?\d+)\)/.exec(picture.slice(opened, opened + 2000));
  const staff = [...picture.slice(0, start).matchAll(/class="staff">\s*<path d="M-?\d+ (-?\d+) /g)].at(-1);
  return place && staff ? { x: Number(place[1]), y: Number(place[2]), top: Number(staff[1]), opened } : null;
}

export function escaped(text: string): string {
  return text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);
}
