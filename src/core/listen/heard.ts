import type { Segment } from "./segments";

/**
 * A stretch that is played without a stop: within one pass through the line, between two hesitations or skips. Runs are told apart by identity; a
 * beat is never drawn from one to another.
 */
export interface Run {
  /** Which pass through the line, from 0. */
  readonly pass: number;
  /** Which stretch of all there are, from 0: one more after each hesitation or skip. */
  readonly part: number;
}

/** A note of the line with what was heard for it. */
export interface Heard {
  segment: Segment;
  segmentIndex: number;
  /** Where it sounds, the take's tuning taken off; null without a pitch. */
  midi: number | null;
  /** How sure that pitch is, 0 to 1: by its periods, or by its partials where they show the octave. */
  clarity: number;
  /** Its odd partials against its even ones, dB, where it was asked for its octave and they were heard. */
  oddDb: number | null;
  run: Run;
  onsetSec: number;
  offsetSec: number;
  /** Until when it was held: a room rings on after that. */
  heldUntilSec: number;
  /** Second of two notes in one unbroken segment, with no sign of a new attack. */
  unbroken: boolean;
  /** Whether it is sure when it begins; where it is not, nothing is said of its time. */
  sureAttack: boolean;
  cracked: boolean;
  /** The pitch that was tried first and put right, the take's tuning taken off; null for none. */
  corrected: number | null;
  squeaked: boolean;
}

/** Where the notes before and after one sound, MIDI numbers with the take's tuning; without those that were missed. */
export function soundingBeside(
  heard: readonly (Heard | undefined)[],
  index: number,
  tuning: number,
): number[] {
  return [heard[index - 1], heard[index + 1]].flatMap((each) =>
    each?.midi == null ? [] : [each.midi + tuning],
  );
}
