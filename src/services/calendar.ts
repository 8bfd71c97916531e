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
