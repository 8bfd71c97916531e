import { RIVAL, RIVAL_SEMITONES } from "./pitch";
import { circularMean } from "./statistics";

/** Frames less periodic than this end a chain of octaves. */
const STEADY_CLARITY = 0.6;
/** Frames this periodic tell the take's own tuning. */
const TUNING_CLARITY = 0.9;
/** Heights of one sound lie further apart than it wavers, semitones. */
const HEIGHT_APART = 2;
/** A written height counts for so many frames that are not. */
const WRITTEN_WEIGHS = 3;
/** So much of a sound has to be heard in another octave before it may be that octave. */
const GOOD_PART = 0.2;
/** A heard pitch this near a written one, in the take's own tuning, is taken for it when octaves are settled; semitones. */
const NEAR_WRITTEN = 0.5;

/**
 * Settles in which octave each frame is heard, where more than one explains it.
 *
 * A single frame takes the rival that is written where its own pitch is not. A held sound whose frames are heard now in
 * one octave, now in another, is one sound: all of it is put where most of its frames are, a written pitch before another;
 * an octave that holds a good part of the frames is noted as a rival. One leap between two written pitches stays a leap.
 */
export function settleHeights(
  midi: Float32Array,
  clarity: Float32Array,
  rivals: Uint8Array,
  expected: readonly number[],
): void {
  const clear = Array.from(midi.keys()).filter((f) => midi[f] !== 0 && clarity[f]! >= TUNING_CLARITY);
  const tuning = circularMean(clear.map((f) => [midi[f]!, 1]));
  const written = (pitch: number) => expected.some((each) => Math.abs(each + tuning - pitch) < NEAR_WRITTEN);
  for (let f = 0; f < midi.length; f++) {
    if (rivals[f] === 0 || written(midi[f]!)) continue;
    const better = RIVAL_SEMITONES.find(
      ([bit, semitones]) => rivals[f]! & bit && written(midi[f]! + semitones),
    );
    if (!better) continue;
    midi[f]! += better[1];
    rivals[f] = opposite(better[0]);
  }
  const flips = (from: number, to: number) =>
    RIVAL_SEMITONES.some(
      ([bit, semitones]) =>
        Math.abs(midi[to]! - midi[from]! - semitones) < 0.6 &&
        (rivals[from]! & bit || rivals[to]! & opposite(bit)),
    );
  for (let f = 1; f < midi.length; f++) {
    if (midi[f] === 0 || midi[f - 1] === 0 || !flips(f - 1, f)) continue;
    // Everything around, as far as it goes on in either octave.
    let times = 1;
    const goesOn = (from: number, to: number) => {
      if (midi[to] === 0 || clarity[to]! < STEADY_CLARITY) return false;
      if (Math.abs(midi[to]! - midi[from]!) < 0.6) return true;
      if (!flips(from, to)) return false;
      times++;
      return true;
    };
    let [start, end] = [f - 1, f];
    while (start > 0 && goesOn(start, start - 1)) start--;
    while (end + 1 < midi.length && goesOn(end, end + 1)) end++;
    if (times > 1 || !(written(midi[f - 1]!) && written(midi[f]!)))
      settleChain(midi.subarray(start, end + 1), rivals.subarray(start, end + 1), written);
    f = end;
  }
}

function settleChain(midi: Float32Array, rivals: Uint8Array, written: (pitch: number) => boolean): void {
  const heights: { pitch: number; frames: number[] }[] = [];
  midi.forEach((pitch, f) => {
    const own = heights.find((each) => Math.abs(each.pitch - pitch) < HEIGHT_APART);
    if (own) own.frames.push(f);
    else heights.push({ pitch, frames: [f] });
  });
  const weight = ({ pitch, frames }: (typeof heights)[number]) =>
    frames.length * (written(pitch) ? WRITTEN_WEIGHS : 1);
  const home = heights.reduce((best, each) => (weight(each) > weight(best) ? each : best));
  for (const other of heights) {
    if (other === home) continue;
    const [bit, semitones] = RIVAL_SEMITONES.reduce((best, each) =>
      Math.abs(other.pitch - home.pitch - each[1]) < Math.abs(other.pitch - home.pitch - best[1])
        ? each
        : best,
    );
    if (Math.abs(other.pitch - home.pitch - semitones) > HEIGHT_APART) continue;
    for (const f of other.frames) {
      midi[f]! -= semitones;
      rivals[f] = 0;
    }
    if (other.frames.length >= GOOD_PART * midi.length)
      for (let f = 0; f < rivals.length; f++) rivals[f]! |= bit;
  }
}

/** Seen from the rival, what was found is its rival. */
function opposite(bit: number): number {
  return {
    [RIVAL.double]: RIVAL.half,
    [RIVAL.half]: RIVAL.double,
    [RIVAL.triple]: RIVAL.third,
    [RIVAL.third]: RIVAL.triple,
  }[bit]!;
}
