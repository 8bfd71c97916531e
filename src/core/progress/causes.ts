import { type Assessment, loudnessSteps, type NoteVerdict, wasRecorded } from "../listen";
import type { Pitch } from "../music";
import type { Score } from "../score";
import { isClean, recordedNotes } from "./clean";
import { driftsFrom } from "./drift";
import { barsLeftOut } from "./left-out";
import { marksNotHeard } from "./marks";
import { driftsNoticeably } from "./propose";

/** Why notes of a take were not clean, or the take as a whole not steady. */
export type CauseKind =
  | "stopped-early"
  | "restart"
  | "hesitation"
  | NonNullable<NoteVerdict["kind"]>
  | "missed"
  /** Whole bars in which nothing was played; the second time through what is repeated. */
  | "bars-left-out"
  | "repeat-left-out"
  /** Went back in time and played bars again that are written once. */
  | "repeat-too-many"
  /** A director heard it wrong. */
  | "heard-wrong"
  | "doubled"
  | "extra"
  | "cracked"
  | "squeak"
  /** Wrong at first, and put right. */
  | "corrected"
  | "rushing"
  | "dragging"
  /** No note by itself: half of all lie off any beat. */
  | "uneven"
  | "early"
  | "late"
  | "short"
  | "long"
  | "breath-in-slur"
  | "re-tongued-slur"
  | "dynamics"
  /** Accents that do not stand out; staccato that is held on; staccato that goes slower than the rest. */
  | "accents"
  | "not-short"
  | "staccato-slower";

/** Where something went wrong: in the part, and in the sound. */
export interface CausePlace {
  eventId: string | null;
  /** Place of the note in the assessment; null where it is no matter of one note. */
  noteIndex: number | null;
  measure: string;
  measureIndex: number;
  beat: number | null;
  /** Seconds of the recording; a missed note stands where the one before it was heard. */
  atSec: number;
  untilSec: number;
  /** By how much: ms of timing, share of a length, seconds of a pause, percent of a drift, dB of a change; null elsewhere. */
  amount: number | null;
}

/** One thing that went wrong, with every place where it did, in playing order. */
export interface Cause {
  /** Alike for the same cause in any take of a part. */
  id: string;
  kind: CauseKind;
  /** What stands there; null for strokes, and where it is no matter of one note. */
  written: Pitch | null;
  /** What sounded instead, sounding MIDI number. */
  playedMidi: number | null;
  places: CausePlace[];
  /** How many notes of this name there were in all: five of five is "every". */
  outOf: number;
}

/** How much a kind weighs in one place: what stops the music before what is wrong, and that before what is uneven (common practice, no published source). */
const WEIGHT: Record<CauseKind, number> = {
  "stopped-early": 12,
  restart: 8,
  hesitation: 6,
  "key-signature": 5,
  other: 4,
  semitone: 4,
  partial: 4,
  octave: 3,
  missed: 4,
  "bars-left-out": 4,
  "repeat-left-out": 3,
  "repeat-too-many": 3,
  "heard-wrong": 5,
  doubled: 2,
  extra: 2,
  rushing: 6,
  dragging: 6,
  cracked: 2,
  squeak: 2,
  corrected: 1.5,
  uneven: 1.5,
  early: 1.5,
  late: 1.5,
  short: 1,
  long: 1,
  "breath-in-slur": 1.5,
  "re-tongued-slur": 1.5,
  dynamics: 1.5,
  accents: 0.4,
  "not-short": 0.4,
  "staccato-slower": 0.6,
};

/** One step of loudness is too small to judge on a phone (common practice, no published source). */
const HEARD_STEPS = 2;
/** A place without a note of its own sounds so long, seconds. */
const SHORT_SOUND_SEC = 0.5;

/**
 * What went wrong in a take, each cause once with all its places, the most important first: five naturals for one flat are one
 * finding, forty hurried notes of one drift are one too. What lies behind an early stop is not told note by note, and a note that
 * was struck twice is not told as short.
 *
 * @param score  the part that was played, with the event ids of the assessment
 */
