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
