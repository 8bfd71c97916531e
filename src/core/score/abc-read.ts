import { LETTERS, type Letter, type Pitch, signatureAlter } from "../music";
import {
  addFractions,
  compareFractions,
  type Fraction,
  fraction,
  multiplyFractions,
  sumFractions,
} from "./fraction";
import { barQuarters, type Measure, type Part, type ScoreEvent } from "./model";
import type { ScoreReading } from "./musicxml-read";
import { shapeOfDuration } from "./shape";
import { ScoreReadError } from "./xml-tree";

const LONGEST_TEXT = 200_000;

/** Fifths of the major key of each letter, and what each mode takes off. */
const MAJOR_FIFTHS: Record<string, number> = { C: 0, G: 1, D: 2, A: 3, E: 4, B: 5, F: -1 };
const MODE_FIFTHS: Record<string, number> = {
  "": 0,
  maj: 0,
  ion: 0,
  mix: -1,
  dor: -2,
  m: -3,
  min: -3,
  aeo: -3,
  phr: -4,
  loc: -5,
  lyd: 1,
};

interface Header {
  title: string;
  composer: string | undefined;
  time: { beats: number; beatType: number };
  unit: Fraction;
  tempo: { beatQuarters: Fraction; bpm: number } | undefined;
  key: { fifths: number; mode: "major" | "minor" };
}

/** What runs on while the music is read. */
interface Running {
  header: Header;
  measures: Measure[];
  open: Measure;
  /** Accidentals of the bar so far, by letter and octave. */
  altered: Map<string, number>;
  tie: boolean;
  slursToOpen: number;
  tuplet: { actual: number; normal: number; left: number; first: boolean } | null;
  /** Broken rhythm waiting for its second note. */
  broken: Fraction | null;
  staccato: boolean;
  ending: number[] | null;
  notUnderstood: Set<string>;
  line: number;
}

/**
 * Reads one tune in ABC: the fields X T C M L Q K, notes with accidentals, octaves and lengths, rests, ties, slurs,
 * triplets, broken rhythm, staccato, bars, repeats and endings. One voice; what stands beside it is listed.
 *
 * @returns a concert-pitch score with one part
 * @throws ScoreReadError with the line and the reason
 * Source: the ABC music standard 2.1, abcnotation community, 2011.
 */
export function readAbc(text: string): ScoreReading {
  if (text.length > LONGEST_TEXT) throw new ScoreReadError("the file is longer than one tune in ABC can be");
  const lines = text.replace(/\r/g, "").split("\n");
  const notUnderstood = new Set<string>();
  const header: Header = {
    title: "Untitled line",
    composer: undefined,
    time: { beats: 4, beatType: 4 },
    unit: "1/2",
    tempo: undefined,
    key: { fifths: 0, mode: "major" },
  };
  let unitGiven = false;
  let running: Running | undefined;
  for (const [index, raw] of lines.entries()) {
    const line = raw.replace(/%.*$/, "").trim();
    if (line === "") continue;
    const field = /^([A-Za-z]):\s*(.*)$/.exec(line);
    if (field && !(running && field[1] === "|")) {
      const [, name, value] = field as unknown as [string, string, string];
      if (name === "X" && running) break;
      if (running && name !== "w" && name !== "W")
        notUnderstood.add(`the field ${name}: inside the tune was left out`);
      else if (running) notUnderstood.add("the words under the notes were left out");
      else if (name === "K") {
        header.key = readKey(value, index + 1);
        if (!unitGiven) header.unit = header.time.beats / header.time.beatType < 0.75 ? "1/4" : "1/2";
        running = begin(header, notUnderstood);
      } else if (name === "L") {
        header.unit = readUnit(value, index + 1);
        unitGiven = true;
      } else readField(name, value, header, index + 1);
      continue;
    }
    if (!running)
      throw new ScoreReadError("music stands before the key (K:), which ends the head of a tune", index + 1);
    running.line = index + 1;
    readMusic(line, running);
  }
  if (!running) throw new ScoreReadError("this is not a tune in ABC: it has no key (K:)");
  closeMeasure(running);
  const { measures } = running;
  if (!measures.some((measure) => measure.events.some((event) => event.kind === "note")))
    throw new ScoreReadError("there are no notes in this file");
  const part: Part = {
    id: "P1",
    name: "Concert pitch",
    clef: "treble",
    soundsBy: { letters: 0, semitones: 0 },
    measures: numbered(measures),
  };
  return {
    score: { title: header.title, ...(header.composer ? { composer: header.composer } : {}), parts: [part] },
    notUnderstood: [...notUnderstood],
  };
}

