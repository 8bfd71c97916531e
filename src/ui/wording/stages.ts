import type { Stage } from "../../core/music";
import type { StageSuggestion } from "../../core/progress";

/** The stages of a beginner as a director says them, in order. */
export const STAGE_NAMES: Record<Stage, string> = {
  "making-a-sound": "making a sound",
  "five-notes": "five notes",
  "small-tunes": "small tunes",
  widening: "widening",
};

/** Why the next stage is near. */
export function stageReason({ to, known, of, kind }: StageSuggestion): string {
  const next = `on to ${STAGE_NAMES[to]}?`;
  if (kind === "weeks") return `${of} weeks of sounds, ${next}`;
  return `knows ${known} of the ${of} ${kind}, ${next}`;
}
