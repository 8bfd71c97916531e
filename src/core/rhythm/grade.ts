import { type Form, isCompound } from "./form";
import { headsOf } from "./spell";

/** What makes a bar hard to count, and by how much. */
export interface Grade {
  /** From about 0 (a whole note) upwards; a week of lessons moves it by about 2. */
  grade: number;
  /** Hardest first, such as "2 attacks off the beat". */
  reasons: string[];
}

/** Weights, from memory of the order in which beginners meet things: attacks, off-beats, ties, dots, rests, sixteenths, metre. */
const WEIGHTS = {
  attack: 0.15,
  division: { 1: 0, 2: 1.5, 3: 3, 4: 4, 6: 4 } as Record<number, number>,
  offBeat: 0.25,
  /** An attack off the beat with nothing struck on that beat: it has to be counted, not felt. */
  unledOffBeat: 1.2,
  /** A note held over a stronger place than its own: eighth, quarter, eighth. */
  syncopation: 1.2,
  tie: 1.2,
  dot: 0.8,
  rest: 0.5,
  restOnBeat: 0.8,
  metre: { "4/4": 0, "2/4": 0, "3/4": 0.5, "2/2": 1.5, "6/8": 2.5, "9/8": 3.5, "12/8": 3.5 } as Record<
    string,
    number
  >,
};

/**
 * How hard a bar is to count: a sum, so that adding an attack off the beat, a tie, a dot or a rest never makes it easier.
 * The finest division counts only where it is heard.
 */
export function gradeOf(form: Form): Grade {
  const { cells, slotsPerBeat, metre } = form;
  const attacks = [...cells].filter((cell) => cell === "x").length;
  const division = divisionHeard(form);
  const off = [...cells].filter((cell, slot) => cell === "x" && slot % slotsPerBeat !== 0).length;
  const unled = unledOffBeats(form);
  const syncopated = syncopations(form);
  const heads = headsOf(form);
  const count = (holds: (head: (typeof heads)[number]) => boolean) => heads.filter(holds).length;
  const ties = count((head) => head.tied);
  // The beat of a compound metre is dotted by itself.
  const dots = isCompound(metre) ? 0 : count((head) => head.dotted && head.kind === "note");
  const rests = count((head) => head.kind === "rest");
  const silentBeats = [...cells].filter((cell, slot) => cell === "." && slot % slotsPerBeat === 0).length;
  const parts: [number, string][] = [
    [WEIGHTS.metre[`${metre.beats}/${metre.beatType}`] ?? 4, `${metre.beats}/${metre.beatType}`],
    [WEIGHTS.division[division] ?? 4, DIVISION_WORDS[division] ?? ""],
    [WEIGHTS.attack * attacks, plural(attacks, "attack")],
    [WEIGHTS.offBeat * off, `${plural(off, "attack")} off the beat`],
    [WEIGHTS.unledOffBeat * unled, `${plural(unled, "attack")} after a silent or held beat`],
    [WEIGHTS.syncopation * syncopated, plural(syncopated, "syncopation")],
    [WEIGHTS.tie * ties, plural(ties, "tie")],
    [WEIGHTS.dot * dots, plural(dots, "dotted note")],
    [WEIGHTS.rest * rests, plural(rests, "rest")],
    [WEIGHTS.restOnBeat * silentBeats, `${plural(silentBeats, "rest")} on a beat`],
  ];
  return {
    grade: Math.round(100 * parts.reduce((sum, [weight]) => sum + weight, 0)) / 100,
    reasons: parts
      .filter(([weight]) => weight > 0)
      .sort(([a], [b]) => b - a)
      .map(([, words]) => words),
  };
}

const DIVISION_WORDS: Record<number, string> = {
  2: "eighths",
  3: "thirds of the beat",
  4: "sixteenths",
  6: "sixteenths",
};

function plural(number: number, word: string): string {
  return `${number} ${word}${number === 1 ? "" : "s"}`;
}

/** The finest division of the beat at which something begins or ends. */
function divisionHeard({ cells, slotsPerBeat }: Form): number {
  let finest = 1;
  for (let slot = 0; slot < cells.length; slot++) {
    const changes = cells[slot] === "x" || (cells[slot] === "." && slot > 0 && cells[slot - 1] !== ".");
    const inBeat = slot % slotsPerBeat;
    if (!changes || inBeat === 0) continue;
    const needed =
      slotsPerBeat % 2 === 0 && inBeat * 2 === slotsPerBeat
        ? 2
        : slotsPerBeat === 6 && inBeat % 2 === 0
          ? 3
          : slotsPerBeat;
    finest = Math.max(finest, needed);
  }
  return finest;
}

/** Attacks off the beat whose beat was not struck itself. */
function unledOffBeats({ cells, slotsPerBeat }: Form): number {
  let found = 0;
  for (let slot = 0; slot < cells.length; slot++) {
    const inBeat = slot % slotsPerBeat;
    if (cells[slot] === "x" && inBeat > 0 && cells[slot - inBeat] !== "x") found++;
  }
  return found;
}

/** Notes that sound on over a stronger place than the one they are struck on: a beat, or the half of one in sixteenths. */
function syncopations({ cells, slotsPerBeat }: Form): number {
  const strength = (slot: number) => {
    const inBeat = slot % slotsPerBeat;
    if (inBeat === 0) return 2;
    return inBeat * 2 === slotsPerBeat ? 1 : 0;
  };
  let struck = 2;
  let counted = false;
  let found = 0;
  for (let slot = 0; slot < cells.length; slot++) {
    if (cells[slot] !== "-") {
      struck = cells[slot] === "x" ? strength(slot) : 2;
      counted = false;
    } else if (strength(slot) > struck && !counted) {
      found++;
      counted = true;
    }
  }
  return found;
}
