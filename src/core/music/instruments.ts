import { type Interval, invertInterval, type Pitch, parsePitch, staffStep, transposePitch } from "./pitch";

export type Family =
  | "flutes"
  | "double reeds"
  | "clarinets"
  | "saxes"
  | "high brass"
  | "low brass"
  | "strings"
  | "mallets"
  | "drums";
export type Clef = "treble" | "bass" | "percussion";
export type Stage = "making-a-sound" | "five-notes" | "small-tunes" | "widening";

/** Lowest and highest written note, scientific pitch notation. */
export type Range = readonly [low: string, high: string];

export interface Instrument {
  id: string;
  name: string;
  /** At most three letters, for strips and table heads. */
  short: string;
  family: Family;
  clef: Clef;
  /** From the written to the sounding pitch; all zero when it sounds as written. */
  soundsBy: Interval;
  /** Written ranges by how far a player is. Empty for unpitched instruments. */
  ranges: { fiveNotes: Range; firstYear: Range; secondYear: Range } | null;
  /** How notes are found: an own chart, the harmonic series with valves or slide, or no fingering. */
  fingering:
    | "flute"
    | "oboe"
    | "clarinet"
    | "sax"
    | "none"
    | { series: "valves" | "slide"; openPartials: Record<number, string> };
  /** Light legato tongue in slurs is correct (a slide would smear). */
  legatoTongue?: true;
}

const asWritten: Interval = { letters: 0, semitones: 0 };
const secondDown: Interval = { letters: -1, semitones: -2 };
const ninthDown: Interval = { letters: -8, semitones: -14 };
const sixthDown: Interval = { letters: -5, semitones: -9 };
const octaveAndSixthDown: Interval = { letters: -12, semitones: -21 };
const fifthDown: Interval = { letters: -4, semitones: -7 };
const octaveDown: Interval = { letters: -7, semitones: -12 };
const octaveUp: Interval = { letters: 7, semitones: 12 };
const twoOctavesUp: Interval = { letters: 14, semitones: 24 };

// Written open notes by partial; the 1st is no playing note for beginners, the flat 7th is never a first choice.
const trumpetSeries = { 2: "C4", 3: "G4", 4: "C5", 5: "E5", 6: "G5", 7: "Bb5", 8: "C6" };
const hornSeries = {
  2: "C3",
  3: "G3",
  4: "C4",
  5: "E4",
  6: "G4",
  7: "Bb4",
  8: "C5",
  9: "D5",
  10: "E5",
  12: "G5",
};
const tenorBrassSeries = { 2: "Bb2", 3: "F3", 4: "Bb3", 5: "D4", 6: "F4", 7: "Ab4", 8: "Bb4" };
const tubaSeries = { 2: "Bb1", 3: "F2", 4: "Bb2", 5: "D3", 6: "F3", 7: "Ab3", 8: "Bb3" };

const clarinetRanges = {
  fiveNotes: ["C4", "G4"],
  firstYear: ["F3", "C5"],
  secondYear: ["E3", "G5"],
} as const;
const saxRanges = { fiveNotes: ["G4", "D5"], firstYear: ["D4", "G5"], secondYear: ["Bb3", "D6"] } as const;
const trumpetRanges = {
  fiveNotes: ["C4", "G4"],
  firstYear: ["Bb3", "D5"],
  secondYear: ["G3", "G5"],
} as const;
const tenorBrassRanges = {
  fiveNotes: ["Bb2", "F3"],
  firstYear: ["F2", "D4"],
  secondYear: ["E2", "F4"],
} as const;
const fluteRanges = { fiveNotes: ["Bb4", "F5"], firstYear: ["F4", "D6"], secondYear: ["C4", "G6"] } as const;
const bassRanges = { fiveNotes: ["Bb2", "F3"], firstYear: ["E2", "C4"], secondYear: ["E2", "F4"] } as const;

/**
 * The instruments of a school band in score order. Transpositions: common practice, no published source.
 * Ranges by stage: from memory of common beginner practice; a director will be able to change them.
 */
