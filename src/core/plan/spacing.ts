import { addDays, daysBetween } from "../calendar";

/**
 * Days after which a shaky thing comes back: the next day, then 3, 7 and 14 days after the time before (spaced practice; the
 * steps are common practice, no published source). What goes right moves to the next step, what does not begins again.
 */
export const RETURN_DAYS = [1, 3, 7, 14] as const;

/** A day on which something was met, and how it went; null when nobody knows. */
export interface Met {
  on: string;
  /** Share of clean takes or players, 0 to 1. */
  clean: number | null;
}

/** Above this share a thing counts as gone right. */
export const SOLID_SHARE = 0.75;

/** When a thing is due again, and how far it has come. */
export interface Return {
  on: string;
  /** Days since it was met last. */
  after: number;
  /** Steps gone, 0 to 4; with 4 it is solid and returns for pleasure only. */
  step: number;
}

/**
 * When something met on these days returns.
 * A day of which nothing is known keeps the step it has; met twice on one day counts once. What was begun and never heard
 * is due the next day.
 *
 * @param met  at least one day, in any order
 * @example
 * nextReturn([{ on: "2026-11-02", clean: null }]) // => { on: "2026-11-03", after: 1, step: 0 }
 */
export function nextReturn(met: readonly Met[]): Return {
  const inOrder = [...met].sort((a, b) => a.on.localeCompare(b.on));
  let step = 0;
  for (const [i, { on, clean }] of inOrder.entries()) {
    if (i > 0 && on === inOrder[i - 1]!.on) continue;
    if (i === 0 || clean === null) continue;
    step = clean >= SOLID_SHARE ? Math.min(RETURN_DAYS.length, step + 1) : 0;
  }
  const last = inOrder.at(-1)!.on;
  const after = RETURN_DAYS[Math.min(step, RETURN_DAYS.length - 1)]!;
  return { on: addDays(last, after), after, step };
}

/** How long a return is overdue on a day, in days; negative when it is not due yet. */
export function overdue(due: Return, today: string): number {
  return daysBetween(due.on, today);
}
