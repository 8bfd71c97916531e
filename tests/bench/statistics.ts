/** Value below which a share of the sorted values lies, 0 to 1; the nearest one. NaN for none. */
export function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? Number.NaN;
}

export const median = (values: readonly number[]) => quantile(values, 0.5);

/** One line of the table: measure, median, spread, what it is compared with. */
export type Row = [measure: string, median: string, spread: string, against: string];
