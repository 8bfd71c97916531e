import { describe, expect, it } from "vitest";
import {
  countingResult,
  heardIn,
  type Marks,
  type Rubric,
  resultOf,
  rubricFor,
  suggestedMarks,
  USUAL_RUBRIC,
} from "../../src/core/progress";
import { line, partFor } from "../support/music";
import { spotless } from "../support/verdicts";

const { part } = partFor(line("Bb4:1 C5:1 D5:2 | Eb5:1/2 D5:1/2 Eb5:1 C5:2"), "clarinet");

const rubric = (levels: number, weights: Record<string, number>, rest: Partial<Rubric> = {}): Rubric => ({
  ...USUAL_RUBRIC,
  levels: Array.from({ length: levels }, (_, i) => `level ${i + 1}`),
  criteria: Object.entries(weights).map(([id, weight]) => ({ id, word: id, weight, means: [], hears: null })),
  ...rest,
});
const NO_RULE = { percentPerDay: 0, mostPercent: 0 };
const inTime = (by: Rubric, marks: Marks) => resultOf({ rubric: by, lateDays: 0, late: NO_RULE }, marks);

describe("a rubric", () => {
  // Worked by hand: points are weight times level, of weight times all levels.
  it.each([
    // 3 + 4 + 2 + 3 = 12 of 16
    [
      "alike",
      4,
      { notes: 1, rhythm: 1, tone: 1, posture: 1 },
      { notes: 3, rhythm: 4, tone: 2, posture: 3 },
      3,
      75,
    ],
    // 2*4 + 1*2 = 10 of 12
    ["weighted", 4, { notes: 2, rhythm: 1 }, { notes: 4, rhythm: 2 }, 10 / 3, (100 * 10) / 12],
    // 5*1 + 3*5 + 2*5 = 30 of 50
    ["of five levels", 5, { notes: 5, rhythm: 3, tone: 2 }, { notes: 1, rhythm: 5, tone: 5 }, 3, 60],
    // of two levels the lower one is half: 1*2 + 1*1 = 3 of 4
    ["of two levels", 2, { notes: 1, rhythm: 1 }, { notes: 2, rhythm: 1 }, 1.5, 75],
    // tone was not marked: 3*6 + 1*3 = 21 of 24
    ["with a gap", 6, { notes: 3, rhythm: 1, tone: 5 }, { notes: 6, rhythm: 3 }, 5.25, 87.5],
    // what the rubric does not know adds nothing
    ["with a stranger", 4, { notes: 1 }, { notes: 2, smile: 4 }, 2, 50],
  ])("adds up %s", (_, levels, weights, marks, level, percent) => {
    const found = inTime(rubric(levels, weights as Record<string, number>), marks as unknown as Marks)!;
    expect(found.level).toBeCloseTo(level, 10);
    expect(found.percent).toBeCloseTo(percent, 10);
    expect(found.of).toBe(levels);
  });

  it("says nothing where nothing was marked, and adds nothing up where one passes or not", () => {
    expect(inTime(rubric(4, { notes: 1 }), {})).toBeNull();
    expect(inTime(rubric(4, { notes: 1 }, { school: "pass" }), { notes: 4 })).toBeNull();
  });

  it("takes off by the days, to the most and never below nothing", () => {
    const by = rubric(4, { notes: 1 });
    const late = (days: number, marks: Marks) =>
      resultOf({ rubric: by, lateDays: days, late: { percentPerDay: 10, mostPercent: 30 } }, marks);
    expect(late(2, { notes: 4 })).toMatchObject({ percent: 80, less: 20 });
    expect(late(9, { notes: 4 })).toMatchObject({ percent: 70, less: 30 });
    expect(late(9, { notes: 1 })).toMatchObject({ percent: 0 });
  });

  it("counts the best or the last of several takes, the later of two alike", () => {
    const takes = [
      { id: "a", percent: 80 },
      { id: "b", percent: 80 },
      { id: "c", percent: 60 },
    ];
    expect(countingResult(takes, "best")!.id).toBe("b");
    expect(countingResult(takes, "last")!.id).toBe("c");
    expect(countingResult([], "best")).toBeNull();
  });

  it("is the one a task names, with the weights the task sets, else the band's first", () => {
    const own = [USUAL_RUBRIC, rubric(3, { notes: 1, smile: 2 }, { id: "own" })];
    expect(rubricFor(own, { rubric: null, criteria: null }).id).toBe("usual");
    expect(rubricFor(own, { rubric: "gone", criteria: null }).id).toBe("usual");
    const weighted = rubricFor(own, { rubric: "own", criteria: [{ criterion: "smile", weight: 5 }] });
    expect(weighted.criteria.map(({ id, weight }) => [id, weight])).toEqual([["smile", 5]]);
    // Weights of things that the rubric has no more leave it as it is.
    expect(
      rubricFor(own, { rubric: "own", criteria: [{ criterion: "gone", weight: 5 }] }).criteria,
    ).toHaveLength(2);
  });

  it("is suggested only where the bench hears, in as many levels as there are", () => {
    expect(suggestedMarks(USUAL_RUBRIC, spotless(part))).toEqual({ notes: 4, rhythm: 4, articulation: 4 });
    const six = { ...rubric(6, { pitch: 1, looks: 1 }) };
    six.criteria[0]!.hears = "notes";
    expect(suggestedMarks(six, spotless(part))).toEqual({ pitch: 6 });
  });

  it("gives each finding to one ear", () => {
    expect(heardIn("rushing")).toBe("rhythm");
    expect(heardIn("re-tongued-slur")).toBe("articulation");
    expect(heardIn("missed")).toBe("notes");
    expect(heardIn("dynamics")).toBeNull();
  });
});