function readField(name: string, value: string, header: Header, line: number): void {
  if (name === "T" && header.title === "Untitled line") header.title = value;
  if (name === "C") header.composer = value;
  if (name === "M") header.time = readMetre(value, line);
  if (name === "Q") header.tempo = readTempo(value, line);
}

function readMetre(value: string, line: number): Header["time"] {
  if (value === "C") return { beats: 4, beatType: 4 };
  if (value === "C|") return { beats: 2, beatType: 2 };
  const [, beats, beatType] = /^(\d{1,2})\/(1|2|4|8|16)$/.exec(value) ?? [];
  if (!beats || Number(beats) === 0) throw new ScoreReadError(`the metre "${value}" cannot be read`, line);
  return { beats: Number(beats), beatType: Number(beatType) };
}

function readUnit(value: string, line: number): Fraction {
  const [, num, den] = /^(\d+)\/(\d+)$/.exec(value) ?? [];
  if (!num || Number(den) === 0) throw new ScoreReadError(`the note length "${value}" cannot be read`, line);
  return fraction(4 * Number(num), Number(den));
}

function readTempo(value: string, line: number): Header["tempo"] {
  const [, num, den, bpm] = /(?:(\d+)\/(\d+)\s*=\s*)?(\d+)/.exec(value) ?? [];
  if (!bpm || Number(bpm) === 0) throw new ScoreReadError(`the tempo "${value}" cannot be read`, line);
  return { beatQuarters: num ? fraction(4 * Number(num), Number(den)) : "1", bpm: Number(bpm) };
}

