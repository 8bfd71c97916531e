import type { Features } from "./features";
import { median, percentile } from "./statistics";

/** The contract's word for audible: within this many dB of the attack's peak. */
export const AUDIBLE_DB = 20;

/**
 * Level below which nothing is taken for playing, dB full scale: above the sound of the moments that have no pitch, where
 * there are enough of them, else far below the loud ones.
 */
export function soundFloorDb(features: Features): number {
  const loud = percentile(features.outlineDb, 95);
  return Math.max(loud - 42, Math.min(roomDb(features, 25) + 8, loud - 14), -72);
}

/** Level of the moments without pitch, where there are enough of them: a percentile, dB full scale. */
export function roomDb({ outlineDb, clarity, pitchHopSec, fineHopSec }: Features, p: number): number {
  const perFrame = Math.round(pitchHopSec / fineHopSec);
  if (clarity.length === 0) return percentile(outlineDb, 10);
  const between = outlineDb.filter((_, g) => (clarity[Math.floor(g / perFrame)] ?? 0) < 0.5);
  return between.length < 0.03 * outlineDb.length ? -100 : percentile(between, p);
}

/** The highest level from one fine frame up to another, dB. */
export function loudest(levelDb: Float32Array, from: number, to: number): number {
  let top = -100;
  for (let g = from; g < to && g < levelDb.length; g++) top = Math.max(top, levelDb[g]!);
  return top;
}

/** Rise from the lowest level in the 60 ms before to the highest in the 60 ms after, dB. */
export function riseDb(outlineDb: Float32Array, fine: number): number {
  let low = outlineDb[fine] ?? -100;
  for (let g = fine - 12; g <= fine; g++) low = Math.min(low, outlineDb[g] ?? -100);
  let high = -100;
  for (let g = fine; g <= fine + 12; g++) high = Math.max(high, outlineDb[g] ?? -100);
  return high - low;
}

/** Depth of the deepest dip within 60 ms, below the softer of its two sides, dB. */
export function dipDb(outlineDb: Float32Array, fine: number): number {
  let low = fine;
  for (let g = Math.max(0, fine - 12); g <= fine + 8; g++)
    if ((outlineDb[g] ?? -100) < (outlineDb[low] ?? -100)) low = g;
  return (
    Math.min(loudest(outlineDb, Math.max(0, low - 16), low), loudest(outlineDb, low, low + 16)) -
    (outlineDb[low] ?? -100)
  );
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
export function audibleEnd(outlineDb: Float32Array, from: number, to: number, floor: number): number {
  const body = median(outlineDb.subarray(from, Math.max(from + 1, to)));
  let end = to;
  while (end > from + 4 && outlineDb[end - 1]! < Math.max(body - AUDIBLE_DB, floor)) end--;
  return end;
}
