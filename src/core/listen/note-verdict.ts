import type { Instrument } from "../music";
import type { SoundingNote } from "../score";
import type { OwnBeat } from "./beat";
import { flagsOf } from "./blemishes";
import type { Heard } from "./heard";
import { type After, isNotShort, lengthOf, lengthWord } from "./lengths";
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
  const lengthRatio = lengthOf(note, around, around.beat);
  const length = lengthWord(lengthRatio, note, around.after, around, take.instrument);
  const notShort = isNotShort(note, length);
  return {
    ...placeOf(note),
    verdict: wrong ? "wrong-pitch" : "ok",
    kind: wrong ? wrongKind(note, off, take.instrument) : null,
    onset: round(heard.onsetSec, 3),
    offset: round(Math.max(heard.offsetSec, heard.heldUntilSec), 3),
    playedMidi,
    cents: centsOf(playedMidi, note.midi, wrong, outside),
    ...timing,
    length: notShort ? "ok" : length,
    lengthRatio,
    flags: [...flagsOf(note, heard, before, take.instrument), ...(notShort ? ["not-short" as const] : [])],
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
