import { addDays, daysBetween } from "../calendar";

/** How far a group has come at the end of a week. */
export interface WeekPoint {
  /** Any day of the week; its Monday by custom. */
  date: string;
  /** Lines (or other steps) done by then, counted from the beginning. */
  done: number;
}

/** When a goal is met at this pace. */
export interface Pace {
  /** Steps a week of school. */
  perWeek: number;
  /** One standard error of it. */
  plusMinus: number;
  /** The day the goal is met; null when nothing moves. */
  meets: string | null;
  /** The same if the pace is one standard error faster or slower; `latest` is null when the slower pace never meets it. */
  earliest: string | null;
  latest: string | null;
}

/** Weeks that say how fast a group is now; what was longer ago does not. */
export const WEEKS_LOOKED_AT = 6;

/**
 * The pace of a group and the date it meets a goal: a straight line through the last weeks by least squares, with the standard
 * error of its slope as uncertainty (ordinary linear regression). Time runs in school weeks, so that holidays stand still.
 *
 * @param points  weeks with school in order, at least two for a pace
 * @param goal  steps wanted in all
 * @param schoolDays  days with school after the last point in order, on which the remaining steps can be made
 * @returns null with fewer than two weeks
 */
export function paceOf(
  points: readonly WeekPoint[],
  goal: number,
  schoolDays: readonly string[],
): Pace | null {
  const recent = points.slice(-WEEKS_LOOKED_AT);
  if (recent.length < 2) return null;
  const n = recent.length;
  const meanX = (n - 1) / 2;
  const meanY = recent.reduce((sum, { done }) => sum + done, 0) / n;
  const sxx = recent.reduce((sum, _, x) => sum + (x - meanX) ** 2, 0);
  const sxy = recent.reduce((sum, { done }, x) => sum + (x - meanX) * (done - meanY), 0);
  const perWeek = sxy / sxx;
  const squares = recent.reduce((sum, { done }, x) => sum + (done - meanY - perWeek * (x - meanX)) ** 2, 0);
  const plusMinus = n > 2 ? Math.sqrt(squares / (n - 2) / sxx) : 0;
  const last = recent.at(-1)!;
  const meetsAt = (rate: number) => dateOf(goal - last.done, rate, last.date, schoolDays);
  return {
    perWeek,
    plusMinus,
    meets: meetsAt(perWeek),
    earliest: meetsAt(perWeek + plusMinus),
    latest: meetsAt(perWeek - plusMinus),
  };
}

const SCHOOL_DAYS_A_WEEK = 5;

function dateOf(left: number, perWeek: number, last: string, schoolDays: readonly string[]): string | null {
  if (left <= 0) return last;
  if (perWeek <= 1e-9) return null;
  const needed = Math.ceil((left / perWeek) * SCHOOL_DAYS_A_WEEK - 1e-9);
  const day = schoolDays[needed - 1];
  if (day) return day;
  // Beyond the days that are known a week has five.
  const end = schoolDays.at(-1) ?? last;
  const more = needed - schoolDays.length;
  const date = addDays(end, Math.ceil((more * 7) / SCHOOL_DAYS_A_WEEK));
  return daysBetween(last, date) > LONGEST_FORECAST_DAYS ? null : date;
}

/** Further than two years nobody plans. */
const LONGEST_FORECAST_DAYS = 730;
