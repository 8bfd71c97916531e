import type { Instrument } from "./instruments";
import { type Pitch, parsePitch, pitchToMidi } from "./pitch";

/** Woodwind keys: which of the six main fingers are down, the thumb, the octave or register key, and named extra keys. */
export interface HoleFingering {
  kind: "holes";
  thumb: boolean;
  register: boolean;
  /** Left then right hand, three fingers each: true is down, "half" a half-covered hole. */
  fingers: (boolean | "half")[];
  extra: string[];
}
export interface ValveFingering {
  kind: "valves";
  /** Valves down, a subset of 1, 2, 3; empty is open. */
  valves: number[];
  partial: number;
  /** How far the nominal note lies from equal temperament before lips and slides correct it, cents, + is sharp. */
  cents: number;
}
export interface SlideFingering {
  kind: "slide";
  /** 1 to 7. */
  position: number;
  partial: number;
  /** How far the partial lies from equal temperament with the slide in the nominal position, cents, + is sharp. */
  cents: number;
}
export type Fingering = HoleFingering | ValveFingering | SlideFingering;

/** First choice, then alternates. `verified` is false where a chart was written from memory. */
export interface FingeringChoice {
  choices: Fingering[];
  verified: boolean;
}

/**
 * Fingerings or positions for a written note, first choice first; null where the instrument has none or the
 * chart does not reach. Brass follows from the harmonic series and the valve table (common practice, no
 * published source); woodwind charts below are from memory and marked unverified.
 */
export function fingeringFor(instrument: Instrument, written: Pitch): FingeringChoice | null {
  const how = instrument.fingering;
  if (how === "none") return null;
  if (typeof how === "string") {
    const text = CHARTS[how][pitchToMidi(written)];
    return text ? { choices: [readHoles(text)], verified: false } : null;
  }
  const choices = brassChoices(how.openPartials, pitchToMidi(written));
  if (choices.length === 0) return null;
  return {
    verified: true,
    choices: choices.map(({ partial, semitones }) =>
      how.series === "slide"
        ? { kind: "slide", position: semitones + 1, partial, cents: Math.round(partialCents(partial)) }
        : {
            kind: "valves",
            valves: VALVES_BY_SEMITONES[semitones]!,
            partial,
            cents: Math.round(partialCents(partial) + valveCents(VALVES_BY_SEMITONES[semitones]!)),
          },
    ),
  };
}

/** Fingering as a short text: "T 123 | 12-", "1-3", "open", "4th position". */
export function fingeringText(fingering: Fingering): string {
  switch (fingering.kind) {
    case "valves":
      return fingering.valves.length === 0 ? "open" : fingering.valves.join("-");
    case "slide":
      return `${["1st", "2nd", "3rd", "4th", "5th", "6th", "7th"][fingering.position - 1]} position`;
    case "holes": {
      const hand = (from: number) =>
        [0, 1, 2]
          .map((i) => ({ true: String(i + 1), false: "-", half: "½" })[String(fingering.fingers[from + i])])
          .join("");
      const head = [fingering.register ? "R" : "", fingering.thumb ? "T" : ""].filter(Boolean).join(" ");
      return [head, `${hand(0)} | ${hand(3)}`, ...fingering.extra.map((key) => `+ ${key}`)]
        .filter(Boolean)
        .join(" ");
    }
  }
}

/** Below this nobody asks a beginner to correct a note, cents. */
const TENDENCY_CENTS = 12;

/** What a brass player should expect of a note, such as "runs 32 cents sharp"; null where it lies well or is no brass. */
export function tendencyText(fingering: Fingering): string | null {
  if (fingering.kind === "holes" || Math.abs(fingering.cents) < TENDENCY_CENTS) return null;
  return `runs ${Math.abs(fingering.cents)} cents ${fingering.cents > 0 ? "sharp" : "flat"}`;
}

/** Valves for a fall of n semitones: 2 = 1, 1 = 2, 1-2 = 3, 2-3 = 4, 1-3 = 5, 1-2-3 = 6. */
const VALVES_BY_SEMITONES = [[], [2], [1], [1, 2], [2, 3], [1, 3], [1, 2, 3]];
/**
 * Deviation of a partial from equal temperament in cents: 1200 log2(n) against the nearest semitone.
 * From the definition of the harmonic series; the 5th is 14 flat, the 7th 31 flat.
 */
export function partialCents(partial: number): number {
  const cents = 1200 * Math.log2(partial);
  return cents - 100 * Math.round(cents / 100);
}

/**
 * How sharp a combination of valves runs, in cents. Each valve alone adds the length for its own fall (2 = 1 semitone,
 * 1 = 2, 3 = 3); together they fall short, since each length was cut for the open tube:
 * fall = 1200 log2(1 + sum of (2^(semitones / 12) - 1)).
 */