export const INSTRUMENTS: readonly Instrument[] = [
  {
    id: "piccolo",
    name: "Piccolo",
    short: "pic",
    family: "flutes",
    clef: "treble",
    soundsBy: octaveUp,
    ranges: fluteRanges,
    fingering: "flute",
  },
  {
    id: "flute",
    name: "Flute",
    short: "fl",
    family: "flutes",
    clef: "treble",
    soundsBy: asWritten,
    ranges: fluteRanges,
    fingering: "flute",
  },
  {
    id: "oboe",
    name: "Oboe",
    short: "ob",
    family: "double reeds",
    clef: "treble",
    soundsBy: asWritten,
    ranges: { fiveNotes: ["Bb4", "F5"], firstYear: ["D4", "G5"], secondYear: ["C4", "C6"] },
    fingering: "oboe",
  },
  {
    id: "bassoon",
    name: "Bassoon",
    short: "bn",
    family: "double reeds",
    clef: "bass",
    soundsBy: asWritten,
    ranges: { fiveNotes: ["Bb2", "F3"], firstYear: ["F2", "D4"], secondYear: ["Bb1", "G4"] },
    fingering: "none",
  },
  {
    id: "clarinet-eb",
    name: "E♭ clarinet",
    short: "ecl",
    family: "clarinets",
    clef: "treble",
    soundsBy: { letters: 2, semitones: 3 },
    ranges: clarinetRanges,
    fingering: "clarinet",
  },
  {
    id: "clarinet",
    name: "B♭ clarinet",
    short: "cl",
    family: "clarinets",
    clef: "treble",
    soundsBy: secondDown,
    ranges: clarinetRanges,
    fingering: "clarinet",
  },
  {
    id: "clarinet-alto",
    name: "Alto clarinet",
    short: "acl",
    family: "clarinets",
    clef: "treble",
    soundsBy: sixthDown,
    ranges: { fiveNotes: ["G3", "D4"], firstYear: ["F3", "C5"], secondYear: ["E3", "G5"] },
    fingering: "clarinet",
  },
  {
    id: "clarinet-bass",
    name: "Bass clarinet",
    short: "bcl",
    family: "clarinets",
    clef: "treble",
    soundsBy: ninthDown,
    ranges: clarinetRanges,
    fingering: "clarinet",
  },
  {
    id: "sax-soprano",
    name: "Soprano sax",
    short: "ss",
    family: "saxes",
    clef: "treble",
    soundsBy: secondDown,
    ranges: { ...saxRanges, fiveNotes: ["C5", "G5"] },
    fingering: "sax",
  },
  {
    id: "sax-alto",
    name: "Alto sax",
    short: "as",
    family: "saxes",
    clef: "treble",
    soundsBy: sixthDown,
    ranges: saxRanges,
    fingering: "sax",
  },
  {
    id: "sax-tenor",
    name: "Tenor sax",
    short: "ts",
    family: "saxes",
    clef: "treble",
    soundsBy: ninthDown,
    ranges: { ...saxRanges, fiveNotes: ["C5", "G5"] },
    fingering: "sax",
  },
  {
    id: "sax-bari",
    name: "Baritone sax",
    short: "bs",
    family: "saxes",
    clef: "treble",
    soundsBy: octaveAndSixthDown,
    ranges: saxRanges,
    fingering: "sax",
  },
  {
    id: "trumpet",
    name: "Trumpet",
    short: "tp",
    family: "high brass",
    clef: "treble",
    soundsBy: secondDown,
    ranges: trumpetRanges,
    fingering: { series: "valves", openPartials: trumpetSeries },
  },
  {
    id: "flugelhorn",
    name: "Flugelhorn",
    short: "fgh",
    family: "high brass",
    clef: "treble",
    soundsBy: secondDown,
    ranges: trumpetRanges,
    fingering: { series: "valves", openPartials: trumpetSeries },
  },
  {
    id: "horn",
    name: "Horn in F",
    short: "hn",
    family: "high brass",
    clef: "treble",
    soundsBy: fifthDown,
    ranges: { fiveNotes: ["F4", "C5"], firstYear: ["Bb3", "D5"], secondYear: ["G3", "G5"] },
    fingering: { series: "valves", openPartials: hornSeries },
  },
  {
    id: "trombone",
    name: "Trombone",
    short: "tb",
    family: "low brass",
    clef: "bass",
    soundsBy: asWritten,
    ranges: tenorBrassRanges,
    fingering: { series: "slide", openPartials: tenorBrassSeries },
    legatoTongue: true,
  },
  {
    id: "euphonium",
    name: "Euphonium",
    short: "eu",
    family: "low brass",
    clef: "bass",
    soundsBy: asWritten,
    ranges: tenorBrassRanges,
    fingering: { series: "valves", openPartials: tenorBrassSeries },
  },
  {
    id: "euphonium-treble",
    name: "Euphonium (treble clef)",
    short: "eut",
    family: "low brass",
    clef: "treble",
    soundsBy: ninthDown,
    ranges: trumpetRanges,
    fingering: { series: "valves", openPartials: trumpetSeries },
  },
  {
    id: "tuba",
    name: "Tuba",
    short: "tu",
    family: "low brass",
    clef: "bass",
    soundsBy: asWritten,
    ranges: { fiveNotes: ["Bb1", "F2"], firstYear: ["F1", "D3"], secondYear: ["E1", "F3"] },
    fingering: { series: "valves", openPartials: tubaSeries },
  },
  {
    id: "string-bass",
    name: "String bass",
    short: "sb",
    family: "strings",
    clef: "bass",
    soundsBy: octaveDown,
    ranges: bassRanges,
    fingering: "none",
  },
  {
    id: "bass-guitar",
    name: "Bass guitar",
    short: "bg",
    family: "strings",
    clef: "bass",
    soundsBy: octaveDown,
    ranges: bassRanges,
    fingering: "none",
  },
  {
    id: "bells",
    name: "Bells",
    short: "be",
    family: "mallets",
    clef: "treble",
    soundsBy: twoOctavesUp,
    ranges: { fiveNotes: ["Bb3", "F4"], firstYear: ["G3", "F5"], secondYear: ["G3", "C6"] },
    fingering: "none",
  },
  {
    id: "xylophone",
    name: "Xylophone",
    short: "xy",
    family: "mallets",
    clef: "treble",
    soundsBy: octaveUp,
    ranges: { fiveNotes: ["Bb4", "F5"], firstYear: ["F4", "F5"], secondYear: ["F4", "C6"] },
    fingering: "none",
  },
  {
    id: "snare",
    name: "Snare drum",
    short: "sn",
    family: "drums",
    clef: "percussion",
    soundsBy: asWritten,
    ranges: null,
    fingering: "none",
  },
  {
    id: "bass-drum",
    name: "Bass drum",
    short: "bd",
    family: "drums",
    clef: "percussion",
    soundsBy: asWritten,
    ranges: null,
    fingering: "none",
  },
];

