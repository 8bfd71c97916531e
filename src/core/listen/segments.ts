import type { Features } from "./features";
import { partialOnset } from "./partials";
import { RIVAL_SEMITONES } from "./pitch";
import { median, percentile, standardDeviation, weightedLine } from "./statistics";

/** A stretch that sounds like one note. */
export interface Segment {
  /** Audible attack, or the middle of the pitch change in a slur; seconds. */
  onsetSec: number;
  /** Audible end, seconds. */
  offsetSec: number;
  /** Median pitch of its steady part as a MIDI number; null when unpitched. */
  midi: number | null;
  /** Spread of that pitch in semitones. */
  spread: number;
  /** Which way and how fast it goes on the whole, semitones a second. */
  glide: number;
  /** Highest 5 ms level, dB full scale. */
  peakDb: number;
  /** How marked its attack is: rise in dB out of the dip before it. */
  attackDb: number;
  /** Depth of the dip in level between what sounds before and the note, dB: small in a slur, whatever gets louder. */
  dipDb: number;
  /** Silence before it, seconds. */
  gapSec: number;
  /** Mean periodicity, 0 to 1. */
  clarity: number;
  /** Other pitches it may as well be heard at, in semitones from `midi`: weak odd partials, a strong twelfth. */
  rivals: readonly number[];
  /** Moments inside it where the same pitch may have been struck again, seconds. */
  seams: readonly number[];
  /** A stroke of another sound than the one that is followed: a voice that counts beside claps, a metronome. */
  foreign?: boolean;
}

/** The contract's word for audible: within this many dB of the attack's peak. */
export const AUDIBLE_DB = 20;
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

/** The contract lets a reference be heard up to about 20 dB below the player; so far below, and a little less, it is not the player. */
const BACKGROUND_DB = 17;

/** A rival pitch counts when so many of the frames allow it. */
const RIVAL_SHARE = 0.4;

/** The loudest 5 ms of a room's noise lie so far above its usual level. */
const ABOVE_ROOM_DB = 5;

/**
 * Level below which nothing is taken for playing, dB full scale: above the sound of the moments that have no pitch, where
 * there are enough of them, else far below the loud ones.
 */
export function soundFloorDb(features: Features): number {
  const loud = percentile(features.outlineDb, 95);
  return Math.max(loud - 42, Math.min(roomDb(features, 25) + 8, loud - 14), -72);
}

/** Level of the moments without pitch, where there are enough of them: a percentile, dB full scale. */
function roomDb({ outlineDb, clarity, pitchHopSec, fineHopSec }: Features, p: number): number {
  const perFrame = Math.round(pitchHopSec / fineHopSec);
  if (clarity.length === 0) return percentile(outlineDb, 10);
  const between = outlineDb.filter((_, g) => (clarity[Math.floor(g / perFrame)] ?? 0) < 0.5);
  return between.length < 0.03 * outlineDb.length ? -100 : percentile(between, p);
}

/** The pitch of a segment as it is best heard for a written note: of its own and its rivals the one nearest to it. */
export function pitchFor(segment: Segment, written: number): number {
  let nearest = segment.midi!;
  for (const rival of segment.rivals)
    if (Math.abs(segment.midi! + rival - written) < Math.abs(nearest - written))
      nearest = segment.midi! + rival;
  return nearest;
}

/** A rise no stronger than this inside one sound may be the sound itself: a tuba's beating, a vibrato, a hall. */
const WEAK_ATTACK_DB = 8;

/** Whether a segment follows the one before on the same pitch without a pause. */
export function onSamePitch(segment: Segment | undefined, before: Segment | undefined): boolean {
  return (
    segment !== undefined &&
    before !== undefined &&
    segment.midi !== null &&
    before.midi !== null &&
    segment.gapSec < 0.06 &&
    Math.abs(segment.midi - before.midi) < 0.6
  );
}

/** Whether a segment may be the one before going on: the same pitch, no silence between, no clear attack. */
export function continues(segment: Segment | undefined, before: Segment | undefined): boolean {
  return onSamePitch(segment, before) && segment!.attackDb < WEAK_ATTACK_DB;
}

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

/**
 * Whether a segment is the player's: what lies far below the usual loudness comes from somewhere else, a play-along from
 * earphones or somebody practising next door.
 */
export function nearEnough(segments: readonly Segment[]): (segment: Segment) => boolean {
  const usual = usualPeakDb(segments);
  return (segment) => segment.peakDb > usual - BACKGROUND_DB;
}

/** How long a segment lasts, seconds. */
export function lasting({ onsetSec, offsetSec }: Segment): number {
  return offsetSec - onsetSec;
}

