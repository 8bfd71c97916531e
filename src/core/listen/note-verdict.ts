import type { Instrument } from "../music";
import type { SoundingNote } from "../score";
import type { OwnBeat } from "./beat";
import { flagsOf } from "./blemishes";
import type { Heard } from "./heard";
import { round } from "./statistics";
import type { Timing } from "./timing";
import type { AssessOptions, NoteVerdict } from "./types";
import { missedNote, placeOf } from "./verdict";
import { wrongKind } from "./wrong-kind";

/**
 * How clearly a pitch was heard, 0 to 1, before it is mapped to how often such verdicts are right (`calibrated`): how periodic the sound
 * was, less where the pitch is unsteady (semitones), where the note is short (seconds) and where it lies near the edge of the tolerance
 * (semitones).
 */
const CLEARNESS = {
  least: 0.05,
  unsteady: { spread: 0.35, times: 0.6 },
  short: { base: 0.55, perSec: 3 },
  edge: { within: 0.1, base: 0.4, perSemitone: 6 },
};
/** Below this a wrong note is given to the player ("false alarms" of the combined bench: half of what lay below was played right). */
const BENEFIT_BELOW = 0.7;
/** How clearly nothing was heard; of a note that may lie unbroken in the sound of the one before. */
const MISSED = { plain: 0.9, unbroken: 0.6 };
const USUAL_TOLERANCE_CENTS = 50;

/** A note of the line among its neighbours. */
export interface Surroundings {
  heard: Heard | undefined;
  before: Heard | undefined;
  next: Heard | undefined;
  beat: OwnBeat;
  timing: Timing;
  /** What comes after it. */
  after: After;
}

/** What holds for the whole take. */
export interface TakeTerms {
  tuningCents: number;
  options: AssessOptions;
  instrument: Instrument | undefined;
}

/** Pitch, time, length and blemishes of one note; its confidence is how clearly it was heard. */
export function verdictOf(note: SoundingNote, around: Surroundings, take: TakeTerms): NoteVerdict {
  const { heard, before, timing } = around;
  if (!heard || heard.unbroken) return missedNote(note, heard ? MISSED.unbroken : MISSED.plain);
  const tolerance = (take.options.pitchToleranceCents ?? USUAL_TOLERANCE_CENTS) / 100;
  const midi = take.options.corrected === "wrong" ? (heard.corrected ?? heard.midi) : heard.midi;
  const off = note.midi === null || midi === null ? 0 : midi - note.midi;
  const outside = Math.abs(off) > tolerance;
  const confidence = clearness(heard, off, tolerance);
  const wrong = outside && confidence >= BENEFIT_BELOW;
  const playedMidi = midi === null ? null : round(midi + take.tuningCents / 100, 3);
  const lengthRatio = lengthOf(note, around);
  return {
    ...placeOf(note),
    verdict: wrong ? "wrong-pitch" : "ok",
    kind: wrong ? wrongKind(note, off, take.instrument) : null,
    onset: round(heard.onsetSec, 3),
    offset: round(Math.max(heard.offsetSec, heard.heldUntilSec), 3),
    playedMidi,
    cents: centsOf(playedMidi, note.midi, wrong, outside),
    ...timing,
    length: lengthWord(lengthRatio, note, around, take.instrument),
    lengthRatio,
    flags: flagsOf(note, heard, before, take.instrument),
    levelDb: null,
    confidence,
  };
}

/** From the expected pitch, from the nearest semitone where it is wrong; null where a note far off was given to the player. */
function centsOf(
  playedMidi: number | null,
  expected: number | null,
  wrong: boolean,
  outside: boolean,
): number | null {
  if (playedMidi === null || (outside && !wrong)) return null;
  const from = wrong || expected === null ? Math.round(playedMidi) : expected;
  return round(100 * (playedMidi - from), 1);
}

function clearness(heard: Heard, off: number, tolerance: number): number {
  const { least, unsteady, short, edge } = CLEARNESS;
  const seconds = heard.offsetSec - heard.onsetSec;
  const fromEdge = Math.abs(Math.abs(off) - tolerance);
  const clear =
    heard.clarity *
    (heard.segment.spread > unsteady.spread ? unsteady.times : 1) *
    Math.min(1, short.base + short.perSec * seconds) *
    (fromEdge < edge.within ? edge.base + edge.perSemitone * fromEdge : 1);
  return round(Math.max(least, Math.min(1, clear)), 2);
}

