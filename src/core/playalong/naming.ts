import { LETTERS, type Pitch, pitchName, signatureAlter } from "../music";
import type { SoundingNote } from "../score";

/** What is called while a line is sung or fingered: letter names, movable do, scale numbers, the words, or the count. */
export type Naming = "letters" | "solfege" | "numbers" | "words" | "count";

const SOLFEGE = ["do", "re", "mi", "fa", "sol", "la", "ti"];
/** Movable do for notes a semitone above and below the scale (common practice, no published source). */
const RAISED = ["di", "ri", "mi", "fi", "si", "li", "ti"];
const LOWERED = ["do", "ra", "me", "fe", "se", "le", "te"];
const COUNT = new Map([
  [0, ""],
  [0.25, "e"],
  [0.5, "&"],
  [0.75, "a"],
]);

/** The name of a note in its written key. Without a pitch or a word the count is called. */
export function noteName(
  note: Pick<SoundingNote, "beat" | "written" | "fifths" | "lyric">,
  naming: Naming,
): string {
  const count = countName(note.beat);
  if (naming === "count" || !note.written) return count;
  if (naming === "words") return note.lyric ?? count;
  if (naming === "letters") return pitchName(note.written, false);
  const { degree, alter } = scaleDegree(note.written, note.fifths);
  if (naming === "numbers") return `${alter < 0 ? "♭" : alter > 0 ? "♯" : ""}${degree + 1}`;
  return (alter > 0 ? RAISED : alter < 0 ? LOWERED : SOLFEGE)[degree]!;
}

/** Beat number on the beat; "e", "&", "a" between; the nearest of them elsewhere. */
function countName(beat: number): string {
  const whole = Math.floor(beat + 1e-6);
  const between = Math.round(4 * (beat - whole)) / 4;
  if (between === 1) return String(whole + 1);
  return COUNT.get(between) || String(whole);
}

/** Degree 0 to 6 above the major tonic of the signature, and the semitones by which it leaves the scale. */
function scaleDegree(pitch: Pitch, fifths: number): { degree: number; alter: number } {
  const tonic = (((4 * fifths) % 7) + 7) % 7;
  return {
    degree: (LETTERS.indexOf(pitch.letter) - tonic + 7) % 7,
    alter: pitch.alter - signatureAlter(fifths, pitch.letter),
  };
}
