import {
  crossesBreak,
  type Fingering,
  fingeringFor,
  fingeringOf,
  type HoleFingering,
  type Instrument,
  isBlown,
  type NoteFinding,
  type Pitch,
  partialsBetween,
  pitchName,
  pitchToMidi,
  type Stage,
  signatureAlter,
  stageRange,
  widestRange,
} from "../music";
import { BREATH_SEC, parted, phrasesOf, secondsOf } from "./breath";
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
  | { kind: "out-of-range"; note: string }
  /** More than one breath holds, in seconds; `breaths` places inside it where one can be taken. */
  | { kind: "long-breath"; seconds: number; breathSec: number; breaths: number };

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

export interface SnagOptions {
  /** The tempo to play, in the score's beat unit; the mark when left out. */
  bpm?: number | undefined;
  /** Build of the instrument; the usual one when left out. */
  variant?: string | null | undefined;
  /** Seconds the player's breath lasts; what is usual at the stage when left out. */
  breathSec?: number | undefined;
}

/**
 * Typical snags of one instrument in its written part at a tempo, in playing order; each place is named once even when
 * it is repeated. The kinds and limits are common practice, no published source.
 *
 * @param part  in written pitch, derived for the instrument
 */
export function snagsOf(
  part: Score,
  instrument: Instrument,
  stage: Stage,
  options: SnagOptions = {},
): Snag[] {
  const { bpm } = options;
  return snagsInTime(timeline(part, bpm === undefined ? {} : { bpm }), instrument, stage, options);
}

/** The same for a part whose timeline is at hand. */
export function snagsInTime(
  line: Timeline,
  instrument: Instrument,
  stage: Stage,
  { variant, breathSec = BREATH_SEC[stage] }: Omit<SnagOptions, "bpm"> = {},
): Snag[] {
  const first = line.notes.filter((note) => note.pass === 1);
  const how = fingeringOf(instrument, variant);
  const found = [
    ...first.flatMap((note) => ownSnags(note, instrument, stage)),
    ...first.slice(1).flatMap((note, i) => changeSnags(first[i]!, note, instrument, how, variant)),
    ...tonguing(first),
    ...(isBlown(instrument) ? longBreaths(line, breathSec) : []),
  ];
  const order = new Map(first.map((note) => [note.eventId, note.index]));
  return found.sort((a, b) => order.get(a.toEventId)! - order.get(b.toEventId)! || b.weight - a.weight);
}

/** Stretches without a rest or breath mark that last longer than the breath; worst where nothing in them may be parted. */
function longBreaths(line: Timeline, breathSec: number): Snag[] {
  return phrasesOf(line).flatMap((phrase): Snag[] => {
    const [from, to] = [phrase[0]!, phrase.at(-1)!];
    const seconds = secondsOf(phrase);
    if (seconds <= breathSec) return [];
    const parts = parted(phrase, line, breathSec);
    return [
      {
        kind: "long-breath",
        ...at(from, to),
        measure: from.measure,
        beat: from.beat,
        seconds: Math.round(seconds),
        breathSec,
        breaths: parts.length - 1,
        weight: parts.some((part) => secondsOf(part) > breathSec) ? 3 : 1,
      },
    ];
  });
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
function changeSnags(
  before: SoundingNote,
  note: SoundingNote,
  instrument: Instrument,
  how: NoteFinding,
  variant: string | null | undefined,
): Snag[] {
  const [from, to] = [before.written, note.written];
  if (!from || !to || pitchToMidi(from) === pitchToMidi(to)) return [];
  const [a, b] = [from, to].map((pitch) => fingeringFor(instrument, pitch, { variant })?.choices[0]);
  if (!a || !b) return [];
  const names = { from: pitchName(from, false), to: pitchName(to, false) };
  if (a.kind === "holes" && b.kind === "holes")
    return woodwindChange(before, note, a, b, from, to, instrument, names);
  if (a.kind === "slide" && b.kind === "slide")
    return [...slideChange(before, note, a, b, names), ...leap(before, note, b, how, names)];
  return leap(before, note, b, how, names);
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

/** Where partials are close neighbours an interval of more than a major third is a leap though none is skipped. */
const THIRD = 4;

/** Leaping over a partial that could be hit instead; where partials are close neighbours, as on the horn, every fourth is a leap. */
function leap(
  before: SoundingNote,
  note: SoundingNote,
  to: Fingering,
  how: NoteFinding,
  names: Names,
): Snag[] {
  if (to.kind === "holes" || typeof how !== "object") return [];
  const written = pitchToMidi(note.written!);
  const from = pitchToMidi(before.written!);
  const skipped = partialsBetween(how, to, written, from);
  const close = how.closePartials && Math.abs(written - from) > THIRD;
  if (skipped === 0 && !close) return [];
  return [
    {
      kind: "partial-leap",
      ...at(before, note),
      ...names,
      skipped,
      slurred: note.slurred,
      weight: note.slurred || skipped > 1 ? 3 : 2,
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
