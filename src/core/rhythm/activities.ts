import { attacksOf, beatsIn, type Form, formId, type Metre, slotsIn } from "./form";
import { seededRandom, shuffled } from "./random";

/** What a slot of a written answer is against what was heard. */
export type SlotMark = "right" | "missing" | "extra" | "empty";

/** Marks of a dictation, slot by slot: attacks only, since a clap has no length. */
export function checkDictation(heard: Form, written: string): { marks: SlotMark[]; right: boolean } {
  const marks = [...heard.cells].map((cell, slot): SlotMark => {
    const [struck, put] = [cell === "x", written[slot] === "x"];
    return struck ? (put ? "right" : "missing") : put ? "extra" : "empty";
  });
  return { marks, right: marks.every((mark) => mark === "right" || mark === "empty") };
}

/** Attacks tapped freely in time, moved to the nearest slot of a grid: a dictation written by tapping. */
export function slotsOfTaps(
  tapsSec: readonly number[],
  { metre, slotsPerBeat }: Pick<Form, "metre" | "slotsPerBeat">,
  bpm: number,
): string {
  const slots = slotsIn({ metre, slotsPerBeat });
  const slotSec = 60 / bpm / slotsPerBeat;
  const cells = Array<string>(slots).fill("-");
  for (const tap of tapsSec) {
    const slot = Math.round(tap / slotSec);
    if (slot >= 0 && slot < slots) cells[slot] = "x";
  }
  const first = cells.indexOf("x");
  return cells.map((cell, slot) => (first < 0 || slot < first ? "." : cell)).join("");
}

/** A bar with a hole, and pieces of which one fills it exactly. */
export interface FillTheBar {
  metre: Metre;
  slotsPerBeat: number;
  /** The bar; the hole is slots `from` to `to`. */
  cells: string;
  from: number;
  to: number;
  /** As cells; in the order shown. */
  pieces: string[];
  answer: number;
}

/** @param seed  the same bar and seed give the same hole and pieces */
export function fillTheBar(form: Form, seed: number): FillTheBar {
  const random = seededRandom(seed);
  const { slotsPerBeat, metre, cells } = form;
  const beats = beatsIn(metre);
  // The hole begins on a beat that is struck, so that no sound is cut.
  const starts = [...Array(beats).keys()].filter((beat) => beat > 0 && cells[beat * slotsPerBeat] !== "-");
  const first = starts.length > 0 ? starts[Math.floor(random() * starts.length)]! : 0;
  const ends = [...Array(beats).keys()]
    .map((beat) => beat + 1)
    .filter((end) => end > first && (end === beats || cells[end * slotsPerBeat] !== "-"));
  const end = ends[0]!;
  const [from, to] = [first * slotsPerBeat, end * slotsPerBeat];
  const length = to - from;
  const right = cells.slice(from, to);
  const wrong = [
    length - slotsPerBeat,
    length + slotsPerBeat,
    length + 2 * slotsPerBeat,
    length - 2 * slotsPerBeat,
  ]
    .filter((each) => each > 0 && each <= beats * slotsPerBeat)
    .map((each) => pieceOfLength(each, slotsPerBeat, random))
    .slice(0, 3);
  const pieces = shuffled([right, ...wrong], random);
  return { metre, slotsPerBeat, cells, from, to, pieces, answer: pieces.indexOf(right) };
}

/** Some rhythm of so many slots, struck at its beginning. */
function pieceOfLength(slots: number, slotsPerBeat: number, random: () => number): string {
  return Array.from({ length: slots }, (_, slot) =>
    slot === 0 || (slot % slotsPerBeat === 0 && random() < 0.7) || random() < 0.3 ? "x" : "-",
  ).join("");
}

/** The bar that is printed, another that is played, and the one beat in which they differ. */
export interface FindTheMistake {
  printed: Form;
  played: Form;
  /** From 0. */
  beat: number;
}

export function findTheMistake(form: Form, seed: number): FindTheMistake {
  const random = seededRandom(seed);
  const beats = shuffled([...Array(beatsIn(form.metre)).keys()], random);
  for (const beat of beats)
    for (const slot of shuffled(
      [...Array(form.slotsPerBeat).keys()].map((each) => beat * form.slotsPerBeat + each),
      random,
    )) {
      if (slot === 0) continue;
      const played = { ...form, cells: changedAt(form.cells, slot) };
      if (attacksOf(played).length > 0) return { printed: form, played, beat };
    }
  throw new RangeError("A bar of one place has no mistake to find");
}

/** An attack more, or one less, at a slot. What goes on after a silence falls silent too. */
function changedAt(cells: string, slot: number): string {
  const changed = [...cells];
  changed[slot] = cells[slot] === "x" ? (cells[slot - 1] === "." ? "." : "-") : "x";
  for (let i = slot + 1; i < changed.length && changed[i] === "-" && changed[i - 1] === "."; i++)
    changed[i] = ".";
  return changed.join("");
}

/** A pickup of so many slots: on which count does it begin? */
export interface StartingBeat {
  metre: Metre;
  slotsPerBeat: number;
  /** The pickup's own cells, the end of its bar. */
  pickup: string;
  /** Counts offered, such as "4", "& of 3"; in order. */
  options: string[];
  answer: number;
}

/** The end of a bar as a pickup: from an attack in its second half on, and three other places beside the right one. */
export function startingBeat(form: Form, seed: number): StartingBeat {
  const random = seededRandom(seed);
  const { metre, slotsPerBeat, cells } = form;
  const slots = cells.length;
  const late = attacksOf(form).filter((slot) => slot >= slots / 2);
  const start = late.length > 0 ? late[Math.floor(random() * late.length)]! : slots - slotsPerBeat;
  const pickup = late.length > 0 ? cells.slice(start) : `x${"-".repeat(slotsPerBeat - 1)}`;
  const step = slotsPerBeat % 2 === 0 ? slotsPerBeat / 2 : slotsPerBeat;
  const near = [-2, -1, 1, 2].map((by) => start + by * step).filter((slot) => slot > 0 && slot < slots);
  const others = shuffled(near, random).slice(0, 3);
  const places = [start, ...others].sort((a, b) => a - b);
  return {
    metre,
    slotsPerBeat,
    pickup,
    options: places.map((slot) => countName(slot, slotsPerBeat)),
    answer: places.indexOf(start),
  };
}

/**
 * "3", "& of 3", "a of 2": a place in the bar as it is said.
 * @example
 * [countName(0, 2), countName(3, 2)] // => ["1", "& of 2"]
 */
export function countName(slot: number, slotsPerBeat: number): string {
  const beat = Math.floor(slot / slotsPerBeat) + 1;
  const place = slot % slotsPerBeat;
  if (place === 0) return String(beat);
  const thirds = ["", "la", "li"];
  const words =
    slotsPerBeat === 2
      ? ["", "&"]
      : slotsPerBeat === 4
        ? ["", "e", "&", "a"]
        : slotsPerBeat === 3
          ? thirds
          : ["", "ta", "la", "ta", "li", "ta"];
  return `${words[place]} of ${beat}`;
}

/** Bars for a student to work through, easiest first, each with its own seed. */
export function seedOf(form: Form, seed: number): number {
  let mixed = seed;
  for (const letter of formId(form)) mixed = (Math.imul(mixed, 31) + letter.charCodeAt(0)) >>> 0;
  return mixed;
}
