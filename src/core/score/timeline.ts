import { type Pitch, pitchToMidi } from "../music";
import { addFractions, type Fraction, fractionToNumber, subtractFractions, sumFractions } from "./fraction";
import { FASTEST_BPM, SLOWEST_BPM } from "./limits";
import {
  type Articulation,
  barQuarters,
  beatOfMetre,
  type Measure,
  type Part,
  type Score,
  type ScoreEvent,
  type Style,
} from "./model";
import { playOutOrder } from "./playout";

/** A note as it sounds: ties merged, repeats unfolded. */
export interface SoundingNote {
  /** Place in played-out order, from 0. */
  index: number;
  /** Id of the first tied notehead. */
  eventId: string;
  /** Ids of all its noteheads. */
  eventIds: string[];
  pass: number;
  measureIndex: number;
  /** Printed number of its measure. */
  measure: string;
  /** Beat in the bar, from 1, in the beat of the metre. */
  beat: number;
  onsetQuarters: number;
  durationQuarters: number;
  onsetSec: number;
  durationSec: number;
  written: Pitch | null;
  /** Sounding MIDI number; null for unpitched notes. */
  midi: number | null;
  /** Slurred to the note before: no new attack is expected. */
  slurred: boolean;
  fermata: boolean;
  /** A breath mark stands after it. */
  breath: boolean;
  /** How it is to be held, where that was asked for. */
  style?: Style;
  /** Signs over its first notehead. */
  articulations?: readonly Articulation[];
  /** The word or syllable under its first notehead. */
  lyric: string | null;
  /** Signature in force, -7..7. */
  fifths: number;
}

export interface TimelineMeasure {
  measureIndex: number;
  measureId: string;
  number: string;
  pass: number;
  onsetQuarters: number;
  onsetSec: number;
  durationQuarters: number;
  /** A full bar of its metre: more than its own length where it is a pickup or a short bar. */
  barQuarters: number;
  beatQuarters: number;
  /** Seconds a quarter note lasts here; differs between measures where the tempo changes. */
  secPerQuarter: number;
}

export interface Timeline {
  notes: SoundingNote[];
  measures: TimelineMeasure[];
  /** Tempo used, in beats of `beatQuarters`. */
  bpm: number;
  beatQuarters: number;
  totalQuarters: number;
  totalSec: number;
  /** Rests that are held. */
  heldRests: { onsetSec: number; durationSec: number }[];
  /** Quarters missing from a pickup's bar: where in the bar the line begins. */
  pickupOffsetQuarters: number;
}

export interface TimelineOptions {
  /** Beats a minute in the score's beat unit at its first mark; later marks keep their proportion. SLOWEST_BPM to FASTEST_BPM. */
  bpm?: number;
  /** What the score says when left out. */
  withoutRepeats?: boolean;
  /** Which part; the first when left out. */
  partIndex?: number;
}

/** The beat unit and tempo that the score states, 80 where it states none. */
export function markedTempo(score: Score): { beatQuarters: Fraction; bpm: number } {
  const measures = score.parts[0].measures;
  const metre = measures[0]?.time ?? { beats: 4, beatType: 4 };
  const beatQuarters = beatOfMetre(metre);
  const mark = measures.find((measure) => measure.tempo)?.tempo;
  if (!mark) return { beatQuarters, bpm: 80 };
  return {
    beatQuarters,
    bpm: (mark.bpm * fractionToNumber(mark.beatQuarters)) / fractionToNumber(beatQuarters),
  };
}

/**
 * Score time to playing time, with repeats and jumps resolved: the one place where that happens.
 *
 * @returns notes and measures in played-out order; times in quarter notes and in seconds from the first event
 * @throws RangeError for a tempo outside SLOWEST_BPM to FASTEST_BPM
 */
