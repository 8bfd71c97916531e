/** Musical time as a reduced fraction of quarter notes, written "3/2" or "4" in JSON. Never a float. */
export type Fraction = string;

interface Ratio {
  num: number;
  den: number;
}

/** Music uses few lengths, each very often: what was read once is not taken apart again. */
const alreadyRead = new Map<Fraction, Ratio>();
const MOST_REMEMBERED = 4096;

function read(value: Fraction): Ratio {
  const known = alreadyRead.get(value);
  if (known) return known;
  const match = /^(-?\d+)(?:\/([1-9]\d*))?$/.exec(value);
  if (!match) throw new RangeError(`"${value}" is not a fraction`);
  const ratio = { num: Number(match[1]), den: Number(match[2] ?? 1) };
  if (alreadyRead.size < MOST_REMEMBERED) alreadyRead.set(value, ratio);
  return ratio;
}

function gcd(a: number, b: number): number {
  return b === 0 ? Math.abs(a) : gcd(b, a % b);
}

/**
 * Reduced fraction num/den. @throws RangeError unless both are integers and den is not 0
 * @example
 * [fraction(6, 4), fraction(8, 4), fraction(1, -3)] // => ["3/2", "2", "-1/3"]
 */
export function fraction(num: number, den = 1): Fraction {
  if (!Number.isInteger(num) || !Number.isInteger(den) || den === 0)
    throw new RangeError("A fraction needs integers");
  const divisor = gcd(num, den) * Math.sign(den) || 1;
  return den / divisor === 1 ? String(num / divisor) : `${num / divisor}/${den / divisor}`;
}

export function addFractions(a: Fraction, b: Fraction): Fraction {
  const [x, y] = [read(a), read(b)];
  return fraction(x.num * y.den + y.num * x.den, x.den * y.den);
}

export function subtractFractions(a: Fraction, b: Fraction): Fraction {
  const [x, y] = [read(a), read(b)];
  return fraction(x.num * y.den - y.num * x.den, x.den * y.den);
}

export function multiplyFractions(a: Fraction, b: Fraction): Fraction {
  const [x, y] = [read(a), read(b)];
  return fraction(x.num * y.num, x.den * y.den);
}

export function sumFractions(values: readonly Fraction[]): Fraction {
  return values.reduce(addFractions, "0");
}

/** Negative, zero or positive, as for sort. */
export function compareFractions(a: Fraction, b: Fraction): number {
  return read(subtractFractions(a, b)).num;
}

export function fractionToNumber(value: Fraction): number {
  const { num, den } = read(value);
  return num / den;
}
