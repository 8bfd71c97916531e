import {
  chooseOctave,
  fifthsOfInterval,
  type Instrument,
  type Interval,
  type Pitch,
  pitchToMidi,
  type Stage,
  stageRange,
  transposePitch,
  writtenInterval,
} from "../music";
import type { Measure, Part, Score, ScoreEvent } from "./model";
import { onTimpani } from "./timpani";

export interface DeriveOptions {
  /** Another part of the line (second, bass line, easy); unknown ids count as left out. */
  partId?: string | null | undefined;
  /** The octave shift that was pinned with a task, whatever would be chosen today. */
  octave?: number | null | undefined;
  /** Written MIDI numbers the player knows, for the choice of the octave; what the stage has met when left out. */
  known?: ReadonlySet<number> | undefined;
}

export interface DerivedPart {
  score: Score;
  /** The part of the line it was taken from: the one written for this instrument, or the first. */
  source: { id: string; name: string; ownPart: boolean };
  /** Octaves the line was moved for this instrument, beyond its transposition. */
  octaveShift: number;
  /** Who chose the octave: the rule of `music/octave`, or the director. */
  octaveBy: "rule" | "director";
  /** Notes the director replaced, in written pitch. */
  substituted: { eventId: string; measure: string; from: Pitch; to: Pitch }[];
  /** Written notes outside the range of the stage, lowest first, each once. */
  outOfRange: Pitch[];
}

const OCTAVE: Interval = { letters: 7, semitones: 12 };
/** The same sound spelled a letter higher (C♯ as D♭) or lower. */
const RESPELL: Interval = { letters: 1, semitones: 0 };

/**
 * The part of one instrument for a line: own key, octave and clef, in written pitch.
 * A line in concert pitch is moved by the instrument's transposition; the octave is chosen once for the whole
 * line by the rule of `music/octave`, unless the director chose one or the part was written for the instrument in its own
 * clef and transposition, as in a full score: then it stays where its composer put it. A part of the line that is written
 * for the instrument is taken instead of the first. Unpitched instruments get the rhythm on one line; timpani strokes on tonic and dominant (`timpani.ts`).
 */
export function derivePart(
  line: Score,
  instrument: Instrument,
  stage: Stage,
  { partId, octave, known }: DeriveOptions = {},
): DerivedPart {
  const source = sourcePart(line, instrument, partId);
  const range = stageRange(instrument, stage);
  const about = {
    source: {
      id: source.id,
      name: source.name,
      ownPart: source.forInstruments?.includes(instrument.id) ?? false,
    },
    octaveBy: "rule" as const,
    substituted: [],
  };
  if (source.asWritten)
    return {
      ...about,
      score: { ...line, parts: [{ ...source, name: instrument.name }] },
      octaveShift: 0,
      outOfRange: [],
    };
  if (!range)
    return {
      ...about,
      score: withPart(line, source, instrument, source.measures.map(asRhythm)),
      octaveShift: 0,
      outOfRange: [],
    };
  if (instrument.drums)
    return {
      ...about,
      score: withPart(line, source, instrument, onTimpani(source, instrument.drums)),
      octaveShift: 0,
      outOfRange: [],
    };
  const override = line.overrides?.[instrument.id];

  const toConcert = source.soundsBy;
  const own = writtenInterval(instrument);
  const base = { letters: toConcert.letters + own.letters, semitones: toConcert.semitones + own.semitones };
  const pitches = source.measures.flatMap((measure) =>
    measure.events.flatMap((event) => (event.pitch ? [event.pitch] : [])),
  );
  const octaveShift =
    octave ??
    override?.octave ??
    octaveAsWritten(source, instrument) ??
    chooseOctave(
      pitches.map((pitch) => pitchToMidi(pitch) + base.semitones),
      { instrument, stage, known },
    );
  const shift = {
    letters: base.letters + OCTAVE.letters * octaveShift,
    semitones: base.semitones + OCTAVE.semitones * octaveShift,
  };

  let interval = shift;
  const transposed = source.measures.map((measure) => {
    if (measure.key || interval === shift) interval = readableInterval(shift, measure.key?.fifths ?? 0);
    return transposeMeasure(measure, interval);
  });
  const { measures, substituted } = withSubstitutes(transposed, override?.substitutes ?? {});
  const seen = new Map<number, Pitch>();
  for (const event of measures.flatMap((measure) => measure.events)) {
    if (
      event.pitch &&
      (pitchToMidi(event.pitch) < pitchToMidi(range.low) ||
        pitchToMidi(event.pitch) > pitchToMidi(range.high))
    )
      seen.set(pitchToMidi(event.pitch), event.pitch);
  }
  const outOfRange = [...seen.entries()].sort(([a], [b]) => a - b).map(([, pitch]) => pitch);
  return {
    ...about,
    score: withPart(line, source, instrument, measures),
    octaveShift,
    octaveBy: override?.octave === undefined ? "rule" : "director",
    substituted,
    outOfRange,
  };
}

