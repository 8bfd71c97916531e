import { LETTERS, type Letter, type Pitch, pitchToMidi, signatureAlter } from "../music";
import { countEndings, fitMetres } from "./fit-metre";
import { addFractions, type Fraction, fraction, multiplyFractions, sumFractions } from "./fraction";
import { LeftOut } from "./left-out";
import { SCORE_LIMITS } from "./limits";
import {
  type Articulation,
  barQuarters,
  DYNAMICS,
  type Dynamic,
  type Measure,
  type Part,
  type ScoreEvent,
} from "./model";
import type { ReadChoices, ScoreReading } from "./musicxml-read";
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

/** Signs that wait for the note they stand before. */
type Waiting = Pick<ScoreEvent, "articulations" | "fermata" | "dynamic">;

/** What runs on while the music of one voice is read. */
interface Voice {
  /** Its place among the voices, from 0. */
  place: number;
  name: string;
  clef: Part["clef"];
  header: Pick<Header, "time" | "unit" | "key">;
  measures: { measure: Measure; line: number }[];
  open: Measure;
  /** Accidentals of the bar so far, by letter and octave. */
  altered: Map<string, number>;
  tie: boolean;
  slursToOpen: number;
  tuplet: { actual: number; normal: number; left: number; first: boolean } | null;
  /** Broken rhythm waiting for its second note. */
  broken: Fraction | null;
  waiting: Waiting;
  ending: number[] | null;
  /** Another voice of the same bar is being passed over. */
  overlay: boolean;
  events: number;
}

/** What all voices of a tune share. */
interface Tune {
  header: Header;
  voices: Map<string, Voice>;
  chords: "top" | "bottom";
  leftOut: LeftOut;
  line: number;
}

/**
 * Cuts a file with several tunes, each from its X: field to the next; what stands before the first (a file's own head) is
 * left out. A file with one tune comes back whole.
 * @example
 * splitTunes("X:1\nT:One\nK:C\nC|\n\nX:2\nT:Two\nK:C\nD|").length // => 2
 */
export function splitTunes(text: string): string[] {
  const starts = [...text.matchAll(/^X:/gm)].map((match) => match.index);
  if (starts.length < 2) return [text];
  return starts.map((from, i) => text.slice(from, starts[i + 1] ?? text.length));
}

/**
 * Reads one tune in ABC: the fields X T C M L Q K V, inside the tune and in the middle of a line too; notes with
 * accidentals, octaves and lengths, rests, ties, slurs, groups, broken rhythm, grace notes, decorations, bars, repeats and
 * endings. Each voice becomes a part; of a chord one note is kept. What stands beside the notes is listed.
 *
 * @returns a concert-pitch score with one part a voice
 * @throws ScoreReadError with the line and the reason
 * Source: the ABC music standard 2.1, abcnotation community, 2011.
 */
