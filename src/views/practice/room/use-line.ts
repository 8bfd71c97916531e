import { useCallback, useEffect, useMemo, useState } from "react";
import { takeSeconds } from "../../../client/activity";
import { localDay } from "../../../client/day";
import { factsHere, type Told, tell } from "../../../client/practice-log";
import { modeFor } from "../../../core/listen";
import {
  type Fact,
  type Leg,
  type LineFact,
  type PathOptions,
  pathOf,
  STEP_KINDS,
  standingOf,
} from "../../../core/practice";
import type { TaskDetail } from "../../../services/practice/wire";

type LineTold = Told extends infer T
  ? T extends { leg: string }
    ? Omit<T, "taskId" | "seconds">
    : never
  : never;

/** The path of a line, where its player stands on it, and saying what happened. */
export function useLine(task: TaskDetail, playerId: string, withoutInstrument: boolean) {
  const [facts, setFacts] = useState<LineFact[]>(task.practice.facts);
  const path = useMemo(() => pathOf(task.score, pathOptions(task)), [task]);
  const today = task.practice.today > localDay() ? task.practice.today : localDay();

  const add = useCallback(
    (more: readonly Fact[]) =>
      setFacts((before) => {
        const known = new Set(before.map(({ id }) => id));
        const fresh = more.filter(
          (fact): fact is LineFact & { taskId: string } =>
            "leg" in fact && fact.taskId === task.id && !known.has(fact.id),
        );
        return fresh.length > 0 ? [...before, ...fresh] : before;
      }),
    [task.id],
  );
  // What this device did before it could tell the bench.
  useEffect(() => {
    void factsHere(playerId).then(add);
  }, [playerId, add]);

  const standing = useMemo(() => standingOf(path, facts, today), [path, facts, today]);
  const possible = (leg: Leg) => !withoutInstrument || STEP_KINDS[leg.step].withoutInstrument;
  // Without the instrument the first open step that needs none.
  const open = path.findIndex((leg) => possible(leg) && !standing.done.has(leg.id));
  const here = path[standing.leg];
  const now = here && !possible(here) ? (open < 0 ? path.length : open) : standing.leg;

  const say = useCallback(
    async (told: LineTold) =>
      add([await tell(playerId, { ...told, taskId: task.id, seconds: takeSeconds() } as Told, today)]),
    [playerId, task.id, today, add],
  );
  return { path, standing, now, possible, say, today, facts };
}

/** What decides the path of a task. */
export function pathOptions(task: TaskDetail): PathOptions {
  const { practice, part, score } = task;
  const purpose = score.purpose?.kind;
  const pitched = score.parts[0].clef !== "percussion";
  return {
    steps: task.steps.length > 0 ? task.steps : null,
    material: task.catalogued ? "catalogued" : modeFor(score) === "longtone" ? "tones" : (purpose ?? "line"),
    goalBpm: task.goalBpm,
    rungs: task.rungs,
    records: task.record !== "nothing",
    accompanied: pitched,
    fingered: pitched,
    snags: part.snags,
    lastTake:
      task.history.find(({ assessment }) => assessment?.take.status === "assessed")?.assessment ?? null,
    order: practice.order,
    tongueFirst: practice.tongueFirst,
    readFirst: practice.readFirst,
  };
}
