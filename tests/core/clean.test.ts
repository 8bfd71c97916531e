import { describe, expect, it } from "vitest";
import { judgeRound } from "../../src/core/practice";
import {
  compareTakes,
  countBars,
  countClean,
  goodThingOf,
  proposeMarks,
  recordedNotes,
  type TakeRank,
} from "../../src/core/progress";
import { line, partFor } from "../support/music";
import { spotless } from "../support/verdicts";

const note = (
  verdict: "ok" | "missed" | "wrong-pitch",
  timing: "ok" | "late" | null = "ok",
  eventId = "e1",
) => ({
  verdict,
  timing,
  length: verdict === "missed" ? null : ("ok" as const),
  eventId,
});

describe("clean", () => {
  it("is right pitch, in time, full length: one count for everybody", () => {
    expect(
      countClean([
        note("ok"),
        note("ok", "late"),
        note("missed", null),
        note("wrong-pitch"),
        { verdict: "ok", timing: null, length: "short" },
      ]),
    ).toEqual({ notes: 5, clean: 1, wrong: 2 });
  });

  it("is counted bar by bar over every pass", () => {
    const bars = countBars(
      [note("ok", "ok", "a"), note("missed", null, "b"), note("ok", "late", "b"), note("ok", "ok", "a")],
      new Map([
        ["a", 0],
        ["b", 3],
      ]),
    );
    expect(bars).toEqual([
      { measureIndex: 0, notes: 2, wrong: 0, untimely: 0 },
      { measureIndex: 3, notes: 2, wrong: 1, untimely: 1 },
    ]);
  });
});

describe("a take of which the device left notes out", () => {
  const { part } = partFor(line("Bb4:1 C5:1 D5:1 Eb5:1 | F5:1 Eb5:1 D5:1 C5:1 | Bb4:2 F5:2"), "trumpet");
  const without = (count: number, changes: Parameters<typeof spotless>[1] = {}) =>
    spotless(part, {
      ...Object.fromEntries(
        Array.from({ length: count }, (_, i) => [i, { flags: ["not-recorded" as const], confidence: 0.1 }]),
      ),
      ...changes,
    });

  it("is counted by the others while they are nearly all", () => {
    const take = without(2, { 9: { verdict: "missed" } });
    expect(countClean(recordedNotes(take.notes))).toEqual({ notes: 8, clean: 7, wrong: 1 });
    expect(proposeMarks(take).notes).toBe(3);
    expect(judgeRound(take).outcome).toBe("nearly");
  });

  it("is no clean take, earns no mark and no praise when too many are missing", () => {
    const take = without(6);
    expect(countClean(recordedNotes(take.notes))).toEqual({ notes: 0, clean: 0, wrong: 0 });
    expect(proposeMarks(take)).toEqual({});
    expect(judgeRound(take).outcome).toBeNull();
    expect(goodThingOf(take)).toBeNull();
  });
});

describe("the best take of a task", () => {
  const best = (...ranks: TakeRank[]) => ranks.map((rank, at) => ({ rank, at })).sort(compareTakes)[0]!.at;
  const counted = (wrong: number, uneven = 0, notes = 20): TakeRank => ({
    kind: "counted",
    slow: false,
    notes,
    wrong,
    uneven,
  });

  it("is the one with the fewest wrong notes, then the fewest uneven ones, then the newer", () => {
    expect(best(counted(2), counted(1, 9), counted(1, 3), counted(5))).toBe(2);
    expect(best(counted(1, 3), counted(1, 3))).toBe(1);
  });

  it("is never hidden by a later one that cannot be heard", () => {
    expect(best(counted(3), { kind: "ear" }, { kind: "waiting" })).toBe(0);
    expect(best({ kind: "ear" }, { kind: "waiting" })).toBe(1);
  });
});

describe("proposed marks", () => {
  it("take a beat that runs away for what it is", () => {
    const take = (driftPercent: number) => ({
      take: { status: "assessed", tempoBpm: 80, driftPercent, tuningCents: 0, flags: [] },
      notes: Array.from({ length: 12 }, (_, index) => ({ ...note("ok"), index, flags: [] })),
      extras: [],
      breaks: [],
    });
    const rhythm = (driftPercent: number) => proposeMarks(take(driftPercent) as never).rhythm;
    expect([rhythm(0), rhythm(5), rhythm(18), rhythm(-12)]).toEqual([4, 4, 3, 3]);
  });
});
