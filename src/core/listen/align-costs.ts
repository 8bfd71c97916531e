import type { SoundingNote } from "../score";
import { continues, lasting, onSamePitch, pitchFor, type Segment, usualPeakDb } from "./segments";

/** Costs of the events a path may contain; the unit is "one plainly missed note is 1.2". */
export const COST = {
  /** A gain: without it, hearing nothing at all would be cheaper than a line with many wrong notes. */
  rightPitch: -0.45,
  missed: 1.2,
  semitoneOff: 0.9,
  octaveOff: 1.1,
  wrong: 1.3,
  extra: 0.35,
  extraLong: 0.85,
  /** From so long on, seconds, a sound that is left over costs all of that. */
  longSec: 0.3,
  /** A stretch that may be the sound before going on. */
  continued: 0.05,
  struckAgain: 0.3,
  jump: 3,
  jumpInsideBar: 0.8,
  jumpAfterGap: -0.6,
  skipForwardPerNote: 0.35,
  /** What is left over before a jump costs so many times as much (at 1 a flute of the combined bench was said to begin again out of a television). */
  beforeJump: 1.5,
  shared: 0.3,
  sharedUnbroken: 1,
  faintAgain: 0.8,
  /** A stroke of another sound than the one that is followed: to leave it over, and to hear it as a note nevertheless. */
  foreign: 0.05,
  foreignHeard: 1.15,
  /** A sound before the first note or after the last; a stroke, which has no pitch to tell it by, and all of them together. */
  outside: 1,
  strokeOutside: 0.3,
  /** Of even strokes the first ones are the beginning: what goes on behind the line is too much, what is missing was not reached. */
  strokeBefore: 0.32,
  strokeUnbegun: 1.25,
  strokesOutside: 6,
  unreached: 1.2,
  unreachedCap: 6,
  /** A stroke that is heard gains nothing: of a long rhythm so much a note, or with ten of 300 left out it were cheaper to hear none. */
  strokesUnreached: 0.15,
};
/**
 * What is soft, or holds no pitch, is hardly the player's: a television, a child next door, breath. Levels against the take's usual one, dB;
 * spreads of the pitch, semitones; the least a sound counts.
 */
const PLAYERS_OWN = { loudDb: -4, softDb: -16, steady: 0.12, unsteady: 0.32, least: 0.25 };
/** The same pitch going on with no more of a dip than this is hardly a new note, dB. */
const FAINT_DIP_DB = 4;
/** Segments that one step of a path may leave over, besides stretches that only go on; segments looked back over in all. */
const MAX_SEGMENTS_SKIPPED = 4;
const MOST_STRETCHES = 40;
/**
 * What a gap between two attacks costs when it does not fit: nothing inside this share of it, or this many seconds; then it rises, the
 * square of what is over against `unit` (a logarithm) and so much in proportion, to a cap.
 */
const GAP = { freeRatio: 0.12, freeSec: 0.05, unit: 0.4, proportional: 0.6, cap: 1.2, leastSec: 0.02 };

/**
 * What everything costs that does not depend on the tempo, worked out once for a take; for N notes and M segments.
 */
export interface AlignmentCosts {
  /** To hear a segment as a note: the note's row, and in it one value a segment. Notes of one pitch share a row. */
  pitch: readonly Float32Array[];
  /** M + 1 sums from the first segment on: to leave segments over inside the line. */
  leftOver: Float64Array;
  /** To leave segments over before the line or after it, from one place to another. */
  outside(from: number, to: number): number;
  /** Before the first matched note, and after the last: to leave so many notes unplayed. */
  unbegun(notes: number): number;
  unreached(notes: number): number;
  /** Whether a segment is the pitch before going on with hardly a dip. */
  faint: readonly boolean[];
  /** The first segment that the note before may have been heard in. */
  earliest: readonly number[];
}

