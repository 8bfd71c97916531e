import {
  type Instrument,
  type Pitch,
  parsePitch,
  pitchToMidi,
  type Stage,
  staffStep,
  transposePitch,
  writtenFor,
} from "../music";
import type { Score } from "./model";

/** The five notes most beginners start on, in concert pitch (common practice, no published source). */
const FIVE_NOTES = ["Bb3", "C4", "D4", "Eb4", "F4"];
/** What small tunes add before the widening stage: the rest of the concert B♭ scale up to its octave, and A below. */
const SMALL_TUNE_NOTES = [...FIVE_NOTES, "G4", "A4", "Bb4", "A3"];

/** Every written note a part uses, once each, lowest first. */
export function notesUsed(part: Score): Pitch[] {
  const used = new Map<string, Pitch>();
  for (const measure of part.parts[0].measures) {
    for (const event of measure.events) {
      if (event.pitch) used.set(`${staffStep(event.pitch)}/${event.pitch.alter}`, event.pitch);
    }
  }
  return [...used.values()].sort((a, b) => pitchToMidi(a) - pitchToMidi(b));
}

/** Written notes a player of this stage has met before a line is opened, as MIDI numbers. */
export function notesMetAtStage(instrument: Instrument, stage: Stage): Set<number> {
  if (!instrument.ranges || stage === "making-a-sound" || stage === "five-notes") return new Set();
  const concert = (stage === "small-tunes" ? FIVE_NOTES : SMALL_TUNE_NOTES).map((name) =>
    writtenFor(instrument, parsePitch(name)),
  );
  const lowest = pitchToMidi(parsePitch(instrument.ranges.fiveNotes[0]));
  const octaves = Math.round((lowest - pitchToMidi(concert[0]!)) / 12);
  return new Set(
    concert.map((pitch) =>
      pitchToMidi(transposePitch(pitch, { letters: 7 * octaves, semitones: 12 * octaves })),
    ),
  );
}

/** Written notes of a part that a player of this stage has not met. */
export function newNotes(part: Score, instrument: Instrument, stage: Stage): Pitch[] {
  const met = notesMetAtStage(instrument, stage);
  return notesUsed(part).filter((pitch) => !met.has(pitchToMidi(pitch)));
}
