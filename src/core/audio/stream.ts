/**
 * Takes the next samples of a sound and gives those that can be made of all there were so far: in blocks of any size the same as
 * at once.
 * @param last  nothing comes after it: what is still owed is given too
 */
export type Stage = (block: Float32Array, last: boolean) => Float32Array;

/** Sound that comes bit by bit; beyond `length` lie zeros. */
export interface Growing {
  samples: Float32Array;
  length: number;
}

/** Makes room for so many samples, and for as many again when it runs out. */
export function makeRoom(of: Growing, length: number): void {
  if (length <= of.samples.length) return;
  const room = new Float32Array(of.length === 0 ? length : Math.max(length, 2 * of.samples.length));
  room.set(of.samples.subarray(0, of.length));
  of.samples = room;
}

/** Adds samples at the end. */
export function append(to: Growing, block: Float32Array): void {
  makeRoom(to, to.length + block.length);
  to.samples.set(block, to.length);
  to.length += block.length;
}

const ZERO_CROSSINGS = 7;
const PHASES = 256;

/**
 * Makes a stage that converts to another sample rate by windowed-sinc interpolation (Hann window, 7 zero crossings a side,
 * cut off below the lower of the two Nyquist frequencies).
 *
 * Source: J. O. Smith, "Digital Audio Resampling Home Page", CCRMA, Stanford.
 */
export function makeResampler(fromRate: number, targetRate: number): Stage {
  const step = fromRate / targetRate;
  const cutoff = Math.min(1, targetRate / fromRate) * 0.95;
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
  const source = makeWindow(reach);
  let made = 0;
  return (block, last) => {
    source.add(block, last);
    const whole = last ? Math.floor((source.given() - 1) / step) + 1 : 0;
    const ready = Math.max(0, Math.ceil((source.until() - reach) / step) + 1 - made);
    const out = new Float32Array(last ? Math.max(0, whole - made) : ready);
    let count = 0;
    for (; count < out.length; count++) {
      const at = (made + count) * step;
      const before = Math.floor(at);
      if (before + reach >= source.until()) break;
      const row = Math.round((at - before) * PHASES) * taps;
      out[count] = product(source.samples(), before - reach + 1 - source.from(), table, row, taps);
    }
    made += count;
    source.drop(Math.floor(made * step) - reach);
    return out.subarray(0, count);
  };
}

/** Half-band filter: 19 taps of a Kaiser-windowed sinc (beta 5); every second one is zero, the rest come in equal pairs. */
const HALF_BAND = Float64Array.from({ length: 5 }, (_, j) => {
  const k = 2 * j + 1;
  return (
    (Math.sin((Math.PI * k) / 2) / (Math.PI * k)) * (bessel0(5 * Math.sqrt(1 - (k / 10) ** 2)) / bessel0(5))
  );
});
/** The filter reaches so many samples to either side. */
const HALF_BAND_REACH = 10;

/**
 * Makes a stage that halves the sample rate: keeps what lies below about 0.17 of the old rate, for analysis at a fraction of
 * the cost of `makeResampler`.
 *
 * Source: J. F. Kaiser's window and half-band design as in A. V. Oppenheim, R. W. Schafer, "Discrete-Time Signal Processing".
 */
export function makeHalver(): Stage {
  const source = makeWindow(HALF_BAND_REACH);
  const [a, b, c, d, e] = HALF_BAND as unknown as [number, number, number, number, number];
  let made = 0;
  return (block, last) => {
    source.add(block, last);
    const until = last
      ? Math.ceil(source.given() / 2)
      : Math.max(made, Math.floor((source.until() - HALF_BAND_REACH) / 2));
    const out = new Float32Array(until - made);
    const x = source.samples();
    for (let n = 0, at = 2 * made - source.from(); n < out.length; n++, at += 2) {
      out[n] =
        0.5 * x[at]! +
        a * (x[at - 1]! + x[at + 1]!) +
        b * (x[at - 3]! + x[at + 3]!) +
        c * (x[at - 5]! + x[at + 5]!) +
        d * (x[at - 7]! + x[at + 7]!) +
        e * (x[at - 9]! + x[at + 9]!);
    }
    made = until;
    source.drop(2 * made - HALF_BAND_REACH);
    return out;
  };
}

/** The stretch of a sound that a filter still needs, with `reach` zeros before its first sample and after its last. */
function makeWindow(reach: number) {
  let kept = new Float32Array(reach);
  let first = -reach;
  let given = 0;
  return {
    add(block: Float32Array, last: boolean) {
      const joined = new Float32Array(kept.length + block.length + (last ? reach : 0));
      joined.set(kept);
      joined.set(block, kept.length);
      kept = joined;
      given += block.length;
    },
    samples: () => kept,
    /** Index of the first sample that is kept, of the one after the last, and how many were given. */
    from: () => first,
    until: () => first + kept.length,
    given: () => given,
    drop(before: number) {
      const gone = Math.max(0, Math.min(kept.length, before - first));
      kept = kept.slice(gone);
      first += gone;
    },
  };
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

/** Quality factors of the two halves of a Butterworth filter of the fourth order. */
const BUTTERWORTH = [0.5412, 1.3066];

/**
 * Takes away what lies below a frequency, 24 dB an octave: a Butterworth filter of the fourth order as two second-order stages.
 *
 * @param hz  3 dB are lost here; above zero and below half the rate
 * Source: R. Bristow-Johnson, "Cookbook formulae for audio equalizer biquad filter coefficients" (W3C note, 2021).
 */
export function makeHighPass(sampleRate: number, hz: number): Stage {
  const stages = BUTTERWORTH.map((quality) => makeBiquad(sampleRate, hz, quality));
  return (block) => {
    const out = new Float64Array(block);
    for (const filter of stages) filter(out);
    return new Float32Array(out);
  };
}

/** One second-order high pass, in place: the transposed direct form II. */
function makeBiquad(sampleRate: number, hz: number, quality: number): (samples: Float64Array) => void {
  const turn = (2 * Math.PI * hz) / sampleRate;
  const alpha = Math.sin(turn) / (2 * quality);
  const gain = (1 + Math.cos(turn)) / 2 / (1 + alpha);
  const [a1, a2] = [(-2 * Math.cos(turn)) / (1 + alpha), (1 - alpha) / (1 + alpha)];
  let [one, two] = [0, 0];
  return (samples) => {
    // In variables of its own the loop is compiled well.
    let [before, earlier] = [one, two];
    for (let i = 0; i < samples.length; i++) {
      const value = gain * samples[i]!;
      const filtered = value + before;
      before = earlier - 2 * value - a1 * filtered;
      earlier = value - a2 * filtered;
      samples[i] = filtered;
    }
    [one, two] = [before, earlier];
  };
}
