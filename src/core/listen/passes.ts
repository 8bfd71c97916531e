import type { Match } from "./align";

/** Stretches of a path that go on through the line without a jump, in the order they were played. */
export function splitPasses(matches: readonly Match[]): Match[][] {
  const passes: Match[][] = [];
  for (const match of matches) {
    if (match.jump || passes.length === 0) passes.push([]);
    passes.at(-1)!.push(match);
  }
  return passes;
}
