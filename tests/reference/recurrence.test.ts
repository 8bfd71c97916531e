import fc from "fast-check";
import rrule from "rrule";
import { describe, expect, it } from "vitest";
import { addDays } from "../../src/core/calendar";
import { type Meeting, meetingsBetween, type SchoolCalendar, type Weekday } from "../../src/core/plan";
import { instantOf } from "../../src/services/calendar";

/**
 * Class meetings against RFC 5545 (section 3.3.10, RECUR) as the package rrule 2.8 reads it: FREQ=WEEKLY with INTERVAL, BYDAY
 * and WKST=MO.
 */
const everyDay: SchoolCalendar = {
  terms: [],
  off: { daysOff: [], weekendsOff: false },
  shortDays: [],
  schoolWeek: [1, 2, 3, 4, 5, 6, 7],
};
const { RRule } = rrule;
const BYDAY = [RRule.MO, RRule.TU, RRule.WE, RRule.TH, RRule.FR, RRule.SA, RRule.SU];
const utc = (date: string) => new Date(`${date}T00:00:00Z`);

function ofRule(from: string, until: string, weekdays: readonly number[], interval: number): string[] {
  return new RRule({
    freq: RRule.WEEKLY,
    interval,
    wkst: RRule.MO,
    byweekday: weekdays.map((day) => BYDAY[day - 1]!),
    dtstart: utc(from),
    until: utc(until),
  })
    .all()
    .map((date: Date) => date.toISOString().slice(0, 10));
}

function ofBench(from: string, until: string, weekdays: Weekday[], everyWeeks: number): string[] {
  const meeting: Meeting = {
    id: "m",
    groupId: "g",
    pattern: { kind: "weekly", weekdays, everyWeeks },
    from,
    to: null,
    startsAt: "10:00",
    minutes: 40,
  };
  return meetingsBetween(from, until, [meeting], [], everyDay).map(({ date }) => date);
}

describe("meetings of a weekly pattern", () => {
  it("fall on the days of the recurrence rule, whatever weekdays, interval and first day", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 4000 }),
        fc.integer({ min: 1, max: 500 }),
        fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 }),
        fc.integer({ min: 1, max: 8 }),
        (start, length, weekdays, interval) => {
          const from = addDays("2024-01-01", start);
          const until = addDays(from, length);
          expect(ofBench(from, until, weekdays as Weekday[], interval)).toEqual(
            ofRule(from, until, weekdays, interval),
          );
        },
      ),
      { numRuns: 300 },
    );
  });

  it("are every other Thursday over the turn of a year", () => {
    expect(ofBench("2026-12-10", "2027-02-10", [4], 2)).toEqual([
      "2026-12-10",
      "2026-12-24",
      "2027-01-07",
      "2027-01-21",
      "2027-02-04",
    ]);
  });
});

/** Offsets of the zones as the tz database has them (Lisbon: WET/WEST; Auckland: NZST/NZDT), from memory and by hand. */
describe("the instant of a class at ten o'clock", () => {
  it.each([
    ["Europe/Lisbon", "2026-10-23", "2026-10-23T09:00:00.000Z"],
    ["Europe/Lisbon", "2026-10-26", "2026-10-26T10:00:00.000Z"],
    ["Europe/Lisbon", "2027-03-26", "2027-03-26T10:00:00.000Z"],
    ["Europe/Lisbon", "2027-03-29", "2027-03-29T09:00:00.000Z"],
    ["Pacific/Auckland", "2026-09-25", "2026-09-24T22:00:00.000Z"],
    ["Pacific/Auckland", "2026-09-28", "2026-09-27T21:00:00.000Z"],
    ["Pacific/Auckland", "2027-04-02", "2027-04-01T21:00:00.000Z"],
    ["Pacific/Auckland", "2027-04-05", "2027-04-04T22:00:00.000Z"],
  ])("in %s on %s is right on either side of a change of the clocks", (zone, date, instant) => {
    expect(instantOf(date, "10:00", zone).toISOString()).toBe(instant);
  });

  it("falls in the week and term of its local day on both sides of a change", () => {
    const year: SchoolCalendar = {
      ...everyDay,
      terms: [{ id: "t", name: "Year", from: "2026-08-31", to: "2027-06-30" }],
    };
    const held = meetingsBetween(
      "2026-08-31",
      "2027-06-30",
      [
        {
          id: "m",
          groupId: "g",
          pattern: { kind: "weekly", weekdays: [1], everyWeeks: 1 },
          from: "2026-08-31",
          to: null,
          startsAt: "10:00",
          minutes: 40,
        },
      ],
      [],
      year,
    );
    // 44 Mondays from 31 August 2026 to 28 June 2027, counted on a paper calendar; none twice, none lost.
    expect([held.length, held[0]!.date, held.at(-1)!.date]).toEqual([44, "2026-08-31", "2027-06-28"]);
  });
});
