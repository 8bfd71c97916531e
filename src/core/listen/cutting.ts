import type { Features } from "./features";
import { audibleAttack, audibleEnd, dipDb, loudest, riseDb, roomDb, soundFloorDb } from "./levels";
import { partialOnset } from "./partials";
import { RIVAL_SEMITONES } from "./pitch";
import { seamsOf } from "./seams";
import { nearEnough, type Segment } from "./segments";
import { median, percentile, standardDeviation, weightedLine } from "./statistics";

const VOICED_CLARITY = 0.72;
const MIN_SEGMENT_SEC = 0.05;
/** A new pitch must differ by this many semitones for at least this many pitch frames. */
const PITCH_STEP = 0.6;
const PITCH_STEP_FRAMES = 4;
/** A note that begins so few pitch frames after the last one may not reach back into it. */
const RUN_GAP_FRAMES = 22;
/** A slur has no clear pitch for no longer than this, in pitch frames. */
const LONGEST_SLUR_FRAMES = 7;
/** Two pieces that begin so near to each other have one attack. */
const SAME_ATTACK_SEC = 0.03;
/** A start may waver so long before it settles. */
const SCOOP_SEC = 0.16;
/** A re-attack shows as a dip of at least this much with a rise in the spectrum. */
const REATTACK_DB = 2.5;

/** A rival pitch counts when so many of the frames allow it. */
const RIVAL_SHARE = 0.4;

/** The loudest 5 ms of a room's noise lie so far above its usual level. */
const ABOVE_ROOM_DB = 5;

/**
 * Cuts the pitch track into note-like segments: at silences, at lasting changes of pitch and at re-attacks.
 * @returns segments in time order; attacks placed as the contract defines them
 */
export function pitchedSegments(features: Features): Segment[] {
  const floor = soundFloorDb(features);
  // What a note has to rise above before it can be said to begin.
  const hum = Math.max(floor - 6, roomDb(features, 50) + ABOVE_ROOM_DB);
  const pitch = smoothedPitch(features, floor);
  const perFrame = Math.round(features.pitchHopSec / features.fineHopSec);
  const fluxBase = percentile(features.flux, 60);
  const segments: Segment[] = [];
  let lastVoiced = -RUN_GAP_FRAMES;

  for (let f = 0; f < pitch.length; ) {
    if (pitch[f] === 0) {
      f++;
      continue;
    }
    let end = f;
    while (end < pitch.length && pitch[end] !== 0) end++;
    const cuts = [f, ...cutsInRun(features, pitch, f, end, perFrame, fluxBase), end];
    // Where the next note began to sound: with the piece before it, when that was too short to be a note.
    let began = f;
    let inRun = false;
    for (let i = 0; i + 1 < cuts.length; i++) {
      const [from, to] = [cuts[i]!, cuts[i + 1]!];
      if ((to - from) * features.pitchHopSec < MIN_SEGMENT_SEC) continue;
      const continued = inRun || began - lastVoiced < RUN_GAP_FRAMES;
      // A slur changes pitch in the middle of the moment that has none.
      const slurFrom =
        !inRun && began - lastVoiced <= LONGEST_SLUR_FRAMES ? (began + lastVoiced - 1) / 2 : began;
      segments.push(
        describe(features, pitch, { began, slurFrom, from, to }, perFrame, continued, { floor, hum }),
      );
      began = to;
      inRun = true;
    }
    if (inRun) lastVoiced = end;
    f = end;
  }
  const notes = withScoopsJoined(segments.filter(nearEnough(segments)));
  placeSoftAttacks(notes, features);
  notes.forEach((note, i) => {
    const before = notes[i - 1];
    note.gapSec = before ? Math.max(0, note.onsetSec - before.offsetSec) : note.onsetSec;
    note.seams = seamsOf(features, note);
  });
  return notes;
}

/** Where the level hardly rises, a note that changes pitch is placed by its own partials instead. */
const SOFT_ATTACK = { riseDb: 10, step: 0.6, gapSec: 0.3, leastSec: 0.05 };

function placeSoftAttacks(notes: Segment[], { sound }: Features): void {
  notes.forEach((note, i) => {
    const before = notes[i - 1];
    if (!before || note.attackDb >= SOFT_ATTACK.riseDb) return;
    if (Math.abs(note.midi! - before.midi!) < SOFT_ATTACK.step) return;
    if (note.onsetSec - before.offsetSec > SOFT_ATTACK.gapSec) return;
    const placed = partialOnset(sound, note.midi!, before.midi!, note.onsetSec);
    if (placed === null || placed < before.onsetSec + SOFT_ATTACK.leastSec) return;
    if (placed > note.offsetSec - SOFT_ATTACK.leastSec) return;
    note.onsetSec = placed;
    before.offsetSec = Math.min(before.offsetSec, Math.max(placed, before.onsetSec + SOFT_ATTACK.leastSec));
  });
}

/** A short unsettled start that runs into the same note without a new attack is the beginning of that note. */
function withScoopsJoined(segments: readonly Segment[]): Segment[] {
  const joined: Segment[] = [];
  for (const segment of segments) {
    const before = joined.at(-1);
    const scoop =
      before &&
      before.offsetSec - before.onsetSec < SCOOP_SEC &&
      segment.onsetSec - before.offsetSec < 0.03 &&
      (segment.attackDb < 4 || segment.onsetSec - before.onsetSec < SAME_ATTACK_SEC) &&
      Math.abs(segment.midi! - before.midi!) < 0.8;
    if (scoop)
      joined[joined.length - 1] = { ...segment, onsetSec: before.onsetSec, attackDb: before.attackDb };
    else joined.push({ ...segment });
  }
  return joined;
}

