import type { Instrument } from "../music";
import type { SoundingNote } from "../score";
import type { Features } from "./features";
import type { Heard } from "./heard";
import type { Segment } from "./segments";
import { median } from "./statistics";
import type { NoteFlag } from "./types";

/** A wrong start shorter than this, with no gap, is a cracked attack and not a note of its own. */
const CRACK_SEC = 0.13;
/**
 * A slur is broken where the next note is begun anew, with so much of a rise, dB: by a breath where nothing sounds between for so long,
 * seconds, by the tongue where the level dips by so much ("joints" of the combined bench).
 */
const JOINT = { attackDb: 8, breathSec: 0.12, dipDb: 8 };

/** A squeak: so much brighter than the note, so far above it in pitch where it has one, at least and at most so long. */
const SQUEAK = {
  brighter: 1.7,
  above: 8,
  least: 0.035,
  most: 0.25,
  gap: 0.1,
  flash: { brighter: 2.2, least: 0.055 },
};

/** Whether a moment is far brighter than the note and no longer on its pitch. */
function squeaksAt(features: Features, fine: number, usualHz: number, own: number): boolean {
  if ((features.brightHz[fine] ?? 0) < SQUEAK.brighter * usualHz) return false;
  const pitch = features.midi[Math.round((fine * features.fineHopSec) / features.pitchHopSec)] ?? 0;
  return pitch === 0 || pitch > own + SQUEAK.above;
}

/** Whether a note jumps up for a moment and comes back: between its first and its last sound. */
export function squeaks(features: Features, segment: Segment, heard: Heard, tuning: number): boolean {
  if (segment.midi === null || features.midi.length === 0) return false;
  const { fineHopSec, outlineDb, brightHz } = features;
  const from = Math.round((segment.onsetSec + 0.08) / fineHopSec);
  const to = Math.round((heard.offsetSec - 0.06) / fineHopSec);
  const usualHz = median(brightHz.subarray(from, Math.max(from + 1, to)));
  const usualDb = median(outlineDb.subarray(from, Math.max(from + 1, to)));
  let run = 0;
  let bright = 0;
  for (let g = from; g < to; g++) {
    const loud = outlineDb[g]! > usualDb - 14;
    run = loud && squeaksAt(features, g, usualHz, segment.midi + tuning) ? run + 1 : 0;
    if (run * fineHopSec >= SQUEAK.least) return true;
    // A squeak a twelfth up may keep the note's own period; then its colour alone tells, for a moment.
    const flash = loud && brightHz[g]! > SQUEAK.flash.brighter * usualHz;
    const lasted = bright * fineHopSec;
    if (!flash && lasted >= SQUEAK.flash.least && lasted <= SQUEAK.most) return true;
    bright = flash ? bright + 1 : 0;
  }
  return false;
}

/** Whether a note jumps far up, for a moment that has a pitch of its own, and comes back. */
export function squeaksBetween(
  note: Segment,
  high: Segment | undefined,
  again: Segment | undefined,
): boolean {
  if (note.midi === null || high?.midi == null || again?.midi == null) return false;
  const seconds = high.offsetSec - high.onsetSec;
  return (
    high.midi > note.midi + SQUEAK.above &&
    seconds >= SQUEAK.least &&
    seconds <= SQUEAK.most &&
    Math.max(high.gapSec, again.gapSec) < SQUEAK.gap &&
    Math.abs(again.midi - note.midi) < 0.6
  );
}

/** Whether a stretch of the same pitch is the note again after a squeak. */
export function afterSqueak(features: Features, tail: Segment, note: Segment, endSec: number): boolean {
  const gap = tail.onsetSec - endSec;
  if (tail.midi === null || note.midi === null || Math.abs(tail.midi - note.midi) > 0.6) return false;
  if (gap < 0 || gap > SQUEAK.most) return false;
  const { fineHopSec, brightHz } = features;
  const at = Math.round(endSec / fineHopSec);
  const usualHz = median(brightHz.subarray(Math.round((note.onsetSec + 0.05) / fineHopSec), at));
  let bright = 0;
  for (let g = at; g <= tail.onsetSec / fineHopSec; g++)
    if (brightHz[g]! > SQUEAK.brighter * usualHz) bright++;
  return bright * fineHopSec >= SQUEAK.least;
}

