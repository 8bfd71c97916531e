import ICAL from "ical.js";
import { addDays, daysBetween } from "../calendar";

/** A stretch of days off as a file tells it. */
export interface Holiday {
  from: string;
  to: string;
  name: string;
}

export interface ReadHolidays {
  holidays: Holiday[];
  /** What was not taken over, each in kinds and numbers. */
  leftOut: {
    why: "has-a-time" | "rule-not-read" | "broken" | "outside" | "too-long" | "too-many";
    count: number;
  }[];
}

/** A file that is no calendar; the message is a sentence. */
export class CalendarFileError extends Error {}

export const LARGEST_CALENDAR_FILE = 1_000_000;
const MOST_EVENTS = 3000;
const MOST_HOLIDAYS = 200;
/** Occurrences of one rule that are looked at: a rule of a thousand years ends here. */
const MOST_STEPS = 3000;
/** Longer than this is no holiday but a mistake. */
const LONGEST_DAYS = 120;
const NAME_LETTERS = 80;

/**
 * Days off from an iCalendar file (RFC 5545) as schools publish them: entries of whole days, single or repeated. Entries with
 * a time of day are no days off. Only plain rules are followed (daily, weekly, monthly, yearly with a count, an end, an
 * interval or weekdays): a file from outside must not keep the bench busy.
 *
 * @param from  first day asked for, and `to` the last: what lies outside is left out
 * @throws CalendarFileError when the text is no calendar
 */
export function readHolidays(text: string, from: string, to: string): ReadHolidays {
  const events = eventsOf(text);
  const left = new Map<ReadHolidays["leftOut"][number]["why"], number>();
  const leave = (why: ReadHolidays["leftOut"][number]["why"], count = 1) =>
    left.set(why, (left.get(why) ?? 0) + count);
  const found = new Map<string, Holiday>();
  for (const component of events.slice(0, MOST_EVENTS)) {
    const read = entryOf(component, from, to);
    if (typeof read === "string") leave(read);
    else for (const day of read) found.set(`${day.from}/${day.to}/${day.name}`, day);
  }
  if (events.length > MOST_EVENTS) leave("too-many", events.length - MOST_EVENTS);
  const holidays = [...found.values()].sort(
    (a, b) => a.from.localeCompare(b.from) || a.to.localeCompare(b.to),
  );
  if (holidays.length > MOST_HOLIDAYS) leave("too-many", holidays.length - MOST_HOLIDAYS);
  return {
    holidays: holidays.slice(0, MOST_HOLIDAYS),
    leftOut: [...left].map(([why, count]) => ({ why, count })),
  };
}

/** The days of one entry that lie within, or why there are none. */
function entryOf(
  component: ICAL.Component,
  from: string,
  to: string,
): Holiday[] | ReadHolidays["leftOut"][number]["why"] {
  try {
    const start = component.getFirstPropertyValue("dtstart");
    if (!(start instanceof ICAL.Time)) return "broken";
    if (!start.isDate) return "has-a-time";
    const days = lengthOf(component, dateOf(start));
    if (days > LONGEST_DAYS) return "too-long";
    const starts = startsOf(component, start, to);
    if (starts === null) return "rule-not-read";
    const name = String(component.getFirstPropertyValue("summary") ?? "")
      .trim()
      .slice(0, NAME_LETTERS);
    const within = starts.filter((date) => addDays(date, days - 1) >= from && date <= to);
    if (within.length === 0) return "outside";
    return within.map((date) => ({ from: date, to: addDays(date, days - 1), name }));
  } catch {
    // The library throws what it comes upon; one broken entry does not cost the others.
    return "broken";
  }
}

function eventsOf(text: string): ICAL.Component[] {
  if (text.length > LARGEST_CALENDAR_FILE)
    throw new CalendarFileError("This calendar is too large; a school's holidays fit in one megabyte.");
  try {
    const root = new ICAL.Component(ICAL.parse(text) as ConstructorParameters<typeof ICAL.Component>[0]);
    if (root.name === "vcalendar") return root.getAllSubcomponents("vevent");
  } catch {
    // Told below in a sentence of our own.
  }
  throw new CalendarFileError(
    "This file is no calendar. Calendars end in .ics and begin with BEGIN:VCALENDAR.",
  );
}

const dateOf = (time: ICAL.Time) => time.toString().slice(0, 10);

/** Days an entry lasts: its end is the day after its last (RFC 5545, 3.6.1), without one it is a single day. */
function lengthOf(component: ICAL.Component, start: string): number {
  const end = component.getFirstPropertyValue("dtend");
  if (end instanceof ICAL.Time) return Math.max(1, daysBetween(start, dateOf(end)));
  const duration = component.getFirstPropertyValue("duration");
  return duration instanceof ICAL.Duration ? Math.max(1, duration.weeks * 7 + duration.days) : 1;
}

const PLAIN_FREQUENCIES = new Set(["DAILY", "WEEKLY", "MONTHLY", "YEARLY"]);

/** First days of an entry up to a day; null for a rule that is not followed. */
function startsOf(component: ICAL.Component, start: ICAL.Time, to: string): string[] | null {
  const rule = component.getFirstPropertyValue("rrule");
  if (!(rule instanceof ICAL.Recur)) return [dateOf(start)];
  const parts = Object.keys(rule.parts ?? {});
  const plain = parts.length === 0 || (rule.freq === "WEEKLY" && parts.every((part) => part === "BYDAY"));
  if (!PLAIN_FREQUENCIES.has(rule.freq) || !plain || component.getAllProperties("rrule").length > 1)
    return null;
  const without = new Set(
    component
      .getAllProperties("exdate")
      .flatMap((property) => property.getValues().map((value) => String(value).slice(0, 10))),
  );
  const starts: string[] = [];
  const dates = rule.iterator(start);
  for (let step = 0; step < MOST_STEPS; step++) {
    const next = dates.next();
    if (!next) break;
    const date = dateOf(next);
    if (date > to) break;
    if (!without.has(date)) starts.push(date);
  }
  return starts;
}
