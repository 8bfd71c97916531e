/** The seven letter names in scale order; a letter's index counts from C. */
export const LETTERS = ["C", "D", "E", "F", "G", "A", "B"] as const;
export type Letter = (typeof LETTERS)[number];

/** A spelled pitch: letter, chromatic alteration in semitones (-2..2) and octave (scientific, C4 is middle C). */
export interface Pitch {
  letter: Letter;
  alter: number;
  octave: number;
}

/** A directed interval: steps of the staff and semitones, both positive upwards. A major second up is (1, 2). */
export interface Interval {
  letters: number;
  semitones: number;
}

const SEMITONE_OF_LETTER = [0, 2, 4, 5, 7, 9, 11];
const ALTER_SIGN: Record<string, string> = { "-2": "𝄫", "-1": "♭", "0": "", "1": "♯", "2": "𝄪" };
const ALTER_ASCII: Record<string, string> = { "-2": "bb", "-1": "b", "0": "", "1": "#", "2": "##" };

/**
 * Reads scientific pitch notation such as "Bb3", "F#4", "E♭5".
 * @throws RangeError for anything else
 */
export function parsePitch(name: string): Pitch {
  const match = /^([A-G])(𝄫|𝄪|bb|##|♭|♯|b|#)?(-?\d)$/u.exec(name);
  if (!match) throw new RangeError(`"${name}" is not a pitch such as Bb3 or F#4`);
  const alter = { "𝄫": -2, bb: -2, "♭": -1, b: -1, "♯": 1, "#": 1, "𝄪": 2, "##": 2 }[match[2] ?? ""] ?? 0;
  return { letter: match[1] as Letter, alter, octave: Number(match[3]) };
}

/**
 * Name for people: "B♭3"; without the octave: "B♭".
 * @example
 * pitchName(parsePitch("Bb3")) // => "B♭3"
 */
export function pitchName(pitch: Pitch, withOctave = true): string {
  return pitch.letter + ALTER_SIGN[pitch.alter] + (withOctave ? pitch.octave : "");
}

/** Name in ASCII, the inverse of parsePitch: "Bb3". */
export function pitchId(pitch: Pitch): string {
  return pitch.letter + ALTER_ASCII[pitch.alter] + pitch.octave;
}

/** MIDI note number; C4 is 60, A4 is 69. */
export function pitchToMidi(pitch: Pitch): number {
  return 12 * (pitch.octave + 1) + SEMITONE_OF_LETTER[LETTERS.indexOf(pitch.letter)]! + pitch.alter;
}

/** Height on the staff in letter steps from C0; equal for every alteration of one letter. */
export function staffStep(pitch: Pitch): number {
  return 7 * pitch.octave + LETTERS.indexOf(pitch.letter);
}

/**
 * Moves a pitch by an interval and keeps the spelling the interval asks for.
 * @throws RangeError when that spelling needs more than a double accidental
 * @example
 * pitchName(transposePitch(parsePitch("Bb3"), { letters: 1, semitones: 2 })) // => "C4"
 */
export function transposePitch(pitch: Pitch, by: Interval): Pitch {
  const step = staffStep(pitch) + by.letters;
  const letterIndex = ((step % 7) + 7) % 7;
  const natural: Pitch = { letter: LETTERS[letterIndex]!, alter: 0, octave: Math.floor(step / 7) };
  const alter = pitchToMidi(pitch) + by.semitones - pitchToMidi(natural);
  if (Math.abs(alter) > 2)
    throw new RangeError(`${pitchName(pitch)} moved by that interval has no usable spelling`);
  return { ...natural, alter };
}

/** So many octaves up; down where negative. */
export function octavesUp(octaves: number): Interval {
  return { letters: 7 * octaves, semitones: 12 * octaves };
}

/** The same interval the other way round. */
export function invertInterval(by: Interval): Interval {
  return { letters: 0 - by.letters, semitones: 0 - by.semitones };
}

/**
 * Frequency of a note in twelve-tone equal temperament.
 *
 * @param midi  MIDI note number, fractions allowed (69 is A4)
 * @param a4Hz  tuning reference in Hz, 415 to 466; default 440
 * @returns frequency in Hz
 * @throws RangeError when a4Hz is out of range
 * Source: ISO 16:1975 for A4 = 440 Hz; f = a4 * 2^((midi - 69) / 12).
 */
export function midiToHz(midi: number, a4Hz = 440): number {
  if (!(a4Hz >= 415 && a4Hz <= 466))
    throw new RangeError("The tuning reference must lie between 415 and 466 Hz");
  return a4Hz * 2 ** ((midi - 69) / 12);
}

/**
 * MIDI note number (with fraction) of a frequency in Hz; the inverse of midiToHz.
 * @example
 * [hzToMidi(440), hzToMidi(442, 442)] // => [69, 69]
 */
export function hzToMidi(hz: number, a4Hz = 440): number {
  return 69 + 12 * Math.log2(hz / a4Hz);
}

const SHARP_SPELLING: [Letter, number][] = [
  ["C", 0],
  ["C", 1],
  ["D", 0],
  ["D", 1],
  ["E", 0],
  ["F", 0],
  ["F", 1],
  ["G", 0],
  ["G", 1],
  ["A", 0],
  ["A", 1],
  ["B", 0],
];
const FLAT_SPELLING: [Letter, number][] = [
  ["C", 0],
  ["D", -1],
  ["D", 0],
  ["E", -1],
  ["E", 0],
  ["F", 0],
  ["G", -1],
  ["G", 0],
  ["A", -1],
  ["A", 0],
  ["B", -1],
  ["B", 0],
];

/** A pitch for a MIDI number where no key says how to spell it: flats, and F♯ (the commonest names on beginners' charts). */
export function midiToPitch(midi: number): Pitch {
  return midi % 12 === 6 ? spellMidi(midi, 1) : spellMidi(midi, 0);
}

/**
 * Spells a heard (rounded) MIDI note the way a key would: flats in flat keys and in C, sharps in sharp keys.
 * @example
 * // The same key is E♭ in a flat signature and D♯ in a sharp one.
 * [pitchName(spellMidi(63, -2)), pitchName(spellMidi(63, 4))] // => ["E♭4", "D♯4"]
 */
export function spellMidi(midi: number, fifths: number): Pitch {
  const rounded = Math.round(midi);
  const [letter, alter] = (fifths > 0 ? SHARP_SPELLING : FLAT_SPELLING)[((rounded % 12) + 12) % 12]!;
  return { letter, alter, octave: Math.floor(rounded / 12) - 1 };
}
