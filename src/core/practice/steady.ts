import type { LongTone } from "../listen";
import { type Clef, midiToPitch } from "../music";
import type { Score, ScoreEvent } from "../score";

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

/** A score of one note, as a long tone is heard against. @param written  written MIDI number */
export function longToneScore(
  written: number,
  { clef, soundsBySemitones }: { clef: Clef; soundsBySemitones: number },
): Score {
  const event: ScoreEvent = {
    id: "tone",
    kind: "note",
    pitch: midiToPitch(written),
    duration: "4",
    type: "whole",
    dots: 0,
  };
  return {
    title: "Long tone",
    parts: [
      {
        id: "tone",
        name: "",
        clef,
        soundsBy: { letters: Math.round((soundsBySemitones * 7) / 12), semitones: soundsBySemitones },
        measures: [{ id: "tone-bar", number: "1", time: { beats: 4, beatType: 4 }, events: [event] }],
      },
    ],
  };
}
