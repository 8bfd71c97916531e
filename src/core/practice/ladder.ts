/** What came of one round. "nearly" counts neither way. */
export type Outcome = "clean" | "nearly" | "poor";

/** Where somebody stands on a tempo ladder. */
export interface Rung {
  /** Index of the tempo to play next; the number of rungs when the top was passed. */
  at: number;
  /** Clean and poor rounds in a row on this rung. */
  clean: number;
  poor: number;
}

/** Two clean rounds climb a rung, two poor ones step down (common practice, no published source). */
export const ROUNDS_TO_MOVE = 2;

/**
 * One round on a tempo ladder. Never above its top: who has passed it is through.
 * @param rungs  how many there are
 * @example
 * climb({ at: 0, clean: 1, poor: 0 }, "clean", 3) // => { at: 1, clean: 0, poor: 0 }
 */
export function climb(rung: Rung, outcome: Outcome, rungs: number): Rung {
  if (outcome === "nearly") return { ...rung, clean: 0, poor: 0 };
  const clean = outcome === "clean" ? rung.clean + 1 : 0;
  const poor = outcome === "poor" ? rung.poor + 1 : 0;
  if (clean >= ROUNDS_TO_MOVE) return { at: Math.min(rungs, rung.at + 1), clean: 0, poor: 0 };
  if (poor >= ROUNDS_TO_MOVE && rung.at > 0) return { at: rung.at - 1, clean: 0, poor: 0 };
  return { at: rung.at, clean, poor };
}

/** So many tempi a ladder has where the director set none. */
const OWN_RUNGS = 4;

/**
 * Tempi from where a line can be placed with care up to its goal, evenly, slowest first.
 * @example
 * ownLadder(60, 84) // => [60, 68, 76, 84]
 */
export function ownLadder(fromBpm: number, goalBpm: number): number[] {
  if (fromBpm >= goalBpm) return [goalBpm];
  const steps = Math.min(OWN_RUNGS - 1, goalBpm - fromBpm);
  return Array.from({ length: steps + 1 }, (_, i) => Math.round(fromBpm + (i * (goalBpm - fromBpm)) / steps));
}
