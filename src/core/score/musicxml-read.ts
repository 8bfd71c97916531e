import { strFromU8, unzipSync } from "fflate";
import { type Clef, LETTERS, type Letter, type Pitch, parsePitch, pitchId } from "../music";
import { addFractions, compareFractions, fraction, sumFractions } from "./fraction";
import { SCORE_LIMITS } from "./limits";
import {
  type Articulation,
  barQuarters,
  type Dynamic,
  type Measure,
  type NoteType,
  type Part,
  type Purpose,
  type Score,
  type ScoreEvent,
} from "./model";
import { OWN_FIELD, type OwnFields } from "./musicxml-write";
import { half, QUARTERS_OF_TYPE, shapeOfDuration } from "./shape";
import { child, children, childText, readXml, ScoreReadError, type XmlElement } from "./xml-tree";

export interface ScoreReading {
  score: Score;
  /** What stood in the file and was not understood, one sentence each, without repeats. */
  notUnderstood: string[];
}

const MAX_BYTES = 20_000_000;

const TYPES: Record<string, NoteType> = {
  breve: "breve",
  whole: "whole",
  half: "half",
  quarter: "quarter",
  eighth: "eighth",
  "16th": "16th",
  "32nd": "32nd",
};
const ARTICULATIONS = new Set<string>(["staccato", "accent", "tenuto", "strong-accent"]);
const DYNAMICS = new Set<string>(["pp", "p", "mp", "mf", "f", "ff"]);
/** Elements that say how a page looks and change nothing that is played. */
const LAYOUT_ONLY = new Set([
  "print",
  "voice",
  "stem",
  "staff",
  "beam",
  "notehead",
  "instrument",
  "accidental",
  "sound",
  "offset",
  "footnote",
  "level",
  "staff-lines",
  "words",
]);

/**
 * Reads MusicXML 4.0 (score-partwise or score-timewise; .mxl too) into the score model.
 *
 * @param bytes the file as it was uploaded
 * @returns the score with every part, ids kept where the file has them, and a list of what was not understood
 * @throws ScoreReadError with the line and the reason; nothing outside the file is ever read
 * Source: MusicXML 4.0, W3C Community Group Report, 2021.
 */
export function readMusicXml(bytes: Uint8Array): ScoreReading {
  if (bytes.length > MAX_BYTES) throw new ScoreReadError("the file is larger than 20 MB");
  const text = bytes[0] === 0x50 && bytes[1] === 0x4b ? scoreInsideMxl(bytes) : decodeText(bytes);
  const read = readXml(text);
  const root = read.name === "score-timewise" ? asPartwise(read) : read;
  if (root.name !== "score-partwise")
    throw new ScoreReadError(`this is XML, but not MusicXML (it begins with <${root.name}>)`, root.line);

  const notUnderstood = new Set<string>();
  const names = new Map(
    children(child(root, "part-list") ?? root, "score-part").map((part) => [
      part.attributes.id,
      childText(part, "part-name") ?? "",
    ]),
  );
  const parts = children(root, "part").map((part) =>
    readPart(part, names.get(part.attributes.id) ?? "", notUnderstood),
  );
  const [first, ...others] = parts;
  if (!first) throw new ScoreReadError("there is no part in this file", root.line);
  if (!first.measures.some((measure) => measure.events.some((event) => event.kind === "note"))) {
    throw new ScoreReadError("there are no notes in this file", root.line);
  }
  const title =
    childText(root, "movement-title") ||
    childText(child(root, "work") ?? root, "work-title") ||
    "Untitled line";
  const composer = children(child(root, "identification") ?? root, "creator")
    .find((creator) => creator.attributes.type === "composer")
    ?.text.trim();
  const score: Score = { title, ...(composer ? { composer } : {}), parts: [first, ...others] };
  return {
    score: { ...score, ...readOwnFields(root, score, notUnderstood) },
    notUnderstood: [...notUnderstood],
  };
}

function checkedPurpose(purpose: Purpose): Purpose {
  if (purpose.kind === "warm-up") return { kind: "warm-up", family: String(purpose.family) };
  return {
    kind: "counting",
    forms: purpose.forms.map(String),
    system: purpose.system === null ? null : String(purpose.system),
  };
}

