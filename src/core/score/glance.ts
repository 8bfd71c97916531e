import {
  crossesBreak,
  type Instrument,
  type Pitch,
  pitchName,
  pitchToMidi,
  type Stage,
  stageRange,
  transposePitch,
  writtenInterval,
} from "../music";
import { bestOctave, concertPart } from "./derive";
import type { Score } from "./model";
import { type Known, type Vocabulary, vocabularyOf } from "./vocabulary";

/** A line boiled down to what a shelf of thousands is searched by. */
export interface Glance {
  /** In concert pitch. */
  vocabulary: Vocabulary;
  /** Concert MIDI notes in written order, rests left out. */
  midis: number[];
  unpitched: boolean;
}

/** What a line asks of one instrument at a stage, without deriving its part. */
export interface GlanceDemands {
  /** Written names without octave of notes not met before. */
  newNotes: string[];
  newRhythms: string[];
  inRange: boolean;
  /** Clarinets only: a step over the break. */
  crossesBreak: boolean;
}

/** Boils a line down once; `demandsAtGlance` then answers for any instrument in microseconds. */
export function glanceAt(line: Score): Glance {
  const concert = concertPart(line);
  const midis = concert.parts[0].measures.flatMap((measure) =>
    measure.events.flatMap((event) => (event.pitch ? [pitchToMidi(event.pitch)] : [])),
  );
  return { vocabulary: vocabularyOf(concert), midis, unpitched: line.parts[0].clef === "percussion" };
}

/** The same octave and notes that `derivePart` gives, by arithmetic on the line's notes alone. */
export function demandsAtGlance(
  glance: Glance,
  instrument: Instrument,
  stage: Stage,
  known: Known,
): GlanceDemands {
  const newRhythms = glance.vocabulary.rhythms.filter((rhythm) => !known.rhythms.has(rhythm));
  const range = stageRange(instrument, stage);
  if (!range || glance.midis.length === 0)
    return { newNotes: [], newRhythms, inRange: true, crossesBreak: false };
  const [low, high] = [pitchToMidi(range.low), pitchToMidi(range.high)];
  const own = writtenInterval(instrument);
  const written = glance.midis.map((midi) => midi + own.semitones);
  const shift = own.semitones + 12 * bestOctave(written, low, high);
  const fresh = glance.vocabulary.notes.filter((pitch) => !known.notes.has(pitchToMidi(pitch) + shift));
  const midis = glance.midis.map((midi) => midi + shift);
  return {
    newNotes: fresh.map((pitch) => writtenName(pitch, own)),
    newRhythms,
    inRange: midis.every((midi) => midi >= low && midi <= high),
    crossesBreak: midis.some((midi, i) => i > 0 && crossesBreak(instrument, midis[i - 1]!, midi)),
  };
}

function writtenName(pitch: Pitch, interval: ReturnType<typeof writtenInterval>): string {
  return pitchName(transposePitch(pitch, interval), false);
}
