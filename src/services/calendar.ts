import { TZDate } from "@date-fns/tz";
import { format } from "date-fns";

/** Today's local date in a band's zone, "2026-11-24". */
export function today(timeZone: string, now = Date.now()): string {
  return format(new TZDate(now, timeZone), "yyyy-MM-dd");
}

/** "Thu 26 Nov" for a local date. */
export function dayLabel(date: string): string {
  return format(new Date(`${date}T12:00:00`), "EEE d MMM");
}

/** The instant of a local time, on either side of a change of the clocks. */
export function instantOf(date: string, time: string, timeZone: string): Date {
  const [year, month, day] = date.split("-").map(Number);
  const [hour, minute] = time.split(":").map(Number);
  return new Date(new TZDate(year!, month! - 1, day!, hour!, minute!, timeZone).getTime());
}