/** What only this program writes: overrides, who plays which part, a line without notes. */
function readOwnFields(root: XmlElement, score: Score, notUnderstood: Set<string>): Partial<Score> {
  const fields = children(
    child(child(root, "identification") ?? root, "miscellaneous") ?? root,
    "miscellaneous-field",
  );
  const own = fields.find((field) => field.attributes.name === OWN_FIELD);
  if (!own) return {};
  try {
    const { overrides, catalogued, forInstruments, purpose, asWritten } = JSON.parse(own.text) as OwnFields;
    for (const part of score.parts) {
      const assigned = forInstruments?.[part.id]?.map(String);
      if (assigned) part.forInstruments = assigned;
      if (asWritten?.includes(part.id)) part.asWritten = true;
    }
    const checked = overrides && checkedOverrides(overrides);
    return {
      ...(checked ? { overrides: checked } : {}),
      ...(catalogued ? { catalogued: true as const } : {}),
      ...(purpose ? { purpose: checkedPurpose(purpose) } : {}),
    };
  } catch {
    notUnderstood.add(
      "what a director had changed for single instruments could not be read and was left out",
    );
    return {};
  }
}

/** @throws TypeError or RangeError for anything that is no octave or pitch */
function checkedOverrides(overrides: NonNullable<Score["overrides"]>): NonNullable<Score["overrides"]> {
  return Object.fromEntries(
    Object.entries(overrides).map(([instrument, { octave, substitutes }]) => [
      instrument,
      {
        ...(octave === undefined ? {} : { octave: checkedOctave(octave) }),
        ...(substitutes
          ? {
              substitutes: Object.fromEntries(
                Object.entries(substitutes).map(([id, pitch]) => [id, parsePitch(pitchId(pitch))]),
              ),
            }
          : {}),
      },
    ]),
  );
}

function checkedOctave(octave: number): number {
  if (!Number.isInteger(octave) || Math.abs(octave) > 4) throw new RangeError("An octave shift is -4 to 4");
  return octave;
}

/** Bars that hold parts become parts that hold bars; both orders say the same. */
function asPartwise(root: XmlElement): XmlElement {
  const measures = children(root, "measure");
  const ids = [
    ...new Set(
      measures.flatMap((measure) => children(measure, "part").map((part) => part.attributes.id ?? "")),
    ),
  ];
  const parts = ids.map(
    (id): XmlElement => ({
      name: "part",
      attributes: { id },
      text: "",
      line: root.line,
      children: measures.map((measure) => ({
        ...measure,
        children: children(measure, "part").find((part) => part.attributes.id === id)?.children ?? [],
      })),
    }),
  );
  return {
    ...root,
    name: "score-partwise",
    children: [...root.children.filter((each) => each.name !== "measure"), ...parts],
  };
}

function decodeText(bytes: Uint8Array): string {
  const utf16 = (bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff);
  if (utf16) return new TextDecoder(bytes[0] === 0xff ? "utf-16le" : "utf-16be").decode(bytes);
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    throw new ScoreReadError("this is not a text file, so it cannot be MusicXML");
  }
}

function scoreInsideMxl(bytes: Uint8Array): string {
  const sizes = { total: 0 };
  try {
    const files = unzipSync(bytes, {
      filter: (file) => {
        sizes.total += file.originalSize;
        if (sizes.total > MAX_BYTES)
          throw new ScoreReadError("the compressed file unpacks to more than 20 MB");
        return /\.(xml|musicxml)$/i.test(file.name);
      },
    });
    const container = files["META-INF/container.xml"];
    const path =
      container &&
      child(child(readXml(strFromU8(container)), "rootfiles")!, "rootfile")?.attributes["full-path"];
    const score = path ? files[path] : undefined;
    if (!score) throw new ScoreReadError("the compressed file names no score inside it");
    return decodeText(score);
  } catch (error) {
    if (error instanceof ScoreReadError) throw error;
    throw new ScoreReadError("the compressed file is damaged");
  }
}