/** Median-filtered pitch (MIDI) of voiced frames; 0 elsewhere. Holes of up to two frames inside one pitch are closed. */
function smoothedPitch(features: Features, floor: number): Float32Array {
  const { midi, clarity, outlineDb } = features;
  const perFrame = Math.round(features.pitchHopSec / features.fineHopSec);
  const voiced = midi.map((value, f) =>
    clarity[f]! >= VOICED_CLARITY && outlineDb[f * perFrame]! > floor ? value : 0,
  );
  const smooth = new Float32Array(voiced.length);
  for (let f = 0; f < voiced.length; f++) {
    if (voiced[f] === 0) {
      const [left, right] = [smooth[f - 1] ?? 0, voiced[f + 1] || voiced[f + 2] || 0];
      smooth[f] =
        left !== 0 && right !== 0 && Math.abs(left - right) < 0.5 && outlineDb[f * perFrame]! > floor
          ? left
          : 0;
      continue;
    }
    const near: number[] = [];
    for (let g = Math.max(0, f - 2); g <= f + 2 && g < voiced.length; g++)
      if (voiced[g] !== 0) near.push(voiced[g]!);
    smooth[f] = median(near);
  }
  return smooth;
}

/** Frames inside [from, to) of a voiced run where a new note begins. */
function cutsInRun(
  features: Features,
  pitch: Float32Array,
  from: number,
  to: number,
  perFrame: number,
  fluxBase: number,
): number[] {
  const cuts: number[] = [];
  let start = from;
  for (let f = from + 2; f < to; f++) {
    const reference = median(pitch.subarray(Math.max(start, f - 12), f));
    const ahead = Math.min(PITCH_STEP_FRAMES, to - f);
    let away = 0;
    while (away < ahead && Math.abs(pitch[f + away]! - reference) > PITCH_STEP) away++;
    const steady = away === PITCH_STEP_FRAMES && Math.abs(pitch[f + 3]! - pitch[f + 2]!) < 0.5;
    if (steady && f - start >= 3) {
      cuts.push(f);
      start = f;
      f += 2;
    } else if (f - start >= 5 && to - f >= 4 && isReattack(features, f * perFrame, fluxBase)) {
      cuts.push(f);
      start = f;
      f += 4;
    }
  }
  return cuts;
}

/** A local peak of onset strength that climbs out of a dip in level. */
function isReattack(features: Features, fine: number, fluxBase: number): boolean {
  const { flux } = features;
  let top = fine - 2;
  for (let g = fine - 2; g <= fine + 2; g++) if ((flux[g] ?? 0) > (flux[top] ?? 0)) top = g;
  const strength = flux[top] ?? 0;
  if (strength < 2.2 * fluxBase + 0.01) return false;
  for (let g = top - 8; g <= top + 8; g++) if ((flux[g] ?? 0) > strength) return false;
  return riseDb(features.outlineDb, top) >= REATTACK_DB;
}

function glideOf(pitches: readonly number[], hopSec: number): number {
  const seconds = pitches.map((_, i) => i * hopSec);
  return weightedLine(
    seconds,
    pitches,
    pitches.map(() => 1),
    0,
    0,
  ).slope;
}

function describe(
  features: Features,
  pitch: Float32Array,
  { began, slurFrom, from, to }: { began: number; slurFrom: number; from: number; to: number },
  perFrame: number,
  continued: boolean,
  { floor, hum }: { floor: number; hum: number },
): Segment {
  const { levelDb, outlineDb, clarity } = features;
  const skip = Math.min(5, Math.floor((to - from) / 4));
  const body = [...pitch.subarray(from + skip, Math.max(from + skip + 1, to - Math.min(2, skip)))];
  const midi = median(body);
  const start = began * perFrame;
  const rise = riseDb(outlineDb, start);
  const legato = continued && rise < 6;
  const attack = legato
    ? { fine: Math.round(slurFrom * perFrame), peakDb: loudest(levelDb, start, start + 30) }
    : audibleAttack(levelDb, start, to * perFrame, hum, continued);
  const end = audibleEnd(outlineDb, attack.fine, to * perFrame, floor);
  let clearness = 0;
  for (let f = from; f < to; f++) clearness += clarity[f]! / (to - from);
  const rivals = RIVAL_SEMITONES.flatMap(([bit, semitones]) => {
    let frames = 0;
    for (let f = from; f < to; f++) if (features.rivals[f]! & bit) frames++;
    return frames >= RIVAL_SHARE * (to - from) ? [semitones] : [];
  });
  return {
    onsetSec: attack.fine * features.fineHopSec,
    offsetSec: end * features.fineHopSec,
    midi,
    spread: standardDeviation(body),
    glide: glideOf(body, features.pitchHopSec),
    peakDb: attack.peakDb,
    attackDb: rise,
    dipDb: dipDb(outlineDb, start),
    gapSec: 0,
    clarity: clearness,
    rivals,
    seams: [],
  };
}
