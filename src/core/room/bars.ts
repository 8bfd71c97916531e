import { passage } from "../playalong";
import type { Timeline } from "../score";

/** Written bars by their places in the part, from 0: the first, and the one after the last. */
export type Stretch = readonly [from: number, to: number];

export type ReadBars =
  | { stretches: Stretch[] }
  | { problem: "not-bars" | "no-such-bar" | "backwards" | "too-many" };

/** So many spots are joined at most. */
const MOST_SPOTS = 6;

/**
 * Bars as a director types or says them: "5", "5-8", "5 to 8", and spots to be joined, "3, 7-8". Nothing means the whole line.
 * @param numbers  printed numbers of the bars in written order; a pickup is "0"
 * @example
 * readBars("2-3, 5", ["1", "2", "3", "4", "5"]) // => { stretches: [[1, 3], [4, 5]] }
 */
export function readBars(text: string, numbers: readonly string[]): ReadBars {
  const spots = text
    .split(/[,;+]/)
    .map((spot) => spot.trim())
    .filter(Boolean);
  if (spots.length > MOST_SPOTS) return { problem: "too-many" };
  const stretches: Stretch[] = [];
  for (const spot of spots) {
    const read = /^(\d{1,4})(?:\s*(?:-|–|to|\.\.)\s*(\d{1,4}))?$/i.exec(spot);
    if (!read) return { problem: "not-bars" };
    const from = numbers.indexOf(String(Number(read[1])));
    const last = numbers.lastIndexOf(String(Number(read[2] ?? read[1])));
    if (from < 0 || last < 0) return { problem: "no-such-bar" };
    if (last < from) return { problem: "backwards" };
    stretches.push([from, last + 1]);
  }
  return { stretches };
}

/**
 * Some spots of a line as one timeline in one pulse, the first time each is reached. What a repeat brings between the first and the
 * last bar of a spot is played with it.
 * @param stretches  none for the whole line
 * @throws RangeError when the line has no such bars
 */
export function joined(line: Timeline, stretches: readonly Stretch[]): Timeline {
  if (stretches.length === 0) return line;
  return stretches.map((stretch) => passage(line, ...played(line, stretch))).reduce(after);
}

/** Places in played order of a stretch of written bars. */
function played(line: Timeline, [from, to]: Stretch): [number, number] {
  const first = line.measures.findIndex(({ measureIndex }) => measureIndex === from);
  const last = line.measures.findIndex(({ measureIndex }, i) => i >= first && measureIndex === to - 1);
  if (first < 0 || last < 0) throw new RangeError("There are no such bars in this line");
  return [first, last + 1];
}

function after(before: Timeline, next: Timeline): Timeline {
  const sec = before.totalSec;
  const quarters = before.totalQuarters;
  const later = <T extends { onsetSec: number }>(each: T) => ({ ...each, onsetSec: each.onsetSec + sec });
  return {
    ...before,
    measures: [
      ...before.measures,
      ...next.measures.map((bar) => ({ ...later(bar), onsetQuarters: bar.onsetQuarters + quarters })),
    ],
    notes: [
      ...before.notes,
      ...next.notes.map((note) => ({
        ...later(note),
        index: note.index + before.notes.length,
        onsetQuarters: note.onsetQuarters + quarters,
      })),
    ],
    heldRests: [...before.heldRests, ...next.heldRests.map(later)],
    totalQuarters: quarters + next.totalQuarters,
    totalSec: sec + next.totalSec,
  };
}
