import {
  barQuarters,
  beatOfMetre,
  type Fraction,
  fraction,
  fractionToNumber,
  multiplyFractions,
} from "../score";

export interface Metre {
  beats: number;
  beatType: number;
}

/**
 * A bar of rhythm on a grid: one sign a slot, "x" an attack, "-" a sound that goes on, "." silence. A bar that begins with
 * "-" is tied in from the bar before. Triplets are a grid of 3 in a simple metre.
 */
export interface Form {
  metre: Metre;
  slotsPerBeat: number;
  cells: string;
}

/** Metres a drill can be in; the beat of 6/8, 9/8 and 12/8 is the dotted quarter. */
export const METRES: readonly Metre[] = [
  { beats: 2, beatType: 4 },
  { beats: 3, beatType: 4 },
  { beats: 4, beatType: 4 },
  { beats: 2, beatType: 2 },
  { beats: 6, beatType: 8 },
  { beats: 9, beatType: 8 },
  { beats: 12, beatType: 8 },
];

export function isCompound(metre: Metre): boolean {
  return countedAs(metre).compound;
}

/** Beats as they are counted: 2 in 6/8. */
export function beatsIn(metre: Metre): number {
  return countedAs(metre).beats;
}

/** A page looks at thousands of bars in a few metres. */
const counted = new Map<string, { compound: boolean; beats: number }>();

function countedAs(metre: Metre): { compound: boolean; beats: number } {
  const name = `${metre.beats}/${metre.beatType}`;
  const known = counted.get(name);
  if (known) return known;
  const beat = beatOfMetre(metre);
  const answer = {
    compound: beat !== fraction(4, metre.beatType),
    beats: fractionToNumber(barQuarters(metre)) / fractionToNumber(beat),
  };
  counted.set(name, answer);
  return answer;
}

/** Grids that divide the beat of a metre: whole, halves, thirds, quarters; thirds and sixths in a compound metre. */
export function gridsOf(metre: Metre): readonly number[] {
  return isCompound(metre) ? [1, 3, 6] : [1, 2, 3, 4];
}

export function slotsIn({ metre, slotsPerBeat }: Pick<Form, "metre" | "slotsPerBeat">): number {
  return beatsIn(metre) * slotsPerBeat;
}

/** Quarter notes in one slot. */
export function slotQuarters({ metre, slotsPerBeat }: Pick<Form, "metre" | "slotsPerBeat">): Fraction {
  return multiplyFractions(beatOfMetre(metre), fraction(1, slotsPerBeat));
}

/**
 * One name a form has everywhere: "4/4:2:x-xxx-x-".
 * @example
 * formId({ metre: { beats: 4, beatType: 4 }, slotsPerBeat: 2, cells: "x-xxx-x-" }) // => "4/4:2:x-xxx-x-"
 */
export function formId({ metre, slotsPerBeat, cells }: Form): string {
  return `${metre.beats}/${metre.beatType}:${slotsPerBeat}:${cells}`;
}

/** @throws RangeError for a name that is no form of a metre and grid */
export function readForm(id: string): Form {
  const match = /^(\d+)\/(\d+):(\d):([x.-]+)$/.exec(id);
  const form = match && {
    metre: { beats: Number(match[1]), beatType: Number(match[2]) },
    slotsPerBeat: Number(match[3]),
    cells: match[4]!,
  };
  const known =
    form &&
    METRES.some(({ beats, beatType }) => beats === form.metre.beats && beatType === form.metre.beatType) &&
    gridsOf(form.metre).includes(form.slotsPerBeat) &&
    form.cells.length === slotsIn(form) &&
    !form.cells.includes(".-");
  if (!known) throw new RangeError(`"${id}" is no bar of rhythm`);
  return form;
}

/**
 * Slots at which something is struck.
 * @example
 * attacksOf(readForm("4/4:2:x-xxx-x-")) // => [0, 2, 3, 4, 6]
 */
export function attacksOf({ cells }: Form): number[] {
  return [...cells].flatMap((cell, slot) => (cell === "x" ? [slot] : []));
}
