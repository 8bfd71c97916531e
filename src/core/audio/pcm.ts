/** Mono sound: samples between -1 and 1. */
export interface Pcm {
  samples: Float32Array;
  sampleRate: number;
}

/** Averages channels of equal length into one. */
export function mixToMono(channels: readonly Float32Array[]): Float32Array {
  const [first, ...others] = channels;
  if (!first) return new Float32Array(0);
  if (others.length === 0) return first;
  const mono = new Float32Array(first.length);
  for (const channel of channels)
    for (let i = 0; i < mono.length; i++) mono[i]! += channel[i]! / channels.length;
  return mono;
}

const ZERO_CROSSINGS = 7;
const PHASES = 256;

/**
 * Converts to another sample rate by windowed-sinc interpolation (Hann window, 7 zero crossings a side,
 * cut off below the lower of the two Nyquist frequencies).
 *
 * Source: J. O. Smith, "Digital Audio Resampling Home Page", CCRMA, Stanford.
 */
export function resample(pcm: Pcm, targetRate: number): Pcm {
  if (pcm.sampleRate === targetRate) return pcm;
  const step = pcm.sampleRate / targetRate;
  const cutoff = Math.min(1, targetRate / pcm.sampleRate) * 0.95;
  const reach = Math.ceil(ZERO_CROSSINGS / cutoff);
  const taps = 2 * reach;
  const table = new Float32Array((PHASES + 1) * taps);
  for (let phase = 0; phase <= PHASES; phase++) {
    for (let tap = 0; tap < taps; tap++) {
      const distance = tap - reach + 1 - phase / PHASES;
      const x = distance * cutoff;
      const window = Math.abs(distance) < reach ? 0.5 + 0.5 * Math.cos((Math.PI * distance) / reach) : 0;
      table[phase * taps + tap] = cutoff * (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x)) * window;
    }
  }
  const { samples } = pcm;
  const out = new Float32Array(Math.floor((samples.length - 1) / step) + 1);
  for (let n = 0; n < out.length; n++) {
    const at = n * step;
    const whole = Math.floor(at);
    const row = Math.round((at - whole) * PHASES) * taps;
    const from = whole - reach + 1;
    const first = Math.max(0, -from);
    out[n] = product(
      samples,
      from + first,
      table,
      row + first,
      Math.min(taps, samples.length - from) - first,
    );
  }
  return { samples: out, sampleRate: targetRate };
}

/** Half-band filter: 19 taps of a Kaiser-windowed sinc (beta 5); every second one is zero, the rest come in equal pairs. */
const HALF_BAND = Float64Array.from({ length: 5 }, (_, j) => {
  const k = 2 * j + 1;
  return (
    (Math.sin((Math.PI * k) / 2) / (Math.PI * k)) * (bessel0(5 * Math.sqrt(1 - (k / 10) ** 2)) / bessel0(5))
  );
});

/**
 * Half the sample rate: keeps what lies below about 0.17 of the old rate, for analysis at a fraction of the cost of
 * `resample`.
 *
 * Source: J. F. Kaiser's window and half-band design as in A. V. Oppenheim, R. W. Schafer, "Discrete-Time Signal Processing".
 */
export function halveRate({ samples, sampleRate }: Pcm): Pcm {
  const out = new Float32Array(Math.ceil(samples.length / 2));
  const x = new Float32Array(samples.length + 20);
  x.set(samples, 10);
  const [a, b, c, d, e] = HALF_BAND as unknown as [number, number, number, number, number];
  for (let n = 0, at = 10; n < out.length; n++, at += 2) {
    out[n] =
      0.5 * x[at]! +
      a * (x[at - 1]! + x[at + 1]!) +
      b * (x[at - 3]! + x[at + 3]!) +
      c * (x[at - 5]! + x[at + 5]!) +
      d * (x[at - 7]! + x[at + 7]!) +
      e * (x[at - 9]! + x[at + 9]!);
  }
  return { samples: out, sampleRate: sampleRate / 2 };
}

/** Modified Bessel function of order 0, by its power series. */
function bessel0(x: number): number {
  let term = 1;
  let sum = 1;
  for (let k = 1; term > 1e-12 * sum; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}

/** Sum of products of two stretches; a function of its own so that it is compiled well. */
function product(a: Float32Array, aFrom: number, b: Float32Array, bFrom: number, count: number): number {
  let even = 0;
  let odd = 0;
  let i = 0;
  for (; i + 1 < count; i += 2) {
    even += a[aFrom + i]! * b[bFrom + i]!;
    odd += a[aFrom + i + 1]! * b[bFrom + i + 1]!;
  }
  return i < count ? even + odd + a[aFrom + i]! * b[bFrom + i]! : even + odd;
}

/**
 * Loudness outline for drawing: the highest absolute sample of each of `count` equal stretches, 0 to 1.
 * @example
 * peaks(Float32Array.from([0, 0.5, -0.25, 1]), 2) // => [0.5, 1]
 */
export function peaks(samples: Float32Array, count: number): number[] {
  const outline = new Array<number>(count).fill(0);
  const stretch = samples.length / count;
  for (let i = 0; i < count; i++) {
    let top = 0;
    for (
      let n = Math.floor(i * stretch), end = Math.min(samples.length, Math.floor((i + 1) * stretch));
      n < end;
      n++
    )
      top = Math.max(top, Math.abs(samples[n]!));
    outline[i] = Math.round(Math.min(1, top) * 1000) / 1000;
  }
  return outline;
}