/** The peak level that half of the sounding time reaches, dB full scale. */
export function usualPeakDb(segments: readonly Segment[]): number {
  const byLevel = [...segments].sort((a, b) => b.peakDb - a.peakDb);
  const seconds = (some: readonly Segment[]) => some.reduce((sum, segment) => sum + lasting(segment), 0);
  const half = seconds(byLevel) / 2;
  let sum = 0;
  return byLevel.find((segment) => (sum += lasting(segment)) >= half)?.peakDb ?? 0;
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

/** Rise from the lowest level in the 60 ms before to the highest in the 60 ms after, dB. */
export function riseDb(outlineDb: Float32Array, fine: number): number {
  let low = outlineDb[fine] ?? -100;
  for (let g = fine - 12; g <= fine; g++) low = Math.min(low, outlineDb[g] ?? -100);
  let high = -100;
  for (let g = fine; g <= fine + 12; g++) high = Math.max(high, outlineDb[g] ?? -100);
  return high - low;
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

/** Depth of the deepest dip within 60 ms, below the softer of its two sides, dB. */
function dipDb(outlineDb: Float32Array, fine: number): number {
  let low = fine;
  for (let g = Math.max(0, fine - 12); g <= fine + 8; g++)
    if ((outlineDb[g] ?? -100) < (outlineDb[low] ?? -100)) low = g;
  return (
    Math.min(loudest(outlineDb, Math.max(0, low - 16), low), loudest(outlineDb, low, low + 16)) -
    (outlineDb[low] ?? -100)
  );
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

/** Signs of a new attack on one pitch inside one unbroken sound: a dip in level, a lasting fall, a scoop of the pitch. */
const SEAM = { dipDb: 1.8, fallDb: 7, scoop: 0.2, apart: 8 };

/**
 * Where one unbroken sound may begin anew on its pitch: at dips in level, where the level falls for good, where the pitch
 * is off for a moment. Most of them mean nothing; one where a note is due does.
 */
function seamsOf({ outlineDb, midi, fineHopSec, pitchHopSec }: Features, segment: Segment): number[] {
  const from = Math.round((segment.onsetSec + 0.06) / fineHopSec);
  const to = Math.round((segment.offsetSec - 0.05) / fineHopSec);
  const signs: { fine: number; strength: number }[] = [];
  for (let g = from; g <= to; g++) {
    const here = outlineDb[g]!;
    const before = loudest(outlineDb, Math.max(0, g - 16), g);
    const after = loudest(outlineDb, g, g + 17);
    const dip = Math.min(before, after) - here;
    if (dip >= SEAM.dipDb && here <= outlineDb[g - 1]! && here <= (outlineDb[g + 1] ?? here))
      signs.push({ fine: g, strength: dip / SEAM.dipDb });
    const fall = loudest(outlineDb, Math.max(0, g - 12), g - 6) - loudest(outlineDb, g + 2, g + 20);
    if (fall >= SEAM.fallDb) signs.push({ fine: g, strength: fall / SEAM.fallDb });
  }
  const perFrame = pitchHopSec / fineHopSec;
  for (let f = Math.ceil(from / perFrame) + 1; f <= to / perFrame; f++) {
    const away = Math.min(Math.abs(midi[f]! - segment.midi!), Math.abs(midi[f - 1]! - segment.midi!));
    if (midi[f] !== 0 && midi[f - 1] !== 0 && away >= SEAM.scoop && away < 1.5)
      signs.push({ fine: Math.round(f * perFrame), strength: away / SEAM.scoop });
  }
  // Of signs close together the strongest stands.
  const kept: number[] = [];
  for (const sign of signs.sort((a, b) => b.strength - a.strength))
    if (kept.every((each) => Math.abs(each - sign.fine) >= SEAM.apart)) kept.push(sign.fine);
  return kept.map((fine) => fine * fineHopSec).sort((a, b) => a - b);
}

export function loudest(levelDb: Float32Array, from: number, to: number): number {
  let top = -100;
  for (let g = from; g < to && g < levelDb.length; g++) top = Math.max(top, levelDb[g]!);
  return top;
}

/** How far before its first clear pitch a note may already sound, in fine frames: 200 ms after silence, 180 ms in a run. */
const LONGEST_RISE = { afterSilence: 40, inRun: 36 };
/** A dip of so many dB, going back, belongs to the note before; after silence a burst of air may dip more. */
const FOREIGN_DIP_DB = { afterSilence: 10, inRun: 4 };

/**
 * First 5 ms frame, going back from the attack's peak, whose level is within 20 dB of it and belongs to the same rise.
 * @param hum  what is softer is the room, dB full scale
 */
export function audibleAttack(
  levelDb: Float32Array,
  around: number,
  to: number,
  hum: number,
  continued: boolean,
): { fine: number; peakDb: number } {
  const place = continued ? "inRun" : "afterSilence";
  let peak = Math.max(0, around - 6);
  for (let g = peak; g < Math.min(around + 24, to, levelDb.length); g++)
    if (levelDb[g]! > levelDb[peak]!) peak = g;
  const peakDb = levelDb[peak]!;
  let fine = peak;
  let lowest = peak;
  // The outline over 25 ms: a low tuba's single periods must not look like dips.
  const outline = (g: number) => loudest(levelDb, Math.max(0, g - 2), g + 3);
  for (let g = peak; g > Math.max(0, around - LONGEST_RISE[place]); g--) {
    if (outline(g) < outline(lowest)) lowest = g;
    if (outline(g) < peakDb - AUDIBLE_DB || outline(g) < hum) return { fine, peakDb };
    if (outline(g) > outline(lowest) + FOREIGN_DIP_DB[place]) return { fine: lowest, peakDb };
    if (levelDb[g]! >= peakDb - AUDIBLE_DB) fine = g;
  }
  if (!continued) return { fine, peakDb };
  // Struck while the note before still rings: the attack is where the level leaves the floor of that ringing.
  let foot = peak;
  while (foot > lowest && levelDb[foot - 1]! > outline(lowest) + 1.5) foot--;
  return { fine: foot, peakDb };
}

/** Last frame before `to` (and up to 50 ms after it) that is within 20 dB of the note's body. */
function audibleEnd(outlineDb: Float32Array, from: number, to: number, floor: number): number {
  const body = median(outlineDb.subarray(from, Math.max(from + 1, to)));
  let end = to;
  while (end > from + 4 && outlineDb[end - 1]! < Math.max(body - AUDIBLE_DB, floor)) end--;
  return end;
}
