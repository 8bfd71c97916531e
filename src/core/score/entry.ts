import { LETTERS, type Letter, type Pitch, pitchToMidi, signatureAlter, staffStep } from "../music";
import { type Frame, layInBars, type Token } from "./bars";
import {
  compareFractions,
  type Fraction,
  multiplyFractions,
  subtractFractions,
  sumFractions,
} from "./fraction";
import {
  type Articulation,
  barQuarters,
  type Dynamic,
  type Measure,
  type NoteType,
  type Part,
  type Score,
} from "./model";
import { durationOfShape } from "./shape";
import { metresOf } from "./timeline";

/**
 * A line while it is typed: tokens in a row, bars filled by themselves. Plain data; every key gives a new entry.
 *
 * Keys: letters a to g notes, r or space a rest; 1 2 4 8 6 the value (whole, half, quarter, eighth, sixteenth), "." a dot
 * for the next note, 3 a triplet; + and - raise and lower, = makes natural; arrow up and down move by a step, with Shift
 * by an octave; t ties, ( and ) begin and end a slur, ' staccato, > accent, _ tenuto, "," breath, ^ fermata; : repeats the bar's
 * section, ; is where that begins. Marks go to the note before the cursor.
 */
export interface Entry {
  about: Omit<Score, "parts">;
  part: Omit<Part, "measures">;
  frames: Frame[];
  tokens: Token[];
  /** How many tokens stand before the cursor. */
  cursor: number;
  value: NoteType;
  dotted: boolean;
  /** Notes of an open triplet still to come; 0 when none is open. */
  tripletLeft: number;
  /** The next note begins a slur. */
  slurWaits: boolean;
  nextId: number;
}

export interface NewLine {
  title: string;
  fifths: number;
  mode: "major" | "minor";
  time: { beats: number; beatType: number };
  /** Length of a pickup in quarter notes; null for none. */
  pickup: Fraction | null;
  bpm: number;
  /** Beat of the tempo mark in quarter notes. */
  beatQuarters: Fraction;
  unpitched?: boolean;
}

/** An empty line in concert pitch. @throws RangeError for a pickup that is no shorter than a bar */
export function beginEntry(line: NewLine): Entry {
  if (line.pickup !== null && compareFractions(line.pickup, barQuarters(line.time)) >= 0)
    throw new RangeError("A pickup is shorter than a bar");
  return {
    about: { title: line.title },
    part: {
      id: "P1",
      name: "Concert pitch",
      clef: line.unpitched ? "percussion" : "treble",
      soundsBy: { letters: 0, semitones: 0 },
    },
    frames: [
      {
        id: "m1",
        number: line.pickup ? "0" : "1",
        ...(line.unpitched ? {} : { key: { fifths: line.fifths, mode: line.mode } }),
        time: line.time,
        tempo: { beatQuarters: line.beatQuarters, bpm: line.bpm },
        ...(line.pickup ? { length: line.pickup } : {}),
      },
    ],
    tokens: [],
    cursor: 0,
    value: "quarter",
    dotted: false,
    tripletLeft: 0,
    slurWaits: false,
    nextId: 1,
  };
}

/** A line that exists, opened for typing at its end. Its ids stay with the notes. */
export function entryOf(score: Score): Entry {
  const { parts, ...about } = score;
  const { measures, ...part } = parts[0];
  const ids = measures.flatMap((measure) =>
    measure.events.map((event) => /^n(\d+)$/.exec(event.id)?.[1] ?? "0"),
  );
  const tokens = measures.flatMap((measure) =>
    measure.events.map(({ wholeMeasure: _whole, ...event }): Token => event),
  );
  return {
    about,
    part,
    frames: measures.map(({ events, ...frame }) =>
      frame.implicit ? { ...frame, length: sumFractions(events.map((event) => event.duration)) } : frame,
    ),
    tokens,
    cursor: tokens.length,
    value: "quarter",
    dotted: false,
    tripletLeft: 0,
    slurWaits: false,
    nextId: 1 + Math.max(0, ...ids.map(Number)),
  };
}

