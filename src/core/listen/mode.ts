import type { Score } from "../score";
import type { Mode } from "./types";

/** How a take of a score is heard, where its purpose says so; undefined leaves it to the notes. */
export function modeFor({ purpose }: Pick<Score, "purpose">): Mode | undefined {
  if (purpose?.kind === "counting") return "rhythm";
  if (purpose?.kind !== "warm-up") return undefined;
  return ["first-sounds", "long-tones", "range-steps"].includes(purpose.family) ? "longtone" : undefined;
}
