/** A share with the interval it lies in, 0 to 1. */
export interface Share {
  share: number;
  low: number;
  high: number;
}

/** For 95 %: the 0.975 quantile of the normal distribution. */
const Z = 1.959964;

/**
 * A share of few cases with its 95 % interval: Wilson's score interval, which stays between 0 and 1 and is honest about small
 * numbers.
 *
 * @param hits  0 to `of`
 * @param of    cases, at least 1
 * @throws RangeError when there are no cases, or more hits than cases
 * Source: E. B. Wilson, "Probable inference, the law of succession, and statistical inference", JASA 22 (1927).
 * @example
 * Math.round(100 * shareOf(8, 10).low) // => 49
 */
export function shareOf(hits: number, of: number): Share {
  if (!(of >= 1) || hits < 0 || hits > of) throw new RangeError("hits are from 0 to the number of cases");
  const share = hits / of;
  const squared = Z * Z;
  const middle = (share + squared / (2 * of)) / (1 + squared / of);
  const half = (Z / (1 + squared / of)) * Math.sqrt((share * (1 - share)) / of + squared / (4 * of * of));
  return { share, low: Math.max(0, middle - half), high: Math.min(1, middle + half) };
}

/** What a director made of one kind of finding on some instrument. */
export interface Told {
  kind: string;
  instrumentId: string;
  /** Findings of takes on which a word was said, and how many of them were not so. */
  told: number;
  overruled: number;
}

/**
 * Kinds in which the engine is right less often than is asked of it, beyond what few cases may show by chance.
 * @param trust  0 to 1
 */
export function distrustedKinds(record: readonly Told[], trust: number): string[] {
  const sums = new Map<string, { told: number; overruled: number }>();
  for (const { kind, told, overruled } of record) {
    const sum = sums.get(kind) ?? { told: 0, overruled: 0 };
    sums.set(kind, { told: sum.told + told, overruled: sum.overruled + overruled });
  }
  return [...sums].flatMap(([kind, { told, overruled }]) =>
    told > 0 && shareOf(told - overruled, told).high < trust ? [kind] : [],
  );
}