/** No octave is chosen for a part that somebody wrote for the instrument, in its own clef and transposition. */
function octaveAsWritten(source: Part, instrument: Instrument): 0 | undefined {
  const own =
    source.forInstruments?.includes(instrument.id) &&
    source.clef === instrument.clef &&
    source.soundsBy.semitones === instrument.soundsBy.semitones;
  return own ? 0 : undefined;
}

/** The part asked for, else the one written for the instrument, else the first. */
function sourcePart(line: Score, instrument: Instrument, partId?: string | null): Part {
  return (
    line.parts.find((part) => part.id === partId) ??
    line.parts.find((part) => part.forInstruments?.includes(instrument.id)) ??
    line.parts[0]
  );
}

/** A note that is replaced is replaced in all its tied heads: they sound as one. */
function withSubstitutes(
  measures: Measure[],
  substitutes: Record<string, Pitch>,
): { measures: Measure[]; substituted: DerivedPart["substituted"] } {
  const substituted: DerivedPart["substituted"] = [];
  if (Object.keys(substitutes).length === 0) return { measures, substituted };
  let tied: Pitch | undefined;
  const replaced = measures.map((measure) => ({
    ...measure,
    events: measure.events.map((event) => {
      const to = (event.tieStop ? tied : undefined) ?? substitutes[event.id];
      tied = event.tieStart ? to : undefined;
      if (!to || !event.pitch) return event;
      substituted.push({ eventId: event.id, measure: measure.number, from: event.pitch, to });
      return { ...event, pitch: to };
    }),
  }));
  return { measures: replaced, substituted };
}

/** The line as it sounds, in its own octave: what the director reads. The first part when none is asked for. */
export function concertPart(line: Score, partId?: string | null): Score {
  const source = line.parts.find((part) => part.id === partId) ?? line.parts[0];
  const interval = readableInterval(source.soundsBy, source.measures[0]?.key?.fifths ?? 0);
  const measures = source.measures.map((measure) => transposeMeasure(measure, interval));
  return {
    ...line,
    parts: [{ ...source, name: "Concert pitch", soundsBy: { letters: 0, semitones: 0 }, measures }],
  };
}

function withPart(line: Score, source: Part, instrument: Instrument, measures: Measure[]): Score {
  const part: Part = {
    id: source.id,
    name: instrument.name,
    clef: instrument.clef,
    soundsBy: instrument.soundsBy,
    measures,
  };
  return { ...line, parts: [part] };
}

/** Six sharps or flats is the most a part is given; beyond that the enharmonic key is written. */
function readableInterval(interval: Interval, fifths: number): Interval {
  const target = fifths + fifthsOfInterval(interval);
  if (target > 6) return { ...interval, letters: interval.letters + RESPELL.letters };
  if (target < -6) return { ...interval, letters: interval.letters - RESPELL.letters };
  return interval;
}

function transposeMeasure(measure: Measure, interval: Interval): Measure {
  const key = measure.key
    ? { ...measure.key, fifths: measure.key.fifths + fifthsOfInterval(interval) }
    : undefined;
  const events = measure.events.map((event) =>
    event.pitch ? { ...event, pitch: readable(event.pitch, interval) } : event,
  );
  return { ...measure, ...(key ? { key } : {}), events };
}

/** Chromatic notes can need three sharps or flats in a far key; those are written enharmonically. */
function readable(pitch: Pitch, interval: Interval): Pitch {
  for (const letters of [0, 1, -1]) {
    try {
      return transposePitch(pitch, { ...interval, letters: interval.letters + letters });
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
    }
  }
  throw new RangeError("No spelling was found for a note of this line");
}

function asRhythm(measure: Measure): Measure {
  const { key: _key, ...rest } = measure;
  return {
    ...rest,
    events: measure.events.map((event): ScoreEvent => {
      const { pitch: _pitch, slurStart: _start, slurStop: _stop, ...kept } = event;
      return kept;
    }),
  };
}
