import FFT from "fft.js";

/** A periodic Hann window of so many samples. */
export function hann(size: number): Float64Array {
  return Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));
}

/** Power spectrum of a Hann-windowed frame, written into a buffer of half its size. */
export function makeSpectrum(
  samples: Float32Array,
  size: number,
): (from: number, into: Float64Array) => void {
  const fft = new FFT(size);
  const window = hann(size);
  const frame = new Float64Array(size);
  const spectrum = new Float64Array(2 * size);
  return (from, into) => {
    for (let i = 0; i < size; i++) frame[i] = (samples[from + i] ?? 0) * window[i]!;
    fft.realTransform(spectrum, frame);
    for (let k = 0; k < into.length; k++) into[k] = spectrum[2 * k]! ** 2 + spectrum[2 * k + 1]! ** 2;
  };
}
