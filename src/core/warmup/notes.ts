import { groupBy } from "../lists";
import { LETTERS, type Pitch, parsePitch, pitchToMidi, signatureAlter } from "../music";
import {
  addFractions,
  type Fraction,
  fraction,
  fractionToNumber,
  QUARTERS_OF_TYPE,
  sumFractions,
  type Token,
} from "../score";
import type { ConcertName, Tonguing, Value } from "./block";

/** A note or rest of a warm-up before ids, bars and octaves: concert pitch, length in quarter notes. */
export type Plain = Omit<Token, "id" | "kind"> & { kind?: "rest" };

/** Signature in which a chromatic tonic is written: at most six signs (circle of fifths). */
const FIFTHS_OF: Record<number, number> = {
  0: 0,
  1: -5,
  2: 2,
  3: -3,
  4: 4,
  5: -1,
  6: -6,
  7: 1,
  8: -4,
  9: 3,
  10: -2,
  11: 5,
};

/** Signature of the major key on a MIDI pitch class; flats where both spellings have as many signs. */
export function fifthsOn(midi: number): number {
  return FIFTHS_OF[((midi % 12) + 12) % 12]!;
}

/** A concert name in the octave from C4; @throws RangeError for what is no note name */
export function concertPitch(name: ConcertName): Pitch {
  return parsePitch(`${name}4`);
}

/**
 * A degree of a major scale in concert pitch, its tonic in the octave from C4.
 * @param degree  1 is the tonic, 8 its octave, 0 the leading note below
 */
export function degreePitch(fifths: number, degree: number): Pitch {
  const step = ((((4 * fifths) % 7) + 7) % 7) + degree - 1;
  const letter = LETTERS[((step % 7) + 7) % 7]!;
  return { letter, alter: signatureAlter(fifths, letter), octave: 4 + Math.floor(step / 7) };
}

export function quartersOf(value: Value): Fraction {
  return QUARTERS_OF_TYPE[value];
}

export function note(pitch: Pitch, duration: Fraction): Plain {
  return { pitch, duration };
}

/** Silence for so many counts, in plain rests, the longest first: three counts are a half rest and a quarter rest. */
export function rest(number: number): Plain[] {
  const values = [4, 2, 1, 0.5];
  const rests: Plain[] = [];
  for (let left = number; left > 0; ) {
    const value = values.find((each) => each <= left) ?? 0.5;
    rests.push({ kind: "rest", duration: counts(value) });
    left -= value;
  }
  return rests;
}

/** One slur over everything from the first to the last note. */
export function slurred(notes: Plain[]): Plain[] {
  const sounds = (each: Plain | undefined) => each !== undefined && each.kind !== "rest";
  return notes.map((each, i) => {
    if (!sounds(each)) return each;
    const [before, after] = [sounds(notes[i - 1]), sounds(notes[i + 1])];
    // Who rests on a step that is out of reach begins a new slur after it; a note alone has none.
    return {
      ...each,
      ...(!before && after ? { slurStart: 1 } : {}),
      ...(before && !after ? { slurStop: 1 } : {}),
    };
  });
}

/** Slurs bar by bar: what begins in one bar of four counts belongs together. */
export function slurredByBars(notes: Plain[]): Plain[] {
  let at = 0;
  const bars = groupBy(notes, (each) => {
    const bar = Math.floor(at / 4 + 1e-9);
    at += fractionToNumber(each.duration);
    return bar;
  });
  return [...bars.values()].flatMap(slurred);
}

/** The same notes in the ways of tonguing asked for, one after the other. */
export function inWays(notes: Plain[], tonguing: Tonguing, slur: (notes: Plain[]) => Plain[]): Plain[][] {
  switch (tonguing) {
    case "tongued":
      return [notes];
    case "slurred":
      return [slur(notes)];
    case "tongued-then-slurred":
      return [notes, slur(notes)];
    case "slurred-then-tongued":
      return [slur(notes), notes];
  }
}

/** Lengthens the last note so that the whole ends with a bar of four counts, the last note at least two counts long. */
export function filled(notes: Plain[]): Plain[] {
  const total = fractionToNumber(sumFractions(notes.map((each) => each.duration)));
  const last = notes.at(-1)!;
  const own = fractionToNumber(last.duration);
  const before = total - own;
  const end = 4 * Math.ceil((before + Math.max(2, own)) / 4 - 1e-9);
  // Eighths are the shortest value here: everything is a whole number of eighths.
  return [...notes.slice(0, -1), { ...last, duration: fraction(Math.round(2 * (end - before)), 2) }];
}

export function lengthOf(notes: readonly Plain[]): Fraction {
  return notes.reduce((sum, each) => addFractions(sum, each.duration), "0" as Fraction);
}

/**
 * Steps for a player who reaches only so many, in the same moments as the others: what lies above is played an octave
 * lower, or rested where it does not exist there or could only be reached by a leap.
 *
 * @param steps   degrees of a scale from 1 or semitones from 0, moving by one
 * @param reach   the highest step the player has
 * @param octave  steps to an octave: 7 degrees or 12 semitones
 * @param lowest  the lowest step
 */
export function folded(
  steps: readonly number[],
  reach: number,
  octave: 7 | 12,
  lowest = 1,
): (number | null)[] {
  let before: number | null = null;
  return steps.map((step) => {
    let low: number | null = step;
    while (low > reach) low -= octave;
    if (low < lowest || (before !== null && Math.abs(low - before) > 1)) low = null;
    before = low;
    return low;
  });
}

/** Strokes for drums: notes longer than a count become one stroke a count, sticking alternating right and left. */
export function asStrokes(notes: readonly Plain[]): Plain[] {
  let hand = 0;
  const stick = () => ["R", "L"][hand++ % 2]!;
  return notes.flatMap((each): Plain[] => {
    const { pitch: _pitch, slurStart: _start, slurStop: _stop, ...stroke } = each;
    if (each.kind === "rest") {
      hand = 0;
      return [each];
    }
    const counts = fractionToNumber(each.duration);
    if (counts <= 1 || !Number.isInteger(counts)) return [{ ...stroke, lyric: stick() }];
    return Array.from({ length: counts }, (_, i) => ({
      ...(i === 0 ? stroke : {}),
      duration: "1",
      lyric: stick(),
    }));
  });
}

export function repeatNotes(notes: Plain[], times: number): Plain[] {
  return Array.from({ length: times }, () => notes).flat();
}

export function midiOf(plain: Plain): number | null {
  return plain.pitch ? pitchToMidi(plain.pitch) : null;
}

/** A length given in counts, halves allowed. */
export function counts(number: number): Fraction {
  return fraction(Math.round(2 * number), 2);
}
