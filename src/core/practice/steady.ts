import type { LongTone } from "../listen";

/** What a held tone came to against what is asked of one. */
export interface Steadiness {
  /** Seconds held, of the goal. */
  seconds: number;
  /** Each of the three, steady or not: "the same volume, tone and pitch from start to end" (common practice, no published source). */
  pitch: boolean;
  level: boolean;
  colour: boolean;
}

/** Ten seconds are a good target (common practice, no published source). */
export const LONG_TONE_GOAL_SEC = 10;
/** Above these spreads a listener hears the tone move (from memory of what the demo's and recorded tones measure). */
const STEADY = { cents: 12, db: 2, colour: 0.12 };

export function steadinessOf(
  tone: Pick<LongTone, "seconds" | "pitchSdCents" | "levelSdDb" | "brightnessSpread">,
): Steadiness {
  return {
    seconds: tone.seconds,
    pitch: tone.pitchSdCents <= STEADY.cents,
    level: tone.levelSdDb <= STEADY.db,
    colour: tone.brightnessSpread <= STEADY.colour,
  };
}