export function alignmentCosts(notes: readonly SoundingNote[], segments: readonly Segment[]): AlignmentCosts {
  const own = playersOwn(segments);
  const goesOn = segments.map((segment, j) => continues(segment, segments[j - 1]));
  // Struck again on its pitch without a pause: a note of its own, or a sound that throbs.
  const again = segments.map((segment, j) => onSamePitch(segment, segments[j - 1]));
  const leftOver = new Float64Array(segments.length + 1);
  const outside = new Float64Array(segments.length + 1);
  segments.forEach((segment, j) => {
    const cost = segment.foreign
      ? COST.foreign
      : goesOn[j]
        ? COST.continued
        : again[j]
          ? COST.struckAgain
          : own[j]! * (COST.extra + COST.extraLong * Math.min(1, lasting(segment) / COST.longSec));
    leftOver[j + 1] = leftOver[j]! + cost;
    outside[j + 1] = outside[j]! + Math.min(cost, COST.outside * own[j]!);
  });
  const strokes = notes.every(({ midi }) => midi === null);
  const unreachedCap = Math.max(COST.unreachedCap, strokes ? COST.strokesUnreached * notes.length : 0);
  return {
    pitch: pitchCosts(notes, segments),
    leftOver,
    outside: strokes
      ? (from, to) =>
          Math.min(COST.strokesOutside, (from === 0 ? COST.strokeBefore : COST.strokeOutside) * (to - from))
      : (from, to) => outside[to]! - outside[from]!,
    unbegun: (count) => Math.min(unreachedCap, (strokes ? COST.strokeUnbegun : COST.unreached) * count),
    unreached: (count) => Math.min(unreachedCap, COST.unreached * count),
    faint: segments.map((segment, j) => goesOn[j]! && segment.dipDb < FAINT_DIP_DB),
    earliest: segments.map((_, j) => earliestBefore(j, again)),
  };
}

function pitchCosts(notes: readonly SoundingNote[], segments: readonly Segment[]): Float32Array[] {
  const rows = new Map<number | null, Float32Array>();
  return notes.map(({ midi }) => {
    const row = rows.get(midi) ?? Float32Array.from(segments, (segment) => pitchCost(midi, segment));
    rows.set(midi, row);
    return row;
  });
}

function pitchCost(midi: number | null, segment: Segment): number {
  if (midi === null || segment.midi === null) return segment.foreign ? COST.foreignHeard : 0;
  const off = Math.abs(pitchFor(segment, midi) - midi);
  if (off < 0.55) return COST.rightPitch + 0.15 * off;
  if (off < 1.4) return COST.semitoneOff;
  return Math.abs(off - 12) < 0.6 || Math.abs(off - 24) < 0.6 ? COST.octaveOff : COST.wrong;
}

/** How much each segment counts as the player's own, 0 to 1: by its loudness and how steady its pitch is. */
function playersOwn(segments: readonly Segment[]): Float64Array {
  const usual = usualPeakDb(segments);
  const { loudDb, softDb, steady, unsteady, least } = PLAYERS_OWN;
  const share = (value: number, none: number, all: number) =>
    Math.max(0, Math.min(1, (value - none) / (all - none)));
  return Float64Array.from(segments, ({ peakDb, spread }) =>
    Math.max(least, share(peakDb - usual, softDb, loudDb) * share(spread, unsteady, steady)),
  );
}

/** The first segment that the note before may have been heard in: so many others may lie between, and any number of stretches that only go on. */
function earliestBefore(j: number, again: readonly boolean[]): number {
  let skipped = 0;
  let place = j - 1;
  while (place > 0 && j - place < MOST_STRETCHES && (again[place] || skipped < MAX_SEGMENTS_SKIPPED)) {
    if (!again[place]) skipped++;
    place--;
  }
  return Math.max(0, place);
}

/** What a gap between two attacks costs that is played otherwise than expected; both in seconds, expected above 0. */
export function gapCost(playedSec: number, expectedSec: number): number {
  const { freeSec, freeRatio, unit, proportional, cap, leastSec } = GAP;
  if (Math.abs(playedSec - expectedSec) <= freeSec) return 0;
  const nearer = playedSec > expectedSec ? playedSec - freeSec : playedSec + freeSec;
  const ratio = Math.abs(Math.log(Math.max(leastSec, nearer) / expectedSec)) - freeRatio;
  return ratio <= 0 ? 0 : Math.min(cap, (ratio / unit) ** 2 + proportional * ratio);
}