/**
 * The line as it stands: bars filled, ties closed where the next note has the same pitch.
 * @throws RangeError where a triplet crosses a barline
 */
export function scoreOfEntry(entry: Entry): Score {
  const tokens = entry.tokens.map((token, i): Token => {
    const { tieStart, tieStop: _stop, ...plain } = token;
    return {
      ...plain,
      ...(tieStart && samePitch(token, entry.tokens[i + 1]) ? { tieStart } : {}),
      ...(entry.tokens[i - 1]?.tieStart && samePitch(token, entry.tokens[i - 1])
        ? { tieStop: true as const }
        : {}),
    };
  });
  const measures = layInBars(tokens, entry.frames);
  const last = measures.at(-1)!;
  if (barLack(last, lastMetre(measures)) !== null) last.implicit = true;
  return { ...entry.about, parts: [{ ...entry.part, measures }] };
}

/** What the last bar lacks to be full, in quarter notes; null when it is full or completes the pickup. */
export function lackOf(score: Score): Fraction | null {
  const { measures } = score.parts[0];
  const lack = barLack(measures.at(-1)!, lastMetre(measures));
  const first = measures[0]!;
  if (
    lack === null ||
    (measures.length > 1 && first.implicit && compareFractions(lengthOf(first), lack) === 0)
  )
    return null;
  return lack;
}

function barLack(measure: Measure, time: { beats: number; beatType: number }): Fraction | null {
  const lack = subtractFractions(barQuarters(time), lengthOf(measure));
  return compareFractions(lack, "0") > 0 ? lack : null;
}

function lengthOf(measure: Measure): Fraction {
  return sumFractions(measure.events.map((event) => event.duration));
}

/** The metre in force at the end. */
function lastMetre(measures: Measure[]): { beats: number; beatType: number } {
  return metresOf(measures).at(-1) ?? { beats: 4, beatType: 4 };
}

function samePitch(a: Token, b: Token | undefined): boolean {
  if (!b || a.kind !== "note" || b.kind !== "note") return false;
  if (!a.pitch || !b.pitch) return a.pitch === b.pitch;
  return pitchToMidi(a.pitch) === pitchToMidi(b.pitch);
}

const VALUES: Record<string, NoteType> = {
  "1": "whole",
  "2": "half",
  "4": "quarter",
  "8": "eighth",
  "6": "16th",
};
const ARTICULATIONS: Record<string, Articulation> = { "'": "staccato", ">": "accent", _: "tenuto" };

/**
 * One key on the line; the same entry comes back when the key means nothing here. Key names are those of KeyboardEvent.
 * @throws RangeError where a triplet would cross a barline
 */
