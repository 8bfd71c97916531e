import FFT from "fft.js";

/** Tables of one size are made once: a note or two ask for them again. */
function once<T>(make: (size: number) => T): (size: number) => T {
  const made = new Map<number, T>();
  return (size) => {
    const kept = made.get(size) ?? make(size);
    if (made.size < MOST_SIZES) made.set(size, kept);
    return kept;
  };
}
/** Windows of notes have as many sizes as notes have periods. */
const MOST_SIZES = 64;

/** A periodic Hann window of so many samples; the same array every time, not to be written to. */
export const hann = once((size: number) =>
  Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size)),
);

/** Writes the first bins of a power spectrum: as many as `power` holds, from 0 Hz on, half the frame's size and one at most. */
export type PowerOf = (frame: Float64Array, power: Float64Array) => void;

/**
 * The power spectrum of real frames of one size. Even and odd samples go through a complex transform of half the size, as its real
 * and imaginary parts, and are taken apart behind it: two thirds of the time of a real transform of the whole size.
 *
 * @param size  a power of two, 4 at least
 * Source: W. H. Press et al., "Numerical Recipes", section "FFT of single real function".
 */
export const powerSpectrum = once((size: number): PowerOf => {
  const half = size / 2;
  const fft = new FFT(half);
  const packed = new Float64Array(size);
  const cos = Float64Array.from({ length: half + 1 }, (_, k) => Math.cos((2 * Math.PI * k) / size));
  const sin = Float64Array.from({ length: half + 1 }, (_, k) => Math.sin((2 * Math.PI * k) / size));
  return (frame, power) => {
    fft.transform(packed, frame);
    const bins = Math.min(power.length, half);
    const [sum, difference] = [packed[0]! + packed[1]!, packed[0]! - packed[1]!];
    power[0] = sum * sum;
    for (let k = 1; k < bins; k++) {
      const [near, far] = [2 * k, size - 2 * k];
      const evenRe = packed[near]! + packed[far]!;
      const evenIm = packed[near + 1]! - packed[far + 1]!;
      const oddRe = packed[near + 1]! + packed[far + 1]!;
      const oddIm = packed[far]! - packed[near]!;
      const re = evenRe + cos[k]! * oddRe + sin[k]! * oddIm;
      const im = evenIm + cos[k]! * oddIm - sin[k]! * oddRe;
      power[k] = 0.25 * (re * re + im * im);
    }
    if (power.length > half) power[half] = difference * difference;
  };
});

/**
 * Makes the autocorrelation of real frames of one size, not wound round: the sum of products of a frame with itself `lag` samples later.
 * Its power spectrum is real and the same both ways, so that the way back is a cosine transform, in a complex one of half the size.
 *
 * @param size  a power of two, 8 at least
 * @returns writes the first lags, as many as `into` holds, `size` at most
 * Source: the theorem of Wiener and Khinchin; W. H. Press et al., "Numerical Recipes", section "Fast sine and cosine transforms".
 */
export function makeAutocorrelation(size: number): (frame: Float64Array, into: Float64Array) => void {
  const powerOf = powerSpectrum(2 * size);
  const padded = new Float64Array(2 * size);
  const power = new Float64Array(size + 1);
  const half = size / 2;
  const fft = new FFT(half);
  const folded = new Float64Array(size);
  const packed = new Float64Array(size);
  const cos = Float64Array.from({ length: size }, (_, j) => Math.cos((Math.PI * j) / size));
  const sin = Float64Array.from({ length: size }, (_, j) => Math.sin((Math.PI * j) / size));
  return (frame, into) => {
    padded.set(frame.subarray(0, size));
    powerOf(padded, power);
    // Even lags are the real parts of what is folded, odd ones add up from its imaginary parts.
    let odd = 0.5 * (power[0]! - power[size]!);
    folded[0] = 0.5 * (power[0]! + power[size]!);
    for (let j = 1; j < size; j++) {
      odd += power[j]! * cos[j]!;
      const apart = power[j]! - power[size - j]!;
      folded[j] = 0.5 * (power[j]! + power[size - j]!) - sin[j]! * apart;
    }
    fft.transform(packed, folded);
    for (let k = 0; 2 * k < into.length && k <= half; k++) {
      const [near, far] = [2 * k, size - 2 * k];
      let [re, im] = [packed[0]! + packed[1]!, 0];
      if (k === half) re = packed[0]! - packed[1]!;
      else if (k > 0) {
        const evenRe = packed[near]! + packed[far]!;
        const evenIm = packed[near + 1]! - packed[far + 1]!;
        const oddRe = packed[near + 1]! + packed[far + 1]!;
        const oddIm = packed[far]! - packed[near]!;
        re = 0.5 * (evenRe + cos[2 * k]! * oddRe + sin[2 * k]! * oddIm);
        im = 0.5 * (evenIm + cos[2 * k]! * oddIm - sin[2 * k]! * oddRe);
      }
      into[2 * k] = re / size;
      if (k > 0) odd -= im;
      if (2 * k + 1 < into.length) into[2 * k + 1] = odd / size;
    }
  };
}

/** Power spectrum of a Hann-windowed frame, written into a buffer of half its size. */
export function makeSpectrum(
  samples: Float32Array,
  size: number,
): (from: number, into: Float64Array) => void {
  const powerOf = powerSpectrum(size);
  const window = hann(size);
  const frame = new Float64Array(size);
  return (from, into) => {
    for (let i = 0; i < size; i++) frame[i] = (samples[from + i] ?? 0) * window[i]!;
    powerOf(frame, into);
  };
}