export function causesOf(assessment: Assessment, score: Score): Cause[] {
  const { measures } = score.parts[0];
  const events = new Map(
    measures.flatMap(({ events }, measureIndex) =>
      events.map((event) => [event.id, { pitch: event.pitch ?? null, measureIndex }] as const),
    ),
  );
  const barByNumber = new Map(measures.map(({ number }, index) => [number, index]));
  const stopped = assessment.breaks.some(({ kind }) => kind === "stopped-early");
  const reached = stopped
    ? assessment.notes.findLastIndex(({ onset }) => onset !== null)
    : assessment.notes.length - 1;
  const played = assessment.notes.slice(0, reached + 1);
  const marks = marksNotHeard(assessment, score);
  // Where staccato goes slower, the beat sags for that and no other reason.
  const explained = assessment.take.driftPercent! < 0 && marks.some(({ kind }) => kind === "staccato-slower");
  const drifts = driftsNoticeably(assessment) && !explained;
  const uneven = assessment.take.flags.includes("uneven");
  const causes = new Map<string, Cause>();
  const add = (
    kind: CauseKind,
    key: string,
    place: CausePlace,
    about: Partial<Pick<Cause, "written" | "playedMidi" | "outOf">> = {},
  ) => {
    const id = `${kind} ${key}`.trim();
    const cause = causes.get(id) ?? {
      id,
      kind,
      written: null,
      playedMidi: null,
      places: [],
      outOf: 0,
      ...about,
    };
    cause.places.push(place);
    causes.set(id, cause);
  };
  const inBar = (measure: string, atSec: number, seconds: number, amount: number): CausePlace => ({
    eventId: null,
    noteIndex: null,
    measure,
    measureIndex: barByNumber.get(measure) ?? 0,
    beat: null,
    atSec,
    untilSec: atSec + Math.max(SHORT_SOUND_SEC, seconds),
    amount,
  });

  const named = (note: NoteVerdict) => nameOf(events.get(note.eventId)?.pitch ?? null);
  const counts = new Map<string, number>();
  for (const note of played) counts.set(named(note), (counts.get(named(note)) ?? 0) + 1);
  const again = struckTwice(played, assessment.extras);
  const leftOut = barsLeftOut(played);
  let lastSec = 0;
  for (const note of played) {
    lastSec = note.onset ?? lastSec;
    const { pitch: written = null, measureIndex = 0 } = events.get(note.eventId) ?? {};
    const twice = again.get(note.index);
    const stretch = leftOut.get(note.index);
    const kind = stretch?.kind ?? kindOf(note, { drifts, uneven, twice: twice !== undefined });
    if (!kind) continue;
    const name = named(note);
    const wrong = note.verdict === "wrong-pitch" && kind !== "heard-wrong";
    add(
      kind,
      stretch?.key ?? (wrong ? `${name} ${pitchClass(note.playedMidi!)}` : kind === "missed" ? name : ""),
      {
        eventId: note.eventId,
        noteIndex: note.index,
        measure: note.measure,
        measureIndex,
        beat: note.beat,
        atSec: lastSec,
        untilSec: note.offset ?? twice ?? lastSec + SHORT_SOUND_SEC,
        amount: amountOf(note, kind),
      },
      wrong || kind === "missed" || kind === "cracked" || kind === "corrected"
        ? { written, playedMidi: note.playedMidi, outOf: counts.get(name)! }
        : {},
    );
  }
  for (const pause of assessment.breaks) {
    const place = inBar(pause.measure, pause.atSec, pause.seconds, pause.seconds);
    if (pause.repeatedFrom) {
      const last = Math.max(place.measureIndex, barByNumber.get(pause.repeatedFrom) ?? 0);
      for (const { number } of measures.slice(place.measureIndex, last + 1))
        add("repeat-too-many", pause.measure, inBar(number, pause.atSec, 0, 0));
    } else add(pause.kind, pause.kind === "stopped-early" ? "" : pause.measure, place);
  }
  const told = new Set(again.values());
  for (const { onset } of assessment.extras) {
    if (told.has(onset)) continue;
    const before = played.findLast((note) => note.onset !== null && note.onset <= onset) ?? played[0];
    add("extra", "", { ...inBar(before?.measure ?? "1", onset, 0, 0), amount: null });
  }
  if (drifts) {
    const percent = assessment.take.driftPercent!;
    const onsets = assessment.notes.flatMap(({ onset }) => onset ?? []);
    const from = driftsFrom(assessment.notes, score);
    const begins = inBar(from?.measure ?? measures[0]!.number, from?.onset ?? onsets[0] ?? 0, 0, percent);
    add(percent > 0 ? "rushing" : "dragging", "", { ...begins, untilSec: onsets.at(-1) ?? begins.untilSec });
  }
  for (const { measure, from, to, changeDb, audible } of assessment.dynamics ?? []) {
    if (audible || Math.abs(loudnessSteps(from, to)) < HEARD_STEPS) continue;
    const at = played.find((note) => note.measure === measure && note.onset !== null);
    if (at) add("dynamics", "", inBar(measure, at.onset!, 1, changeDb));
  }
  for (const { kind, eventIds, amount } of marks) {
    const marked = played.filter(({ eventId, onset }) => onset !== null && eventIds.has(eventId));
    for (const { eventId, index, measure, beat, onset, offset } of marked)
      add(kind, "", {
        ...inBar(measure, onset!, 0, amount),
        ...{ eventId, noteIndex: index, beat, untilSec: offset ?? onset! + SHORT_SOUND_SEC },
      });
  }
  return [...causes.values()].sort((a, b) => weightOf(b) - weightOf(a));
}

