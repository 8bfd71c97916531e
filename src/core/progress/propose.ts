import type { Assessment } from "../listen";
import { isUneven, recordedNotes } from "./clean";

/** What a take is marked by where a band said nothing else. */
export const CRITERIA = ["notes", "rhythm", "tone", "articulation", "dynamics", "posture"] as const;
export type Criterion = (typeof CRITERIA)[number];

/** Share of good notes that earns 4, 3 and 2. */
const STEPS = [0.95, 0.85, 0.65];
/** A tempo that ends so far from where it began is no steady beat, percent. */
export const NOTICEABLE_DRIFT_PERCENT = 8;

/**
 * What the bench would mark, for the criteria it can hear: notes by pitch and by what is too many, rhythm by time and length, less one for pauses
 * and one for a beat that runs away or sags, articulation by attacks. Tone, dynamics and posture are left to the
 * director.
 */
export function proposeMarks(assessment: Assessment): Partial<Record<Criterion, number>> {
  const notes = recordedNotes(assessment.notes);
  if (assessment.take.status !== "assessed" || notes.length === 0) return {};
  const played = notes.filter((note) => note.verdict !== "missed");
  const level = (good: number, all: number) =>
    4 - STEPS.filter((step) => good / Math.max(1, all) < step).length;
  const right = notes.filter((note) => note.verdict === "ok").length;
  const even = played.filter((note) => !isUneven(note)).length;
  const unblemished = played.filter((note) => note.flags.length === 0).length;
  const less = (assessment.breaks.length > 0 ? 1 : 0) + (driftsNoticeably(assessment) ? 1 : 0);
  return {
    notes: level(right, notes.length + assessment.extras.length),
    rhythm: Math.max(1, level(even, played.length) - less),
    articulation: level(unblemished, played.length),
  };
}

/** The beat at the end is not that of the beginning. */
export function driftsNoticeably({ take }: Pick<Assessment, "take">): boolean {
  return take.driftPercent !== null && Math.abs(take.driftPercent) >= NOTICEABLE_DRIFT_PERCENT;
}
