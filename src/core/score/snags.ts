import {
  crossesBreak,
  type Fingering,
  fingeringFor,
  type HoleFingering,
  type Instrument,
  type Pitch,
  parsePitch,
  pitchName,
  pitchToMidi,
  type Stage,
  signatureAlter,
  stageRange,
} from "../music";
import type { Score } from "./model";
import { type SoundingNote, type Timeline, timeline } from "./timeline";

export type SnagKind =
  | "break"
  | "many-fingers"
  | "long-slide"
  | "partial-leap"
  | "accidental"
  | "fast-tonguing"
  | "low-register"
  | "out-of-range";

/** A place where an instrument typically stumbles, with the reason in words. */
export interface Snag {
  kind: SnagKind;
  /** First and last notehead it concerns. */
  fromEventId: string;
  toEventId: string;
  measure: string;
  beat: number;
  reason: string;
  /** 1 is a small snag, 3 a classic one. */
  weight: 1 | 2 | 3;
}

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
      reason: `${pitchName(written)} lies outside this stage's range`,
      weight: 3,
    });
  } else if (range && needsAir(instrument, midi)) {
    snags.push({
      kind: "low-register",
      ...at(note, note),
      reason: `low ${pitchName(written, false)}: warm, slow air and every key closed`,
      weight: 1,
    });
  }
  if (written.alter !== signatureAlter(note.fifths, written.letter)) {
    snags.push({
      kind: "accidental",
      ...at(note, note),
      reason: `${pitchName(written, false)}, against the habit of the key`,
      weight: 1,
    });
  }
  return snags;
}

/** The bottom of woodwinds that lose their low notes first: four semitones above the lowest of the second year. */
function needsAir(instrument: Instrument, midi: number): boolean {
  if (!["flutes", "saxes", "double reeds"].includes(instrument.family) || !instrument.ranges) return false;
  return midi < pitchToMidi(parsePitch(instrument.ranges.secondYear[0])) + 4;
}

/** What the step from one note to the next asks of hands and lips. */
function changeSnags(before: SoundingNote, note: SoundingNote, instrument: Instrument): Snag[] {
  const [from, to] = [before.written, note.written];
  if (!from || !to || pitchToMidi(from) === pitchToMidi(to)) return [];
  const [a, b] = [fingeringFor(instrument, from)?.choices[0], fingeringFor(instrument, to)?.choices[0]];
  if (!a || !b) return [];
  const names = `${pitchName(from, false)} to ${pitchName(to, false)}`;
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
  names: string,
): Snag[] {
  if (crossesBreak(instrument, pitchToMidi(from), pitchToMidi(to))) {
    const throat = Math.min(pitchToMidi(from), pitchToMidi(to)) >= 67;
    return [
      {
        kind: "break",
        ...at(before, note),
        reason: `${names} crosses the break${throat ? " from a throat note: have the right hand down before" : ""}`,
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
      reason: `${names} moves ${moved} fingers at once`,
      weight: moved >= 6 ? 3 : 2,
    },
  ];
}

function slideChange(
  before: SoundingNote,
  note: SoundingNote,
  a: Extract<Fingering, { kind: "slide" }>,
  b: Extract<Fingering, { kind: "slide" }>,
  names: string,
): Snag[] {
  const way = Math.abs(a.position - b.position);
  const speed = way / Math.max(0.05, note.onsetSec - before.onsetSec);
  if (way < LONG_SLIDE && !(way >= 3 && speed > FAST_SLIDE)) return [];
  const ordinal = (position: number) => ["1st", "2nd", "3rd", "4th", "5th", "6th", "7th"][position - 1];
  return [
    {
      kind: "long-slide",
      ...at(before, note),
      reason: `${names}: ${ordinal(a.position)} to ${ordinal(b.position)} position`,
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
  names: string,
): Snag[] {
  if (a.kind === "holes" || b.kind === "holes") return [];
  const skipped = Math.abs(a.partial - b.partial);
  const wide = Math.abs(note.midi! - before.midi!);
  if (skipped < 2 && !(instrument.id === "horn" && wide > 4)) return [];
  const slurred = note.slurred ? ", slurred" : "";
  return [
    {
      kind: "partial-leap",
      ...at(before, note),
      reason: `${names} leaps over ${skipped < 2 ? "close partials" : skipped === 2 ? "a partial" : `${skipped - 1} partials`}${slurred}: hear it first`,
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
        reason: `${to - from + 1} quick notes on one pitch: light tongue, air that does not stop`,
        weight: 2,
      });
    from = to + 1;
  }
  return snags;
}
