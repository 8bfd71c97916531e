import { makeAutocorrelation } from "./spectrum";

/** Peaks below this share of the highest are passed over: McLeod's k, between 0.8 and 1. */
const PEAK_SHARE = 0.9;
/** Precision of high notes: the period is measured over a stretch of about this many samples. */
const REFINE_LAG = 220;

/** One frame's answer. `hz` is 0 when nothing periodic was found; clarity is 0 to 1. */
export interface FramePitch {
  hz: number;
  clarity: number;
  /** Which other periods would explain the frame about as well: bits of RIVAL. */
  rivals: number;
}

/** Rival periods of a frame: twice or three times the one found, a half or a third of it. */
export const RIVAL = { double: 1, triple: 2, half: 4, third: 8 };
/** Semitones from the pitch found to the rival's, by bit. */
export const RIVAL_SEMITONES: readonly [bit: number, semitones: number][] = [
  [RIVAL.double, -12],
  [RIVAL.half, 12],
  [RIVAL.triple, -19.02],
  [RIVAL.third, 19.02],
];
/** A longer period is a rival when it takes half of what the shorter one leaves unexplained, within these bounds (noise leaves much). */
const LONGER_TAKES = { share: 0.5, least: 0.012, most: 0.02 };
const FEW_SAMPLES = 1.2;
const NO_WORSE = 0.01;
/** A shorter period is a rival from this height on: strong even partials, weak odd ones. */
const SHORTER_FROM = 0.72;

/**
 * Makes a pitch finder for frames of a fixed size: the normalised square difference function with McLeod's peak
 * picking. Buffers are made once and reused; the answer object is too.
 *
 * n(tau) = 2 r(tau) / m(tau), with r the autocorrelation (by FFT) and m the sum of both windows' energies. The
 * first peak within PEAK_SHARE of the highest gives the period, refined by a parabola and, for short periods,
 * over several periods.
 *
 * @param size        samples a frame, a power of two, at least 2.2 periods of the lowest pitch
 * @param sampleRate  in Hz
 * @param lowestHz    pitches below are not looked for
 * Source: P. McLeod and G. Wyvill, "A smarter way to find pitch", ICMC 2005.
 */
export function makePitchFinder(
  size: number,
  sampleRate: number,
  lowestHz: number,
): (samples: Float32Array, from: number) => FramePitch {
  const correlate = makeAutocorrelation(size);
  const frame = new Float64Array(size);
  const maxLag = Math.min(Math.floor(sampleRate / lowestHz) + 2, Math.floor(size * 0.6));
  const correlation = new Float64Array(maxLag + 1);
  const nsdf = new Float64Array(maxLag + 1);
  const answer: FramePitch = { hz: 0, clarity: 0, rivals: 0 };

  return (samples, from) => {
    let energy = 0;
    for (let i = 0; i < size; i++) {
      const value = samples[from + i] ?? 0;
      frame[i] = value;
      energy += value * value;
    }
    answer.hz = 0;
    answer.clarity = 0;
    answer.rivals = 0;
    if (energy < 1e-9 * size) return answer;

    correlate(frame, correlation);
    let m = 2 * energy;
    for (let lag = 0; lag <= maxLag; lag++) {
      nsdf[lag] = m > 0 ? (2 * correlation[lag]!) / m : 0;
      m -= frame[lag]! ** 2 + frame[size - 1 - lag]! ** 2;
    }

    const peak = pickPeak(nsdf, maxLag);
    if (peak === 0) return answer;
    const [coarse, height] = parabola(nsdf, peak);
    answer.clarity = Math.min(1, height);
    answer.hz = sampleRate / refine(nsdf, maxLag, coarse);
    answer.rivals = rivalsOf(nsdf, maxLag, coarse, answer.clarity);
    return answer;
  };
}

function rivalsOf(nsdf: Float64Array, maxLag: number, period: number, height: number): number {
  // The height of a peak made of few samples is underestimated.
  const least = LONGER_TAKES.least + FEW_SAMPLES / period ** 2;
  const margin = Math.max(least, Math.min(LONGER_TAKES.most, LONGER_TAKES.share * (1 - height)));
  const double = heightNear(nsdf, maxLag, 2 * period);
  const triple = heightNear(nsdf, maxLag, 3 * period);
  const shorter = (times: number) => heightNear(nsdf, maxLag, period / times) >= SHORTER_FROM;
  return (
    (double - height >= margin && double > triple - NO_WORSE ? RIVAL.double : 0) |
    (triple - height >= margin && triple > double + NO_WORSE ? RIVAL.triple : 0) |
    (shorter(2) ? RIVAL.half : 0) |
    (shorter(3) ? RIVAL.third : 0)
  );
}

/** The height of the peak at a lag, give or take a sample and a hundredth; 0 outside what was computed. */
function heightNear(nsdf: Float64Array, maxLag: number, lag: number): number {
  const slack = 1 + Math.round(lag / 100);
  const middle = Math.round(lag);
  if (middle - slack < 2 || middle + slack >= maxLag) return 0;
  let top = middle - slack;
  for (let at = top; at <= middle + slack; at++) if (nsdf[at]! > nsdf[top]!) top = at;
  return parabola(nsdf, top)[1];
}

/** The first of the highest points between positive zero crossings that comes near the highest of all; 0 for none. */
function pickPeak(nsdf: Float64Array, maxLag: number): number {
  let first = 1;
  while (first < maxLag && nsdf[first]! > 0) first++;
  const isPeak = (lag: number) =>
    nsdf[lag]! > 0 && nsdf[lag]! >= nsdf[lag - 1]! && nsdf[lag]! >= nsdf[lag + 1]!;
  let highest = 0;
  for (let lag = first; lag < maxLag; lag++)
    if (isPeak(lag) && nsdf[lag]! > 0.8 * highest) highest = Math.max(highest, parabola(nsdf, lag)[1]);
  if (highest < 0.3) return 0;
  let top = 0;
  for (let lag = first; lag < maxLag; lag++) {
    if (nsdf[lag]! <= 0) {
      if (top > 0 && parabola(nsdf, top)[1] >= PEAK_SHARE * highest) return top;
      top = 0;
    } else if (isPeak(lag) && (top === 0 || nsdf[lag]! > nsdf[top]!)) top = lag;
  }
  return top > 0 && parabola(nsdf, top)[1] >= PEAK_SHARE * highest ? top : 0;
}

function parabola(values: Float64Array, at: number): [place: number, height: number] {
  const [a, b, c] = [values[at - 1]!, values[at]!, values[at + 1]!];
  const bend = a - 2 * b + c;
  if (bend >= 0) return [at, b];
  const shift = (0.5 * (a - c)) / bend;
  return [at + shift, b - 0.25 * (a - c) * shift];
}

/** Follows a short period out to several periods, where a lag error weighs less. */
function refine(nsdf: Float64Array, maxLag: number, period: number): number {
  let best = period;
  for (let multiple = 2; multiple * best <= Math.min(REFINE_LAG, maxLag - 2); multiple *= 2) {
    const guess = Math.round(multiple * best);
    let top = guess;
    for (let lag = guess - 2; lag <= guess + 2; lag++)
      if (lag > 0 && lag < maxLag && nsdf[lag]! > nsdf[top]!) top = lag;
    if (nsdf[top]! < 0.5 || nsdf[top]! < nsdf[top - 1]! || nsdf[top]! < nsdf[top + 1]!) break;
    best = parabola(nsdf, top)[0] / multiple;
  }
  return best;
}