const weightOf = ({ kind, places }: Cause) => WEIGHT[kind] * places.length;

/**
 * Notes that were struck a second time while they should have sounded: the second stroke is an extra of the same pitch before the
 * next note. Claps have no pitch: a stroke too many stays one.
 * @returns onset of the second stroke by place of the note
 */
function struckTwice(
  played: readonly NoteVerdict[],
  extras: Assessment["extras"],
): ReadonlyMap<number, number> {
  const twice = new Map<number, number>();
  for (const { onset, midi } of extras) {
    if (midi === null) continue;
    const note = played.findLast((each) => each.onset !== null && each.onset < onset);
    if (note?.verdict === "ok" && Math.round(note.playedMidi!) === Math.round(midi))
      twice.set(note.index, onset);
  }
  return twice;
}

function pitchClass(midi: number): number {
  return ((Math.round(midi) % 12) + 12) % 12;
}

function amountOf(note: NoteVerdict, kind: CauseKind): number | null {
  if (kind === "early" || kind === "late" || kind === "uneven") return note.timingMs;
  return kind === "short" || kind === "long" || kind === "not-short" ? note.lengthRatio : null;
}

/** The name of a pitch whatever its octave. */
function nameOf(pitch: Pitch | null): string {
  return pitch ? `${pitch.letter}${pitch.alter}` : "";
}

/** What is to be said of a note; the gravest only. A note that is early because everything rushes or nothing is even is no cause of its own. */
function kindOf(
  note: NoteVerdict,
  { drifts, uneven, twice }: { drifts: boolean; uneven: boolean; twice: boolean },
): CauseKind | null {
  if (!wasRecorded(note)) return null;
  if (note.flags.includes("heard-wrong")) return "heard-wrong";
  if (note.verdict === "missed") return "missed";
  if (note.verdict === "wrong-pitch") return note.kind ?? "other";
  if (twice) return "doubled";
  if (note.flags.includes("corrected")) return "corrected";
  if (note.flags.includes("squeak")) return "squeak";
  if (note.flags.includes("cracked-attack")) return "cracked";
  if (note.timing === "early" || note.timing === "late") {
    if (uneven) return "uneven";
    if (!drifts) return note.timing;
  }
  if (note.length === "short" || note.length === "long") return note.length;
  if (note.flags.includes("breath-in-slur")) return "breath-in-slur";
  if (note.flags.includes("re-tongued-slur")) return "re-tongued-slur";
  return note.flags.includes("not-short") ? "not-short" : null;
}

/** What went well in a take, as far as it was measured. */
export type GoodThing =
  | { kind: "all-notes"; notes: number }
  | { kind: "steady" }
  /** A run of bars without a fault, printed numbers. */
  | { kind: "bars"; from: string; to: string }
  | { kind: "notes"; found: number; notes: number };

/** The best that can honestly be said of a take; null where nothing was measured to be good. */
export function goodThingOf(assessment: Assessment): GoodThing | null {
  const { take, breaks } = assessment;
  const notes = recordedNotes(assessment.notes);
  if (take.status !== "assessed" || notes.length === 0) return null;
  const found = notes.filter(({ verdict }) => verdict === "ok");
  // Strokes are right by their time.
  const right = notes.every(({ playedMidi }) => playedMidi === null) ? found.filter(isClean) : found;
  if (right.length === notes.length) return { kind: "all-notes", notes: notes.length };
  const timed = found.filter(({ timing }) => timing !== null);
  const inTime = timed.filter(({ timing }) => timing === "ok").length;
  if (
    timed.length >= 8 &&
    inTime >= 0.9 * timed.length &&
    breaks.length === 0 &&
    !driftsNoticeably(assessment)
  )
    return { kind: "steady" };
  let best: { from: string; to: string; bars: number } | null = null;
  let run: { from: string; to: string; bars: number } | null = null;
  for (const measure of new Set(notes.map((note) => note.measure))) {
    const clean = notes.filter((note) => note.measure === measure).every(isClean);
    run = clean
      ? run
        ? { from: run.from, to: measure, bars: run.bars + 1 }
        : { from: measure, to: measure, bars: 1 }
      : null;
    if (run && run.bars > (best?.bars ?? 0)) best = run;
  }
  if (best) return { kind: "bars", from: best.from, to: best.to };
  return found.length >= notes.length / 2
    ? { kind: "notes", found: found.length, notes: notes.length }
    : null;
}
