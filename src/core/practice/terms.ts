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
  /** The rubric of the band it is marked by; the first when null. */
  rubric: string | null;
  /** What of it is marked and how much each counts; as the rubric says when null. */
  criteria: { criterion: string; weight: number }[] | null;
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
  rubric: null,
  criteria: null,
  test: false,
  extra: false,
  sight: null,
};

/** A take that is asked for anew otherwise than before: at another tempo, or some bars only, by index in the line. */
export interface Asks {
  goalBpm: number | null;
  bars: { firstBar: number; lastBar: number } | null;
}

/** What is asked for in a task whose next take is asked for otherwise. A slower tempo then counts too. */
export function withAsks<G extends { goalBpm: number; terms?: Terms | null | undefined }>(
  given: G,
  asks: Asks | null | undefined,
): G {
  if (!asks) return given;
  const terms = { ...PLAIN_TERMS, ...given.terms };
  const goalBpm = asks.goalBpm ?? given.goalBpm;
  return {
    ...given,
    goalBpm,
    terms: {
      ...terms,
      lowestBpm: terms.lowestBpm === null ? null : Math.min(terms.lowestBpm, goalBpm),
      ladder: asks.goalBpm === null ? terms.ladder : null,
      record: asks.bars ? { kind: "bars", ...asks.bars } : terms.record,
    },
  };
}

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

/** Whether somebody who has not sent it is to be asked for it: it is on the stands, and no extra. */
export function isAskedFor(
  { terms, opensOn }: { terms: Pick<Terms, "extra"> | null; opensOn: string | null },
  today: string,
): boolean {
  return (opensOn === null || opensOn <= today) && !terms?.extra;
}
