/**
 * Letters to change, add, leave out or swap with a neighbour to make one word of another (optimal string alignment).
 * @param most  what is further apart is told as this number
 * Source: Damerau 1964, in the restricted form without edits inside a swapped pair.
 * @example
 * [editDistance("claranet", "clarinet"), editDistance("Ines", "Inse"), editDistance("tuba", "flute", 3)] // => [1, 1, 3]
 */
export function editDistance(a: string, b: string, most = Number.POSITIVE_INFINITY): number {
  if (Math.abs(a.length - b.length) >= most) return most;
  const rows: number[][] = [Array.from({ length: b.length + 1 }, (_, j) => j)];
  for (let i = 1; i <= a.length; i++) {
    const row = [i];
    for (let j = 1; j <= b.length; j++) {
      const change = rows[i - 1]![j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1);
      row[j] = Math.min(change, row[j - 1]! + 1, rows[i - 1]![j]! + 1);
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        row[j] = Math.min(row[j]!, rows[i - 2]![j - 2]! + 1);
    }
    rows.push(row);
  }
  return Math.min(most, rows[a.length]![b.length]!);
}
