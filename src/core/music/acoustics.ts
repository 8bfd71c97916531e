import type { FingeringCheck, HoleFingering } from "./fingering";
import type { NoteFinding } from "./instruments";
import { parsePitch, pitchToMidi } from "./pitch";

/**
 * Woodwind fingerings reasoned from the tube, independently of the charts.
 *
 * A tube speaks at its first open hole: each main finger that closes one more hole in an unbroken row from the top lowers
 * the note. Closing holes below an open one (a fork) lowers by about a semitone more. A key either opens a hole that is
 * otherwise closed (up) or closes one that is otherwise open (down). The low register so found sounds again an octave
 * higher, or a twelfth on the clarinet, when the register is changed by its key, a half-hole, a lifted finger, the lips;
 * the highest notes of the flute are its third and fourth partials.
 * Method: textbook acoustics of woodwinds (closed and open tubes, tone-hole lattice), from memory.
 */
interface Tube {
  /** Written note with so many of the six main holes closed in a row from the top, 0 to 6. */
  rows: readonly string[];
  /** Semitones that a key moves the note by, wherever it is pressed. */
  keys: Record<string, number>;
  /** Semitones a closed hole under an open one lowers by; on the oboe's upper joint a linkage raises instead. */
  fork: (row: number) => number;
  /** Semitones by which leaving the thumb off raises the note; 0 where the thumb does something else. */
  thumbOff: number;
  /** Semitones to the next register. */
  register: number;
  /** Nothing that changes the register may be there in the lowest one: true where a key does it, false where lips and air may. */
  lowOnly: boolean;
}

const LOWER = () => -1;
const TUBES: Record<Exclude<NoteFinding, "none" | object>, Tube> = {
  flute: {
    // Without the thumb one row shorter: B becomes C, none at all C♯.
    rows: ["C5", "B4", "A4", "G4", "F4", "E4", "D4"],
    keys: { "low C": -2, "low C♯": -1, "E♭": 1, "G♯": 1, "thumb B♭": -1 },
    fork: LOWER,
    thumbOff: 1,
    register: 12,
    lowOnly: false,
  },
  oboe: {
    rows: ["C5", "B4", "A4", "G4", "F#4", "E4", "D4"],
    keys: { "low C": -2, "C♯": -1, "E♭": 1, F: -1, "G♯": 1, "side octave": 0 },
    // The right first finger under an open upper joint works the rings: it raises A to B♭ and B to C.
    fork: (row) => (row <= 2 ? 1 : -1),
    thumbOff: 0,
    register: 12,
    lowOnly: true,
  },
  bassoon: {
    rows: ["F3", "E3", "D3", "C3", "B2", "A2", "G2"],
    // The little finger's F and the thumb's keys close further holes one after another; each is named with all above it.
    keys: {
      F: -2,
      "F♯": -1,
      "pancake E": -1,
      "low D": -2,
      "low C": -2,
      "low B": -1,
      "low B♭": -1,
      "E♭": 1,
      "C♯": 1,
      "G♯": 1,
      "B♭": 1,
    },
    fork: LOWER,
    thumbOff: 0,
    register: 12,
    lowOnly: false,
  },
  clarinet: {
    rows: ["F4", "E4", "D4", "C4", "Bb3", "A3", "G3"],
    keys: {
      "left E": -3,
      "right E": -3,
      "right F": -2,
      "left F": -2,
      "left F♯": -1,
      "right F♯": -1,
      "A♭": 1,
      "C♯": 1,
      "side B": 1,
      "side E♭": 1,
      "side F♯": 1,
      "G♯": 1,
      A: 2,
      "side B♭": 1,
    },
    fork: LOWER,
    thumbOff: 2,
    register: 19,
    lowOnly: true,
  },
  sax: {
    rows: ["C#5", "B4", "A4", "G4", "F4", "E4", "D4"],
    keys: {
      "low B♭": -4,
      "low B": -3,
      "low C": -2,
      "low C♯": -1,
      "E♭": 1,
      "G♯": 1,
      "side F♯": 1,
      "side B♭": 1,
      "side C": 1,
      bis: -1,
      "palm D": 1,
    },
    fork: LOWER,
    thumbOff: 0,
    register: 12,
    lowOnly: true,
  },
};

/** What the holes of a fingering say of its note in the lowest register. */
interface Reasoned {
  midi: number;
  /** Semitones by which the note was moved by what only vents in a high register: a fork, the thumb. */
  vents: number[];
}

