import type { Pcm } from "../../src/core/audio";
import type { Assessment } from "../../src/core/listen";
import type { Score } from "../../src/core/score";
import type { PlayedTake } from "../support/performer";

/** One take of the bench: what was played, how it was heard, what the engine said. */
export interface Outcome {
  source: string;
  heldOut: boolean;
  condition: string;
  way: string;
  seed: number;
  result: Assessment;
  take: PlayedTake;
  part: Score;
  delaySec: number;
  notes: number;
  ms: number;
  soundSec: number;
  /** The take as it was heard, for other tools to listen to. */
  pcm: Pcm;
}
