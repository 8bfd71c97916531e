import { groupBy } from "../lists";
import type { Run } from "./heard";
import { median, percentile, weightedLine } from "./statistics";

/** One attack that counts for the beat: where it stands in the line and when it was played. */
export interface BeatPoint {
  quarters: number;
  sec: number;
  /** Points of different runs (before and after a hesitation or restart) never share a line. */
  run: Run;
}

export interface OwnBeat {
  /** When the player's own beat puts a place of the line, in the run of that place. */
  timeAt(quarters: number, run: Run, without?: number): number;
  /** Seconds a quarter around a place. */
  rateAt(quarters: number, run: Run): number;
  /** Median seconds a quarter. */
  secPerQuarter: number;
  /** Tempo at the end against the start in percent, + is rushing. */
  driftPercent: number;
}

/** Half width of the smoothing, in quarter notes. */
const REACH = 8;

/**
 * The player's own smoothed beat: a local straight line through nearby attacks (tricube weights, outliers weighed down
 * twice by the bisquare rule), so that tempo may drift and a single early note stands out.
 * Source: W. S. Cleveland, "Robust locally weighted regression and smoothing scatterplots", JASA 74 (1979).
 */
export function ownBeat(points: readonly BeatPoint[], otherwiseSecPerQuarter: number): OwnBeat {
  const overall = overallRate(points, otherwiseSecPerQuarter);
  const robust = points.map(() => 1);
  const line = (quarters: number, run: Run, without?: number) => {
    const members = points.flatMap((point, i) => (point.run === run && i !== without ? [i] : []));
    const far = members.map((i) => Math.abs(points[i]!.quarters - quarters)).sort((a, b) => a - b);
    const reach = Math.max(REACH, (far[Math.min(5, far.length - 1)] ?? 0) * 1.05);
    const weights = members.map(
      (i) => Math.max(0, 1 - (Math.abs(points[i]!.quarters - quarters) / reach) ** 3) ** 3 * robust[i]!,
    );
    const few = members.length < 4;
    const fit = weightedLine(
      members.map((i) => points[i]!.quarters),
      members.map((i) => points[i]!.sec),
      weights,
      quarters,
      overall,
    );
    if (!few && fit.slope > 0.5 * overall && fit.slope < 2 * overall) return fit;
    return {
      value: median(members.map((i) => points[i]!.sec + (quarters - points[i]!.quarters) * overall)),
      slope: overall,
    };
  };
  for (let round = 0; round < 2; round++) {
    const off = points.map((point) => Math.abs(point.sec - line(point.quarters, point.run).value));
    const scale = 6 * Math.max(0.01, median(off));
    off.forEach((value, i) => {
      robust[i] = value < scale ? (1 - (value / scale) ** 2) ** 2 : 0;
    });
  }
  return {
    timeAt: (quarters, run, without) => line(quarters, run, without).value,
    rateAt: (quarters, run) => line(quarters, run).slope,
    secPerQuarter: overall,
    driftPercent: drift(points, overall),
  };
}

function gaps(points: readonly BeatPoint[]): { rate: number; at: number }[] {
  return points.flatMap((point, i) => {
    const before = points[i - 1];
    const quarters = before && before.run === point.run ? point.quarters - before.quarters : 0;
    return quarters > 0
      ? [{ rate: (point.sec - before!.sec) / quarters, at: (point.quarters + before!.quarters) / 2 }]
      : [];
  });
}

function overallRate(points: readonly BeatPoint[], otherwise: number): number {
  const rates = gaps(points).map((gap) => gap.rate);
  if (rates.length < 2) return rates[0] ?? otherwise;
  const runs = groupBy(points, (point) => point.run);
  const longest = [...runs.values()].sort((a, b) => b.length - a.length)[0]!;
  if (longest.length < 5) return median(rates);
  const middle = median(longest.map((point) => point.quarters));
  const typical = [percentile(rates, 20), percentile(rates, 80)];
  const fit = weightedLine(
    longest.map((p) => p.quarters),
    longest.map((p) => p.sec),
    longest.map(() => 1),
    middle,
    otherwise,
  );
  return fit.slope >= typical[0]! * 0.9 && fit.slope <= typical[1]! * 1.1 ? fit.slope : median(rates);
}

function drift(points: readonly BeatPoint[], overall: number): number {
  const all = gaps(points).sort((a, b) => a.at - b.at);
  if (all.length < 8) return 0;
  const third = Math.floor(all.length / 3);
  const start = median(all.slice(0, third).map((gap) => gap.rate));
  const end = median(all.slice(-third).map((gap) => gap.rate));
  return start > 0.3 * overall && end > 0.3 * overall ? (start / end - 1) * 100 : 0;
}