export function readAbc(text: string, { chords = "top" }: ReadChoices = {}): ScoreReading {
  if (text.length > LONGEST_TEXT) throw new ScoreReadError("the file is longer than one tune in ABC can be");
  const leftOut = new LeftOut();
  const header: Header = {
    title: "Untitled line",
    composer: undefined,
    time: { beats: 4, beatType: 4 },
    unit: "1/2",
    tempo: undefined,
    key: { fifths: 0, mode: "major" },
  };
  const tune: Tune = { header, voices: new Map(), chords, leftOut, line: 0 };
  const declared = new Map<string, string>();
  let unitGiven = false;
  let voice: Voice | undefined;
  for (const [index, raw] of text.replace(/\r/g, "").split("\n").entries()) {
    const line = withoutComment(raw).trim();
    tune.line = index + 1;
    if (line === "") continue;
    const field = /^([A-Za-z+]):(?![|:])\s*(.*)$/.exec(line);
    if (!field) {
      if (!voice)
        throw new ScoreReadError(
          "music stands before the key (K:), which ends the head of a tune",
          index + 1,
        );
      voice = readMusic(line, voice, tune, declared);
      continue;
    }
    const [, name, value] = field as unknown as [string, string, string];
    if (voice) {
      if (name === "X") {
        leftOut.say("only the first tune of the file was read");
        break;
      }
      voice = readInside(name, value, voice, tune, declared);
    } else if (name === "V") declareVoice(value, declared);
    else if (name === "K") {
      header.key = readKey(value, index + 1);
      if (!unitGiven) header.unit = header.time.beats / header.time.beatType < 0.75 ? "1/4" : "1/2";
      voice = voiceNamed([...declared.keys()][0] ?? "1", tune, declared);
    } else if (name === "L") {
      header.unit = readUnit(value, index + 1);
      unitGiven = true;
    } else readField(name, value, header, index + 1);
  }
  if (!voice) throw new ScoreReadError("this is not a tune in ABC: it has no key (K:)");
  if (tune.voices.size > SCORE_LIMITS.parts)
    throw new ScoreReadError(`there are ${tune.voices.size} voices, more than ${SCORE_LIMITS.parts}`);
  const parts = [...tune.voices.values()].map((each) => partOf(each, tune));
  const sounding = parts.filter((part) =>
    part.measures.some((measure) => measure.events.some((event) => event.kind === "note")),
  );
  const [first, ...others] = sounding;
  if (!first) throw new ScoreReadError("there are no notes in this file");
  return {
    score: {
      title: header.title,
      ...(header.composer ? { composer: header.composer } : {}),
      parts: [first, ...others],
    },
    notUnderstood: leftOut.sentences(),
  };
}

/** A percent sign begins a comment, but not after a backslash. */
function withoutComment(line: string): string {
  return line.replace(/(?<!\\)%.*$/, "");
}

/** "1 clef=bass name=\"Second\"": keeps what is said of a voice before it sings. */
function declareVoice(value: string, declared: Map<string, string>): string {
  const [id = "1"] = value.split(/\s+/);
  const rest = value.slice(id.length).trim();
  if (rest !== "" || !declared.has(id)) declared.set(id, rest || (declared.get(id) ?? ""));
  return id;
}

function voiceNamed(id: string, tune: Tune, declared: Map<string, string>): Voice {
  const known = tune.voices.get(id);
  if (known) return known;
  const about = declared.get(id) ?? "";
  const name =
    /(?:name|nm)="([^"]*)"/.exec(about)?.[1] ?? (declared.size > 1 ? `Voice ${id}` : "Concert pitch");
  const place = tune.voices.size;
  const { time, unit, key, tempo } = tune.header;
  const voice: Voice = {
    place,
    name,
    clef: /bass/.test(about) ? "bass" : /perc/.test(about) ? "percussion" : "treble",
    header: { time, unit, key },
    measures: [],
    open: newMeasure(1),
    altered: new Map(),
    tie: false,
    slursToOpen: 0,
    tuplet: null,
    broken: null,
    waiting: {},
    ending: null,
    overlay: false,
    events: 0,
  };
  voice.open.key = key;
  voice.open.time = time;
  if (tempo && place === 0) voice.open.tempo = tempo;
  tune.voices.set(id, voice);
  return voice;
}

/** A field after the head, on a line of its own or in brackets among the notes. @returns the voice that goes on */
function readInside(
  name: string,
  value: string,
  voice: Voice,
  tune: Tune,
  declared: Map<string, string>,
): Voice {
  const { leftOut, line } = tune;
  const bar = barName(voice);
  switch (name) {
    case "V":
      return voiceNamed(declareVoice(value, declared), tune, declared);
    case "K":
      if (!/^[A-GHn]/.test(value)) break;
      voice.header.key = readKey(value, line);
      voice.open.key = voice.header.key;
      break;
    case "M":
      voice.header.time = readMetre(value, line);
      voice.open.time = voice.header.time;
      break;
    case "L":
      voice.header.unit = readUnit(value, line);
      break;
    case "Q": {
      const tempo = readTempo(value, line);
      if (tempo) voice.open.tempo = tempo;
      break;
    }
    case "w":
    case "W":
      leftOut.say("the words under the notes were left out");
      break;
    case "P":
      voice.open.rehearsal ??= value.slice(0, 12);
      break;
    case "T":
    case "N":
    case "r":
    case "I":
    case "R":
    case "+":
      break;
    default:
      leftOut.add(`the field ${name}:`, "was left out", bar);
  }
  return voice;
}