/** What runs on from one measure to the next while a part is read. */
interface Running {
  divisions: number;
  time: { beats: number; beatType: number };
  clef: Clef;
  soundsBy: Part["soundsBy"];
  endingPasses: number[] | undefined;
  /** Ids so far, and how many copies were made of each. */
  seenIds: Map<string, number>;
  /** Signs that belong to the next note. */
  pending: Pick<ScoreEvent, "dynamic" | "hairpinStart">;
  /** The note before, which a hairpin that ends belongs to. */
  lastNote: ScoreEvent | undefined;
}

function readPart(part: XmlElement, name: string, notUnderstood: Set<string>): Part {
  const running: Running = {
    divisions: 1,
    time: { beats: 4, beatType: 4 },
    clef: "treble",
    soundsBy: { letters: 0, semitones: 0 },
    endingPasses: undefined,
    seenIds: new Map(),
    pending: {},
    lastNote: undefined,
  };
  const sources = children(part, "measure");
  // Checked here too, before work is spent on a file that cannot pass.
  if (sources.length > SCORE_LIMITS.barsAPart)
    throw new ScoreReadError(
      `there are ${sources.length} bars in one part, more than ${SCORE_LIMITS.barsAPart}`,
      part.line,
    );
  const measures = sources.map((source, index) => readMeasure(source, index, running, notUnderstood));
  running.time = { beats: 4, beatType: 4 };
  measures.forEach((measure, index) => {
    running.time = measure.time ?? running.time;
    checkLength(measure, sources[index]!, index, measures, running);
  });
  return { id: part.attributes.id ?? "P1", name, clef: running.clef, soundsBy: running.soundsBy, measures };
}

function readMeasure(
  source: XmlElement,
  index: number,
  running: Running,
  notUnderstood: Set<string>,
): Measure {
  const measure: Measure = {
    id: uniqueId(source.attributes.id, `m${index + 1}`, running.seenIds),
    number: source.attributes.number ?? String(index + 1),
    ...(source.attributes.implicit === "yes" ? { implicit: true as const } : {}),
    events: [],
  };
  if (running.endingPasses) measure.ending = { passes: running.endingPasses };
  for (const item of source.children) {
    switch (item.name) {
      case "attributes":
        readAttributes(item, measure, running, notUnderstood);
        break;
      case "note":
        readNote(item, measure, running, notUnderstood);
        break;
      case "direction":
        readDirection(item, measure, running, notUnderstood);
        break;
      case "barline":
        readBarline(item, measure, running);
        break;
      case "sound":
        readSound(item, measure);
        break;
      case "backup":
        throw new ScoreReadError(
          `bar ${measure.number} has a second voice; a line holds one voice`,
          item.line,
        );
      default:
        if (!LAYOUT_ONLY.has(item.name))
          notUnderstood.add(`<${item.name}> in bar ${measure.number} was left out`);
    }
  }
  return measure;
}

function readAttributes(source: XmlElement, measure: Measure, running: Running, notUnderstood: Set<string>) {
  const divisions = Number(childText(source, "divisions") ?? running.divisions);
  if (!Number.isInteger(divisions) || divisions < 1 || divisions > SCORE_LIMITS.finestNote)
    throw new ScoreReadError(
      `divisions must be a whole number from 1 to ${SCORE_LIMITS.finestNote}`,
      source.line,
    );
  running.divisions = divisions;
  const key = child(source, "key");
  if (key) {
    const fifths = Number(childText(key, "fifths") ?? 0);
    if (!Number.isInteger(fifths) || Math.abs(fifths) > 7)
      throw new ScoreReadError("a key signature has 0 to 7 sharps or flats", key.line);
    measure.key = { fifths, mode: childText(key, "mode") === "minor" ? "minor" : "major" };
  }
  const time = child(source, "time");
  if (time) {
    const beats = Number(childText(time, "beats"));
    const beatType = Number(childText(time, "beat-type"));
    if (!(beats >= 1 && beats <= 32) || ![1, 2, 4, 8, 16, 32].includes(beatType)) {
      throw new ScoreReadError(
        `the time signature ${childText(time, "beats") ?? "?"}/${childText(time, "beat-type") ?? "?"} cannot be read`,
        time.line,
      );
    }
    running.time = measure.time = { beats, beatType };
  }
  const clef = child(source, "clef");
  if (clef) {
    const sign = childText(clef, "sign");
    if (sign === "G" || sign === "F" || sign === "percussion")
      running.clef = ({ G: "treble", F: "bass", percussion: "percussion" } as const)[sign];
    else notUnderstood.add(`the clef ${sign} in bar ${measure.number} was left out`);
  }
  const transpose = child(source, "transpose");
  if (transpose) {
    const octaves = Number(childText(transpose, "octave-change") ?? 0);
    const semitones = Number(childText(transpose, "chromatic") ?? 0);
    const letters = childText(transpose, "diatonic");
    if (![octaves, semitones, Number(letters ?? 0)].every(Number.isInteger))
      throw new ScoreReadError("a transposition is not given in whole numbers", transpose.line);
    running.soundsBy = {
      letters: (letters === undefined ? lettersOf(semitones) : Number(letters)) + 7 * octaves,
      semitones: semitones + 12 * octaves,
    };
  }
}

