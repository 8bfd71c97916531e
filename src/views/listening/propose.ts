import type { Assessment } from "../../core/listen";
import type { Criterion } from "../../services/listening/wire";

/** Share of good notes that earns 4, 3 and 2. */
const STEPS = [0.95, 0.85, 0.65];

/**
 * What the bench would mark, for the criteria it can hear: notes by pitch, rhythm by time and length, articulation by
 * attacks. Tone and dynamics are left to the director's ear.
 */
export function proposeMarks(assessment: Assessment): Partial<Record<Criterion, number>> {
  if (assessment.take.status !== "assessed" || assessment.notes.length === 0) return {};
  const played = assessment.notes.filter((note) => note.verdict !== "missed");
  const level = (good: number, all: number) =>
    4 - STEPS.filter((step) => good / Math.max(1, all) < step).length;
  const right = assessment.notes.filter((note) => note.verdict === "ok").length;
  const steady = played.filter(
    (note) =>
      note.timing !== "early" && note.timing !== "late" && note.length !== "short" && note.length !== "long",
  ).length;
  const clean = played.filter((note) => note.flags.length === 0).length;
  const pauses = assessment.breaks.length > 0 ? 1 : 0;
  return {
    notes: level(right, assessment.notes.length),
    rhythm: Math.max(1, level(steady, played.length) - pauses),
    articulation: level(clean, played.length),
  };
}
