import type { Segment } from "./segments";

/** A note of the line with what was heard for it. */
export interface Heard {
  segment: Segment;
  segmentIndex: number;
  run: number;
  onsetSec: number;
  offsetSec: number;
  /** Second of two notes in one unbroken segment, with no sign of a new attack. */
  unbroken: boolean;
  cracked: boolean;
  squeaked: boolean;
}