/** Letter steps of an interval given in semitones only: a major or minor interval where there is one, a fourth for six. */
function lettersOf(semitones: number): number {
  const steps = [0, 1, 1, 2, 2, 3, 3, 4, 5, 5, 6, 6];
  const size = Math.abs(semitones);
  return Math.sign(semitones) * (7 * Math.floor(size / 12) + steps[size % 12]!);
}

function readNote(source: XmlElement, measure: Measure, running: Running, notUnderstood: Set<string>) {
  if (child(source, "chord")) {
    notUnderstood.add(`the lower notes of a chord in bar ${measure.number} were left out`);
    return;
  }
  const grace = child(source, "grace") !== undefined;
  const units = Number(childText(source, "duration") ?? (grace ? 0 : Number.NaN));
  if (!Number.isFinite(units) || units < 0 || !Number.isInteger(units))
    throw new ScoreReadError(`a note in bar ${measure.number} has no usable duration`, source.line);
  const duration = fraction(units, running.divisions);
  const rest = child(source, "rest");
  const written = TYPES[childText(source, "type") ?? ""];
  const shape = written ? { type: written, dots: children(source, "dot").length } : shapeOfDuration(duration);
  const event: ScoreEvent = {
    id: uniqueId(source.attributes.id, `${measure.id}e${measure.events.length + 1}`, running.seenIds),
    kind: rest ? "rest" : "note",
    duration,
    ...shape,
  };
  if (grace) event.grace = true;
  if (
    rest?.attributes.measure === "yes" ||
    (rest && compareFractions(duration, barQuarters(running.time)) === 0)
  )
    event.wholeMeasure = true;
  const pitch = child(source, "pitch");
  if (pitch) event.pitch = readPitch(pitch, measure);
  else if (!rest) {
    const unpitched = child(source, "unpitched");
    if (!unpitched) throw new ScoreReadError(`a note in bar ${measure.number} has no pitch`, source.line);
    const drum = readDrum(source, unpitched);
    if (drum) event.drum = drum;
  }
  for (const tie of children(source, "tie"))
    event[tie.attributes.type === "start" ? "tieStart" : "tieStop"] = true;
  const modification = child(source, "time-modification");
  if (modification) {
    event.tuplet = {
      actual: Number(childText(modification, "actual-notes") ?? 3),
      normal: Number(childText(modification, "normal-notes") ?? 2),
    };
  }
  const lyric = child(source, "lyric");
  const syllable = lyric && childText(lyric, "text");
  if (syllable) {
    const goesOn = /^(begin|middle)$/.test(childText(lyric, "syllabic") ?? "");
    event.lyric = goesOn ? `${syllable}-` : syllable;
  }
  for (const notations of children(source, "notations"))
    readNotations(notations, event, measure, notUnderstood);
  if (event.kind === "note" && !grace) {
    Object.assign(event, running.pending);
    running.pending = {};
    running.lastNote = event;
  }
  measure.events.push(event);
}

const HEADS = new Set<string>(["x", "slash", "triangle", "diamond"]);