/** Played length as a share of the written one at the player's own beat, up to the next note; null where it has none. */
function lengthOf(note: SoundingNote, { heard, next, beat }: Surroundings): number | null {
  if (!heard || note.midi === null || note.fermata) return null;
  const written = note.durationQuarters * beat.rateAt(note.onsetQuarters, heard.run);
  const cut = next && next.segmentIndex > heard.segmentIndex && next.run === heard.run;
  const until = cut ? Math.min(heard.heldUntilSec, next.onsetSec) : heard.heldUntilSec;
  return round((until - heard.onsetSec) / written, 2);
}

function lengthWord(
  ratio: number | null,
  note: SoundingNote,
  { after, heard, next }: Surroundings,
  instrument: Instrument | undefined,
): NoteVerdict["length"] {
  if (ratio === null || !heard) return null;
  // Bars ring as long as they ring.
  if (instrument?.family === "mallets") return "ok";
  const { least, most } = lengthsOf(note, after.ends);
  const follows = next?.run === heard.run && !next.unbroken ? next : undefined;
  const untilNext = follows ? follows.onsetSec - heard.heldUntilSec : null;
  if (ratio > most) {
    // What is asked to be short is too long without being longer than written.
    if (most < 1) return "long";
    const over = (heard.heldUntilSec - heard.onsetSec) * (1 - 1 / ratio);
    const fills = untilNext !== null && (untilNext < LENGTH_SAID.nearSec || ratio >= LENGTH_SAID.farOver);
    return after.rests && fills && over >= LENGTH_SAID.leastOverSec ? "long" : "ok";
  }
  if (ratio >= least || ratio < LENGTH_SAID.leastRatio || !heard.sureAttack) return "ok";
  const cutBack = heard.offsetSec - heard.heldUntilSec > LENGTH_SAID.nearSec;
  return cutBack || (untilNext !== null && untilNext < LENGTH_SAID.leastGapSec) ? "ok" : "short";
}
/**
 * What is said of lengths ("length" of the combined bench: 69 right words of 148 without any of this, 79 of 139 with the two shares alone).
 * Too long is a note before a rest, by so much that no room rings, seconds, when it lasts nearly until the next one or is this many times
 * its written length: elsewhere the next note is late, or was missed. Too short is a note with so much silence after it, seconds, from a
 * share on below which it is rather the end of one that was heard late, where both its ends are sure.
 */
const LENGTH_SAID = { leastOverSec: 0.3, nearSec: 0.3, farOver: 2.2, leastRatio: 0.22, leastGapSec: 0.08 };

/** Shares of the written length between which a note is long enough and not too long. */
interface Lengths {
  least: number;
  most: number;
}

const PLAIN: Lengths = { least: 0.5, most: 1.5 };
/** About half the written length, with what a room adds (common practice, no published source). */
const SHORT: Lengths = { least: 0, most: 0.7 };
/** No gap but that of a light tongue; a room closes some of it. */
const SMOOTH: Lengths = { least: 0.8, most: 1.5 };
/** Held to the end of its value, not clipped, and not into the rest. */
const HELD: Lengths = { least: 0.8, most: 1.3 };

/** What comes after a note: a rest; a rest, a breath or nothing. */
export interface After {
  rests: boolean;
  ends: boolean;
}

export function afterNote(notes: readonly SoundingNote[], index: number): After {
  const [note, next] = [notes[index]!, notes[index + 1]];
  const rests = next !== undefined && next.onsetQuarters - note.onsetQuarters - note.durationQuarters > 0.01;
  return { rests, ends: rests || note.breath || !next };
}

/** @param ends  a breath, a rest or nothing comes after it */
function lengthsOf({ style }: SoundingNote, ends: boolean): Lengths {
  if (style === "short") return SHORT;
  if (style === "smooth" && !ends) return SMOOTH;
  return style === "tapered" && ends ? HELD : PLAIN;
}
