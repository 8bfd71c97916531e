import {
  type Clef,
  fifthsOfInterval,
  LETTERS,
  type Letter,
  type Pitch,
  pitchToMidi,
  transposePitch,
} from "../music";
import { countEndings, fitMetres } from "./fit-metre";
import { addFractions, compareFractions, type Fraction, fraction, subtractFractions } from "./fraction";
import type { LeftOut } from "./left-out";
import { SCORE_LIMITS } from "./limits";
import {
  type Articulation,
  barQuarters,
  DYNAMICS,
  type Dynamic,
  type Measure,
  type NoteType,
  type Part,
  type ScoreEvent,
} from "./model";
import { durationOfShape, half, QUARTERS_OF_TYPE, shapeOfDuration } from "./shape";
import { child, children, childText, ScoreReadError, type XmlElement } from "./xml-tree";

const AS_WRITTEN = { letters: 0, semitones: 0 };

/** Parts of a quarter that a file may count in; what is written in them is limited by `SCORE_LIMITS.finestNote`. */
const FINEST_DIVISIONS = 1_000_000;

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
const KNOWN_DYNAMICS = new Set<string>(DYNAMICS);
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

/** How a part is read. */
export interface PartReading {
  name: string;
  /** Its place among the file's parts, from 0. */
  place: number;
  chords: "top" | "bottom";
  /** Ids of notes so far, and how many copies were made of each: unique in the whole file. */
  seenIds: Map<string, number>;
  leftOut: LeftOut;
}

/** What runs on from one measure to the next while a part is read. */
interface Running {
  chords: "top" | "bottom";
  divisions: number;
  time: { beats: number; beatType: number };
  clef: Clef;
  /** Of the instrument that the part begins with; undefined until one is stated or a note is read. */
  soundsBy: Part["soundsBy"] | undefined;
  /** From what is written for a later instrument to what the first one would read. */
  change: Part["soundsBy"];
  endingPasses: number[] | undefined;
  seenIds: Map<string, number>;
  /** Ids of measures, which are the same in every part. */
  measureIds: Map<string, number>;
  idPrefix: string;
  /** Signs that belong to the next note. */
  pending: Pick<ScoreEvent, "dynamic" | "hairpinStart">;
  /** The note before, which a hairpin that ends belongs to. */
  lastNote: ScoreEvent | undefined;
  leftOut: LeftOut;
}

/** A note or rest with its place in the bar, in quarters, and the voice it stands in. */
interface Placed {
  at: Fraction;
  voice: string;
  event: ScoreEvent;
}

/** A bar before its voices are told apart. `measure.events` is empty. */
interface RawBar {
  measure: Measure;
  placed: Placed[];
  /** How far anything in it reaches. */
  length: Fraction;
  /** Line of the file. */
  line: number;
}

/**
 * Reads one part of a file: one part for its first voice, and one for each further voice that has notes.
 * @throws ScoreReadError with the line and the reason
 */
export function readPart(part: XmlElement, about: PartReading): Part[] {
  const { name, place, chords, seenIds, leftOut } = about;
  const running: Running = {
    chords,
    divisions: 1,
    time: { beats: 4, beatType: 4 },
    clef: "treble",
    soundsBy: undefined,
    change: AS_WRITTEN,
    endingPasses: undefined,
    seenIds,
    measureIds: new Map(),
    idPrefix: place === 0 ? "" : `p${place + 1}`,
    pending: {},
    lastNote: undefined,
    leftOut,
  };
  const sources = children(part, "measure");
  // Checked here too, before work is spent on a file that cannot pass.
  if (sources.length > SCORE_LIMITS.barsAPart)
    throw new ScoreReadError(
      `there are ${sources.length} bars in one part, more than ${SCORE_LIMITS.barsAPart}`,
      part.line,
    );
  const raw = joined(
    sources.map((source, index) => readMeasure(source, index, running)),
    leftOut,
  );
  fitMetres(raw, leftOut);
  countEndings(raw.map(({ measure }) => measure));
  const voices = voicesOf(raw);
  if (voices.length > SCORE_LIMITS.parts)
    throw new ScoreReadError(
      `one part has ${voices.length} voices, more than ${SCORE_LIMITS.parts}`,
      part.line,
    );
  const id = part.attributes.id ?? `P${place + 1}`;
  return voices.map((voice, i): Part => {
    const prefix = `${running.idPrefix}${i === 0 ? "" : `v${i + 1}`}`;
    return {
      id: i === 0 ? id : `${id}-${i + 1}`,
      name: i === 0 ? name : `${name || "Part"}, voice ${i + 1}`,
      clef: running.clef,
      soundsBy: running.soundsBy ?? AS_WRITTEN,
      measures: raw.map((bar) => oneVoice(bar, voice, prefix, running)),
    };
  });
}

