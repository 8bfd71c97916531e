import type { SoundingNote } from "../score";
import type { NoteVerdict } from "./types";

/** Where a verdict stands in the line. */
export function placeOf(note: SoundingNote): Pick<NoteVerdict, "index" | "eventId" | "measure" | "beat"> {
  return { index: note.index, eventId: note.eventId, measure: note.measure, beat: note.beat };
}

/** A note that was not played: everything that could be heard of it is null. */
export function missedNote(note: SoundingNote, confidence: number): NoteVerdict {
  return {
    ...placeOf(note),
    verdict: "missed",
    kind: null,
    onset: null,
    offset: null,
    playedMidi: null,
    cents: null,
    timing: null,
    timingMs: null,
    length: null,
    lengthRatio: null,
    flags: [],
    levelDb: null,
    confidence,
  };
}