export function pressKey(entry: Entry, key: string): Entry {
  if (/^[a-g]$/i.test(key)) return insertNote(entry, key.toUpperCase() as Letter);
  if (VALUES[key]) return { ...entry, value: VALUES[key] };
  if (ARTICULATIONS[key]) return toggleArticulation(entry, ARTICULATIONS[key]);
  switch (key) {
    case "r":
    case "R":
    case " ":
      return insert(entry, { kind: "rest" });
    case ".":
      return { ...entry, dotted: !entry.dotted };
    case "3":
      return {
        ...entry,
        tripletLeft: entry.tripletLeft === 3 ? 0 : entry.tripletLeft === 0 ? 3 : entry.tripletLeft,
      };
    case "+":
    case "#":
      return alter(entry, 1);
    case "-":
      return alter(entry, -1);
    case "=":
      return onNote(entry, (token) =>
        token.pitch ? { ...token, pitch: { ...token.pitch, alter: 0 } } : token,
      );
    case "ArrowUp":
      return move(entry, 1);
    case "ArrowDown":
      return move(entry, -1);
    case "Shift+ArrowUp":
      return move(entry, 7);
    case "Shift+ArrowDown":
      return move(entry, -7);
    case "t":
    case "T":
      return onNote(entry, ({ tieStart, ...token }) => (tieStart ? token : { ...token, tieStart: true }));
    case "(":
      return { ...entry, slurWaits: !entry.slurWaits };
    case ")":
      return onNote(entry, ({ slurStop, ...token }) => (slurStop ? token : { ...token, slurStop: 1 }));
    case ",":
      return onNote(entry, ({ breath, ...token }) => (breath ? token : { ...token, breath: true }));
    case "^":
      return onNote(entry, ({ fermata, ...token }) => (fermata ? token : { ...token, fermata: true }));
    case ":":
      return onFrame(entry, ({ repeatEnd, ...frame }) =>
        repeatEnd ? frame : { ...frame, repeatEnd: { times: 2 } },
      );
    case ";":
      return onFrame(entry, ({ repeatStart, ...frame }) =>
        repeatStart ? frame : { ...frame, repeatStart: true },
      );
    case "Backspace":
      return entry.cursor === 0 ? entry : remove(entry, entry.cursor - 1);
    case "Delete":
      return entry.cursor === entry.tokens.length ? entry : remove(entry, entry.cursor);
    case "ArrowLeft":
      return { ...entry, cursor: Math.max(0, entry.cursor - 1) };
    case "ArrowRight":
      return { ...entry, cursor: Math.min(entry.tokens.length, entry.cursor + 1) };
    case "Home":
      return { ...entry, cursor: 0 };
    case "End":
      return { ...entry, cursor: entry.tokens.length };
    default:
      return entry;
  }
}

/** Sets the dynamic under the note before the cursor; null takes it away. */
export function setDynamic(entry: Entry, dynamic: Dynamic | null): Entry {
  return onNote(entry, ({ dynamic: _old, ...token }) => (dynamic ? { ...token, dynamic } : token));
}

function insertNote(entry: Entry, letter: Letter): Entry {
  if (entry.part.clef === "percussion") return insert(entry, { kind: "note" });
  const before = entry.tokens.slice(0, entry.cursor).findLast((token) => token.pitch)?.pitch;
  const octave = before ? nearestOctave(letter, before) : 4 + Number(LETTERS.indexOf(letter) < 2);
  const pitch: Pitch = { letter, octave, alter: alterInForce(entry, letter, octave) };
  return insert(entry, { kind: "note", pitch });
}

/** The octave in which the letter lies nearest the note before; of two equally near ones the lower. */
function nearestOctave(letter: Letter, before: Pitch): number {
  const distance = (octave: number) => Math.abs(staffStep({ letter, alter: 0, octave }) - staffStep(before));
  return [before.octave - 1, before.octave, before.octave + 1].reduce((best, octave) =>
    distance(octave) < distance(best) ? octave : best,
  );
}

/** An accidental holds to the barline, else the signature does. */
function alterInForce(entry: Entry, letter: Letter, octave: number): number {
  const { measure, events } = barAtCursor(entry);
  const earlier = events.findLast((event) => event.pitch?.letter === letter && event.pitch.octave === octave);
  if (earlier) return earlier.pitch!.alter;
  const fifths = entry.frames.slice(0, measure + 1).reduce((now, frame) => frame.key?.fifths ?? now, 0);
  return signatureAlter(fifths, letter);
}

/** The bar that the next note goes into, and what stands in it already. */
function barAtCursor(entry: Entry): { measure: number; events: Measure["events"] } {
  const laid = layInBars(entry.tokens.slice(0, entry.cursor), entry.frames);
  const last = laid.at(-1)!;
  const frame = entry.frames[laid.length - 1];
  const full = frame?.length ?? barQuarters(lastMetre(laid));
  return compareFractions(lengthOf(last), full) >= 0
    ? { measure: laid.length, events: [] }
    : { measure: laid.length - 1, events: last.events };
}