/** The voices that have notes, in the order in which they appear; one for a part that only rests. */
function voicesOf(raw: readonly RawBar[]): string[] {
  const notes = raw.flatMap(({ placed }) => placed.filter(({ event }) => event.kind === "note"));
  const all = new Set(raw.flatMap(({ placed }) => placed.map(({ voice }) => voice)));
  const sounding = new Set(notes.map(({ voice }) => voice));
  const voices = [...all].filter((voice) => sounding.has(voice));
  return voices.length > 0 ? voices : [[...all][0] ?? "1"];
}

/** What one voice has in a bar, rests where it is silent. */
function oneVoice(
  { measure, placed, length }: RawBar,
  voice: string,
  prefix: string,
  { leftOut, seenIds }: Running,
): Measure {
  const events: ScoreEvent[] = [];
  let at: Fraction = "0";
  let rests = 0;
  const wait = (until: Fraction) => {
    for (const shape of restShapes(subtractFractions(until, at)))
      events.push({
        id: uniqueId(undefined, `${prefix}${measure.id}r${++rests}`, seenIds),
        kind: "rest",
        ...shape,
      });
    at = until;
  };
  for (const { at: from, event } of placed.filter((each) => each.voice === voice)) {
    const order = compareFractions(from, at);
    if (order < 0) {
      leftOut.add("a note that sounds over another of its voice", "was left out", measure.number);
      continue;
    }
    if (order > 0) wait(from);
    events.push(event);
    at = addFractions(at, event.duration);
  }
  const silent = events.length === 0;
  if (compareFractions(length, at) > 0) wait(length);
  if (silent && events.length === 1 && !measure.implicit) events[0] = { ...events[0]!, wholeMeasure: true };
  if (silent && events.length > 1 && !measure.implicit)
    return {
      ...measure,
      events: [
        { id: events[0]!.id, kind: "rest", duration: length, type: "whole", dots: 0, wholeMeasure: true },
      ],
    };
  return { ...measure, events };
}

/** Note values that fill a silence, the longest first. */
function restShapes(length: Fraction): Pick<ScoreEvent, "duration" | "type" | "dots">[] {
  const shapes: Pick<ScoreEvent, "duration" | "type" | "dots">[] = [];
  let left = length;
  while (compareFractions(left, "0") > 0) {
    const { type } = shapeOfDuration(left);
    const duration = QUARTERS_OF_TYPE[type];
    // A silence that no plain value says, such as a third of a beat, is one rest of its own length.
    if (compareFractions(duration, left) > 0 || shapes.length > 8) {
      shapes.push({ duration: left, type, dots: 0 });
      break;
    }
    shapes.push({ duration, type, dots: 0 });
    left = subtractFractions(left, duration);
  }
  return shapes;
}

/** A bar that a page or line break cuts in two is one bar again. */
function joined(bars: readonly RawBar[], leftOut: LeftOut): RawBar[] {
  let time = { beats: 4, beatType: 4 };
  const out: RawBar[] = [];
  for (const bar of bars) {
    const before = out.at(-1);
    time = before?.measure.time ?? time;
    const whole = before && addFractions(before.length, bar.length);
    const cut =
      before &&
      out.length > 1 &&
      bar.measure.implicit &&
      !bar.measure.time &&
      compareFractions(bar.length, "0") > 0 &&
      compareFractions(before.length, barQuarters(time)) < 0 &&
      compareFractions(whole!, barQuarters(time)) === 0 &&
      !isParted(before.measure, bar.measure);
    if (!cut) {
      out.push(bar);
      continue;
    }
    const { events: _events, id: _id, number: _number, implicit: _implicit, ...signs } = bar.measure;
    const { implicit: _short, ...first } = before.measure;
    out[out.length - 1] = {
      ...before,
      measure: { ...first, ...signs },
      placed: [
        ...before.placed,
        ...bar.placed.map((each) => ({ ...each, at: addFractions(before.length, each.at) })),
      ],
      length: whole!,
    };
    leftOut.add("a bar that was cut in two", "was joined", before.measure.number);
  }
  return out;
}

