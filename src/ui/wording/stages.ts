import type { Stage } from "../../core/music";

/** The stages of a beginner as a director says them, in order. */
export const STAGE_NAMES: Record<Stage, string> = {
  "making-a-sound": "making a sound",
  "five-notes": "five notes",
  "small-tunes": "small tunes",
  widening: "widening",
};
