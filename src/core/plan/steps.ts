import type { Strip } from "./strip";

/** One act on the ribbon: what each strip it touched was before and after; null where it was not there. */
export type Step = readonly { id: string; before: Strip | null; after: Strip | null }[];

/**
 * What was done, strip by strip. Undo puts back only what one's own act touched: what somebody else changed meanwhile stays.
 * @returns an empty step when nothing differs
 */
export function stepBetween(before: readonly Strip[], after: readonly Strip[]): Step {
  const was = new Map(before.map((strip) => [strip.id, strip]));
  const is = new Map(after.map((strip) => [strip.id, strip]));
  return [...new Set([...was.keys(), ...is.keys()])].flatMap((id) => {
    const [old, now] = [was.get(id) ?? null, is.get(id) ?? null];
    return old === now ? [] : [{ id, before: old, after: now }];
  });
}

/** Two steps one after the other as one: a word typed letter by letter is one act. */
export function joinSteps(first: Step, then: Step): Step {
  const before = new Map([...then, ...first].map((each) => [each.id, each.before]));
  const after = new Map([...first, ...then].map((each) => [each.id, each.after]));
  return [...after].map(([id, now]) => ({ id, before: before.get(id) ?? null, after: now }));
}

/** Strips with a step taken back or done again. */
export function applyStep(strips: readonly Strip[], step: Step, way: "undo" | "redo"): Strip[] {
  const to = new Map(step.map(({ id, before, after }) => [id, way === "undo" ? before : after]));
  const kept = strips.flatMap((strip) => {
    const asked = to.get(strip.id);
    return asked === undefined ? [strip] : (asked ?? []);
  });
  const here = new Set(strips.map(({ id }) => id));
  return [...kept, ...step.flatMap(({ id }) => (here.has(id) ? [] : (to.get(id) ?? [])))];
}