/** Whether something ends or begins between two bars. */
function isParted(before: Measure, after: Measure): boolean {
  return Boolean(
    before.repeatEnd ||
      before.fine ||
      before.jump ||
      before.doubleBar ||
      before.ending ||
      after.repeatStart ||
      after.ending ||
      after.segno ||
      after.coda,
  );
}

function readMeasure(source: XmlElement, index: number, running: Running): RawBar {
  const { leftOut } = running;
  const measure: Measure = {
    id: uniqueId(source.attributes.id, `m${index + 1}`, running.measureIds),
    number: (source.attributes.number ?? String(index + 1)).slice(0, 12),
    ...(source.attributes.implicit === "yes" ? { implicit: true as const } : {}),
    events: [],
  };
  if (running.endingPasses) measure.ending = { passes: running.endingPasses };
  const placed: Placed[] = [];
  let at: Fraction = "0";
  let length: Fraction = "0";
  let backups = 0;
  for (const item of source.children) {
    switch (item.name) {
      case "attributes":
        readAttributes(item, measure, running);
        break;
      case "note": {
        if (child(item, "chord")) {
          inChord(item, placed.at(-1)?.event, measure, running);
          break;
        }
        const event = readNote(item, measure, placed.length, running);
        placed.push({ at, voice: voiceOf(item, backups), event });
        at = addFractions(at, event.duration);
        break;
      }
      case "backup":
      case "forward": {
        const by = fraction(unitsOf(item, measure), running.divisions);
        const to = item.name === "forward" ? addFractions(at, by) : subtractFractions(at, by);
        at = compareFractions(to, "0") < 0 ? "0" : to;
        if (item.name === "backup") backups++;
        break;
      }
      case "direction":
        readDirection(item, measure, running);
        break;
      case "barline":
        readBarline(item, measure, running);
        break;
      case "sound":
        readSound(item, measure);
        break;
      default:
        if (!LAYOUT_ONLY.has(item.name)) leftOut.add(`<${item.name}>`, "was left out", measure.number);
    }
    if (compareFractions(at, length) > 0) length = at;
  }
  return { measure, placed, length, line: source.line };
}

/** By the file's own voice and staff; where it names none, what follows a step back is another voice. */
function voiceOf(note: XmlElement, backups: number): string {
  return `${childText(note, "staff") ?? "1"}/${childText(note, "voice") ?? String(backups + 1)}`;
}

function unitsOf(source: XmlElement, measure: Measure): number {
  const units = Number(childText(source, "duration"));
  if (!Number.isInteger(units) || units < 0)
    throw new ScoreReadError(`<${source.name}> in bar ${measure.number} has no usable duration`, source.line);
  return units;
}

/** A further note of a chord: it takes the place of the one before where it is the one to keep. */
function inChord(
  source: XmlElement,
  before: ScoreEvent | undefined,
  measure: Measure,
  running: Running,
): void {
  const pitch = child(source, "pitch");
  if (!before) return;
  if (pitch && before.pitch) {
    const other = transposePitch(readPitch(pitch, measure, running.leftOut), running.change);
    const higher = pitchToMidi(other) > pitchToMidi(before.pitch);
    if (higher === (running.chords === "top")) {
      before.pitch = other;
      delete before.tieStart;
      delete before.tieStop;
      readTies(source, before);
    }
  }
  const [kept, others] = running.chords === "top" ? ["top", "lower"] : ["lowest", "upper"];
  if (pitch || child(source, "unpitched"))
    running.leftOut.add(
      `the ${others} notes of a chord`,
      `were left out, the ${kept} one kept`,
      measure.number,
    );
}

/** Ties as they sound, or as they are drawn where the file says no more. */
function readTies(source: XmlElement, event: ScoreEvent): void {
  const ties = children(source, "tie");
  const drawn = children(source, "notations").flatMap((notations) => children(notations, "tied"));
  for (const { attributes } of ties.length > 0 ? ties : drawn) {
    if (attributes.type === "start") event.tieStart = true;
    if (attributes.type === "stop") event.tieStop = true;
  }
}

