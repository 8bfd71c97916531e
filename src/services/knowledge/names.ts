import {
  fifthsOfInterval,
  instrumentById,
  type Pitch,
  pitchName,
  spellMidi,
  writtenInterval,
} from "../../core/music";
import type { Thing } from "../../core/progress";

/** A written note of an instrument, spelled as in its part of concert B♭ major, the key of the first lines. */
export function writtenPitch(midi: number, instrumentId: string): Pitch {
  return spellMidi(midi, -2 + fifthsOfInterval(writtenInterval(instrumentById(instrumentId))));
}

/** A thing as a person reads it: a written note by name, the rest by its words. */
export function nameOf({ kind, thing }: Thing, instrumentId: string | null): string {
  if (kind !== "note" || instrumentId === null) return thing;
  return pitchName(writtenPitch(Number(thing), instrumentId));
}