/**
 * A crack lies so far from the note it leads to, semitones, holds its own pitch for so many pitch frames, and begins with a marked attack, dB;
 * what sounded so long before the attack already is no crack, seconds ("cracks" of the combined bench: of 91 that were told 4 were there
 * without the attack, the reach and the moment before).
 */
const CRACK = {
  away: 1.9,
  furthest: 13,
  frames: 4,
  within: 0.35,
  clarity: 0.8,
  attackDb: 28,
  beforeSec: 0.05,
};

/** Whether the first moments of a note hold another pitch, too short to be a note: not the one before, nor an octave of either. */
export function cracksOpen(
  features: Features,
  note: Segment,
  before: Segment | undefined,
  tuning: number,
): boolean {
  const { midi, clarity, pitchHopSec } = features;
  if (note.midi === null || midi.length === 0 || note.attackDb < CRACK.attackDb) return false;
  const own = note.midi + tuning;
  const earlier = midi[Math.round((note.onsetSec - CRACK.beforeSec) / pitchHopSec)] ?? 0;
  const known = [
    own,
    ...(before?.midi == null ? [] : [before.midi + tuning]),
    ...(earlier > 0 ? [earlier] : []),
  ];
  const from = Math.max(0, Math.round((note.onsetSec - 0.01) / pitchHopSec));
  let held = 0;
  let last = 0;
  for (let f = from; f < from + Math.round(CRACK_SEC / pitchHopSec); f++) {
    const here = midi[f] ?? 0;
    const foreign =
      here > 0 &&
      clarity[f]! >= CRACK.clarity &&
      Math.abs(here - own) < CRACK.furthest &&
      known.every((each) => {
        const away = Math.abs(here - each);
        return away > CRACK.away && !SAME_SOUND.some((apart) => Math.abs(away - apart) < 0.6);
      });
    held = !foreign ? 0 : held > 0 && Math.abs(here - last) > CRACK.within ? 1 : held + 1;
    if (held >= CRACK.frames) return true;
    last = here;
  }
  return false;
}
/** A pitch so far from a sounding one may be the same sound heard in another octave, semitones. */
export const SAME_SOUND = [12, 19, 24];

/** A short wrong start that runs into the note, and is not the end of the note before, perhaps heard an octave off. */
export function isCrack(crack: Segment, note: Segment, before: Segment | undefined): boolean {
  if (crack.midi === null || note.midi === null) return false;
  const away = before && crack.gapSec < 0.06 ? Math.abs(crack.midi - before.midi!) : 6;
  if (away < 0.8 || Math.abs(away - 12) < 0.8 || crack.attackDb < CRACK.attackDb) return false;
  return (
    crack.offsetSec - crack.onsetSec < CRACK_SEC &&
    note.onsetSec - crack.offsetSec < 0.04 &&
    Math.abs(crack.midi - note.midi) > 0.8 &&
    Math.abs(crack.midi - note.midi) < CRACK.furthest
  );
}

/** @param before  the note before it; a joint has two sides, in one run */
export function flagsOf(
  note: SoundingNote,
  heard: Heard,
  before: Heard | undefined,
  instrument: Instrument | undefined,
): NoteFlag[] {
  const flags: NoteFlag[] = [];
  if (heard.cracked) flags.push("cracked-attack");
  if (heard.squeaked) flags.push("squeak");
  if (heard.corrected !== null) flags.push("corrected");
  const follows =
    before !== undefined && before.run === heard.run && before.segmentIndex < heard.segmentIndex;
  if (!note.slurred || !follows || instrument?.family === "mallets") return flags;
  const { attackDb, dipDb } = heard.segment;
  if (attackDb < JOINT.attackDb) return flags;
  const gapSec = heard.onsetSec - Math.max(before.offsetSec, before.heldUntilSec);
  if (gapSec >= JOINT.breathSec) flags.push("breath-in-slur");
  else if (dipDb >= JOINT.dipDb && !instrument?.legatoTongue) flags.push("re-tongued-slur");
  return flags;
}
