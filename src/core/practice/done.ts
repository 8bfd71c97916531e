import type { Standing } from "./standing";

/** When a line counts as learned: what practitioners disagree about, so a band decides. */
export type DoneRule =
  /** So many clean passes on each of so many days. */
  | { kind: "clean-days"; passes: number; days: number }
  /** One pass without any mistake, however long it takes. */
  | { kind: "no-mistakes" }
  /** Gone through once a day; what does not work is left for tomorrow. */
  | { kind: "tomorrow" };

/** What is still missing until a line counts as learned; null when it does. */
export function missingFor(
  rule: DoneRule,
  { cleanDays, daysThrough }: Pick<Standing, "cleanDays" | "daysThrough">,
): { cleanDays: number; passes: number } | null {
  const counts = Object.values(cleanDays);
  switch (rule.kind) {
    case "clean-days": {
      const missing = rule.days - counts.filter((count) => count >= rule.passes).length;
      return missing > 0 ? { cleanDays: missing, passes: rule.passes } : null;
    }
    case "no-mistakes":
      return counts.length > 0 ? null : { cleanDays: 1, passes: 1 };
    case "tomorrow":
      return daysThrough.length > 0 ? null : { cleanDays: 0, passes: 1 };
  }
}
