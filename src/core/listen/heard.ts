import type { Run } from "./runs";
import type { Segment } from "./segments";

/** A note of the line with what was heard for it. */
export interface Heard {
  segment: Segment;
  segmentIndex: number;
  /** Where it sounds, the take's tuning taken off; null without a pitch. */
  midi: number | null;
  /** How sure that pitch is, 0 to 1: by its periods, or by its partials where they show the octave. */
  clarity: number;
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
  squeaked: boolean;
}
