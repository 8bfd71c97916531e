import { addDays, daysBetween } from "../../core/calendar";
import { mondayOf } from "../../core/plan";
import { dayCounts, minutesOf } from "../../core/practice";
import { practisedLines, takesRecordedSince } from "../../data";
import { instantOf, today } from "../calendar";

/** A player's week so far. */
interface Week {
  /** Minutes by day, Monday first, up to today: counted by the bench, and what the player wrote down. */
  days: { day: string; minutes: number }[];
  /** Days on which a line was practised long enough, or a take of it recorded. */
  practisedOn(taskId: string, askedMinutes: number | null): string[];
}

export async function weekOf(playerId: string, now: string, timeZone: string): Promise<Week> {
  const monday = mondayOf(now);
  const [rows, takes] = await Promise.all([
    practisedLines(playerId, monday),
    takesRecordedSince(playerId, instantOf(monday, "00:00", timeZone)),
  ]);
  const lines = new Map<string, Map<string, { seconds: number; sent: boolean }>>();
  const of = (taskId: string, day: string) => {
    const line = lines.get(taskId) ?? new Map<string, { seconds: number; sent: boolean }>();
    lines.set(taskId, line);
    const kept = line.get(day) ?? { seconds: 0, sent: false };
    line.set(day, kept);
    return kept;
  };
  for (const { taskId, day, seconds } of rows) if (taskId !== null) of(taskId, day).seconds += seconds;
  for (const { taskId, recordedAt } of takes) of(taskId, today(timeZone, recordedAt.getTime())).sent = true;
  return {
    days: Array.from({ length: daysBetween(monday, now) + 1 }, (_, i) => {
      const day = addDays(monday, i);
      const own = rows.filter((row) => row.day === day);
      return { day, minutes: minutesOf(own) + own.reduce((sum, { ownMinutes }) => sum + ownMinutes, 0) };
    }),
    practisedOn: (taskId, askedMinutes) =>
      [...(lines.get(taskId) ?? [])]
        .flatMap(([day, each]) => (dayCounts(each, askedMinutes) ? [day] : []))
        .sort(),
  };
}
