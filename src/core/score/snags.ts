import {
  crossesBreak,
  type Fingering,
  fingeringFor,
  type HoleFingering,
  type Instrument,
  type Pitch,
  pitchName,
  pitchToMidi,
  type Stage,
  signatureAlter,
  stageRange,
  widestRange,
} from "../music";
import type { Score } from "./model";
import { type SoundingNote, type Timeline, timeline } from "./timeline";

/** What makes a place a snag; notes by written name. The words are made in `ui/wording`. */
export type SnagCause =
  | { kind: "break"; from: string; to: string; fromThroat: boolean }
  | { kind: "many-fingers"; from: string; to: string; fingers: number }
  | { kind: "long-slide"; from: string; to: string; positions: [from: number, to: number] }
  /** Partials skipped over; 0 where close partials lie between, as on the horn. */
  | { kind: "partial-leap"; from: string; to: string; skipped: number; slurred: boolean }
  | { kind: "accidental"; note: string }
  | { kind: "fast-tonguing"; notes: number }
  | { kind: "low-register"; note: string }
  | { kind: "out-of-range"; note: string };

/** A place where an instrument typically stumbles. */
export type Snag = SnagCause & {
  /** First and last notehead it concerns. */
  fromEventId: string;
  toEventId: string;
  measure: string;
  beat: number;
  /** 1 is a small snag, 3 a classic one. */
  weight: 1 | 2 | 3;
};

/** Changing so many fingers at once is felt by a beginner. */
const MANY_FINGERS = 4;
/** A slide move of so many positions, and one so fast (positions a second), is long for a child's arm. */
const LONG_SLIDE = 4;
const FAST_SLIDE = 9;
/** Same-note tonguing faster than this, in attacks a second, for so many notes, tires the tongue. */
const FAST_TONGUE = 5;
const TONGUE_RUN = 4;

/**
 * Typical snags of one instrument in its written part at a tempo, in playing order; each place is named once even when
 * it is repeated. The kinds and limits are common practice, no published source.
 *
 * @param part  in written pitch, derived for the instrument
 * @param bpm   the tempo to play, in the score's beat unit; the mark when left out
 */
export function snagsOf(part: Score, instrument: Instrument, stage: Stage, bpm?: number): Snag[] {
  return snagsInTime(timeline(part, bpm === undefined ? {} : { bpm }), instrument, stage);
}

/** The same for a part whose timeline is at hand. */
export function snagsInTime({ notes }: Timeline, instrument: Instrument, stage: Stage): Snag[] {
  const first = notes.filter((note) => note.pass === 1);
  const found = [
    ...first.flatMap((note) => ownSnags(note, instrument, stage)),
    ...first.slice(1).flatMap((note, i) => changeSnags(first[i]!, note, instrument)),
    ...tonguing(first),
  ];
  const order = new Map(first.map((note) => [note.eventId, note.index]));
  return found.sort((a, b) => order.get(a.toEventId)! - order.get(b.toEventId)! || b.weight - a.weight);
}

function at(
  from: SoundingNote,
  to: SoundingNote,
): Pick<Snag, "fromEventId" | "toEventId" | "measure" | "beat"> {
  return { fromEventId: from.eventId, toEventId: to.eventId, measure: to.measure, beat: to.beat };
}

/** What one note alone asks for: its range, its register, an accidental the key does not have. */
function ownSnags(note: SoundingNote, instrument: Instrument, stage: Stage): Snag[] {
  const { written } = note;
  if (!written) return [];
  const snags: Snag[] = [];
  const range = stageRange(instrument, stage);
  const midi = pitchToMidi(written);
  if (range && (midi < pitchToMidi(range.low) || midi > pitchToMidi(range.high))) {
    snags.push({
      kind: "out-of-range",
      ...at(note, note),
      note: pitchName(written),
      weight: 3,
    });
  } else if (range && needsAir(instrument, midi)) {
    snags.push({
      kind: "low-register",
      ...at(note, note),
      note: pitchName(written, false),
      weight: 1,
    });
  }
  if (written.alter !== signatureAlter(note.fifths, written.letter)) {
    snags.push({
      kind: "accidental",
      ...at(note, note),
      note: pitchName(written, false),
      weight: 1,
    });
  }
  return snags;
}

/** The bottom of woodwinds that lose their low notes first: four semitones above the lowest of the second year. */
function needsAir(instrument: Instrument, midi: number): boolean {
  if (!["flutes", "saxes", "double reeds"].includes(instrument.family) || !instrument.ranges) return false;
  return midi < widestRange(instrument)![0] + 4;
}

