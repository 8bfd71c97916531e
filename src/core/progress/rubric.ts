import type { Assessment } from "../listen";
import type { CauseKind } from "./causes";
import { CRITERIA, type Criterion, proposeMarks } from "./propose";

/** What of its hearing the bench may suggest a level by; whatever else is marked is marked by ear alone. */
export const HEARD = ["notes", "rhythm", "articulation"] as const satisfies readonly Criterion[];
export type Heard = (typeof HEARD)[number];

/** More than so many things nobody listens for in one take. */
export const MOST_CRITERIA = 12;

/** One thing that a take is marked by. */
export interface RubricCriterion {
  id: string;
  /** As the director and the player read it. */
  word: string;
  /** How much it counts beside the others, 1 to 5. */
  weight: number;
  /** What each level means of it, the lowest first; as many as there are levels, or none. */
  means: string[];
  /** Null: by ear only. */
  hears: Heard | null;
}

/** A way to mark: what is listened for, in which words, and how much each counts. */
export interface Rubric {
  id: string;
  name: string;
  /** Levels that are added up; or only passed and not yet, with the criteria as what to listen for. */
  school: "marks" | "pass";
  /** Words of the levels, the lowest first; two to six. */
  levels: string[];
  criteria: RubricCriterion[];
}

/** Of which part of its hearing a finding speaks; null for what only an ear can weigh. */
export function heardIn(kind: CauseKind): Heard | null {
  if (kind === "dynamics") return null;
  if (IN_TIME.has(kind)) return "rhythm";
  return IN_ATTACKS.has(kind) ? "articulation" : "notes";
}
const IN_TIME: ReadonlySet<CauseKind> = new Set([
  "stopped-early",
  "restart",
  "repeat-too-many",
  "hesitation",
  "rushing",
  "dragging",
  "uneven",
  "early",
  "late",
  "short",
  "long",
  "staccato-slower",
]);
const IN_ATTACKS: ReadonlySet<CauseKind> = new Set([
  "doubled",
  "squeak",
  "cracked",
  "breath-in-slur",
  "re-tongued-slur",
  "accents",
  "not-short",
]);

/** What is taken off a take that came late: percent points a day, and never more than so many. */
export interface LateRule {
  percentPerDay: number;
  mostPercent: number;
}

/** How a take was marked, as it stood when it was: a rubric that is changed later changes no mark. */
export interface MarkedBy {
  rubric: Rubric;
  lateDays: number;
  late: LateRule;
}

/** Marks by criterion: the place of the level, 1 is the lowest. What is not marked is left out. */
export type Marks = Record<string, number>;

/** Four levels for what a beginner's take is listened for; common practice, no published source. Posture is seen, so it is by ear and eye. */
export const USUAL_RUBRIC: Rubric = {
  id: "usual",
  name: "The usual",
  school: "marks",
  levels: ["not yet", "partly", "mostly", "steady"],
  criteria: CRITERIA.map((id) => ({
    id,
    word: `${id[0]!.toUpperCase()}${id.slice(1)}`,
    weight: 1,
    means: [],
    hears: HEARD.find((heard) => heard === id) ?? null,
  })),
};

/**
 * The rubric of a task: the one it names, else the band's first; with its own weights where some were set.
 *
 * @param rubrics  those of the band, at least one
 * @param asked  `criteria` keeps what is named of the rubric, weighted anew; names that the rubric no longer has are passed over
 */
export function rubricFor(
  rubrics: readonly Rubric[],
  asked: { rubric: string | null; criteria: readonly { criterion: string; weight: number }[] | null },
): Rubric {
  const rubric = rubrics.find(({ id }) => id === asked.rubric) ?? rubrics[0] ?? USUAL_RUBRIC;
  const criteria = rubric.criteria.flatMap((each) => {
    const weight = asked.criteria?.find(({ criterion }) => criterion === each.id)?.weight;
    return weight === undefined ? [] : [{ ...each, weight }];
  });
  return criteria.length === 0 ? rubric : { ...rubric, criteria };
}

export interface MarkResult {
  /** Weighted mean of the levels, 1 to `of`. */
  level: number;
  of: number;
  /** Points of those there are, less what was taken off, 0 to 100. */
  percent: number;
  /** Percent points taken off for coming late. */
  less: number;
}

/**
 * Marks as one: every mark counts its level of all levels, by the weight of its criterion. What is not marked counts for nothing and
 * against nobody.
 *
 * @returns null when nothing that counts was marked, or the rubric adds nothing up
 * @example
 * // 4 and 2 of 4 points each are 75 percent, less 10 for one day late
 * resultOf(
 *   { rubric: USUAL_RUBRIC, lateDays: 1, late: { percentPerDay: 10, mostPercent: 30 } },
 *   { notes: 4, rhythm: 2 },
 * ) // => { level: 3, of: 4, percent: 65, less: 10 }
 */
export function resultOf({ rubric, lateDays, late }: MarkedBy, marks: Marks): MarkResult | null {
  if (rubric.school === "pass") return null;
  const counted = rubric.criteria.flatMap(({ id, weight }) =>
    marks[id] === undefined ? [] : [{ weight, mark: marks[id] }],
  );
  const weights = counted.reduce((sum, { weight }) => sum + weight, 0);
  if (weights === 0) return null;
  const level = counted.reduce((sum, { weight, mark }) => sum + weight * mark, 0) / weights;
  const of = rubric.levels.length;
  const less = Math.min(lateDays * late.percentPerDay, late.mostPercent);
  return { level, of, percent: Math.max(0, (100 * level) / of - less), less };
}

/** What counts of several marked takes of one task, by the band's rule; the later one of two alike. */
export function countingResult<R extends { percent: number }>(
  results: readonly R[],
  redo: "best" | "last",
): R | null {
  return results.reduce<R | null>(
    (kept, each) => (redo === "last" || !kept || each.percent >= kept.percent ? each : kept),
    null,
  );
}

/**
 * The level that the bench would say for each criterion it can hear. It hears in four steps; a rubric of another number of levels gets
 * the nearest, lowest to lowest and highest to highest.
 */
export function suggestedMarks(rubric: Rubric, assessment: Assessment): Marks {
  const heard = proposeMarks(assessment);
  const most = rubric.levels.length;
  return Object.fromEntries(
    rubric.criteria.flatMap(({ id, hears }) => {
      const step = hears && heard[hears];
      return step ? [[id, Math.round(1 + ((step - 1) / 3) * (most - 1))]] : [];
    }),
  );
}
