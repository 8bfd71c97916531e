import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { addDays } from "../../src/core/calendar";
import {
  cycleDay,
  daysFrom,
  lessonNumber,
  type Meeting,
  type MeetingChange,
  meetingsBetween,
  mondayOf,
  overlappingTerms,
  type SchoolCalendar,
  weekOfTerm,
  weeksOfTerm,
  whyNoSchool,
} from "../../src/core/plan";

const autumn = { id: "t", name: "Autumn", from: "2026-09-28", to: "2027-01-15" };
const calendar: SchoolCalendar = {
  terms: [autumn],
  off: { daysOff: [{ from: "2026-10-14", to: "2026-10-15", name: "Ferry storm" }], weekendsOff: true },
  shortDays: [{ date: "2026-10-09", endsAt: "10:15", name: "Early end" }],
  schoolWeek: [1, 2, 3, 4, 5],
};
const meeting = (about: Partial<Meeting>): Meeting => ({
  id: "m",
  groupId: "reeds",
  pattern: { kind: "weekly", weekdays: [3, 5], everyWeeks: 1 },
  from: "2026-09-28",
  to: null,
  startsAt: "09:40",
  minutes: 40,
  ...about,
});
const change = (about: Partial<MeetingChange>): MeetingChange => ({
  meetingId: "m",
  date: "2026-10-07",
  kind: "cancelled",
  toDate: null,
  startsAt: null,
  minutes: null,
  name: "",
  ...about,
});
const held = (meetings: Meeting[], changes: MeetingChange[], from: string, to: string) =>
  meetingsBetween(from, to, meetings, changes, calendar).map(
    ({ date, startsAt, minutes, remark }) => `${date} ${startsAt} ${minutes}${remark && ` ${remark}`}`,
  );

describe("class meetings", () => {
  it("are not held on a day off, which says why, and are cut short by an early end", () => {
    expect(held([meeting({})], [], "2026-10-05", "2026-10-16")).toEqual([
      "2026-10-07 09:40 40",
      "2026-10-09 09:40 35 Early end",
      "2026-10-14 09:40 0 Ferry storm",
      "2026-10-16 09:40 40",
    ]);
  });

  it("begin after school has ended not at all", () => {
    expect(held([meeting({ startsAt: "10:20" })], [], "2026-10-09", "2026-10-09")).toEqual([
      "2026-10-09 10:20 0 Early end",
    ]);
  });

  it("have single changes: not held, moved to another day and time, held besides", () => {
    const changes = [
      change({ name: "choir" }),
      change({ date: "2026-10-16", kind: "moved", toDate: "2026-10-15", startsAt: "11:00", minutes: 50 }),
      change({ date: "2026-10-17", kind: "extra", name: "dress rehearsal" }),
    ];
    expect(held([meeting({})], changes, "2026-10-06", "2026-10-18")).toEqual([
      "2026-10-07 09:40 0 choir",
      "2026-10-09 09:40 35 Early end",
      "2026-10-14 09:40 0 Ferry storm",
      // Put there on purpose, though the day is off.
      "2026-10-15 11:00 50",
      "2026-10-17 09:40 40 dress rehearsal",
    ]);
  });

  it("of a cycle move on by a day for every day off", () => {
    // School days from Mon 12 Oct: 12 A, 13 B, (14 and 15 off), 16 A, (weekend), 19 B, 20 A.
    const cycle = meeting({ from: "2026-10-12", pattern: { kind: "cycle", length: 2, on: [1] } });
    expect(held([cycle], [], "2026-10-12", "2026-10-20").map((each) => each.slice(0, 10))).toEqual([
      "2026-10-12",
      "2026-10-16",
      "2026-10-20",
    ]);
    expect(cycleDay("2026-10-19", "2026-10-12", 2, calendar)).toBe(2);
    expect(cycleDay("2026-10-14", "2026-10-12", 2, calendar)).toBeNull();
  });

  it("of a cycle are the same from whatever day one looks", () => {
    const cycle = meeting({ pattern: { kind: "cycle", length: 6, on: [2, 5] } });
    const all = meetingsBetween("2026-09-28", "2027-01-15", [cycle], [], calendar).map(({ date }) => date);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 100 }), (start) => {
        const from = addDays("2026-09-28", start);
        const part = meetingsBetween(from, "2027-01-15", [cycle], [], calendar).map(({ date }) => date);
        expect(part).toEqual(all.filter((date) => date >= from));
      }),
    );
  });

  it("never stand on a day without school by their pattern alone", () => {
    const patterns: Meeting["pattern"][] = [
      { kind: "weekly", weekdays: [1, 2, 3, 4, 5, 6, 7], everyWeeks: 1 },
      { kind: "cycle", length: 3, on: [1, 2, 3] },
    ];
    for (const pattern of patterns)
      for (const { date, minutes } of meetingsBetween(
        "2026-09-01",
        "2027-03-01",
        [meeting({ pattern })],
        [],
        calendar,
      ))
        if (whyNoSchool(date, calendar)) expect(minutes).toBe(0);
  });
});

describe("the school year", () => {
  it("counts weeks of a term from the week it begins in", () => {
    expect(mondayOf("2026-11-29")).toBe("2026-11-23");
    expect(weekOfTerm("2026-09-30", autumn)).toBe(1);
    expect(weekOfTerm("2026-11-26", autumn)).toBe(9);
    expect(weeksOfTerm(autumn)).toBe(16);
  });

  it("finds terms that share a day, in whatever order they are given", () => {
    const winter = { id: "w", name: "Winter", from: "2027-01-15", to: "2027-03-20" };
    expect(overlappingTerms([winter, autumn])?.map(({ name }) => name)).toEqual(["Autumn", "Winter"]);
    expect(overlappingTerms([{ ...winter, from: "2027-01-16" }, autumn])).toBeNull();
  });

  it("looks at two years at most", () => {
    expect(daysFrom("2026-10-24", "2026-10-26")).toEqual(["2026-10-24", "2026-10-25", "2026-10-26"]);
    expect(() => daysFrom("2026-01-01", "3026-01-01")).toThrow(RangeError);
  });

  it("has no school between terms, on days off and at weekends, and says why", () => {
    expect(whyNoSchool("2027-02-01", calendar)).toBe("between terms");
    expect(whyNoSchool("2026-10-14", calendar)).toBe("Ferry storm");
    expect(whyNoSchool("2026-10-17", calendar)).toBe("the weekend");
    expect(whyNoSchool("2026-10-19", calendar)).toBeNull();
  });

  it("counts lessons, not weeks: a lost day gives its number to the next, a moved one keeps it", () => {
    const number = (changes: MeetingChange[], date: string) =>
      lessonNumber(
        meetingsBetween("2026-09-28", "2026-11-01", [meeting({})], changes, calendar),
        "reeds",
        date,
      );
    // Wednesdays and Fridays from 30 September: 30, 2, 7, 9, (14 off), 16 October.
    expect([
      number([], "2026-09-30"),
      number([], "2026-10-09"),
      number([], "2026-10-14"),
      number([], "2026-10-16"),
    ]).toEqual([1, 4, null, 5]);
    expect(number([change({ date: "2026-10-02" })], "2026-10-09")).toBe(3);
    expect(number([change({ kind: "moved", date: "2026-10-02", toDate: "2026-10-01" })], "2026-10-01")).toBe(
      2,
    );
  });
});
