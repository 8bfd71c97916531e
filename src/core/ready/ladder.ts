import {
  type Instrument,
  midisOf,
  pitchName,
  pitchToMidi,
  type Stage,
  stageRange,
  transposePitch,
} from "../music";
import { type Known, type Score, vocabularyOf } from "../score";

/** Written MIDI numbers, and the notes of the part in them, lowest first. */
export interface Ladder {
  low: number;
  high: number;
  /** Where a first-year player sounds well without effort. */
  easyLow: number;
  easyHigh: number;
  /** Semitones from written to sounding. */
  soundsBy: number;
  notes: { midi: number; name: string; concert: string; isNew: boolean }[];
}

/** The notes of a written part against the range of the stage and what is known; null without notes to place. */
export function ladderOf(part: Score, instrument: Instrument, stage: Stage, known: Known): Ladder | null {
  const range = stageRange(instrument, stage);
  if (!range || part.catalogued || part.parts[0].clef === "percussion") return null;
  const [easyLow, easyHigh] = midisOf(instrument.tessitura!);
  return {
    low: pitchToMidi(range.low),
    high: pitchToMidi(range.high),
    easyLow,
    easyHigh,
    soundsBy: instrument.soundsBy.semitones,
    notes: vocabularyOf(part).notes.map((pitch) => ({
      midi: pitchToMidi(pitch),
      name: pitchName(pitch),
      concert: pitchName(transposePitch(pitch, instrument.soundsBy)),
      isNew: !known.notes.has(pitchToMidi(pitch)),
    })),
  };
}