export function valveCents(valves: readonly number[]): number {
  const semitones = { 1: 2, 2: 1, 3: 3 } as Record<number, number>;
  const nominal = valves.reduce((sum, valve) => sum + semitones[valve]!, 0);
  const length = valves.reduce((sum, valve) => sum + 2 ** (semitones[valve]! / 12) - 1, 1);
  return 100 * nominal - 1200 * Math.log2(length);
}

/** Partials that run far from the tempered note: never a first choice. */
const SPARE_PARTIALS = new Set([7, 9]);

function brassChoices(openPartials: Record<number, string>, midi: number) {
  return Object.entries(openPartials)
    .map(([partial, name]) => ({ partial: Number(partial), semitones: pitchToMidi(parsePitch(name)) - midi }))
    .filter(({ semitones }) => semitones >= 0 && semitones <= 6)
    .sort(
      (a, b) =>
        Number(SPARE_PARTIALS.has(a.partial)) - Number(SPARE_PARTIALS.has(b.partial)) ||
        a.semitones - b.semitones,
    );
}

/** Reads the chart shorthand: "R" register or octave key, "T" thumb, six fingers with "-" for up and "h" for half, then extra keys. */
function readHoles(text: string): HoleFingering {
  const [fingers = "", ...rest] = text.split(" ").filter((word) => word !== "R" && word !== "T");
  const words = text.split(" ");
  return {
    kind: "holes",
    register: words.includes("R"),
    thumb: words.includes("T"),
    fingers: [...fingers].map((sign) => (sign === "h" ? "half" : sign !== "-")),
    extra: rest.map((word) => word.replace("_", " ")),
  };
}

function chart(rows: string): Record<number, string> {
  return Object.fromEntries(
    rows
      .trim()
      .split("\n")
      .map((row) => {
        const [note, ...fingering] = row.trim().split(/\s+/);
        return [pitchToMidi(parsePitch(note!)), fingering.join(" ")];
      }),
  );
}

// From memory, unverified. Fingers: left 1 2 3, right 1 2 3; "-" is up, "h" half-holed.
const CHARTS = {
  flute: chart(`
    D4  T 123123
    Eb4 T 123123 E♭
    E4  T 12312- E♭
    F4  T 1231-- E♭
    F#4 T 123--3 E♭
    G4  T 123--- E♭
    Ab4 T 123--- G♯ E♭
    A4  T 12---- E♭
    Bb4 T 1--1-- E♭
    B4  T 1----- E♭
    C5  1----- E♭
    Db5 ------ E♭
    D5  T -23123
    Eb5 T -23123 E♭
    E5  T 12312- E♭
    F5  T 1231-- E♭
    F#5 T 123--3 E♭
    G5  T 123--- E♭
    Ab5 T 123--- G♯ E♭
    A5  T 12---- E♭
    Bb5 T 1--1-- E♭
    B5  T 1----- E♭
    C6  1----- E♭
    D6  T -23--- E♭`),
  oboe: chart(`
    D4  123123
    Eb4 123123 E♭
    E4  12312-
    F4  1231-3
    F#4 1231--
    G4  123---
    Ab4 123--- G♯
    A4  12----
    Bb4 12-1--
    B4  1-----
    C5  1--1--
    D5  h23123
    Eb5 h23123 E♭
    E5  R 12312-
    F5  R 1231-3
    F#5 R 1231--
    G5  R 123---`),
  clarinet: chart(`
    E3  T 123123 E
    F3  T 123123 F
    F#3 T 123123 F♯
    G3  T 123123
    Ab3 T 123123 A♭
    A3  T 12312-
    Bb3 T 1231--
    B3  T 123-2-
    C4  T 123---
    C#4 T 123--- C♯
    D4  T 12----
    Eb4 T 12---- side_E♭
    E4  T 1-----
    F4  T ------
    F#4 1-----
    G4  ------
    Ab4 ------ G♯
    A4  ------ A
    Bb4 R ------ A
    B4  R T 123123 E
    C5  R T 123123 F
    C#5 R T 123123 F♯
    D5  R T 123123
    Eb5 R T 123123 A♭
    E5  R T 12312-
    F5  R T 1231--
    F#5 R T 123-2-
    G5  R T 123---`),
  sax: chart(`
    C4  123123 low_C
    D4  123123
    Eb4 123123 E♭
    E4  12312-
    F4  1231--
    F#4 123-2-
    G4  123---
    G#4 123--- G♯
    A4  12----
    Bb4 12---- side_B♭
    B4  1-----
    C5  -2----
    C#5 ------
    D5  R 123123
    Eb5 R 123123 E♭
    E5  R 12312-
    F5  R 1231--
    F#5 R 123-2-
    G5  R 123---
    G#5 R 123--- G♯
    A5  R 12----
    Bb5 R 12---- side_B♭`),
};
