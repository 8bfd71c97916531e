/**
 * What a player is led through with a line, in the order of the trade (common practice, no published source). A director
 * chooses which, and in which order.
 */
export const PRACTICE_STEPS = [
  "listen",
  "ear",
  "look",
  "count",
  "sing",
  "finger",
  "one-note",
  "tongue",
  "slow",
  "snags",
  "whole",
  "ladder",
  "accompaniment",
  "record",
  "perform",
] as const;
export type PracticeStep = (typeof PRACTICE_STEPS)[number];

/** How the bench finds out that a step is done. */
export type HowChecked =
  /** It was heard to its end. */
  | "heard"
  /** Questions were answered on the screen. */
  | "answered"
  /** Claps into the microphone, or taps. */
  | "clapped"
  /** Played into the microphone. */
  | "played"
  /** Sung into it. */
  | "sung"
  /** A take was sent. */
  | "sent"
  /** The player says so. */
  | "said";

interface StepKind {
  checked: HowChecked;
  /** Right rounds in a row that lead on; 1 where nothing is counted. Two for what has to sit (common practice, no published source). */
  passes: number;
  /** Done anew on every day of practice; the others are done once a line. */
  daily: boolean;
  /** Can be done where the instrument is not at hand. */
  withoutInstrument: boolean;
  /** How long it takes a beginner, minutes: an estimate, from memory of lessons. */
  minutes: number;
}

export const STEP_KINDS: Record<PracticeStep, StepKind> = {
  listen: { checked: "heard", passes: 1, daily: false, withoutInstrument: true, minutes: 1 },
  ear: { checked: "answered", passes: 1, daily: false, withoutInstrument: true, minutes: 2 },
  look: { checked: "answered", passes: 1, daily: false, withoutInstrument: true, minutes: 1 },
  count: { checked: "clapped", passes: 2, daily: false, withoutInstrument: true, minutes: 1 },
  sing: { checked: "sung", passes: 1, daily: false, withoutInstrument: true, minutes: 1 },
  finger: { checked: "said", passes: 2, daily: false, withoutInstrument: true, minutes: 1 },
  "one-note": { checked: "played", passes: 1, daily: false, withoutInstrument: false, minutes: 1 },
  tongue: { checked: "played", passes: 1, daily: false, withoutInstrument: false, minutes: 1 },
  slow: { checked: "played", passes: 2, daily: true, withoutInstrument: false, minutes: 2 },
  snags: { checked: "played", passes: 2, daily: true, withoutInstrument: false, minutes: 2 },
  whole: { checked: "played", passes: 1, daily: true, withoutInstrument: false, minutes: 1 },
  ladder: { checked: "played", passes: 2, daily: true, withoutInstrument: false, minutes: 3 },
  accompaniment: { checked: "heard", passes: 1, daily: true, withoutInstrument: false, minutes: 1 },
  record: { checked: "sent", passes: 1, daily: true, withoutInstrument: false, minutes: 1 },
  perform: { checked: "said", passes: 1, daily: false, withoutInstrument: false, minutes: 1 },
};
