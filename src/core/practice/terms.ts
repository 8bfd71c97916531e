import type { Criterion } from "../progress";
import type { StyleRange } from "../score";
import type { PracticeStep } from "./steps";

/** What is recorded of a task: all that is asked, some bars of it by index in the line, or nothing at all. */
export type ToRecord =
  | { kind: "all" }
  | { kind: "nothing" }
  | { kind: "bars"; firstBar: number; lastBar: number };

/** How something is given, beside whom, how often and until when. */
export interface Terms {
  withoutRepeats: boolean;
  /** The slowest tempo at which a take counts; any when null. */
  lowestBpm: number | null;
  /** First tempo of the ladder and how much it climbs; the goal is its last rung. */
  ladder: { fromBpm: number; stepBpm: number } | null;
  /** Styles by bar range, by index in the line. */
  styles: StyleRange[];
  /** What the player is led through; what the bench would do when null. */
  steps: PracticeStep[] | null;
  record: ToRecord;
  /** Minutes each time; nothing is said when null. */
  minutes: number | null;
  /** What is marked and how much each counts; every criterion alike when null. */
  criteria: { criterion: Criterion; weight: number }[] | null;
  /** Counts as a playing test. */
  test: boolean;
  /** Beside what is required: for who wants more. */
  extra: boolean;
  /** To be read at sight: unseen until it is opened, looked at for so many seconds, then recorded once. */
  sight: { lookSec: number } | null;
}

/** What is asked where nothing was said. */
export const PLAIN_TERMS: Terms = {
  withoutRepeats: false,
  lowestBpm: null,
  ladder: null,
  styles: [],
  steps: null,
  record: { kind: "all" },
  minutes: null,
  criteria: null,
  test: false,
  extra: false,
  sight: null,
};

/** Terms whose bars lie among those that are asked for: a style or a recording that reaches out of them is cut. */
export function within(terms: Terms, [from, to]: readonly [number, number]): Terms {
  const cut = <R extends { firstBar: number; lastBar: number }>(range: R): R => ({
    ...range,
    firstBar: Math.min(to, Math.max(from, range.firstBar)),
    lastBar: Math.max(from, Math.min(to, range.lastBar)),
  });
  return {
    ...terms,
    styles: terms.styles.filter(({ firstBar, lastBar }) => firstBar <= to && lastBar >= from).map(cut),
    record: terms.record.kind === "bars" ? cut(terms.record) : terms.record,
  };
}

/** So many rungs at most: a ladder is climbed in one sitting. */
export const MOST_RUNGS = 20;

/**
 * Tempi of a ladder, slowest first, the goal last; the last step is smaller where it does not come out even.
 *
 * @param goalBpm  the last rung
 * @returns the goal alone when there is no ladder, or it would begin at or over the goal
 * @example
 * rungsOf({ fromBpm: 60, stepBpm: 8 }, 80) // => [60, 68, 76, 80]
 */
export function rungsOf(ladder: Terms["ladder"], goalBpm: number): number[] {
  if (!ladder || ladder.fromBpm >= goalBpm) return [goalBpm];
  const step = Math.max(ladder.stepBpm, (goalBpm - ladder.fromBpm) / (MOST_RUNGS - 1), 1);
  const rungs: number[] = [];
  for (let bpm = ladder.fromBpm; bpm < goalBpm; bpm += step) rungs.push(Math.round(bpm));
  return [...rungs, goalBpm];
}

/**
 * How much slower than written still is the tempo that was asked for: a metronome's neighbour mark, about 4 %, the difference
 * between 76 and 80 on its scale. From memory of Maelzel's scale.
 */
export const NEIGHBOUR_TEMPO = 0.96;

/** Whether a take is slower than the slowest that counts. What has no known tempo is not held against anybody. */
export function tooSlow(tempoBpm: number | null, lowestBpm: number | null): boolean {
  return tempoBpm !== null && lowestBpm !== null && tempoBpm < lowestBpm * NEIGHBOUR_TEMPO;
}

/**
 * The mean of marks by the weights that were set for a task; of all that were given where nothing was set.
 *
 * @param marks  1 to 4 by criterion; what was not marked does not count
 * @returns null when nothing that counts was marked
 * @example
 * // notes count twice as much as rhythm
 * weightedMark({ notes: 4, rhythm: 1 }, [
 *   { criterion: "notes", weight: 2 },
 *   { criterion: "rhythm", weight: 1 },
 * ]) // => 3
 */
export function weightedMark(
  marks: Partial<Record<Criterion, number>>,
  criteria: Terms["criteria"],
): number | null {
  const counted = Object.entries(marks).map(([name, mark]) => ({
    mark,
    weight: criteria ? (criteria.find(({ criterion }) => criterion === name)?.weight ?? 0) : 1,
  }));
  const weights = counted.reduce((sum, { weight }) => sum + weight, 0);
  if (weights === 0) return null;
  return counted.reduce((sum, { mark, weight }) => sum + mark * weight, 0) / weights;
}

/** Whether somebody who has not sent it is to be asked for it: it is on the stands, and no extra. */
export function isAskedFor(
  { terms, opensOn }: { terms: Pick<Terms, "extra"> | null; opensOn: string | null },
  today: string,
): boolean {
  return (opensOn === null || opensOn <= today) && !terms?.extra;
}
