import { describe, expect, it } from "vitest";
import { addDays, daysBetween, nextSchoolDay, whyOff } from "../../src/core/calendar";

const holidays = {
  daysOff: [{ from: "2026-12-21", to: "2027-01-03", name: "Winter holidays" }],
  weekendsOff: true,
};

describe("school days", () => {
  it("are off on weekends where the band says so, and in named stretches to their last day", () => {
    expect(whyOff("2026-11-28", holidays)).toBe("the weekend");
    expect(whyOff("2026-11-28", { ...holidays, weekendsOff: false })).toBeNull();
    expect(whyOff("2026-12-21", holidays)).toBe("Winter holidays");
    expect(whyOff("2027-01-03", holidays)).toBe("Winter holidays");
    expect(whyOff("2027-01-04", holidays)).toBeNull();
    expect(
      whyOff("2026-12-21", {
        daysOff: [{ from: "2026-12-21", to: "2026-12-21", name: "" }],
        weekendsOff: true,
      }),
    ).toBe("a day off");
  });

  it("go on after what is off, over the turn of the year", () => {
    expect(nextSchoolDay("2026-12-19", holidays)).toBe("2027-01-04");
    expect(nextSchoolDay("2026-11-26", holidays)).toBe("2026-11-26");
    const always = { daysOff: [{ from: "2000-01-01", to: "2999-12-31", name: "" }], weekendsOff: true };
    expect(nextSchoolDay("2026-11-26", always)).toBe("2026-11-26");
  });

  it("are counted over leap days and changes of the clock", () => {
    expect(addDays("2028-02-28", 1)).toBe("2028-02-29");
    expect(addDays("2026-10-24", 2)).toBe("2026-10-26");
    expect(addDays("2026-03-01", -1)).toBe("2026-02-28");
    expect(daysBetween("2026-03-28", "2026-03-30")).toBe(2);
  });
});