function barName({ measures }: Voice): string {
  return String(measures.length + 1);
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
  // Free metre: bars are as long as their notes.
  if (value === "none" || value === "") return { beats: 4, beatType: 4 };
  const [, sum, beatType] = /^\(?(\d{1,2}(?:\+\d{1,2})*)\)?\/(1|2|4|8|16)\b/.exec(value) ?? [];
  const beats = sum?.split("+").reduce((total, part) => total + Number(part), 0);
  if (!beats) throw new ScoreReadError(`the metre "${value}" cannot be read`, line);
  return { beats, beatType: Number(beatType) };
}

function readUnit(value: string, line: number): Fraction {
  const [, num, den = "1"] = /^(\d+)(?:\/(\d+))?/.exec(value) ?? [];
  if (!num || Number(num) === 0 || Number(den) === 0)
    throw new ScoreReadError(`the note length "${value}" cannot be read`, line);
  return fraction(4 * Number(num), Number(den));
}

function readTempo(value: string, line: number): Header["tempo"] {
  const plain = value.replace(/"[^"]*"/g, "").trim();
  if (plain === "") return undefined;
  const [, num, den, bpm] = /(?:C?(\d+)\/(\d+)[^=]*=\s*)?(\d+)/.exec(plain) ?? [];
  if (!bpm || Number(bpm) === 0) throw new ScoreReadError(`the tempo "${value}" cannot be read`, line);
  return { beatQuarters: num ? fraction(4 * Number(num), Number(den)) : "1", bpm: Number(bpm) };
}