export function timeline(score: Score, options: TimelineOptions = {}): Timeline {
  const part = score.parts[options.partIndex ?? 0] ?? score.parts[0];
  const marked = markedTempo(score);
  const bpm = options.bpm ?? marked.bpm;
  if (!(bpm >= SLOWEST_BPM && bpm <= FASTEST_BPM))
    throw new RangeError(`A tempo lies between ${SLOWEST_BPM} and ${FASTEST_BPM} beats a minute`);
  const beatQuarters = fractionToNumber(marked.beatQuarters);
  const rates = tempoRates(part);

  const notes: SoundingNote[] = [];
  const measures: TimelineMeasure[] = [];
  const heldRests: Timeline["heldRests"] = [];
  const fifthsAt = signatures(part);
  const metres = metresOf(part.measures);
  let at: Fraction = "0";
  let atSec = 0;
  let openSlurs = 0;
  let tied: SoundingNote | undefined;

  for (const { measureIndex, pass } of playOutOrder(part.measures, {
    withoutRepeats: options.withoutRepeats ?? score.playOnce,
  })) {
    const measure = part.measures[measureIndex]!;
    const metre = metres[measureIndex]!;
    const length = sumFractions(measure.events.map((event) => event.duration));
    const beatOffset =
      measureIndex === 0 && measure.implicit
        ? fractionToNumber(subtractFractions(barQuarters(metre), length))
        : 0;
    const barBeat = fractionToNumber(beatOfMetre(metre));
    const start = at;
    const secPerQuarter = 60 / bpm / beatQuarters / rates[measureIndex]!;
    measures.push({
      measureIndex,
      measureId: measure.id,
      number: measure.number,
      pass,
      onsetQuarters: fractionToNumber(start),
      onsetSec: atSec,
      durationQuarters: fractionToNumber(length),
      barQuarters: fractionToNumber(barQuarters(metre)),
      beatQuarters: barBeat,
      secPerQuarter,
    });
    for (const event of measure.events) {
      const slurredIn = openSlurs > 0;
      if (event.slurStop !== undefined) openSlurs = Math.max(0, openSlurs - 1);
      if (event.slurStart !== undefined) openSlurs++;
      if (event.grace) continue;
      const duration = fractionToNumber(event.duration);
      if (event.kind === "rest") {
        tied = undefined;
        if (event.fermata)
          heldRests.push({
            onsetSec: atSec + (fractionToNumber(at) - fractionToNumber(start)) * secPerQuarter,
            durationSec: duration * secPerQuarter,
          });
      } else if (tied && event.tieStop && samePitch(tied, event)) {
        tied.durationQuarters += duration;
        tied.durationSec += duration * secPerQuarter;
        tied.eventIds.push(event.id);
        tied.fermata ||= event.fermata ?? false;
        tied.breath ||= event.breath ?? false;
        if (!event.tieStart) tied = undefined;
      } else {
        const onsetQuarters = fractionToNumber(at);
        const note: SoundingNote = {
          index: notes.length,
          eventId: event.id,
          eventIds: [event.id],
          pass,
          measureIndex,
          measure: measure.number,
          beat: 1 + (onsetQuarters - fractionToNumber(start) + beatOffset) / barBeat,
          onsetQuarters,
          durationQuarters: duration,
          onsetSec: atSec + (onsetQuarters - fractionToNumber(start)) * secPerQuarter,
          durationSec: duration * secPerQuarter,
          written: event.pitch ?? null,
          midi: event.pitch ? pitchToMidi(event.pitch) + part.soundsBy.semitones : null,
          slurred: slurredIn,
          fermata: event.fermata ?? false,
          breath: event.breath ?? false,
          ...(measure.style ? { style: measure.style } : {}),
          ...articulated(event, slurredIn || event.slurStart !== undefined),
          lyric: event.lyric ?? null,
          fifths: fifthsAt[measureIndex]!,
        };
        notes.push(note);
        tied = event.tieStart ? note : undefined;
      }
      at = addFractions(at, event.duration);
    }
    atSec += fractionToNumber(length) * secPerQuarter;
  }
  const totalQuarters = fractionToNumber(at);
  const first = measures[0];
  const pickupOffsetQuarters =
    first && part.measures[0]!.implicit
      ? Math.max(0, fractionToNumber(barQuarters(metres[0]!)) - first.durationQuarters)
      : 0;
  return {
    notes,
    measures,
    bpm,
    beatQuarters,
    totalQuarters,
    totalSec: atSec,
    heldRests,
    pickupOffsetQuarters,
  };
}

/** The signs over a note; dots under a slur only part its notes, they are no staccato. */
function articulated(
  { articulations = [] }: ScoreEvent,
  slurred: boolean,
): Pick<SoundingNote, "articulations"> {
  const signs = slurred ? articulations.filter((sign) => sign !== "staccato") : articulations;
  return signs.length > 0 ? { articulations: signs } : {};
}

/** How fast each measure goes, as a share of the first mark's tempo; before that mark the tempo is the mark's. */
function tempoRates(part: Part): number[] {
  const speed = (tempo: NonNullable<Part["measures"][number]["tempo"]>) =>
    tempo.bpm * fractionToNumber(tempo.beatQuarters);
  let first: number | undefined;
  let rate = 1;
  return part.measures.map(({ tempo }) => {
    if (tempo) {
      first ??= speed(tempo);
      rate = speed(tempo) / first;
    }
    return rate;
  });
}

/** The metre in force in each measure; 4/4 until one is written. */
export function metresOf(measures: readonly Measure[]): NonNullable<Measure["time"]>[] {
  let now = { beats: 4, beatType: 4 };
  return measures.map((measure) => (now = measure.time ?? now));
}

function signatures(part: Part): number[] {
  let fifths = 0;
  return part.measures.map((measure) => (fifths = measure.key?.fifths ?? fifths));
}

function samePitch(note: SoundingNote, event: ScoreEvent): boolean {
  if (!note.written || !event.pitch) return note.written === null && event.pitch === undefined;
  return pitchToMidi(note.written) === pitchToMidi(event.pitch);
}
