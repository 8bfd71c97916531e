import type { Instrument } from "../music";
import type { SoundingNote } from "../score";
import type { OwnBeat } from "./beat";
import type { Heard } from "./heard";
import { round } from "./statistics";
import type { NoteVerdict } from "./types";

/** What was heard for a note, and for the one after it. */
interface HeardBeside {
  heard: Heard | undefined;
  next: Heard | undefined;
}

/** Played length as a share of the written one at the player's own beat, up to the next note; null where it has none. */
export function lengthOf(note: SoundingNote, { heard, next }: HeardBeside, beat: OwnBeat): number | null {
  if (!heard || note.midi === null || note.fermata) return null;
  const written = note.durationQuarters * beat.rateAt(note.onsetQuarters, heard.run);
  const cut = next && next.segmentIndex > heard.segmentIndex && next.run === heard.run;
  const until = cut ? Math.min(heard.heldUntilSec, next.onsetSec) : heard.heldUntilSec;
  return round((until - heard.onsetSec) / written, 2);
}

/** Whether it is long enough, and not too long, as far as anything can be said; null where it has no length. */
export function lengthWord(
  ratio: number | null,
  note: SoundingNote,
  after: After,
  { heard, next }: HeardBeside,
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
/** Struck and a little separated (common practice, no published source). */
const MARCATO: Lengths = { least: 0.3, most: 1.5 };

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

/** What was asked for counts before the sign over a note. @param ends  a breath, a rest or nothing comes after it */
function lengthsOf({ style, articulations = [] }: SoundingNote, ends: boolean): Lengths {
  if (style === "short") return SHORT;
  if (style === "smooth" && !ends) return SMOOTH;
  if (style === "tapered" && ends) return HELD;
  if (style) return PLAIN;
  if (articulations.includes("staccato")) return SHORT;
  if (articulations.includes("strong-accent")) return MARCATO;
  return articulations.includes("tenuto") ? SMOOTH : PLAIN;
}

/** Whether a note is to be played short, by what was asked for or by its sign. */
export function isShort(note: SoundingNote): boolean {
  return lengthsOf(note, false) === SHORT;
}

/** Whether a note that is too long is so by its sign only: how it is articulated, not how long it is written. */
export function isNotShort(note: SoundingNote, word: NoteVerdict["length"]): boolean {
  return word === "long" && isShort(note) && !note.style;
}
