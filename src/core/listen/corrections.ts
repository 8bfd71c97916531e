import type { SoundingNote } from "../score";
import type { Heard } from "./heard";
import type { Segment } from "./segments";

/**
 * A wrong start that is put right: a sound of its own, seconds; steady and not gliding, semitones and semitones a second; nearly as loud as
 * the take's notes, dB; so far from the note, semitones; and the right one follows within so much, seconds.
 */
const CORRECTION = {
  leastSec: 0.1,
  mostSec: 1.5,
  spread: 0.2,
  glide: 3,
  softerDb: 9,
  away: 0.8,
  furthest: 13,
  gapSec: 0.3,
};

/**
 * Whether the sound before the one a note was heard in is the player's first try at it: the right pitch came late, and the wrong one when it
 * was due. Without this it is told as a note too many, and the right one as late.
 *
 * @param tried     the sound before, which no note was heard in
 * @param right     the sound the note was heard in
 * @param before    the note before it, with what was heard for it; undefined at the beginning
 * @param usualDb   peak level of the take's notes, dB full scale
 */
export function isCorrected(
  note: SoundingNote,
  tried: Segment,
  right: Segment,
  before: { note: SoundingNote; heard: Heard } | undefined,
  secPerQuarter: number,
  usualDb: number,
): boolean {
  if (note.midi === null || tried.midi === null || right.midi === null) return false;
  const away = Math.abs(tried.midi - note.midi);
  const lasts = tried.offsetSec - tried.onsetSec;
  const own =
    away > CORRECTION.away &&
    away < CORRECTION.furthest &&
    Math.abs(right.midi - note.midi) < CORRECTION.away &&
    lasts >= CORRECTION.leastSec &&
    lasts <= CORRECTION.mostSec &&
    tried.spread <= CORRECTION.spread &&
    Math.abs(tried.glide) <= CORRECTION.glide &&
    tried.peakDb > usualDb - CORRECTION.softerDb &&
    right.onsetSec - tried.offsetSec < CORRECTION.gapSec;
  if (!own || !before) return own;
  const { heard, note: previous } = before;
  // What goes on from the note before, or comes before this one is due, is no try at it.
  if (heard.midi !== null && Math.abs(tried.midi - heard.midi) < CORRECTION.away) return false;
  const due = heard.onsetSec + (note.onsetQuarters - previous.onsetQuarters) * secPerQuarter;
  return Math.abs(tried.onsetSec - due) < Math.abs(right.onsetSec - due);
}
