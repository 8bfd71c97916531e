import type { Leg, Passage, Place } from "./path";

/** What may be tried when it does not work. */
export type Help = "smaller" | "slower" | "change" | "fingers" | "rest" | "another" | "tomorrow";

/** Slower is to this share of the tempo, but never under the slowest of a metronome's marks. */
const SLOWER = 0.85;
const SLOWEST = 40;

/**
 * What fits when somebody has tried so often in vain, kindest first: do not go on, make it smaller or slower, rest, come back
 * (common practice, no published source).
 *
 * @param changes  the place is one change of two notes: the drill fits
 */
export function helpFor(leg: Leg, place: Place, bpm: number, changes: boolean): Help[] {
  const played = leg.step !== "count";
  return [
    ...(changes && played ? (["change"] as const) : []),
    ...(place.to > place.from ? (["smaller"] as const) : []),
    ...(bpm > SLOWEST ? (["slower"] as const) : []),
    ...(played ? (["fingers"] as const) : []),
    "rest",
    "another",
    "tomorrow",
  ];
}

/** @example slower(80) // => 68 */
export function slower(bpm: number): number {
  return Math.max(SLOWEST, Math.round(bpm * SLOWER));
}

/** The half of a passage that went worse; the first one when both went alike, or nothing is known. */
export function smaller({ from, to }: Passage, wrongInBar: ReadonlyMap<number, number>): Passage {
  const middle = from + Math.floor((to - from) / 2);
  const wrong = (a: number, b: number) => {
    let sum = 0;
    for (let bar = a; bar <= b; bar++) sum += wrongInBar.get(bar) ?? 0;
    return sum;
  };
  return wrong(middle + 1, to) > wrong(from, middle) ? { from: middle + 1, to } : { from, to: middle };
}
