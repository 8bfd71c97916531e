import { climb, type Outcome, ROUNDS_TO_MOVE, type Rung } from "./ladder";
import type { Leg } from "./path";
import { STEP_KINDS } from "./steps";

/** What happened to a line in practice, one thing after another. Instants are ISO texts, days local dates. */
export type LineFact = { id: string; at: string; day: string; seconds: number } & (
  | { kind: "round"; leg: string; place: string; bpm: number; outcome: Outcome }
  /** Heard, answered, said, sent. */
  | { kind: "did"; leg: string }
  /** Left out this time. */
  | { kind: "left"; leg: string }
  /** Gone to a step by hand. */
  | { kind: "went"; leg: string }
  /** Smaller, slower, rest ... was offered. */
  | { kind: "offered"; leg: string }
);

/** Where a player stands on the path of a line. */
export interface Standing {
  /** Index of the step to do now; the length of the path when all of it is done. */
  leg: number;
  /** Index of the passage inside it. */
  place: number;
  /** The tempo of the next round. */
  bpm: number;
  /** Right rounds in a row, of how many that lead on. */
  clean: number;
  passes: number;
  /** Index on the ladder; 0 elsewhere. */
  rung: number;
  /** Poor rounds in a row since help was last offered. */
  poor: number;
  /** Steps that are done, by id. */
  done: ReadonlySet<string>;
  /** Days on which the whole path was gone through. */
  daysThrough: string[];
  /** Days on which the whole line was played clean, and how often. */
  cleanDays: Record<string, number>;
}

interface OnLeg {
  place: number;
  clean: number;
  poor: number;
  rung: Rung;
}

/**
 * Where somebody stands on a path, from all that happened, in whatever order and from however many devices it came: the same
 * facts give the same place. A step that is no longer on the path is passed over. On a new day after the path was gone
 * through, what has to sit is played anew, from two rungs below the top; what was looked at and counted stays done.
 *
 * @param facts  of this line; each counts once by its id
 * @param today  local day
 */
export function standingOf(path: readonly Leg[], facts: readonly LineFact[], today: string): Standing {
  const legs = new Map(path.map((leg) => [leg.id, leg]));
  const known = [...new Map(facts.map((fact) => [fact.id, fact])).values()].sort(
    (a, b) => a.at.localeCompare(b.at) || a.id.localeCompare(b.id),
  );
  const done = new Set<string>();
  const on = new Map<string, OnLeg>();
  const cleanDays: Record<string, number> = {};
  const daysThrough: string[] = [];
  let pointer: string | null = null;
  let day = known[0]?.day ?? today;

  const stateOf = (leg: Leg): OnLeg => {
    const kept = on.get(leg.id) ?? { place: 0, clean: 0, poor: 0, rung: { at: 0, clean: 0, poor: 0 } };
    on.set(leg.id, kept);
    return kept;
  };
  const newDay = (next: string) => {
    if (next <= day) return;
    day = next;
    if (!path.every(({ id }) => done.has(id))) return;
    pointer = null;
    for (const leg of path)
      if (STEP_KINDS[leg.step].daily) {
        done.delete(leg.id);
        on.set(leg.id, {
          place: 0,
          clean: 0,
          poor: 0,
          rung: { at: Math.max(0, leg.rungs.length - 2), clean: 0, poor: 0 },
        });
      }
  };
  const finish = (leg: Leg, fact: LineFact) => {
    done.add(leg.id);
    if (pointer === leg.id) pointer = null;
    if (path.every(({ id }) => done.has(id)) && daysThrough.at(-1) !== fact.day) daysThrough.push(fact.day);
  };

  for (const fact of known) {
    newDay(fact.day);
    const leg = legs.get(fact.leg);
    if (!leg) continue;
    const state = stateOf(leg);
    switch (fact.kind) {
      case "did":
      case "left":
        finish(leg, fact);
        break;
      case "went":
        pointer = leg.id;
        // Done once more: from its beginning.
        if (done.delete(leg.id)) on.delete(leg.id);
        break;
      case "offered":
        state.poor = 0;
        break;
      case "round": {
        const index = leg.places.findIndex(({ id }) => id === fact.place);
        if (index < 0) break;
        if (leg.places[index]!.kind === "whole" && leg.step !== "count" && fact.outcome === "clean")
          cleanDays[fact.day] = (cleanDays[fact.day] ?? 0) + 1;
        if (done.has(leg.id)) break;
        state.poor = fact.outcome === "poor" ? state.poor + 1 : fact.outcome === "clean" ? 0 : state.poor;
        if (leg.rungs.length > 0) {
          state.rung = climb(state.rung, fact.outcome, leg.rungs.length);
          if (state.rung.at >= leg.rungs.length) finish(leg, fact);
          break;
        }
        state.place = index;
        state.clean = fact.outcome === "clean" ? state.clean + 1 : 0;
        if (state.clean >= STEP_KINDS[leg.step].passes) {
          state.clean = 0;
          if (index + 1 < leg.places.length) state.place = index + 1;
          else finish(leg, fact);
        }
      }
    }
  }
  newDay(today);

  const wanted = pointer === null ? -1 : path.findIndex(({ id }) => id === pointer);
  const open = path.findIndex(({ id }) => !done.has(id));
  const leg = wanted >= 0 ? wanted : open < 0 ? path.length : open;
  const now = path[leg];
  const state = now && on.get(now.id);
  const laddered = now !== undefined && now.rungs.length > 0;
  const rung = laddered ? Math.min(state?.rung.at ?? 0, now.rungs.length - 1) : 0;
  const place = Math.min(state?.place ?? 0, (now?.places.length ?? 1) - 1);
  return {
    leg,
    place,
    bpm: laddered ? now.rungs[rung]! : (now?.places[place]?.bpm ?? 0),
    clean: laddered ? (state?.rung.clean ?? 0) : (state?.clean ?? 0),
    passes: laddered ? ROUNDS_TO_MOVE : now ? STEP_KINDS[now.step].passes : 1,
    rung,
    poor: state?.poor ?? 0,
    done,
    daysThrough,
    cleanDays,
  };
}