const byId = new Map(INSTRUMENTS.map((instrument) => [instrument.id, instrument]));

/** @throws RangeError for an unknown id */
export function instrumentById(id: string): Instrument {
  const instrument = byId.get(id);
  if (!instrument) throw new RangeError(`There is no instrument "${id}"`);
  return instrument;
}

/** From the sounding to the written pitch of an instrument. */
export function writtenInterval(instrument: Instrument): Interval {
  return invertInterval(instrument.soundsBy);
}

/** The written range used for a stage: the first two stages work on five notes, small tunes on the first year's. */
export function stageRange(instrument: Instrument, stage: Stage): { low: Pitch; high: Pitch } | null {
  if (!instrument.ranges) return null;
  const range = {
    "making-a-sound": "fiveNotes",
    "five-notes": "fiveNotes",
    "small-tunes": "firstYear",
    widening: "secondYear",
  } as const;
  const [low, high] = instrument.ranges[range[stage]];
  return { low: parsePitch(low), high: parsePitch(high) };
}

/** The written note of an instrument for a concert pitch; the octave follows the instrument's transposition. */
export function writtenFor(instrument: Instrument, concert: Pitch): Pitch {
  return transposePitch(concert, writtenInterval(instrument));
}

/** Highest written note of the clarinet's lower register, B♭4: the next one up takes the register key and all fingers. */
const BELOW_THE_BREAK = 70;

/** Whether the step between two written MIDI notes crosses the break of a clarinet; never for other instruments. */
export function crossesBreak(instrument: Instrument, a: number, b: number): boolean {
  return (
    instrument.family === "clarinets" && Math.min(a, b) <= BELOW_THE_BREAK && Math.max(a, b) > BELOW_THE_BREAK
  );
}

const BOTTOM_LINES: Record<Clef, string> = { treble: "E4", bass: "G2", percussion: "E4" };

/** Height of a written note on its staff in letter steps: 0 is the bottom line, 8 the top line, -2 the first ledger line below. */
export function staffPosition(pitch: Pitch, clef: Clef): number {
  return staffStep(pitch) - staffStep(parsePitch(BOTTOM_LINES[clef]));
}
