import { groupBy } from "../lists";

/** What came of a counting activity on one day, all its bars together. */
export interface CountingDay {
  day: string;
  right: number;
  of: number;
}

/**
 * Results of counting by activity and day, the days in order: what is compared is an activity with itself.
 * @example
 * countingResults([
 *   { day: "2026-03-02", activity: "fill", right: 2, of: 3 },
 *   { day: "2026-03-02", activity: "fill", right: 1, of: 1 },
 * ]) // => [{ activity: "fill", days: [{ day: "2026-03-02", right: 3, of: 4 }] }]
 */
export function countingResults(
  results: readonly (CountingDay & { activity: string })[],
): { activity: string; days: CountingDay[] }[] {
  return [...groupBy(results, ({ activity }) => activity)].map(([activity, own]) => ({
    activity,
    days: [...groupBy(own, ({ day }) => day)]
      .map(([day, all]) => ({
        day,
        right: all.reduce((sum, each) => sum + each.right, 0),
        of: all.reduce((sum, each) => sum + each.of, 0),
      }))
      .sort((a, b) => a.day.localeCompare(b.day)),
  }));
}