function readAttributes(source: XmlElement, measure: Measure, running: Running) {
  const { leftOut } = running;
  const divisions = Number(childText(source, "divisions") ?? running.divisions);
  if (!Number.isInteger(divisions) || divisions < 1 || divisions > FINEST_DIVISIONS)
    throw new ScoreReadError(`divisions must be a whole number from 1 to ${FINEST_DIVISIONS}`, source.line);
  running.divisions = divisions;
  const key = child(source, "key");
  if (key) {
    const stated = Number(childText(key, "fifths") ?? Number.NaN);
    const usable = Number.isInteger(stated) && Math.abs(stated) <= 7;
    if (!usable) leftOut.add("a key signature that is none of the fifteen", "was left out", measure.number);
    measure.key = {
      fifths: usable ? stated : 0,
      mode: childText(key, "mode") === "minor" ? "minor" : "major",
    };
  }
  const time = child(source, "time");
  if (time && child(time, "senza-misura"))
    leftOut.add("music without metre", "was put into bars by its length", measure.number);
  else if (time) {
    const metre = statedMetre(time);
    if (!metre)
      throw new ScoreReadError(
        `the time signature ${childText(time, "beats") ?? "?"}/${childText(time, "beat-type") ?? "?"} cannot be read`,
        time.line,
      );
    running.time = measure.time = metre;
  }
  const clef = child(source, "clef");
  if (clef) {
    const sign = childText(clef, "sign");
    if (sign === "G" || sign === "F" || sign === "percussion")
      running.clef = ({ G: "treble", F: "bass", percussion: "percussion" } as const)[sign];
    else leftOut.add(`the clef ${sign}`, "was left out", measure.number);
  }
  const transpose = child(source, "transpose");
  if (transpose) {
    const octaves = Number(childText(transpose, "octave-change") ?? 0);
    const semitones = Number(childText(transpose, "chromatic") ?? 0);
    const letters = childText(transpose, "diatonic");
    if (![octaves, semitones, Number(letters ?? 0)].every(Number.isInteger))
      throw new ScoreReadError("a transposition is not given in whole numbers", transpose.line);
    const stated = Number(letters ?? Number.NaN);
    // Letters that do not go with the semitones are a slip of the program that wrote them.
    const usable = Math.abs(semitones - (12 * stated) / 7) <= 2;
    const soundsBy = {
      letters: (usable ? stated : lettersOf(semitones)) + 7 * octaves,
      semitones: semitones + 12 * octaves,
    };
    running.soundsBy ??= soundsBy;
    running.change = {
      letters: soundsBy.letters - running.soundsBy.letters,
      semitones: soundsBy.semitones - running.soundsBy.semitones,
    };
    if (running.change.semitones !== 0) {
      leftOut.add("a change of instrument", "was read on in the first one's key", measure.number);
      if (measure.key) measure.key.fifths += fifthsOfInterval(running.change);
    }
  }
}

/** One metre of all that a signature says: "3+2" over 8 is 5/8, 2/4 with 3/8 is 7/8; undefined where it cannot be counted. */
function statedMetre(time: XmlElement): { beats: number; beatType: number } | undefined {
  const types = children(time, "beat-type").map((each) => Number(each.text.trim()));
  const counts = children(time, "beats").map((each) =>
    each.text.split("+").reduce((sum, part) => sum + Number(part), 0),
  );
  if (types.length === 0 || types.length !== counts.length) return undefined;
  if (!types.every((type) => [1, 2, 4, 8, 16, 32].includes(type))) return undefined;
  const beatType = Math.max(...types);
  const beats = counts.reduce((sum, count, i) => sum + (count * beatType) / types[i]!, 0);
  return Number.isInteger(beats) && beats >= 1 && beats <= 32 ? { beats, beatType } : undefined;
}

/** Letter steps of an interval given in semitones only: a major or minor interval where there is one, a fourth for six. */
function lettersOf(semitones: number): number {
  const steps = [0, 1, 1, 2, 2, 3, 3, 4, 5, 5, 6, 6];
  const size = Math.abs(semitones);
  return Math.sign(semitones) * (7 * Math.floor(size / 12) + steps[size % 12]!);
}