function readKey(value: string, line: number): Header["key"] {
  if (/^(none|HP|Hp|$)/.test(value)) return { fifths: value.startsWith("H") ? 2 : 0, mode: "major" };
  const [, letter, sign, word] = /^([A-G])([#b]?)\s*([A-Za-z]*)/.exec(value) ?? [];
  // What follows the key may be about the clef: "K:G clef=bass".
  const mode = /^(clef|treble|bass|alto|tenor|octave|transpose|middle|staff|exp)/i.test(word ?? "")
    ? ""
    : word;
  const shift = MODE_FIFTHS[(mode ?? "").toLowerCase().slice(0, 3)];
  if (!letter || shift === undefined) throw new ScoreReadError(`the key "${value}" cannot be read`, line);
  const fifths = MAJOR_FIFTHS[letter]! + { "": 0, "#": 7, b: -7 }[sign as "" | "#" | "b"] + shift;
  if (Math.abs(fifths) > 7)
    throw new ScoreReadError(`the key "${value}" needs more than seven sharps or flats`, line);
  return { fifths, mode: shift === -3 ? "minor" : "major" };
}

function newMeasure(place: number): Measure {
  return { id: `m${place}`, number: "", events: [] };
}

const NOTE = /(\^\^|\^|__|_|=)?([A-Ga-g])([,']*)(\d*(?:\/+\d*)?)/y;
/** The same, for all notes of a chord or of a group of grace notes. */
const NOTES = new RegExp(NOTE.source, "g");
/** Bars, repeats and endings: "|", ":|", "|]", "::", "|1", ":|2", "[1". */
const BAR = /\.?(?:\[\||[|:]+\]?|\](?=\s*:?\|?))+(?:\s*\[?(\d(?:[,.-]\d)*))?|\[(\d(?:[,.-]\d)*)/y;

/** Reads what is written at a place of the line, or nothing. */
function at(pattern: RegExp, line: string, from: number): RegExpExecArray | null {
  pattern.lastIndex = from;
  return pattern.exec(line);
}

/** @returns the voice that goes on after the line */
function readMusic(line: string, from: Voice, tune: Tune, declared: Map<string, string>): Voice {
  let voice = from;
  for (let place = 0; place < line.length; ) {
    const field = at(/\[([A-Za-z]):([^\]]*)\]/y, line, place);
    if (field) {
      voice = readInside(field[1]!, field[2]!.trim(), voice, tune, declared);
      place += field[0].length;
      continue;
    }
    const length = readAt(line, place, voice, tune);
    if (length === 0)
      throw new ScoreReadError(`"${line.slice(place, place + 12)}" cannot be read`, tune.line);
    place += length;
  }
  return voice;
}

/** Reads one sign. @returns how many letters it has, 0 when nobody knows it */
function readAt(line: string, place: number, voice: Voice, tune: Tune): number {
  const { leftOut } = tune;
  const sign = line[place]!;
  const bar = at(BAR, line, place);
  if (bar) {
    readBar(bar[0], bar[1] ?? bar[2], voice, tune);
    return bar[0].length;
  }
  const skipped = at(/\s+|`+|\\|y\d*|\*|\$(?=\s|$)/y, line, place);
  if (skipped) return skipped[0].length;
  // A voice laid over the bar is passed over to the next barline.
  if (voice.overlay) return 1;
  const words = at(/"[^"]*"/y, line, place);
  if (words) {
    leftOut.say("the words or chords over the notes were left out");
    return words[0].length;
  }
  const decoration = at(/!([^!]*)!|\+([^+\s]+)\+/y, line, place);
  if (decoration) {
    readDecoration(decoration[1] ?? decoration[2] ?? "", voice, tune);
    return decoration[0].length;
  }
  const grace = at(/\{\/?([^}]*)\}/y, line, place);
  if (grace) {
    addGrace(grace[1]!, voice, tune);
    return grace[0].length;
  }
  const chord = at(/\[([^\]|]*)\](\d*(?:\/+\d*)?)/y, line, place);
  if (chord && /[A-Ga-g]/.test(chord[1]!)) {
    addChord(chord[1]!, chord[2]!, voice, tune);
    return chord[0].length;
  }
  const group = at(/\((\d)(?::(\d*))?(?::(\d*))?/y, line, place);
  if (group) {
    beginGroup(group, voice, tune);
    return group[0].length;
  }
  const note = at(NOTE, line, place);
  if (note) {
    const [whole, accidental, letter, octaves, length] = note as unknown as [
      string,
      string?,
      string?,
      string?,
      string?,
    ];
    addNote(
      pitchOf(accidental, letter!, octaves!, voice, tune),
      readLength(length!, voice, tune),
      voice,
      tune,
    );
    return whole.length;
  }
  const rest = at(/([zxZX])(\d*(?:\/+\d*)?)/y, line, place);
  if (rest) {
    addRest(/[ZX]/.test(rest[1]!), rest[2]!, voice, tune);
    return rest[0].length;
  }
  const broken = at(/<+|>+/y, line, place);
  if (broken) {
    breakRhythm(broken[0], voice, tune);
    return broken[0].length;
  }
  return readSign(sign, line, place, voice, tune);
}

function readSign(sign: string, line: string, place: number, voice: Voice, { leftOut }: Tune): number {
  const last = lastNote(voice);
  switch (sign) {
    case "-":
      if (last) last.tieStart = true;
      voice.tie = true;
      return 1;
    case "(":
      voice.slursToOpen++;
      return 1;
    case ")":
      if (last) last.slurStop = 1;
      return 1;
    case ".":
      // A dot before a slur makes it a dotted one.
      if (line[place + 1] !== "(") voice.waiting = { ...voice.waiting, articulations: ["staccato"] };
      return 1;
    case "&":
      voice.overlay = true;
      leftOut.add("a second voice laid over the first", "was left out", barName(voice));
      return 1;
  }
  if (sign === "H") {
    voice.waiting = { ...voice.waiting, fermata: true };
    return 1;
  }
  // Letters that a tune gives meanings of its own, such as bowings.
  if (/[~h-wI-W]/.test(sign)) {
    leftOut.say(`the sign ${sign} was left out`);
    return 1;
  }
  return 0;
}

const ARTICULATIONS: Record<string, Articulation> = {
  staccato: "staccato",
  accent: "accent",
  ">": "accent",
  emphasis: "accent",
  tenuto: "tenuto",
  marcato: "strong-accent",
  "^": "strong-accent",
};
const KNOWN_DYNAMICS = new Set<string>(DYNAMICS);

/** A decoration belongs to the note after it; breaths and ends of a part to what was before. */
function readDecoration(name: string, voice: Voice, { leftOut }: Tune): void {
  const last = lastNote(voice);
  const { open, waiting } = voice;
  if (name === "fermata" || name === "invertedfermata") voice.waiting = { ...waiting, fermata: true };
  else if (ARTICULATIONS[name])
    voice.waiting = { ...waiting, articulations: [...(waiting.articulations ?? []), ARTICULATIONS[name]] };
  else if (KNOWN_DYNAMICS.has(name)) voice.waiting = { ...waiting, dynamic: name as Dynamic };
  else if (name === "breath" && last) last.breath = true;
  else if (name === "fine") open.fine = true;
  else if (name === "segno") open.segno = true;
  else if (name === "coda") open.coda = true;
  else if (/^D\.?C\.?/.test(name)) open.jump = "da-capo";
  else if (/^D\.?S\.?/.test(name)) open.jump = "dal-segno";
  else leftOut.add(`the sign ${name}`, "was left out", barName(voice));
}

/** Notes in the time of so many: 2 in 3, 3 in 2, 4 in 3, 6 in 2, 8 in 3; others in two beats, or three of compound metre. */
function beginGroup(match: RegExpExecArray, voice: Voice, { line }: Tune): void {
  const actual = Number(match[1]);
  const { beats, beatType } = voice.header.time;
  const compound = beatType === 8 && beats % 3 === 0;
  const usual = { 2: 3, 3: 2, 4: 3, 6: 2, 8: 3 }[actual] ?? (compound ? 3 : 2);
  const normal = Number(match[2] || usual);
  const left = Number(match[3] || actual);
  if (actual < 2 || normal < 1 || left < 1)
    throw new ScoreReadError(`groups of ${actual} notes are not read`, line);
  voice.tuplet = { actual, normal, left, first: true };
}

function readLength(text: string, voice: Voice, { line }: Tune, unit = voice.header.unit): Fraction {
  const [, num, slashes, den] = /^(\d*)(\/*)(\d*)$/.exec(text) ?? [];
  const divisor = den ? Number(den) : 2 ** (slashes ?? "").length;
  if (divisor === 0 || divisor > 64 || Number(num || 1) > 128)
    throw new ScoreReadError(`the length "${text}" cannot be read`, line);
  let length = multiplyFractions(unit, fraction(num ? Number(num) : 1, slashes ? divisor : 1));
  if (voice.broken) {
    length = multiplyFractions(length, voice.broken);
    voice.broken = null;
  }
  return length;
}

function pitchOf(
  accidental: string | undefined,
  written: string,
  octaves: string,
  voice: Voice,
  { line }: Tune,
): Pitch {
  const letter = written.toUpperCase() as Letter;
  const octave =
    (written === letter ? 4 : 5) + [...octaves].reduce((sum, sign) => sum + (sign === "'" ? 1 : -1), 0);
  if (!LETTERS.includes(letter) || octave < 0 || octave > 9)
    throw new ScoreReadError(`the note "${written}${octaves}" lies out of reach`, line);
  const place = letter + octave;
  const last = lastNote(voice)?.pitch;
  // An accidental is held over a tie, also into the next bar.
  const held = voice.tie && last?.letter === letter && last.octave === octave ? last.alter : undefined;
  if (accidental) voice.altered.set(place, { "^^": 2, "^": 1, "=": 0, _: -1, __: -2 }[accidental]!);
  const alter = accidental
    ? voice.altered.get(place)!
    : (held ?? voice.altered.get(place) ?? signatureAlter(voice.header.key.fifths, letter));
  return { letter, alter, octave };
}

function addNote(pitch: Pitch, duration: Fraction, voice: Voice, tune: Tune): ScoreEvent {
  const event = newEvent("note", duration, voice, tune);
  event.pitch = pitch;
  if (voice.tie) event.tieStop = true;
  voice.tie = false;
  if (voice.slursToOpen > 0) event.slurStart = 1;
  voice.slursToOpen = 0;
  Object.assign(event, voice.waiting);
  voice.waiting = {};
  inTuplet(event, voice);
  voice.open.events.push(event);
  return event;
}

/** Of the notes in brackets the one that a line keeps; their length is that of the first, times what stands after. */
function addChord(inside: string, after: string, voice: Voice, tune: Tune): void {
  const notes = [...inside.matchAll(NOTES)].map(([, accidental, letter, octaves, length]) => ({
    pitch: pitchOf(accidental, letter!, octaves!, voice, tune),
    length: length!,
  }));
  const order = [...notes].sort((a, b) => pitchToMidi(a.pitch) - pitchToMidi(b.pitch));
  const kept = tune.chords === "top" ? order.at(-1)! : order[0]!;
  const own = multiplyFractions(
    readLength(notes[0]!.length, voice, tune),
    readLength(after, voice, tune, "1"),
  );
  addNote(kept.pitch, own, voice, tune);
  if (inside.includes("-")) {
    lastNote(voice)!.tieStart = true;
    voice.tie = true;
  }
  if (notes.length > 1)
    tune.leftOut.add(
      `the ${tune.chords === "top" ? "lower" : "upper"} notes of a chord`,
      `were left out, the ${tune.chords === "top" ? "top" : "lowest"} one kept`,
      barName(voice),
    );
}

/** Grace notes take no time of their own. */
function addGrace(inside: string, voice: Voice, tune: Tune): void {
  for (const [, accidental, letter, octaves] of inside.matchAll(NOTES)) {
    const pitch = pitchOf(accidental, letter!, octaves!, voice, tune);
    const event = newEvent("note", "0", voice, tune);
    voice.open.events.push({ ...event, pitch, grace: true, type: "eighth", dots: 0 });
  }
}

function addRest(wholeBars: boolean, length: string, voice: Voice, tune: Tune): void {
  if (!wholeBars) {
    const duration = readLength(length, voice, tune);
    const event = newEvent("rest", duration, voice, tune);
    inTuplet(event, voice);
    voice.open.events.push(event);
    voice.waiting = {};
    return;
  }
  const bars = Number(length || 1);
  if (!Number.isInteger(bars) || bars > SCORE_LIMITS.barsAPart)
    throw new ScoreReadError(`a rest of "${length}" bars cannot be read`, tune.line);
  for (let bar = 0; bar < bars; bar++) {
    if (bar > 0) closeMeasure(voice, tune);
    const event = newEvent("rest", barQuarters(voice.header.time), voice, tune);
    voice.open.events.push({ ...event, wholeMeasure: true });
  }
}

function newEvent(kind: ScoreEvent["kind"], duration: Fraction, voice: Voice, tune: Tune): ScoreEvent {
  if (++voice.events > SCORE_LIMITS.events)
    throw new ScoreReadError("there are more notes than one tune can have", tune.line);
  const prefix = voice.place === 0 ? "" : `v${voice.place + 1}`;
  return {
    id: `${prefix}${voice.open.id}e${voice.open.events.length + 1}`,
    kind,
    duration,
    ...shapeOfDuration(duration),
  };
}

/** Notes of a group keep their shape and last the group's share of it. */
function inTuplet(event: ScoreEvent, voice: Voice): void {
  const group = voice.tuplet;
  if (!group) return;
  event.tuplet = {
    actual: group.actual,
    normal: group.normal,
    ...(group.first ? { start: true as const } : {}),
    ...(group.left === 1 ? { stop: true as const } : {}),
  };
  event.duration = multiplyFractions(event.duration, fraction(group.normal, group.actual));
  voice.tuplet = group.left > 1 ? { ...group, left: group.left - 1, first: false } : null;
}

/** "a>b" dots the first and halves the second; "a<b" the other way. */
function breakRhythm(token: string, voice: Voice, { line }: Tune): void {
  const last = voice.open.events.findLast((event) => !event.grace);
  if (!last) throw new ScoreReadError(`"${token}" stands before any note of its bar`, line);
  const short = fraction(1, 2 ** Math.min(3, token.length));
  const long = addFractions("2", multiplyFractions(short, "-1"));
  const [first, second] = token[0] === ">" ? [long, short] : [short, long];
  last.duration = multiplyFractions(last.duration, first);
  if (!last.tuplet) Object.assign(last, shapeOfDuration(last.duration));
  voice.broken = second;
}

function lastNote(voice: Voice): ScoreEvent | undefined {
  const isNote = (event: ScoreEvent) => event.kind === "note" && !event.grace;
  return voice.open.events.findLast(isNote) ?? voice.measures.at(-1)?.measure.events.findLast(isNote);
}

function readBar(token: string, passes: string | undefined, voice: Voice, tune: Tune): void {
  const signs = token.replace(/[\s\d,.-]|\[(?=\d)/g, "");
  voice.overlay = false;
  const hadEvents = voice.open.events.length > 0;
  const closed = hadEvents ? voice.open : voice.measures.at(-1)?.measure;
  const endsRepeat = signs.startsWith(":") && signs !== "";
  const beginsRepeat = /[|:\]]:+$/.test(signs) || signs === "::";
  if (closed && endsRepeat) closed.repeatEnd = { times: 2 };
  if (closed && /\|\|/.test(signs) && !endsRepeat && !beginsRepeat) closed.doubleBar = true;
  if (closed?.ending && (endsRepeat || signs.includes("||") || signs.includes("]"))) {
    closed.ending.stop = true;
    voice.ending = null;
  }
  if (hadEvents && signs !== "") closeMeasure(voice, tune);
  if (beginsRepeat) voice.open.repeatStart = true;
  if (!passes) return;
  const numbers = passes.includes("-") ? rangeOf(passes) : passes.split(/[,.]/).map(Number);
  const before = voice.measures.at(-1)?.measure;
  if (before?.ending && voice.ending) before.ending.stop = true;
  voice.ending = numbers;
  voice.open.ending = { passes: numbers, start: true };
}

function rangeOf(text: string): number[] {
  const [from, to] = text.split("-").map(Number) as [number, number];
  return Array.from({ length: Math.max(1, to - from + 1) }, (_, i) => from + i);
}

function closeMeasure(voice: Voice, { line }: Tune): void {
  const { open, measures } = voice;
  voice.altered.clear();
  if (open.events.length === 0) return;
  measures.push({ measure: open, line });
  voice.open = newMeasure(measures.length + 1);
  if (voice.ending) voice.open.ending = { passes: voice.ending };
}

/** A voice as a part: bars counted, each as long as its metre or as its notes. */
function partOf(voice: Voice, tune: Tune): Part {
  closeMeasure(voice, tune);
  const bars = voice.measures.map(({ measure, line }) => ({
    measure,
    line,
    length: sumFractions(measure.events.map((event) => event.duration)),
  }));
  bars.forEach(({ measure }, i) => {
    measure.number = String(i + 1);
  });
  fitMetres(bars, tune.leftOut);
  const measures = bars.map(({ measure }) => measure);
  countEndings(measures);
  const pickup = measures[0]?.implicit ? 1 : 0;
  measures.forEach((measure, i) => {
    measure.number = String(i + 1 - pickup);
    for (const event of measure.events)
      if (event.kind === "rest" && measure.events.length === 1 && !measure.implicit)
        event.wholeMeasure = true;
  });
  return {
    id: `P${voice.place + 1}`,
    name: voice.name,
    clef: voice.clef,
    soundsBy: { letters: 0, semitones: 0 },
    measures,
  };
}
