/** Middle value; 0 for an empty list. */
export function median(values: ArrayLike<number>): number {
  return percentile(values, 50);
}

/** Value below which p percent lie, by linear interpolation; 0 for an empty list. */
export function percentile(values: ArrayLike<number>, p: number): number {
  if (values.length === 0) return 0;
  const sorted = Float64Array.from(values).sort();
  const place = ((sorted.length - 1) * p) / 100;
  const below = Math.floor(place);
  const above = Math.min(sorted.length - 1, below + 1);
  return sorted[below]! + (sorted[above]! - sorted[below]!) * (place - below);
}

export function total(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0);
}

export function standardDeviation(values: readonly number[]): number {
  if (values.length < 2) return 0;
  const mean = total(values) / values.length;
  return Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / values.length);
}

/** Slope and value at `at` of a weighted straight line through (x, y); the mean with the given slope when x does not vary. */
export function weightedLine(
  x: readonly number[],
  y: readonly number[],
  weights: readonly number[],
  at: number,
  slopeOtherwise: number,
): { value: number; slope: number } {
  let [w, wx, wy, wxx, wxy] = [0, 0, 0, 0, 0];
  for (let i = 0; i < x.length; i++) {
    const weight = weights[i]!;
    w += weight;
    wx += weight * x[i]!;
    wy += weight * y[i]!;
    wxx += weight * x[i]! ** 2;
    wxy += weight * x[i]! * y[i]!;
  }
  if (w === 0) return { value: Number.NaN, slope: slopeOtherwise };
  const spread = w * wxx - wx * wx;
  const slope = spread > 1e-9 * w * w ? (w * wxy - wx * wy) / spread : slopeOtherwise;
  return { value: wy / w + slope * (at - wx / w), slope };
}

/**
 * Weighted mean of values on a circle of circumference 1 (distances to the nearest whole), -0.5 to 0.5; 0 for none.
 * @example
 * // A little sharp and a little flat of a semitone meet at it, not half-way round.
 * Math.abs(circularMean([[60.4, 1], [60.6, 1]])).toFixed(3) // => "0.500"
 */
export function circularMean(values: Iterable<readonly [value: number, weight: number]>): number {
  let [x, y] = [0, 0];
  for (const [value, weight] of values) {
    x += weight * Math.cos(2 * Math.PI * value);
    y += weight * Math.sin(2 * Math.PI * value);
  }
  return Math.atan2(y, x) / (2 * Math.PI);
}

export function round(value: number, digits: number): number {
  return Math.round(value * 10 ** digits) / 10 ** digits;
}