function readNote(source: XmlElement, measure: Measure, place: number, running: Running): ScoreEvent {
  const { leftOut } = running;
  const grace = child(source, "grace") !== undefined;
  const written = TYPES[childText(source, "type") ?? ""];
  const dots = children(source, "dot").length;
  const units = Number(childText(source, "duration") ?? (grace ? 0 : Number.NaN));
  const stated = Number.isInteger(units) && units >= 0;
  if (!stated && !(Number.isNaN(units) && written))
    throw new ScoreReadError(`a note in bar ${measure.number} has no usable duration`, source.line);
  // Grace notes last nothing, whatever the file says.
  const duration = grace
    ? "0"
    : stated
      ? fraction(units, running.divisions)
      : durationOfShape({ type: written!, dots });
  const cue = child(source, "cue") !== undefined || child(source, "type")?.attributes.size === "cue";
  if (cue) leftOut.add("cue notes", "were left out", measure.number);
  const rest = child(source, "rest");
  const event: ScoreEvent = {
    id: uniqueId(source.attributes.id, `${running.idPrefix}${measure.id}e${place + 1}`, running.seenIds),
    kind: rest || cue ? "rest" : "note",
    duration,
    ...(written ? { type: written, dots } : shapeOfDuration(duration)),
  };
  if (cue) return event;
  if (grace) event.grace = true;
  if (
    rest?.attributes.measure === "yes" ||
    (rest && compareFractions(duration, barQuarters(running.time)) === 0)
  )
    event.wholeMeasure = true;
  const pitch = child(source, "pitch");
  if (pitch) {
    running.soundsBy ??= AS_WRITTEN;
    event.pitch = transposePitch(readPitch(pitch, measure, leftOut), running.change);
  } else if (!rest) {
    const unpitched = child(source, "unpitched");
    if (!unpitched) throw new ScoreReadError(`a note in bar ${measure.number} has no pitch`, source.line);
    const drum = readDrum(source, unpitched);
    if (drum) event.drum = drum;
  }
  readTies(source, event);
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
  for (const notations of children(source, "notations")) readNotations(notations, event, measure, leftOut);
  if (event.kind === "note" && !grace) {
    Object.assign(event, running.pending);
    running.pending = {};
    running.lastNote = event;
  }
  return event;
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

function readPitch(source: XmlElement, measure: Measure, leftOut: LeftOut): Pitch {
  const letter = childText(source, "step") as Letter;
  const stated = Number(childText(source, "alter") ?? 0);
  const octave = Number(childText(source, "octave"));
  if (!LETTERS.includes(letter) || !Number.isInteger(octave) || octave < 0 || octave > 9)
    throw new ScoreReadError(`a pitch in bar ${measure.number} cannot be read`, source.line);
  const alter = Math.trunc(stated);
  if (!(Math.abs(alter) <= 2))
    throw new ScoreReadError(`an accidental in bar ${measure.number} cannot be read`, source.line);
  if (alter !== stated) leftOut.add("a quarter tone", "was read without its quarter", measure.number);
  return { letter, alter, octave };
}

/** Notations that only hold others. */
const GROUPS = new Set(["ornaments", "technical"]);

function readNotations(source: XmlElement, event: ScoreEvent, measure: Measure, leftOut: LeftOut) {
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
          else leftOut.add(`the sign ${articulation.name}`, "was left out", measure.number);
        }
        break;
      default:
        for (const sign of GROUPS.has(item.name) ? item.children : [item])
          leftOut.add(`the sign ${sign.name}`, "was left out", measure.number);
    }
  }
}

function readDirection(source: XmlElement, measure: Measure, running: Running) {
  const { leftOut } = running;
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
      if (mark && KNOWN_DYNAMICS.has(mark)) running.pending.dynamic = mark as Dynamic;
      else leftOut.add(`the dynamic ${mark ?? ""}`, "was left out", measure.number);
    } else if (item.name === "wedge") readWedge(item, running);
    else if (item.name === "segno") measure.segno = true;
    else if (item.name === "coda") measure.coda = true;
    else if (item.name === "rehearsal") measure.rehearsal = item.text.trim();
    else if (item.name !== "words") leftOut.add(`the sign ${item.name}`, "was left out", measure.number);
  }
  const sound = child(source, "sound");
  const understood = sound ? readSound(sound, measure) : false;
  const jumpWords = understood || readJumpWords(words, measure);
  if (words && !jumpWords && measure.tempo?.words !== words)
    measure.words = shortened([measure.words, words].filter(Boolean).join(" "), measure, leftOut);
}

function shortened(text: string, { number }: Measure, leftOut: LeftOut): string {
  if (text.length <= SCORE_LIMITS.text) return text;
  leftOut.add("a long text", "was shortened", number);
  return `${text.slice(0, SCORE_LIMITS.text - 1)}…`;
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

/** "D.C.", "DC", "d. c. al Fine", but not "D clarinets only". @param second  letter of the word after "d" */
function namesJump(words: string, second: "C" | "S", inFull: RegExp): boolean {
  const short = new RegExp(`^(?:D${second}|D\\. ?${second}|d\\. ?${second.toLowerCase()})(?![A-Za-z])`);
  return short.test(words) || inFull.test(words);
}

function readJumpWords(words: string, measure: Measure): boolean {
  if (namesJump(words, "C", /^da capo\b/i)) measure.jump = "da-capo";
  else if (namesJump(words, "S", /^dal segno\b/i)) measure.jump = "dal-segno";
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
