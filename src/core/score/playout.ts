import type { Measure } from "./model";

/** One measure as it is played: its place in the part and which time through it is, from 1. */
export interface PlayedMeasure {
  measureIndex: number;
  pass: number;
}

export interface PlayOutOptions {
  /** Leaves out repeats (and so all endings but the last), keeping jumps. */
  withoutRepeats?: boolean | undefined;
  /** Most measures to play; 10,000 when left out. */
  longest?: number;
}

/**
 * The order in which measures are played: repeats with endings, D.C. and D.S. with al Fine or al Coda.
 * After a jump, repeats are not taken again and the last ending is played (common practice, no published source).
 *
 * @throws RangeError when there are more measures to play than `longest`
 * @example
 * // | 1 | 2 :| with a repeat at the end of bar 2 is played 1 2 1 2
 * playOutOrder([
 *   { id: "m1", number: "1", events: [] },
 *   { id: "m2", number: "2", events: [], repeatEnd: { times: 2 } },
 * ]).map(({ measureIndex }) => measureIndex + 1) // => [1, 2, 1, 2]
 */
export function playOutOrder(
  measures: readonly Measure[],
  { withoutRepeats = false, longest = 10_000 }: PlayOutOptions = {},
): PlayedMeasure[] {
  const order: PlayedMeasure[] = [];
  const played = new Map<number, number>();
  let repeatFrom = 0;
  let round = 1;
  let jumped = false;

  for (let index = 0; index < measures.length; ) {
    const measure = measures[index]!;
    if (measure.repeatStart && repeatFrom !== index) {
      repeatFrom = index;
      round = 1;
    }
    const single = jumped || withoutRepeats;
    if (measure.ending && !playsNow(measures, index, single ? Number.POSITIVE_INFINITY : round)) {
      index++;
      continue;
    }
    const pass = (played.get(index) ?? 0) + 1;
    played.set(index, pass);
    order.push({ measureIndex: index, pass });
    if (order.length > longest)
      throw new RangeError(`With its repeats this has more than ${longest} bars to play`);

    if (jumped && measure.fine) return order;
    if (jumped && measure.toCoda) {
      const coda = measures.findIndex((candidate, i) => i > index && candidate.coda);
      if (coda >= 0) {
        index = coda;
        continue;
      }
    }
    if (measure.repeatEnd && !single && round < measure.repeatEnd.times) {
      round++;
      index = repeatFrom;
      continue;
    }
    if (measure.repeatEnd) {
      repeatFrom = index + 1;
      round = 1;
    }
    if (measure.jump && !jumped) {
      jumped = true;
      round = 1;
      index =
        measure.jump === "da-capo"
          ? 0
          : Math.max(
              0,
              measures.findIndex((candidate) => candidate.segno),
            );
      continue;
    }
    index++;
  }
  return order;
}

/** Whether a measure under an ending belongs to this round; with an endless round only the last ending of its group does. */
function playsNow(measures: readonly Measure[], index: number, round: number): boolean {
  const passes = measures[index]!.ending!.passes;
  if (round !== Number.POSITIVE_INFINITY) return passes.includes(round);
  let last = Math.max(...passes);
  for (let i = index + 1; i < measures.length && measures[i]!.ending; i++)
    last = Math.max(last, ...measures[i]!.ending!.passes);
  return passes.includes(last);
}
