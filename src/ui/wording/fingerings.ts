import type { FingeringCheck } from "../../core/music";

const CHECKS: Record<FingeringCheck, string> = {
  director: "confirmed by you",
  "harmonic series": "from the harmonic series",
  "tone holes": "by its open holes",
  register: "by the note below",
  "common practice": "by common practice",
};

/** What speaks for a fingering, as said under a note. */
export function checkedBy(checks: readonly FingeringCheck[]): string {
  const words = [...new Set(checks)].map((check) => CHECKS[check]);
  return checks.includes("tone holes") || checks.includes("register") || checks.includes("common practice")
    ? `checked ${words.join(" and ")}`
    : words.join(" and ");
}
