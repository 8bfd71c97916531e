import { addFractions, compareFractions, type Fraction, fraction, multiplyFractions } from "./fraction";
import type { NoteType } from "./model";

/** Quarter notes in a plain note value. */
export const QUARTERS_OF_TYPE: Record<NoteType, Fraction> = {
  breve: "8",
  whole: "4",
  half: "2",
  quarter: "1",
  eighth: "1/2",
  "16th": "1/4",
  "32nd": "1/8",
};

/**
 * Quarter notes in a plain or dotted value.
 * @example
 * durationOfShape({ type: "half", dots: 1 }) // => "3"
 */
export function durationOfShape({ type, dots }: { type: NoteType; dots: number }): Fraction {
  return multiplyFractions(QUARTERS_OF_TYPE[type], fraction(2 ** (dots + 1) - 1, 2 ** dots));
}

/**
 * The plain or dotted note value of a duration; the nearest shorter one when there is none.
 * @example
 * [shapeOfDuration("3/2"), shapeOfDuration("5/2")] // => [{ type: "quarter", dots: 1 }, { type: "half", dots: 0 }]
 */
export function shapeOfDuration(duration: Fraction): { type: NoteType; dots: number } {
  for (const [type, quarters] of Object.entries(QUARTERS_OF_TYPE) as [NoteType, Fraction][]) {
    const dotted = addFractions(quarters, half(quarters));
    const doubleDotted = addFractions(dotted, half(half(quarters)));
    if (compareFractions(duration, doubleDotted) === 0) return { type, dots: 2 };
    if (compareFractions(duration, dotted) === 0) return { type, dots: 1 };
    if (compareFractions(duration, quarters) >= 0) return { type, dots: 0 };
  }
  return { type: "32nd", dots: 0 };
}

export function half(value: Fraction): Fraction {
  return multiplyFractions(value, "1/2");
}
