import { addDays, daysBetween } from "../../core/calendar";
import { dayCounts, minutesOf } from "../../core/practice";
import { practisedDays, practisedLines, takesRecordedSince } from "../../data";
import { instantOf, today } from "../calendar";

/** The Monday of a day's week. */
export function mondayOf(day: string): string {
  const weekday = ((daysBetween("2024-01-01", day) % 7) + 7) % 7;
  return addDays(day, -weekday);
}

/** Minutes of this week by day, Monday first, up to today: counted by the bench, and what the player wrote down. */
export async function weekLog(playerId: string, now: string): Promise<{ day: string; minutes: number }[]> {
  const monday = mondayOf(now);
  const rows = new Map((await practisedDays(playerId, monday, now)).map((row) => [row.day, row]));
  return Array.from({ length: daysBetween(monday, now) + 1 }, (_, i) => {
    const day = addDays(monday, i);
    const row = rows.get(day);
    return { day, minutes: row ? minutesOf([row]) + row.ownMinutes : 0 };
  });
}

/** Days of this week on which each line was practised long enough, or a take of it recorded. */
export async function practisedThisWeek(
  playerId: string,
  now: string,
  timeZone: string,
  askedMinutes: (taskId: string) => number | null,
): Promise<Map<string, string[]>> {
  const monday = mondayOf(now);
  const [practised, takes] = await Promise.all([
    practisedLines(playerId, monday),
    takesRecordedSince(playerId, instantOf(monday, "00:00", timeZone)),
  ]);
  const days = new Map<string, Map<string, { seconds: number; sent: boolean }>>();
  const of = (taskId: string, day: string) => {
    const line = days.get(taskId) ?? new Map<string, { seconds: number; sent: boolean }>();
    days.set(taskId, line);
    const kept = line.get(day) ?? { seconds: 0, sent: false };
    line.set(day, kept);
    return kept;
  };
  for (const { taskId, day, seconds } of practised) of(taskId, day).seconds += seconds;
  for (const { taskId, recordedAt } of takes) of(taskId, today(timeZone, recordedAt.getTime())).sent = true;
  return new Map(
    [...days].map(([taskId, line]) => [
      taskId,
      [...line].flatMap(([day, each]) => (dayCounts(each, askedMinutes(taskId)) ? [day] : [])).sort(),
    ]),
  );
}
