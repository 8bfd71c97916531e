import { describe, expect, it } from "vitest";
import { CalendarFileError, LARGEST_CALENDAR_FILE, readHolidays } from "../../src/core/plan";

const entry = (...lines: string[]) => ["BEGIN:VEVENT", "UID:x", ...lines, "END:VEVENT"];
const file = (...entries: string[][]) =>
  ["BEGIN:VCALENDAR", "VERSION:2.0", ...entries.flat(), "END:VCALENDAR", ""].join("\r\n");
const read = (...entries: string[][]) => readHolidays(file(...entries), "2026-01-01", "2028-12-31");

describe("a school's holiday file", () => {
  it("gives stretches of whole days, whose end is the day after (RFC 5545, 3.6.1)", () => {
    const { holidays, leftOut } = read(
      entry("SUMMARY:Winter", "DTSTART;VALUE=DATE:20261221", "DTEND;VALUE=DATE:20270104"),
      entry("SUMMARY:Saint's day\\, harbour", "DTSTART;VALUE=DATE:20261201"),
      entry("SUMMARY:Long weekend", "DTSTART;VALUE=DATE:20270205", "DURATION:P4D"),
    );
    expect(holidays).toEqual([
      { from: "2026-12-01", to: "2026-12-01", name: "Saint's day, harbour" },
      { from: "2026-12-21", to: "2027-01-03", name: "Winter" },
      { from: "2027-02-05", to: "2027-02-08", name: "Long weekend" },
    ]);
    expect(leftOut).toEqual([]);
  });

  it("repeats what returns, without the days that are excepted", () => {
    expect(
      read(
        entry(
          "SUMMARY:Founders",
          "DTSTART;VALUE=DATE:20250301",
          "RRULE:FREQ=YEARLY",
          "EXDATE;VALUE=DATE:20270301",
        ),
      ).holidays.map(({ from }) => from),
    ).toEqual(["2026-03-01", "2028-03-01"]);
    expect(
      read(
        entry("DTSTART;VALUE=DATE:20260902", "RRULE:FREQ=WEEKLY;INTERVAL=2;COUNT=3;BYDAY=WE"),
      ).holidays.map(({ from }) => from),
    ).toEqual(["2026-09-02", "2026-09-16", "2026-09-30"]);
  });

  it("leaves out what is no day off, and counts it by why", () => {
    const { holidays, leftOut } = read(
      entry("SUMMARY:Parents' evening", "DTSTART:20261112T180000Z", "DTEND:20261112T200000Z"),
      entry("SUMMARY:Year", "DTSTART;VALUE=DATE:20260101", "DTEND;VALUE=DATE:20270101"),
      entry("SUMMARY:Before", "DTSTART;VALUE=DATE:20190101"),
      entry("SUMMARY:Odd", "DTSTART;VALUE=DATE:20260101", "RRULE:FREQ=YEARLY;BYMONTH=1;BYDAY=3MO"),
      entry("SUMMARY:Seconds", "DTSTART;VALUE=DATE:20260101", "RRULE:FREQ=SECONDLY"),
    );
    expect(holidays).toEqual([]);
    expect(leftOut).toEqual([
      { why: "has-a-time", count: 1 },
      { why: "too-long", count: 1 },
      { why: "outside", count: 1 },
      { why: "rule-not-read", count: 2 },
    ]);
  });

  it("ends with a rule of a thousand years that begins in another", () => {
    const { holidays, leftOut } = read(
      entry("SUMMARY:Ever", "DTSTART;VALUE=DATE:10260101", "RRULE:FREQ=DAILY;UNTIL=30260101"),
      entry("SUMMARY:Daily", "DTSTART;VALUE=DATE:20260101", "RRULE:FREQ=DAILY"),
    );
    expect(holidays).toHaveLength(200);
    expect(leftOut).toEqual([
      { why: "outside", count: 1 },
      { why: "too-many", count: 896 },
    ]);
  });

  it("that is none says so in a sentence, whatever it holds", () => {
    for (const text of [
      "",
      "no calendar",
      "BEGIN:VCARD\r\nEND:VCARD\r\n",
      "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n",
      "\u0000".repeat(100),
      "x".repeat(LARGEST_CALENDAR_FILE + 1),
    ])
      expect(() => readHolidays(text, "2026-01-01", "2026-12-31"), text.slice(0, 30)).toThrow(
        CalendarFileError,
      );
  });

  it("with entries that are broken inside keeps the others", () => {
    const { holidays, leftOut } = read(
      entry("SUMMARY:No day"),
      entry("DTSTART;VALUE=DATE:2026"),
      entry("SUMMARY:Good", "DTSTART;VALUE=DATE:20261201"),
    );
    expect(holidays).toEqual([{ from: "2026-12-01", to: "2026-12-01", name: "Good" }]);
    expect(leftOut).toEqual([{ why: "broken", count: 2 }]);
  });
});