function reasoned(how: keyof typeof TUBES, { fingers, extra, thumb }: HoleFingering): Reasoned {
  const tube = TUBES[how];
  // A half-hole, and the flute's lifted first finger over closed ones, are vents: the hole counts as closed.
  const lifted = how === "flute" && fingers[0] === false && fingers[1] === true;
  const closed = fingers.map((finger, i) => finger !== false || (lifted && i === 0));
  const open = closed.indexOf(false);
  const row = open < 0 ? closed.length : open;
  const fork = closed.slice(row).includes(true) ? tube.fork(row) : 0;
  const off = thumb ? 0 : tube.thumbOff;
  // Under closed holes the G♯ key of a flute is a vent; its E♭ key is held down everywhere and counts below them only.
  const without = how === "flute" ? (row === closed.length ? "G♯" : "E♭") : "";
  const keys = extra.reduce((sum, key) => sum + (key === without ? 0 : (tube.keys[key] ?? 0)), 0);
  return { midi: pitchToMidi(parsePitch(tube.rows[row]!)) + fork + off + keys, vents: [0, fork, off] };
}

/**
 * The written MIDI note that the open and closed holes of a fingering give in the lowest register.
 * @example
 * // Thumb and three fingers of a clarinet: C4.
 * lowestOf("clarinet", { kind: "holes", thumb: true, register: false, fingers: [true, true, true, false, false, false], extra: [] }) // => 60
 */
export function lowestOf(how: keyof typeof TUBES, fingering: HoleFingering): number {
  return reasoned(how, fingering).midi;
}

/** Semitones above the lowest register at which the third and fourth partials of the flute lie. */
const HIGH_PARTIALS = [19, 24];

/** Check values of the trade (common practice, no published source), by chart: written notes and their fingering as text. */
const OF_THE_TRADE: Record<keyof typeof TUBES, Record<string, string>> = {
  clarinet: {
    G3: "T 123 123",
    A3: "T 123 12-",
    F3: "T 123 123 right F",
    C5: "R T 123 123 right F",
    D5: "R T 123 123",
    E5: "R T 123 12-",
  },
  sax: { C5: "-2- ---", D5: "R 123 123" },
  flute: { D5: "T -23 123", Eb5: "T -23 123 E♭" },
  oboe: { "C#5": "½23 123 C♯", D5: "½23 123", Eb5: "½23 123 E♭" },
  bassoon: { "F#3": "T ½23 123 F♯", G3: "T ½23 123", Ab3: "T ½23 123 G♯" },
};

/** What speaks for a woodwind fingering of a note beside the memory it was written from; nothing when nothing does. */
export function checksOf(how: keyof typeof TUBES, midi: number, fingering: HoleFingering): FingeringCheck[] {
  const { midi: low, vents } = reasoned(how, fingering);
  const above = midi - low;
  const { register, lowOnly } = TUBES[how];
  const changed = changesRegister(how, fingering);
  const checks: FingeringCheck[] = [];
  if (above === 0 && !(lowOnly && changed)) checks.push("tone holes");
  // The clarinet's throat B♭ lends the register key as a vent to its A.
  if (how === "clarinet" && fingering.register && fingering.extra.includes("A") && above === 1)
    checks.push("tone holes");
  if (above === register && changed) checks.push("register");
  if (how === "flute" && HIGH_PARTIALS.some((partial) => vents.some((vent) => above === partial - vent)))
    checks.push("register");
  const taught = Object.entries(OF_THE_TRADE[how]).find(([name]) => pitchToMidi(parsePitch(name)) === midi);
  if (taught?.[1] === plainText(fingering)) checks.push("common practice");
  return checks;
}

/** Whether something is done that makes the tube speak in a higher register. On flute and bassoon lips and air do it alone. */
function changesRegister(
  how: keyof typeof TUBES,
  { register, fingers, extra, thumb }: HoleFingering,
): boolean {
  switch (how) {
    case "flute":
      return true;
    case "bassoon":
      return fingers[0] === "half" || !thumb;
    case "oboe":
      return register || fingers[0] === "half" || extra.includes("side octave");
    default:
      return register;
  }
}

function plainText({ register, thumb, fingers, extra }: HoleFingering): string {
  const hand = (from: number) =>
    [0, 1, 2]
      .map((i) => (fingers[from + i] === "half" ? "½" : fingers[from + i] ? String(i + 1) : "-"))
      .join("");
  return [register ? "R" : "", thumb ? "T" : "", hand(0), hand(3), ...extra].filter(Boolean).join(" ");
}
