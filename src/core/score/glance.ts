import {
  chooseOctave,
  crossesBreak,
  type Instrument,
  instrumentById,
  type Pitch,
  pitchName,
  pitchToMidi,
  type Stage,
  stageRange,
  transposePitch,
  writtenInterval,
} from "../music";
import { concertPart, derivePart } from "./derive";
import { difficultyOf } from "./difficulty";
import { forDrumsOnly, type Score } from "./model";
import { type Known, newIn, type Vocabulary, vocabularyOf } from "./vocabulary";

/** A line boiled down to what a shelf of thousands is searched by. */
export interface Glance {
  /** In concert pitch. */
  vocabulary: Vocabulary;
  /** Concert MIDI notes in written order, rests left out. */
  midis: number[];
  unpitched: boolean;
  /** What the strokes of timpani ask of a reader: they play less than the line. */
  timpaniRhythms: string[];
  /** How hard it is for anybody, the snags of single instruments left out; null for a catalogued line. */
  difficulty: number | null;
  /** Kept only where some instrument has a part or octave of its own: those are derived in full. */
  line?: Score;
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
  const special = line.overrides !== undefined || line.parts.some((part) => part.forInstruments);
  return {
    vocabulary: vocabularyOf(concert),
    midis,
    unpitched: forDrumsOnly(line),
    timpaniRhythms: vocabularyOf(derivePart(line, instrumentById("timpani"), "widening").score).rhythms,
    difficulty: line.catalogued ? null : difficultyOf(concert, instrumentById(ANYBODY), "widening").total,
    ...(special ? { line } : {}),
  };
}

/** Stands for no instrument in particular: reads concert pitch and has no fingerings. */
const ANYBODY = "vibraphone";

/** The same octave and notes that `derivePart` gives, by arithmetic on the line's notes alone. */
export function demandsAtGlance(
  glance: Glance,
  instrument: Instrument,
  stage: Stage,
  known: Known,
): GlanceDemands {
  if (glance.line && hasOwn(glance.line, instrument))
    return demandsInFull(glance.line, instrument, stage, known);
  const tuned = instrument.drums !== undefined;
  const rhythms = tuned ? glance.timpaniRhythms : glance.vocabulary.rhythms;
  const newRhythms = rhythms.filter((rhythm) => !known.rhythms.has(rhythm));
  const range = stageRange(instrument, stage);
  if (!range || tuned || glance.midis.length === 0)
    return { newNotes: [], newRhythms, inRange: true, crossesBreak: false };
  const [low, high] = [pitchToMidi(range.low), pitchToMidi(range.high)];
  const own = writtenInterval(instrument);
  const written = glance.midis.map((midi) => midi + own.semitones);
  const shift = own.semitones + 12 * chooseOctave(written, { instrument, stage, known: known.notes });
  const fresh = glance.vocabulary.notes.filter((pitch) => !known.notes.has(pitchToMidi(pitch) + shift));
  const midis = glance.midis.map((midi) => midi + shift);
  return {
    newNotes: fresh.map((pitch) => writtenName(pitch, own)),
    newRhythms,
    inRange: midis.every((midi) => midi >= low && midi <= high),
    crossesBreak: midis.some((midi, i) => i > 0 && crossesBreak(instrument, midis[i - 1]!, midi)),
  };
}

function hasOwn(line: Score, instrument: Instrument): boolean {
  return (
    line.overrides?.[instrument.id] !== undefined ||
    line.parts.some((part) => part.forInstruments?.includes(instrument.id))
  );
}

function demandsInFull(line: Score, instrument: Instrument, stage: Stage, known: Known): GlanceDemands {
  const { score, outOfRange } = derivePart(line, instrument, stage, { known: known.notes });
  const fresh = newIn(vocabularyOf(score), known);
  const midis = score.parts[0].measures.flatMap((measure) =>
    measure.events.flatMap((event) => (event.pitch ? [pitchToMidi(event.pitch)] : [])),
  );
  return {
    newNotes: fresh.notes.map((pitch) => pitchName(pitch, false)),
    newRhythms: fresh.rhythms,
    inRange: outOfRange.length === 0,
    crossesBreak: midis.some((midi, i) => i > 0 && crossesBreak(instrument, midis[i - 1]!, midi)),
  };
}

function writtenName(pitch: Pitch, interval: ReturnType<typeof writtenInterval>): string {
  return pitchName(transposePitch(pitch, interval), false);
}