/** Nothing for a plain note in the middle: that is how one line of percussion is written. */
function readDrum(source: XmlElement, unpitched: XmlElement): ScoreEvent["drum"] {
  const step = (childText(unpitched, "display-step") ?? "E") as Letter;
  const octave = Number(childText(unpitched, "display-octave") ?? 4);
  const head = childText(source, "notehead") ?? "";
  const usable = LETTERS.includes(step) && Number.isInteger(octave);
  const place = usable ? { step, octave } : { step: "E" as const, octave: 4 };
  if (HEADS.has(head))
    return { ...place, head: head as NonNullable<NonNullable<ScoreEvent["drum"]>["head"]> };
  return place.step === "E" && place.octave === 4 ? undefined : place;
}

function readPitch(source: XmlElement, measure: Measure): Pitch {
  const letter = childText(source, "step") as Letter;
  const alter = Number(childText(source, "alter") ?? 0);
  const octave = Number(childText(source, "octave"));
  if (!LETTERS.includes(letter) || !Number.isInteger(octave) || octave < 0 || octave > 9)
    throw new ScoreReadError(`a pitch in bar ${measure.number} cannot be read`, source.line);
  if (!Number.isInteger(alter) || Math.abs(alter) > 2)
    throw new ScoreReadError(
      `bar ${measure.number} has a quarter tone; only semitones are supported`,
      source.line,
    );
  return { letter, alter, octave };
}

function readNotations(source: XmlElement, event: ScoreEvent, measure: Measure, notUnderstood: Set<string>) {
  for (const item of source.children) {
    switch (item.name) {
      case "tied":
        break;
      case "slur":
        if (item.attributes.type === "start") event.slurStart = Number(item.attributes.number ?? 1);
        if (item.attributes.type === "stop") event.slurStop = Number(item.attributes.number ?? 1);
        break;
      case "tuplet":
        if (event.tuplet && item.attributes.type === "start") event.tuplet.start = true;
        if (event.tuplet && item.attributes.type === "stop") event.tuplet.stop = true;
        break;
      case "fermata":
        event.fermata = true;
        break;
      case "articulations":
        for (const articulation of item.children) {
          if (articulation.name === "breath-mark") event.breath = true;
          else if (ARTICULATIONS.has(articulation.name))
            (event.articulations ??= []).push(articulation.name as Articulation);
          else notUnderstood.add(`the sign ${articulation.name} in bar ${measure.number} was left out`);
        }
        break;
      default:
        notUnderstood.add(`the sign ${item.name} in bar ${measure.number} was left out`);
    }
  }
}

function readDirection(source: XmlElement, measure: Measure, running: Running, notUnderstood: Set<string>) {
  const items = children(source, "direction-type").flatMap((type) => type.children);
  const words = items
    .filter((item) => item.name === "words")
    .map((item) => item.text.trim())
    .join(" ");
  for (const item of items) {
    if (item.name === "metronome") {
      const unit = TYPES[childText(item, "beat-unit") ?? "quarter"] ?? "quarter";
      const bpm = Number(childText(item, "per-minute"));
      if (Number.isFinite(bpm) && bpm > 0) {
        const quarters = QUARTERS_OF_TYPE[unit];
        const beatQuarters = child(item, "beat-unit-dot") ? addFractions(quarters, half(quarters)) : quarters;
        measure.tempo = { ...(words ? { words } : {}), beatQuarters, bpm };
      }
    } else if (item.name === "dynamics") {
      const mark = item.children[0]?.name;
      if (mark && DYNAMICS.has(mark)) running.pending.dynamic = mark as Dynamic;
      else notUnderstood.add(`the dynamic ${mark ?? ""} in bar ${measure.number} was left out`);
    } else if (item.name === "wedge") readWedge(item, running);
    else if (item.name === "segno") measure.segno = true;
    else if (item.name === "coda") measure.coda = true;
    else if (item.name === "rehearsal") measure.rehearsal = item.text.trim();
    else if (item.name !== "words")
      notUnderstood.add(`the sign ${item.name} in bar ${measure.number} was left out`);
  }
  const sound = child(source, "sound");
  const understood = sound ? readSound(sound, measure) : false;
  const jumpWords = understood || readJumpWords(words, measure);
  if (words && !jumpWords && measure.tempo?.words !== words)
    measure.words = [measure.words, words].filter(Boolean).join(" ");
}

