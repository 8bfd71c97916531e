import { type Fingering, fingeringFor, type Instrument, signatureAlter, spellMidi } from "../music";
import type { SoundingNote } from "../score";
import type { NoteVerdict } from "./types";

/** Names a wrong pitch, the most telling reason first. `off` is in semitones, played minus expected. */
export function wrongKind(
  note: SoundingNote,
  off: number,
  instrument: Instrument | undefined,
): NoteVerdict["kind"] {
  const semitones = Math.round(off);
  const written = note.written;
  if (written) {
    const bySignature = signatureAlter(note.fifths, written.letter);
    if (bySignature !== 0 && written.alter === bySignature && semitones === -bySignature)
      return "key-signature";
  }
  if (Math.abs(off) % 12 < 0.5 || Math.abs(off) % 12 > 11.5) return "octave";
  if (instrument && written && samePartialFamily(instrument, note, semitones)) return "partial";
  return Math.abs(semitones) === 1 ? "semitone" : "other";
}

/** Whether the played note comes out of the fingering of the expected one. */
function samePartialFamily(instrument: Instrument, note: SoundingNote, semitones: number): boolean {
  if (typeof instrument.fingering === "string" || !note.written) return false;
  const expected = fingeringFor(instrument, note.written)?.choices[0];
  const midi = spellMidi(note.midi! - instrument.soundsBy.semitones + semitones, note.fifths);
  return Boolean(
    expected && fingeringFor(instrument, midi)?.choices.some((choice) => hand(choice) === hand(expected)),
  );
}

function hand(fingering: Fingering): string {
  return fingering.kind === "slide"
    ? String(fingering.position)
    : fingering.kind === "valves"
      ? fingering.valves.join()
      : "";
}
