/** Days that are off: named stretches, and every Saturday and Sunday where the band says so. Dates are local, "2026-11-24". */
export interface OffDays {
  daysOff: readonly { from: string; to: string; name: string }[];
  weekendsOff: boolean;
}

/**
 * Why a day is off; null for a school day.
 * @example
 * // A Saturday.
 * whyOff("2026-11-28", { daysOff: [], weekendsOff: true }) // => "the weekend"
 */
export function whyOff(date: string, { daysOff, weekendsOff }: OffDays): string | null {
  const off = daysOff.find(({ from, to }) => from <= date && date <= to);
  if (off) return off.name || "a day off";
  const weekday = new Date(`${date}T00:00:00Z`).getUTCDay();
  return weekendsOff && (weekday === 0 || weekday === 6) ? "the weekend" : null;
}

/** Some days after (or before) a date. */
export function addDays(date: string, days: number): string {
  return new Date(Date.parse(`${date}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);
}

/** Whole days from one date to another. */
export function daysBetween(from: string, to: string): number {
  return Math.round((Date.parse(`${to}T00:00:00Z`) - Date.parse(`${from}T00:00:00Z`)) / 86_400_000);
}

/** The day itself, or the first after it that is not off; the day itself where everything is off for a year. */
export function nextSchoolDay(date: string, off: OffDays): string {
  for (let i = 0; i < 366; i++) if (!whyOff(addDays(date, i), off)) return addDays(date, i);
  return date;
}
