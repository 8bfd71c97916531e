import type { Instrument } from "../music";
import type { SoundingNote } from "../score";
import type { Features } from "./features";
import type { Heard } from "./heard";
import { lowPartials } from "./partials";
import type { Segment } from "./segments";
import { median } from "./statistics";
import type { NoteFlag } from "./types";

/** A wrong start shorter than this, with no gap, is a cracked attack and not a note of its own. */
const CRACK_SEC = 0.13;
/**
 * A slur is broken where the next note is begun anew, with so much of a rise, dB: by a breath where nothing sounds between for so long,
 * seconds (longer is a pause), by the tongue where the level dips by so much and the note rises hardly further than out of that dip: a note
 * that is louder by itself was not tongued ("joints" of the combined bench, 360 takes: 26 of 29 right; with 8 dB and no more, 38 of 58).
 */
const JOINT = { attackDb: 8, breathSec: [0.12, 0.4] as const, dipDb: 12, louderDb: 3 };

/** A squeak that is a sound of its own between two of the note: so far above it, at least and at most so long, with so little between. */
const SQUEAK = { brighter: 1.7, above: 8, least: 0.035, most: 0.25, gap: 0.1 };
/**
 * A squeak inside a note: its two lowest partials fall by so many dB for so long while it stays nearly as loud, and come back. A room that
 * rings on hides it ("squeaks" of the combined bench: 4 told by this alone, all right, of 25; told by their colour, 9 and none right).
 */
const VANISHED = { fallDb: 12, least: 0.045, most: 0.14, softerDb: 6, backDb: 3, besideSec: 0.08 };
/** How much of a note's two ends is left aside, seconds. */
const INSIDE = { afterOnsetSec: 0.1, beforeEndSec: 0.08 };

/** Whether a note jumps up for a moment and comes back, between its first and its last sound: it is still heard, but not at its own pitch. */
export function squeaks(features: Features, segment: Segment, heard: Heard, tuning: number): boolean {
  if (segment.midi === null || features.midi.length === 0) return false;
  const { fineHopSec, outlineDb, sound } = features;
  const fromSec = heard.onsetSec + INSIDE.afterOnsetSec;
  const { levels, hopSec } = lowPartials(
    sound,
    segment.midi + tuning,
    fromSec,
    heard.offsetSec - INSIDE.beforeEndSec,
  );
  const usual = median(levels);
  const beside = Math.round(VANISHED.besideSec / hopSec);
  const loudness = (from: number, to: number) => {
    const at = (frame: number) => Math.round((fromSec + frame * hopSec) / fineHopSec);
    return median(outlineDb.subarray(at(from), Math.max(at(from) + 1, at(to))));
  };
  const there = (from: number, to: number) =>
    from < to && Math.max(...levels.subarray(from, to)) > usual - VANISHED.backDb;
  for (let from = 1; from < levels.length; from++) {
    if (levels[from]! > usual - VANISHED.fallDb) continue;
    let to = from;
    while (to < levels.length && levels[to]! <= usual - VANISHED.fallDb) to++;
    const seconds = (to - from) * hopSec;
    if (
      seconds >= VANISHED.least &&
      seconds <= VANISHED.most &&
      there(Math.max(0, from - beside), from) &&
      there(to, Math.min(levels.length, to + beside)) &&
      loudness(from, to) > loudness(0, levels.length) - VANISHED.softerDb
    )
      return true;
    from = to;
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
 * A crack lies on another partial of its tube than the note it leads to, so many semitones away, give or take; it holds its own pitch for
 * so many pitch frames, begins with a marked attack, and is nearly as loud as the note, dB; what sounded so long before the attack already
 * is no crack, seconds ("cracks" of the combined bench: of 91 that were told 4 were there without the attack, the reach and the moment
 * before; all of the last 16 were a television).
 */
const CRACK = {
  steps: [3, 4, 5, 7, 12],
  near: 0.8,
  frames: 4,
  within: 0.35,
  clarity: 0.8,
  attackDb: 28,
  beforeSec: 0.05,
  softerDb: 8,
  apart: 1.9,
};

/** Whether a pitch is one a tube jumps to from another by mistake: a neighbouring partial. */
function onOtherPartial(pitch: number, note: number): boolean {
  return CRACK.steps.some((step) => Math.abs(Math.abs(pitch - note) - step) <= CRACK.near);
}

/** Whether the first moments of a note hold another pitch, too short to be a note: not the one before, nor an octave of either. */
export function cracksOpen(
  features: Features,
  note: Segment,
  before: Segment | undefined,
  tuning: number,
): boolean {
  const { midi, clarity, pitchHopSec, outlineDb, fineHopSec } = features;
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
      onOtherPartial(here, own) &&
      outlineDb[Math.round((f * pitchHopSec) / fineHopSec)]! > note.peakDb - CRACK.softerDb &&
      known.every((each) => {
        const away = Math.abs(here - each);
        return away > CRACK.apart && !SAME_SOUND.some((apart) => Math.abs(away - apart) < 0.6);
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
  if (crack.peakDb < note.peakDb - CRACK.softerDb) return false;
  return (
    crack.offsetSec - crack.onsetSec < CRACK_SEC &&
    note.onsetSec - crack.offsetSec < 0.04 &&
    onOtherPartial(crack.midi, note.midi)
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
  const [shortest, longest] = JOINT.breathSec;
  if (gapSec >= shortest && gapSec < longest) flags.push("breath-in-slur");
  else if (
    gapSec < shortest &&
    dipDb >= JOINT.dipDb &&
    attackDb - dipDb < JOINT.louderDb &&
    !instrument?.legatoTongue
  )
    flags.push("re-tongued-slur");
  return flags;
}
