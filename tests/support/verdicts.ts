import type { Assessment, NoteVerdict } from "../../src/core/listen";
import { type Score, timeline } from "../../src/core/score";

/** A spotless verdict of a part at 80 beats a minute, with some notes changed by their place, and more said of the take. */
export function spotless(
  part: Score,
  changes: Record<number, Partial<NoteVerdict>> = {},
  more: Partial<Assessment> = {},
): Assessment {
  const notes = timeline(part, { bpm: 80 }).notes.map(
    (note): NoteVerdict => ({
      index: note.index,
      eventId: note.eventId,
      measure: note.measure,
      beat: note.beat,
      verdict: "ok",
      kind: null,
      onset: note.onsetSec,
      offset: note.onsetSec + note.durationSec,
      playedMidi: note.midi,
      cents: 0,
      timing: "ok",
      timingMs: 0,
      length: "ok",
      lengthRatio: 0.95,
      flags: [],
      levelDb: 0,
      confidence: 1,
      ...changes[note.index],
    }),
  );
  return {
    engineVersion: "test",
    take: { status: "assessed", tempoBpm: 80, driftPercent: 0, tuningCents: 0, flags: [] },
    notes,
    extras: [],
    breaks: [],
    longTone: null,
    ...more,
  };
}