function readKey(value: string, line: number): Header["key"] {
  const [, letter, sign, mode] = /^([A-G])([#b]?)\s*([A-Za-z]*)/.exec(value) ?? [];
  const shift = MODE_FIFTHS[(mode ?? "").toLowerCase().slice(0, 3)];
  if (!letter || shift === undefined) throw new ScoreReadError(`the key "${value}" cannot be read`, line);
  const fifths = MAJOR_FIFTHS[letter]! + { "": 0, "#": 7, b: -7 }[sign as "" | "#" | "b"] + shift;
  if (Math.abs(fifths) > 7)
    throw new ScoreReadError(`the key "${value}" needs more than seven sharps or flats`, line);
  return { fifths, mode: shift === -3 ? "minor" : "major" };
}

function begin(header: Header, notUnderstood: Set<string>): Running {
  const running: Running = {
    header,
    measures: [],
    open: newMeasure(1),
    altered: new Map(),
    tie: false,
    slursToOpen: 0,
    tuplet: null,
    broken: null,
    staccato: false,
    ending: null,
    notUnderstood,
    line: 0,
  };
  running.open.key = header.key;
  running.open.time = header.time;
  if (header.tempo) running.open.tempo = header.tempo;
  return running;
}

function newMeasure(place: number): Measure {
  return { id: `m${place}`, number: "", events: [] };
}

const TOKEN =
  /"[^"]*"|![^!]*!|\|\]|\|\||\[\||:\|\]?|\|:|::|\||\[\d(?:[,-]\d)*|(?<=\|)\d|\((\d)(?::\d?){0,2}|[(){}]|\.(?=[_^=A-Ga-gz])|[~HLMOPSTuv]|(\^\^|\^|__|_|=)?([A-Ga-g])([,']*)(\d*(?:\/+\d*)?)|[zxZ](\d*(?:\/+\d*)?)|-|[<>]+|\[[A-Ga-g^_=,'\d/]+\]|`|\\|\s+/gy;

function readMusic(line: string, running: Running): void {
  TOKEN.lastIndex = 0;
  while (TOKEN.lastIndex < line.length) {
    const from = TOKEN.lastIndex;
    const match = TOKEN.exec(line);
    if (!match) throw new ScoreReadError(`"${line.slice(from, from + 12)}" cannot be read`, running.line);
    readToken(match, running);
  }
}

function readToken(match: RegExpExecArray, running: Running): void {
  const [token, tuplet, accidental, letter, octaves, length] = match as unknown as [
    string,
    string?,
    string?,
    string?,
    string?,
    string?,
  ];
  if (letter) addNote({ accidental, letter, octaves: octaves ?? "", length: length ?? "" }, running);
  else if (/^[zxZ]/.test(token)) addRest(token[0] === "Z", match[6] ?? "", running);
  else if (tuplet) {
    const actual = Number(tuplet);
    const normal = { 2: 3, 3: 2, 4: 3, 6: 2 }[actual];
    if (!normal) throw new ScoreReadError(`groups of ${actual} notes are not read`, running.line);
    running.tuplet = { actual, normal, left: actual, first: true };
  } else if (/^(\||:|\[\||\[\d|\d)/.test(token)) readBar(token, running);
  else if (token === "-") {
    const last = lastNote(running);
    if (last) last.tieStart = true;
    running.tie = true;
  } else if (token === "(") running.slursToOpen++;
  else if (token === ")") {
    const last = lastNote(running);
    if (last) last.slurStop = 1;
  } else if (token === ".") running.staccato = true;
  else if (/^[<>]+$/.test(token)) breakRhythm(token, running);
  else if (token.startsWith("!")) readDecoration(token.slice(1, -1), running);
  else if (token.startsWith('"'))
    running.notUnderstood.add("the words or chords over the notes were left out");
  else if (token.startsWith("["))
    throw new ScoreReadError("chords are not read; a line holds one voice", running.line);
  else if (token === "{") throw new ScoreReadError("grace notes in braces are not read", running.line);
  else if (/^[~HLMOPSTuv]$/.test(token)) running.notUnderstood.add(`the sign ${token} was left out`);
}

function readDecoration(name: string, running: Running): void {
  const last = lastNote(running);
  if (name === "fermata") running.notUnderstood.add("a fermata before its note was left out");
  else if (name === "breath" && last) last.breath = true;
  else if (name === "fine") running.open.fine = true;
  else if (name === "D.C." || name === "D.C.alfine") running.open.jump = "da-capo";
  else running.notUnderstood.add(`the sign ${name} was left out`);
}

function readLength(text: string, running: Running): Fraction {
  const [, num, slashes, den] = /^(\d*)(\/*)(\d*)$/.exec(text) ?? [];
  const divisor = den ? Number(den) : 2 ** (slashes ?? "").length;
  if (divisor === 0 || divisor > 64)
    throw new ScoreReadError(`the length "${text}" cannot be read`, running.line);
  let length = multiplyFractions(running.header.unit, fraction(num ? Number(num) : 1, slashes ? divisor : 1));
  if (running.broken) {
    length = multiplyFractions(length, running.broken);
    running.broken = null;
  }
  return length;
}

function addNote(
  note: { accidental: string | undefined; letter: string; octaves: string; length: string },
  running: Running,
): void {
  const letter = note.letter.toUpperCase() as Letter;
  const octave =
    (note.letter === letter ? 4 : 5) +
    [...note.octaves].reduce((sum, sign) => sum + (sign === "'" ? 1 : -1), 0);
  const place = letter + octave;
  if (note.accidental)
    running.altered.set(place, { "^^": 2, "^": 1, "=": 0, _: -1, __: -2 }[note.accidental]!);
  const alter = running.altered.get(place) ?? signatureAlter(running.header.key.fifths, letter);
  if (!LETTERS.includes(letter) || octave < 0 || octave > 9)
    throw new ScoreReadError(`the note "${note.letter}${note.octaves}" lies out of reach`, running.line);
  const pitch: Pitch = { letter, alter, octave };
  const event = newEvent("note", readLength(note.length, running), running);
  event.pitch = pitch;
  if (running.tie) event.tieStop = true;
  running.tie = false;
  if (running.slursToOpen > 0) event.slurStart = 1;
  running.slursToOpen = 0;
  if (running.staccato) event.articulations = ["staccato"];
  running.staccato = false;
  inTuplet(event, running);
  running.open.events.push(event);
}

function addRest(wholeBars: boolean, length: string, running: Running): void {
  if (wholeBars && length !== "" && length !== "1")
    throw new ScoreReadError("rests of several bars are not read; write each bar", running.line);
  const duration = wholeBars ? barQuarters(running.header.time) : readLength(length, running);
  const event = newEvent("rest", duration, running);
  if (compareFractions(duration, barQuarters(running.header.time)) === 0) event.wholeMeasure = true;
  inTuplet(event, running);
  running.open.events.push(event);
}

function newEvent(kind: ScoreEvent["kind"], duration: Fraction, running: Running): ScoreEvent {
  return {
    id: `${running.open.id}e${running.open.events.length + 1}`,
    kind,
    duration,
    ...shapeOfDuration(duration),
  };
}

/** Notes of a group keep their shape and last the group's share of it. */
function inTuplet(event: ScoreEvent, running: Running): void {
  const group = running.tuplet;
  if (!group) return;
  event.tuplet = {
    actual: group.actual,
    normal: group.normal,
    ...(group.first ? { start: true as const } : {}),
    ...(group.left === 1 ? { stop: true as const } : {}),
  };
  event.duration = multiplyFractions(event.duration, fraction(group.normal, group.actual));
  running.tuplet = group.left > 1 ? { ...group, left: group.left - 1, first: false } : null;
}

/** "a>b" dots the first and halves the second; "a<b" the other way. */
function breakRhythm(token: string, running: Running): void {
  const last = running.open.events.at(-1);
  if (!last) throw new ScoreReadError(`"${token}" stands before any note of its bar`, running.line);
  const short = fraction(1, 2 ** token.length);
  const long = addFractions("2", multiplyFractions(short, "-1"));
  const [first, second] = token[0] === ">" ? [long, short] : [short, long];
  last.duration = multiplyFractions(last.duration, first);
  Object.assign(last, shapeOfDuration(last.duration));
  running.broken = second;
}

function lastNote(running: Running): ScoreEvent | undefined {
  return (
    running.open.events.findLast((event) => event.kind === "note") ??
    running.measures.at(-1)?.events.findLast((event) => event.kind === "note")
  );
}

function readBar(token: string, running: Running): void {
  const ending = /^\[?(\d(?:[,-]\d)*)$/.exec(token)?.[1];
  if (ending) {
    const passes = ending.split(/[,-]/).map(Number);
    running.ending = passes;
    running.open.ending = { passes, start: true };
    return;
  }
  const hadEvents = running.open.events.length > 0;
  const closed = hadEvents ? running.open : running.measures.at(-1);
  if (closed && token.startsWith(":")) closed.repeatEnd = { times: 2 };
  if (closed && token === "||") closed.doubleBar = true;
  if (closed?.ending && (token.startsWith(":") || token === "||" || token === "|]")) {
    closed.ending.stop = true;
    running.ending = null;
  }
  if (hadEvents) closeMeasure(running);
  if (token.endsWith(":") && !token.startsWith(":")) running.open.repeatStart = true;
  if (token === "::") running.open.repeatStart = true;
}

function closeMeasure(running: Running): void {
  const { open, measures, header } = running;
  running.altered.clear();
  if (open.events.length === 0) return;
  const length = sumFractions(open.events.map((event) => event.duration));
  const order = compareFractions(length, barQuarters(header.time));
  const { beats, beatType } = header.time;
  if (order > 0)
    throw new ScoreReadError(
      `bar ${measures.length + 1} holds ${length} quarter notes, more than the ${barQuarters(header.time)} of ${beats}/${beatType}`,
      running.line,
    );
  if (order < 0) open.implicit = true;
  measures.push(open);
  running.open = newMeasure(measures.length + 1);
  if (running.ending) running.open.ending = { passes: running.ending };
}

/** A pickup is bar 0; two short bars around a repeat or an ending share the count of one. */
function numbered(measures: Measure[]): Measure[] {
  const pickup = measures[0]?.implicit ? 1 : 0;
  for (const [index, measure] of measures.entries()) {
    const between = index > 0 && index < measures.length - 1;
    const cut =
      measure.repeatEnd ||
      measures[index - 1]?.repeatEnd ||
      measure.ending ||
      measure.doubleBar ||
      measure.fine ||
      measure.jump;
    if (measure.implicit && between && !cut) {
      throw new ScoreReadError(`bar ${index + 1 - pickup} is too short for its metre`);
    }
    measure.number = String(index + 1 - pickup);
  }
  return measures;
}
