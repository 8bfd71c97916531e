import {
  barQuarters,
  beatOfMetre,
  fractionToNumber,
  type Measure,
  type ScoreEvent,
  subtractFractions,
  sumFractions,
} from "../score";
import { isCompound, type Metre } from "./form";

/**
 * A way of counting aloud, as data. By position: a syllable for every place in the beat, "{n}" standing for the number of the
 * beat. By value: a syllable for every note value, or several with blanks between, by its place in
 * the beat: "ti ri" says ti on the first of two sixteenths and ri on the second.
 */
export type CountingSystem = {
  id: string;
  name: string;
  /** Where it comes from, or "own". */
  source: string;
  /** What stands under rests: the syllable in brackets, or nothing. */
  rests: "brackets" | "silent";
  /** What stands under a head that is tied from the one before. */
  ties: "brackets" | "silent";
} & (
  | {
      kind: "position";
      /** Quarters of a simple beat. */
      simple: [string, string, string, string];
      /** Thirds of a simple beat. */
      triplet: [string, string, string];
      /** Sixths of a compound beat. */
      compound: [string, string, string, string, string, string];
    }
  | { kind: "value"; values: Record<string, string> }
);

/**
 * Takadimi: Hoffman, Pelto and White, "Takadimi: A Beat-Oriented System of Rhythm Pedagogy", Journal of Music Theory Pedagogy
 * 10 (1996): ta on every beat; ta-ka-di-mi for quarters, ta-ki-da for thirds, ta-va-ki-di-da-ma for sixths. The numbers and
 * the value syllables: from memory of common use; schools differ, so every syllable can be edited.
 */
export const COUNTING_SYSTEMS: readonly CountingSystem[] = [
  {
    id: "numbers",
    name: "1 e & a",
    source: "common use, from memory",
    kind: "position",
    simple: ["{n}", "e", "&", "a"],
    triplet: ["{n}", "la", "li"],
    compound: ["{n}", "ta", "la", "ta", "li", "ta"],
    rests: "brackets",
    ties: "brackets",
  },
  {
    id: "ta-ti",
    name: "ta, ti-ti",
    source: "common use, from memory",
    kind: "value",
    values: {
      whole: "ta-a-a-a",
      "dotted half": "ta-a-a",
      half: "ta-a",
      "dotted quarter": "ta-i",
      quarter: "ta",
      "dotted eighth": "tim",
      eighth: "ti",
      "16th": "ti ri",
      "triplet eighth": "tri o la",
      "triplet quarter": "tri-i",
    },
    rests: "silent",
    ties: "silent",
  },
  {
    id: "takadimi",
    name: "ta-ka-di-mi",
    source: "Hoffman, Pelto and White 1996",
    kind: "position",
    simple: ["ta", "ka", "di", "mi"],
    triplet: ["ta", "ki", "da"],
    compound: ["ta", "va", "ki", "di", "da", "ma"],
    rests: "silent",
    ties: "silent",
  },
];

/** An own system to begin with: one word for each beat, in syllables a class chose. */
export const OWN_WORDS: CountingSystem = {
  id: "own",
  name: "Own words",
  source: "own",
  kind: "position",
  simple: ["har", "bor", "lan", "tern"],
  triplet: ["is", "land", "bell"],
  compound: ["is", "-", "land", "-", "bell", "-"],
  rests: "silent",
  ties: "silent",
};

/** A syllable under a notehead or rest. */
export interface Syllable {
  eventId: string;
  text: string;
}

/**
 * Syllables of a part's heads and rests in one counting system. A pickup is counted from where it stands in its bar.
 * @returns nothing for heads that are silent in the system
 */
export function syllablesOf(measures: readonly Measure[], system: CountingSystem): Syllable[] {
  let metre: Metre = { beats: 4, beatType: 4 };
  return measures.flatMap((measure, index) => {
    metre = measure.time ?? metre;
    const beat = fractionToNumber(beatOfMetre(metre));
    const length = sumFractions(measure.events.map((event) => event.duration));
    let at =
      index === 0 && measure.implicit ? fractionToNumber(subtractFractions(barQuarters(metre), length)) : 0;
    return measure.events.flatMap((event): Syllable[] => {
      const place = at / beat;
      at += fractionToNumber(event.duration);
      if (event.grace) return [];
      const plain =
        system.kind === "value"
          ? valueAt(place * beat, event, system.values[valueName(event)])
          : syllableAt(place, metre, event, system);
      const text = shown(event, plain ?? "", system);
      return text ? [{ eventId: event.id, text }] : [];
    });
  });
}

function shown(event: ScoreEvent, text: string, system: CountingSystem): string {
  const quiet = event.kind === "rest" ? system.rests : event.tieStop ? system.ties : null;
  if (quiet === null || text === "") return text;
  return quiet === "brackets" ? `(${text})` : "";
}

/** The syllable of a value that has several, by how many of its length come before it. @param at  quarters from the bar's beginning */
function valueAt(at: number, event: ScoreEvent, syllables = ""): string {
  const choices = syllables.split(" ");
  const before = Math.round(at / fractionToNumber(event.duration));
  return choices[before % choices.length]!;
}

/** "dotted quarter", "triplet eighth". */
function valueName({ type, dots, tuplet }: ScoreEvent): string {
  return `${tuplet ? "triplet " : ""}${dots > 0 ? "dotted " : ""}${type}`;
}

/** The syllable of a place in the bar, counted in beats from 0. */
function syllableAt(
  place: number,
  metre: Metre,
  event: ScoreEvent,
  system: Extract<CountingSystem, { kind: "position" }>,
): string {
  const beat = Math.floor(place + 1e-6);
  const inBeat = place - beat;
  const table = isCompound(metre)
    ? system.compound
    : event.tuplet || isThird(inBeat)
      ? system.triplet
      : system.simple;
  const text = table[Math.round(inBeat * table.length)] ?? "";
  return text.replace("{n}", String(beat + 1));
}

function isThird(inBeat: number): boolean {
  return Math.abs(inBeat * 3 - Math.round(inBeat * 3)) < 1e-6 && inBeat > 1e-6;
}
