import { addDays, daysBetween, type OffDays } from "../calendar";
import { groupBy } from "../lists";

/** ISO number of a weekday: 1 is Monday, 7 is Sunday. */
export type Weekday = 1 | 2 | 3 | 4 | 5 | 6 | 7;

/** A stretch of the school year, first and last day included. Dates are local, "2026-11-24". */
export interface Term {
  id: string;
  name: string;
  from: string;
  to: string;
}

/** A school day that ends before its time. */
export interface ShortDay {
  date: string;
  /** Local time from which there is no school, "12:00". */
  endsAt: string;
  name: string;
}

/**
 * When a group meets: on weekdays of every week or every second, third ... week; or on days of a cycle, counted over school
 * days alone, so that a day off moves the cycle on by one (A/B days are a cycle of two).
 */
export type MeetingPattern =
  | { kind: "weekly"; weekdays: Weekday[]; everyWeeks: number }
  | { kind: "cycle"; length: number; on: number[] };

/** Class meetings of a group. */
export interface Meeting {
  id: string;
  groupId: string;
  pattern: MeetingPattern;
  /** First day that may have one; weeks and cycles are counted from here: it is day 1, and in the first week. */
  from: string;
  /** Last day that may have one; null while it goes on. */
  to: string | null;
  /** Local time, "09:40". */
  startsAt: string;
  minutes: number;
}

/** One meeting that is not as its pattern says: cancelled, or at another day, time or length. */
export interface MeetingChange {
  meetingId: string;
  /** The day the pattern gives; for a meeting beside the pattern the day it is held. */
  date: string;
  kind: "cancelled" | "moved" | "extra";
  /** Of a moved one; the same day where only time or length change. */
  toDate: string | null;
  startsAt: string | null;
  minutes: number | null;
  name: string;
}

export interface SchoolCalendar {
  terms: readonly Term[];
  off: OffDays;
  shortDays: readonly ShortDay[];
  /** Days of the week with school. */
  schoolWeek: readonly Weekday[];
}

/** A class meeting on its day. */
export interface MeetingOnDay {
  meetingId: string;
  groupId: string;
  date: string;
  startsAt: string;
  /** Minutes there are, less where the day ends early; 0 where it is not held. */
  minutes: number;
  /** Why it is not held or is shorter; empty when all is as usual. */
  remark: string;
}

/** Days that are looked at in one question. */
export const LONGEST_LOOK_DAYS = 800;

export function weekdayOf(date: string): Weekday {
  const day = new Date(`${date}T00:00:00Z`).getUTCDay();
  return (day === 0 ? 7 : day) as Weekday;
}

/**
 * The Monday of a day's week.
 * @example
 * mondayOf("2026-11-26") // => "2026-11-23"
 */
export function mondayOf(date: string): string {
  return addDays(date, 1 - weekdayOf(date));
}

/** Days from one to another, both included. @throws RangeError for more than two years */
export function daysFrom(from: string, to: string): string[] {
  const days = daysBetween(from, to) + 1;
  if (days > LONGEST_LOOK_DAYS) throw new RangeError(`At most ${LONGEST_LOOK_DAYS} days are looked at.`);
  return Array.from({ length: Math.max(0, days) }, (_, i) => addDays(from, i));
}

/** Why there is no school on a day; null for a school day. Terms say when there is school as soon as there are any. */
export function whyNoSchool(date: string, calendar: SchoolCalendar): string | null {
  const off = calendar.off.daysOff.find(({ from, to }) => from <= date && date <= to);
  if (off) return off.name || "a day off";
  if (!calendar.schoolWeek.includes(weekdayOf(date))) return "the weekend";
  if (calendar.terms.length > 0 && !termOn(date, calendar.terms)) return "between terms";
  return null;
}

export function termOn(date: string, terms: readonly Term[]): Term | null {
  return terms.find(({ from, to }) => from <= date && date <= to) ?? null;
}

/** Which week of its term a day is in, from 1; the week in which the term begins is the first. */
export function weekOfTerm(date: string, term: Term): number {
  return daysBetween(mondayOf(term.from), mondayOf(date)) / 7 + 1;
}

export function weeksOfTerm(term: Term): number {
  return weekOfTerm(term.to, term);
}

/** Two terms that share a day, the earlier first; null when none do. */
export function overlappingTerms(terms: readonly Term[]): [Term, Term] | null {
  const inOrder = [...terms].sort((a, b) => a.from.localeCompare(b.from));
  for (const [i, term] of inOrder.entries()) {
    const next = inOrder[i + 1];
    if (next && next.from <= term.to) return [term, next];
  }
  return null;
}

/**
 * Every class meeting in a stretch of days, in order, those that fall on a day without school with 0 minutes and the reason,
 * so that a lost day can be seen.
 *
 * @param from  first day, and `to` the last; at most two years
 * @source RFC 5545, 3.3.10: a weekly pattern is FREQ=WEEKLY;INTERVAL=n;WKST=MO;BYDAY=...; a cycle that skips days off has
 *   no such rule
 */
