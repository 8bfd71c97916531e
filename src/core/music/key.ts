import { type Interval, type Letter, type Pitch, parsePitch } from "./pitch";

const ORDER_OF_SHARPS: Letter[] = ["F", "C", "G", "D", "A", "E", "B"];
const MAJOR_NAMES = ["C♭", "G♭", "D♭", "A♭", "E♭", "B♭", "F", "C", "G", "D", "A", "E", "B", "F♯", "C♯"];
const MINOR_NAMES = ["A♭", "E♭", "B♭", "F", "C", "G", "D", "A", "E", "B", "F♯", "C♯", "G♯", "D♯", "A♯"];

/**
 * Name of a key by its signature: fifths -7..7, negative for flats.
 * @example
 * [keyName(-2), keyName(0, "minor")] // => ["B♭ major", "A minor"]
 */
export function keyName(fifths: number, mode: "major" | "minor" = "major"): string {
  return `${(mode === "major" ? MAJOR_NAMES : MINOR_NAMES)[fifths + 7]} ${mode}`;
}

/**
 * The tonic of a key, in the octave from C4.
 * @example
 * // Three flats: E♭ major or C minor.
 * [pitchName(keyTonic(-3, "major")), pitchName(keyTonic(-3, "minor"))] // => ["E♭4", "C4"]
 */
export function keyTonic(fifths: number, mode: "major" | "minor"): Pitch {
  return parsePitch(`${keyName(fifths, mode).split(" ")[0]}4`);
}

/**
 * What the signature does to a letter: -1 flat, 0 natural, 1 sharp.
 * @example
 * // Two flats: B and E.
 * [signatureAlter(-2, "E"), signatureAlter(-2, "A")] // => [-1, 0]
 */
export function signatureAlter(fifths: number, letter: Letter): number {
  const place = ORDER_OF_SHARPS.indexOf(letter);
  if (fifths > 0 && place < fifths) return 1;
  if (fifths < 0 && 6 - place < -fifths) return -1;
  return 0;
}

/**
 * How far an interval moves a key on the circle of fifths.
 * From the definition of a fifth as (4 letters, 7 semitones): fifths = 7 * semitones - 12 * letters.
 * @example
 * // A major second up adds two sharps, or takes two flats away.
 * fifthsOfInterval({ letters: 1, semitones: 2 }) // => 2
 */
export function fifthsOfInterval(by: Interval): number {
  return 7 * by.semitones - 12 * by.letters;
}
