import { type Instrument, instrumentById, parsePitch, pitchToMidi } from "../music";
import { FASTEST_BPM, type Score, SLOWEST_BPM, type Timeline, timeline } from "../score";
import type { Features, PitchReach } from "./features";
import type { AssessOptions, Mode } from "./types";

/** What is asked of a take before it is heard. */
export interface Plan {
  score: Score;
  line: Timeline;
  mode: Mode;
  onBars: boolean;
  /** What its sound is listened to for at first; null for attacks alone. */
  reach: PitchReach | null;
}

/** Rates that are heard, samples a second. */
export const HEARD_RATES = { least: 8_000, most: 192_000 };
/** What may be asked for: beats a minute, tolerances in cents and ms, the A in Hz. */
const RANGES = {
  bpm: [SLOWEST_BPM, FASTEST_BPM],
  pitchToleranceCents: [1, 100],
  timingToleranceMs: [1, 1000],
  a4Hz: [400, 480],
} as const;

export function checkRate(sampleRate: number): void {
  if (!(sampleRate >= HEARD_RATES.least && sampleRate <= HEARD_RATES.most))
    throw new RangeError(`A take of ${sampleRate} samples a second cannot be heard`);
}

function checkOptions(options: AssessOptions): void {
  for (const [name, [least, most]] of Object.entries(RANGES)) {
    const value = options[name as keyof typeof RANGES];
    if (value !== undefined && !(value >= least && value <= most))
      throw new RangeError(`${name} lies between ${least} and ${most}, not at ${value}`);
  }
}

export function planFor(score: Score, options: AssessOptions): Plan {
  checkOptions(options);
  const line = timeline(score, {
    ...(options.bpm ? { bpm: options.bpm } : {}),
    ...(options.withoutRepeats ? { withoutRepeats: true } : {}),
  });
  if (line.notes.length === 0 && !score.catalogued) throw new RangeError("The score has no sounding note");
  const mode: Mode = options.mode ?? (line.notes.every((note) => note.midi === null) ? "rhythm" : "melody");
  const instrument = options.instrumentId === undefined ? null : instrumentById(options.instrumentId);
  const onBars = instrument?.family === "mallets";
  const struck = score.parts[0].clef === "percussion" || instrument?.ranges === null;
  const reach = score.catalogued
    ? struck
      ? null
      : wholeReach(instrument)
    : mode === "rhythm"
      ? null
      : pitchReach(line, onBars);
  return { score, line, mode, onBars, reach };
}

/** Features of a take, as far as a reach needs them. */
export type Listen = (reach: PitchReach | null) => Features;

/** From a ninth below to a ninth above the line, so that a wrong octave is still heard as one. */
export function pitchReach(line: Timeline, struckBars: boolean): PitchReach {
  const midis = line.notes.map((note) => note.midi ?? 60);
  return {
    lowest: Math.min(...midis) - 13,
    highest: Math.max(...midis) + 13,
    struckBars,
    expected: [...new Set(midis)],
  };
}

/** Everything a player of the instrument could sound. */
function wholeReach(instrument: Instrument | null): PitchReach {
  const [low, high] = instrument?.ranges?.secondYear ?? ["Bb1", "C7"];
  const sounds = instrument?.soundsBy.semitones ?? 0;
  return {
    lowest: pitchToMidi(parsePitch(low)) + sounds - 5,
    highest: pitchToMidi(parsePitch(high)) + sounds + 5,
    struckBars: instrument?.family === "mallets",
  };
}

/** How far the A that cents are told from lies above 440 Hz, cents. */
export function referenceCents({ a4Hz = 440 }: AssessOptions): number {
  return 1200 * Math.log2(a4Hz / 440);
}