/** Written names of two notes, without octave. */
interface Names {
  from: string;
  to: string;
}

/** What the step from one note to the next asks of hands and lips. */
function changeSnags(before: SoundingNote, note: SoundingNote, instrument: Instrument): Snag[] {
  const [from, to] = [before.written, note.written];
  if (!from || !to || pitchToMidi(from) === pitchToMidi(to)) return [];
  const [a, b] = [fingeringFor(instrument, from)?.choices[0], fingeringFor(instrument, to)?.choices[0]];
  if (!a || !b) return [];
  const names = { from: pitchName(from, false), to: pitchName(to, false) };
  if (a.kind === "holes" && b.kind === "holes")
    return woodwindChange(before, note, a, b, from, to, instrument, names);
  if (a.kind === "slide" && b.kind === "slide")
    return [...slideChange(before, note, a, b, names), ...leap(before, note, a, b, instrument, names)];
  return leap(before, note, a, b, instrument, names);
}

function woodwindChange(
  before: SoundingNote,
  note: SoundingNote,
  a: HoleFingering,
  b: HoleFingering,
  from: Pitch,
  to: Pitch,
  instrument: Instrument,
  names: Names,
): Snag[] {
  if (crossesBreak(instrument, pitchToMidi(from), pitchToMidi(to))) {
    const throat = Math.min(pitchToMidi(from), pitchToMidi(to)) >= 67;
    return [
      {
        kind: "break",
        ...at(before, note),
        ...names,
        fromThroat: throat,
        weight: throat ? 3 : 2,
      },
    ];
  }
  const moved =
    a.fingers.filter((finger, i) => finger !== b.fingers[i]).length +
    Number(a.thumb !== b.thumb) +
    Number(a.register !== b.register);
  if (moved < MANY_FINGERS) return [];
  return [
    {
      kind: "many-fingers",
      ...at(before, note),
      ...names,
      fingers: moved,
      weight: moved >= 6 ? 3 : 2,
    },
  ];
}

function slideChange(
  before: SoundingNote,
  note: SoundingNote,
  a: Extract<Fingering, { kind: "slide" }>,
  b: Extract<Fingering, { kind: "slide" }>,
  names: Names,
): Snag[] {
  const way = Math.abs(a.position - b.position);
  const speed = way / Math.max(0.05, note.onsetSec - before.onsetSec);
  if (way < LONG_SLIDE && !(way >= 3 && speed > FAST_SLIDE)) return [];
  return [
    {
      kind: "long-slide",
      ...at(before, note),
      ...names,
      positions: [a.position, b.position],
      weight: way >= 5 || speed > FAST_SLIDE ? 3 : 2,
    },
  ];
}

/** Skipping a partial; on the horn, whose partials are close neighbours, every step of more than a third is one. */
function leap(
  before: SoundingNote,
  note: SoundingNote,
  a: Fingering,
  b: Fingering,
  instrument: Instrument,
  names: Names,
): Snag[] {
  if (a.kind === "holes" || b.kind === "holes") return [];
  const skipped = Math.abs(a.partial - b.partial);
  const wide = Math.abs(note.midi! - before.midi!);
  if (skipped < 2 && !(instrument.id === "horn" && wide > 4)) return [];
  return [
    {
      kind: "partial-leap",
      ...at(before, note),
      ...names,
      skipped: Math.max(0, skipped - 1),
      slurred: note.slurred,
      weight: note.slurred || skipped > 2 ? 3 : 2,
    },
  ];
}

/** Runs of one repeated note faster than the tongue of a beginner likes. */
function tonguing(notes: readonly SoundingNote[]): Snag[] {
  const snags: Snag[] = [];
  for (let from = 0; from < notes.length; ) {
    let to = from;
    while (
      notes[to + 1] &&
      notes[to + 1]!.midi === notes[from]!.midi &&
      notes[to + 1]!.onsetSec - notes[to]!.onsetSec < 1 / FAST_TONGUE &&
      !notes[to + 1]!.slurred
    )
      to++;
    if (to - from + 1 >= TONGUE_RUN)
      snags.push({
        kind: "fast-tonguing",
        ...at(notes[from]!, notes[to]!),
        measure: notes[from]!.measure,
        beat: notes[from]!.beat,
        notes: to - from + 1,
        weight: 2,
      });
    from = to + 1;
  }
  return snags;
}