function insert(entry: Entry, what: Pick<Token, "kind" | "pitch">): Entry {
  const dots = entry.dotted ? 1 : 0;
  const plain = durationOfShape({ type: entry.value, dots });
  const triplet = entry.tripletLeft > 0;
  const token: Token = {
    id: `n${entry.nextId}`,
    ...what,
    type: entry.value,
    dots,
    duration: triplet ? multiplyFractions(plain, "2/3") : plain,
    ...(entry.slurWaits && what.kind === "note" ? { slurStart: 1 } : {}),
    ...(triplet
      ? {
          tuplet: {
            actual: 3,
            normal: 2,
            ...(entry.tripletLeft === 3 ? { start: true as const } : {}),
            ...(entry.tripletLeft === 1 ? { stop: true as const } : {}),
          },
        }
      : {}),
  };
  return {
    ...entry,
    tokens: entry.tokens.toSpliced(entry.cursor, 0, token),
    cursor: entry.cursor + 1,
    dotted: triplet && entry.tripletLeft > 1 ? entry.dotted : false,
    tripletLeft: triplet ? entry.tripletLeft - 1 : 0,
    slurWaits: entry.slurWaits && what.kind === "rest",
    nextId: entry.nextId + 1,
  };
}

/** A triplet goes as a whole: two thirds of it would leave a hole in the bar. */
function remove(entry: Entry, at: number): Entry {
  let [from, to] = [at, at + 1];
  if (entry.tokens[at]?.tuplet) {
    while (from > 0 && !entry.tokens[from]!.tuplet?.start && entry.tokens[from - 1]!.tuplet) from--;
    while (to < entry.tokens.length && entry.tokens[to]!.tuplet && !entry.tokens[to]!.tuplet!.start) to++;
  }
  return {
    ...entry,
    tokens: entry.tokens.toSpliced(from, to - from),
    cursor: Math.min(from, entry.cursor),
    tripletLeft: 0,
  };
}

/** Changes the note before the cursor; nothing happens on a rest or at the start. */
export function onNote(entry: Entry, change: (token: Token) => Token): Entry {
  const at = entry.cursor - 1;
  const token = entry.tokens[at];
  if (token?.kind !== "note") return entry;
  return { ...entry, tokens: entry.tokens.with(at, change(token)) };
}

/** Changes the bar in which the note before the cursor stands; nothing happens at the start. */
export function onFrame(entry: Entry, change: (frame: Frame) => Frame): Entry {
  if (entry.cursor === 0) return entry;
  const laid = layInBars(entry.tokens.slice(0, entry.cursor), entry.frames);
  const at = laid.length - 1;
  const frames = laid.map(({ events: _events, ...frame }, i): Frame => entry.frames[i] ?? frame);
  const rest = entry.frames.slice(laid.length);
  return { ...entry, frames: [...frames.with(at, change(frames[at]!)), ...rest] };
}

function toggleArticulation(entry: Entry, sign: Articulation): Entry {
  return onNote(entry, ({ articulations = [], ...token }) => {
    const now = articulations.includes(sign)
      ? articulations.filter((each) => each !== sign)
      : [...articulations, sign];
    return now.length > 0 ? { ...token, articulations: now } : token;
  });
}

function alter(entry: Entry, by: number): Entry {
  return onNote(entry, (token) => {
    if (!token.pitch || Math.abs(token.pitch.alter + by) > 2) return token;
    return { ...token, pitch: { ...token.pitch, alter: token.pitch.alter + by } };
  });
}

const LOWEST_OCTAVE = 1;
const HIGHEST_OCTAVE = 7;

/** Moves the note before the cursor along the staff: a step takes the signature's alteration, an octave keeps its own. */
function move(entry: Entry, steps: number): Entry {
  return onNote(entry, (token) => {
    if (!token.pitch) return token;
    const step = staffStep(token.pitch) + steps;
    const octave = Math.floor(step / 7);
    if (octave < LOWEST_OCTAVE || octave > HIGHEST_OCTAVE) return token;
    const letter = LETTERS[step % 7]!;
    const whole = steps % 7 === 0;
    const fifths = entry.frames[0]?.key?.fifths ?? 0;
    return {
      ...token,
      pitch: { letter, octave, alter: whole ? token.pitch.alter : signatureAlter(fifths, letter) },
    };
  });
}