function readWedge(wedge: XmlElement, running: Running) {
  const { type } = wedge.attributes;
  if (type === "crescendo" || type === "diminuendo") running.pending.hairpinStart = type;
  else if (type === "stop" && running.lastNote) running.lastNote.hairpinStop = true;
}

/** Jumps and ends as MusicXML's sound element states them. True when it stated one. */
function readSound(sound: XmlElement, measure: Measure): boolean {
  const has = sound.attributes;
  if (has.tempo && !measure.tempo && Number(has.tempo) > 0)
    measure.tempo = { beatQuarters: "1", bpm: Number(has.tempo) };
  if (has.dacapo === "yes") measure.jump = "da-capo";
  if (has.dalsegno) measure.jump = "dal-segno";
  if (has.fine) measure.fine = true;
  if (has.tocoda) measure.toCoda = true;
  if (has.segno) measure.segno = true;
  if (has.coda) measure.coda = true;
  return Boolean(has.dacapo || has.dalsegno || has.fine || has.tocoda || has.segno || has.coda);
}

function readJumpWords(words: string, measure: Measure): boolean {
  if (/^D\.? ?C\.?/i.test(words) || /^da capo/i.test(words)) measure.jump = "da-capo";
  else if (/^D\.? ?S\.?/i.test(words) || /^dal segno/i.test(words)) measure.jump = "dal-segno";
  else if (/^fine$/i.test(words)) measure.fine = true;
  else if (/^to coda/i.test(words)) measure.toCoda = true;
  else return false;
  return true;
}

function readBarline(source: XmlElement, measure: Measure, running: Running) {
  const repeat = child(source, "repeat");
  if (repeat?.attributes.direction === "forward") measure.repeatStart = true;
  if (repeat?.attributes.direction === "backward")
    measure.repeatEnd = { times: Number(repeat.attributes.times ?? 2) };
  if (childText(source, "bar-style") === "light-light") measure.doubleBar = true;
  const ending = child(source, "ending");
  if (ending?.attributes.type === "start") {
    const passes = (ending.attributes.number ?? "1")
      .split(/[ ,]+/)
      .map(Number)
      .filter((pass) => pass > 0);
    running.endingPasses = passes;
    measure.ending = { passes, start: true };
  } else if (ending && measure.ending) {
    measure.ending.stop = true;
    running.endingPasses = undefined;
  }
}

/** A bar must fill its metre unless it is a pickup, the bar that completes one, or cut by a repeat. */
function checkLength(measure: Measure, source: XmlElement, index: number, all: Measure[], running: Running) {
  const { time } = running;
  const length = sumFractions(measure.events.map((event) => event.duration));
  const full = barQuarters(time);
  const order = compareFractions(length, full);
  if (order > 0)
    throw new ScoreReadError(
      `bar ${measure.number} holds ${length} quarter notes, more than the ${full} of ${time.beats}/${time.beatType}`,
      source.line,
    );
  if (order === 0) return;
  const cutByRepeat =
    measure.repeatEnd || all[index - 1]?.repeatEnd || measure.ending || measure.fine || measure.jump;
  if (index === 0 || index === all.length - 1 || measure.implicit || cutByRepeat) {
    measure.implicit = true;
    return;
  }
  if (measure.events.length === 0) {
    measure.events.push({
      id: uniqueId(undefined, `${measure.id}e1`, running.seenIds),
      kind: "rest",
      duration: full,
      type: "whole",
      dots: 0,
      wholeMeasure: true,
    });
    return;
  }
  throw new ScoreReadError(
    `bar ${measure.number} holds ${length} quarter notes, fewer than the ${full} of ${time.beats}/${time.beatType}`,
    source.line,
  );
}

/** XML ids start with a letter and are unique in the file; ids of the file are kept when they are usable. */
function uniqueId(wanted: string | undefined, otherwise: string, seen: Map<string, number>): string {
  const usable = wanted && /^[A-Za-z_][\w.-]{0,60}$/.test(wanted) && !seen.has(wanted) ? wanted : otherwise;
  // Thousands of one wanted id must not be counted through again for each.
  let copy = seen.get(usable) ?? 0;
  let id = usable;
  while (seen.has(id)) id = `${usable}-${++copy + 1}`;
  seen.set(usable, copy);
  seen.set(id, seen.get(id) ?? 0);
  return id;
}
