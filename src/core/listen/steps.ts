import type { SoundingNote } from "../score";
import type { Heard, Run } from "./heard";
import { median, total } from "./statistics";

/** The pace around a gap is taken from so far on both sides of it, quarters. */
const REACH = 8;
/** Of fewer gaps around there is no middle one: all of them together give the pace, less surely. */
const FEW = 3;

/** The gap that a stroke ends: how much too long it is, + is late, and how long it should be, ms. */
export interface Step {
  offMs: number;
  dueMs: number;
  /** Whether there were enough gaps around to be sure of the pace. */
  sure: boolean;
}

interface Gap {
  note: number;
  quarters: number;
  sec: number;
  /** Its middle, quarters from the beginning of the line. */
  at: number;
  run: Run;
}

/**
 * How much longer than the player's own pace asks each stroke was waited for: the gap from the stroke before, less what the gaps around it
 * would make of it. A rhythm is heard in its gaps: where one value is held too short again and again, a beat that is drawn
 * through all strokes bends with it.
 *
 * @returns by note; null for what was missed, for the first of a run, and where nothing is around
 */
export function stepsOf(
  notes: readonly SoundingNote[],
  heard: readonly (Heard | undefined)[],
): (Step | null)[] {
  const gaps: Gap[] = [];
  let before = -1;
  heard.forEach((each, note) => {
    if (!each) return;
    const previous = heard[before];
    // Nobody says how long a fermata is.
    if (previous && previous.run === each.run && !notes[before]!.fermata) {
      const [from, to] = [notes[before]!.onsetQuarters, notes[note]!.onsetQuarters];
      gaps.push({
        note,
        quarters: to - from,
        sec: each.onsetSec - previous.onsetSec,
        at: (from + to) / 2,
        run: each.run,
      });
    }
    before = note;
  });
  const steps: (Step | null)[] = notes.map(() => null);
  let [first, end] = [0, 0];
  for (const gap of gaps) {
    while (gaps[first]!.at < gap.at - REACH) first++;
    while (end < gaps.length && gaps[end]!.at <= gap.at + REACH) end++;
    const around = gaps.slice(first, end).filter((each) => each !== gap && each.run === gap.run);
    if (around.length === 0) continue;
    const sure = around.length >= FEW;
    const pace = sure
      ? median(around.map(({ sec, quarters }) => sec / quarters))
      : total(around.map(({ sec }) => sec)) / total(around.map(({ quarters }) => quarters));
    const dueSec = gap.quarters * pace;
    steps[gap.note] = { offMs: Math.round(1000 * (gap.sec - dueSec)), dueMs: 1000 * dueSec, sure };
  }
  return steps;
}