export function meetingsBetween(
  from: string,
  to: string,
  meetings: readonly Meeting[],
  changes: readonly MeetingChange[],
  calendar: SchoolCalendar,
): MeetingOnDay[] {
  const days = daysFrom(from, to);
  const changesOf = groupBy(changes, (change) => change.meetingId);
  const held: MeetingOnDay[] = [];
  for (const meeting of meetings) {
    const own = changesOf.get(meeting.id) ?? [];
    const asPlanned = patternDays(meeting, from, days, calendar);
    for (const date of asPlanned) {
      const change = own.find((each) => each.date === date && each.kind !== "extra");
      if (change?.kind === "cancelled") held.push(lost(meeting, date, change.name || "cancelled"));
      else if (!change || change.toDate === date || change.toDate === null)
        held.push(onDay(meeting, date, change, calendar));
    }
    for (const change of own) {
      const date = change.kind === "extra" ? change.date : change.toDate;
      const elsewhere = change.kind === "extra" || (change.kind === "moved" && date !== change.date);
      if (elsewhere && date && from <= date && date <= to) held.push(onDay(meeting, date, change, calendar));
    }
  }
  return held.sort((a, b) => a.date.localeCompare(b.date) || a.startsAt.localeCompare(b.startsAt));
}

/**
 * The number of a lesson: how many meetings of a group were held in the term up to a day, that day's included. A lesson keeps
 * its number when one before it is moved within the term, and the later ones count on when one is lost.
 *
 * @param held  every meeting of the term, as `meetingsBetween` gives them
 * @returns null where the group does not meet on that day
 */
export function lessonNumber(held: readonly MeetingOnDay[], groupId: string, date: string): number | null {
  const days = [
    ...new Set(held.filter((each) => each.groupId === groupId && each.minutes > 0).map((each) => each.date)),
  ];
  const at = days.indexOf(date);
  return at < 0 ? null : at + 1;
}

/** Days of the pattern among these, those without school included where a weekly pattern falls on them. */
function patternDays(
  meeting: Meeting,
  from: string,
  days: readonly string[],
  calendar: SchoolCalendar,
): string[] {
  const within = days.filter((date) => date >= meeting.from && (meeting.to === null || date <= meeting.to));
  const { pattern } = meeting;
  if (pattern.kind === "weekly") {
    const firstWeek = mondayOf(meeting.from);
    return within.filter(
      (date) =>
        pattern.weekdays.includes(weekdayOf(date)) &&
        (daysBetween(firstWeek, mondayOf(date)) / 7) % pattern.everyWeeks === 0 &&
        // Holidays are no loss; a day off within the term is.
        (calendar.terms.length === 0 || termOn(date, calendar.terms) !== null),
    );
  }
  let place = schoolDaysBefore(from, meeting.from, calendar);
  return within.filter((date) => {
    if (whyNoSchool(date, calendar)) return false;
    const day = (place % pattern.length) + 1;
    place += 1;
    return pattern.on.includes(day);
  });
}

/** School days from a first day up to another, that one not included; 0 when it does not lie later. */
function schoolDaysBefore(date: string, first: string, calendar: SchoolCalendar): number {
  let count = 0;
  for (let day = first; day < date; day = addDays(day, 1)) if (!whyNoSchool(day, calendar)) count += 1;
  return count;
}

/**
 * Which day of a cycle a date is, from 1; null where there is no school.
 * @param first  day 1 of the cycle
 */
export function cycleDay(
  date: string,
  first: string,
  length: number,
  calendar: SchoolCalendar,
): number | null {
  if (date < first || whyNoSchool(date, calendar)) return null;
  return (schoolDaysBefore(date, first, calendar) % length) + 1;
}

function onDay(
  meeting: Meeting,
  date: string,
  change: MeetingChange | undefined,
  calendar: SchoolCalendar,
): MeetingOnDay {
  const none = whyNoSchool(date, calendar);
  // What a director put on a day on purpose is held, whatever the day.
  if (none && change?.kind !== "extra" && change?.kind !== "moved") return lost(meeting, date, none);
  const startsAt = change?.startsAt ?? meeting.startsAt;
  const minutes = change?.minutes ?? meeting.minutes;
  const short = calendar.shortDays.find((day) => day.date === date);
  const left = short ? minutesBetween(startsAt, short.endsAt) : minutes;
  const about = short && left < minutes ? short.name || `school ends at ${short.endsAt}` : "";
  return {
    meetingId: meeting.id,
    groupId: meeting.groupId,
    date,
    startsAt,
    minutes: Math.max(0, Math.min(minutes, left)),
    remark: about || (change?.name ?? ""),
  };
}

function lost(meeting: Meeting, date: string, remark: string): MeetingOnDay {
  const { id, groupId, startsAt } = meeting;
  return { meetingId: id, groupId, date, startsAt, minutes: 0, remark };
}

/** Minutes from one local time of a day to another, negative when it lies before. */
function minutesBetween(from: string, to: string): number {
  const [h1, m1] = from.split(":").map(Number);
  const [h2, m2] = to.split(":").map(Number);
  return h2! * 60 + m2! - (h1! * 60 + m1!);
}
