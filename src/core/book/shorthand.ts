import { parsePitch } from "../music";
import {
  barQuarters,
  compareFractions,
  type Dynamic,
  type Fraction,
  fraction,
  type Measure,
  type Part,
  type Score,
  type ScoreEvent,
  shapeOfDuration,
  sumFractions,
} from "../score";

/** A further part of a line: a second, an easy one, or one that some instruments play instead. */
export interface BookPart {
  name: string;
  /** Who plays it without being asked. */
  instruments?: string[];
  music: string;
}

/** A line of the invented book, written in a shorthand read by `engraveShorthand`. */
export interface BookLine {
  number: number;
  page: number;
  title: string;
  introduces: string;
  composer: string;
  fifths: number;
  metre: [number, number];
  bpm: number;
  /**
   * Bars between "|". A note is letter, accidental, octave, ":" and its length in quarters ("Bb4:1"); "r" is a rest.
   * Signs after the length: "~" tie on, "(" slur from, ")" slur to, "." staccato, ">" accent, "," breath, "^" fermata,
   * "{" a crescendo from here, "}" to here. A word in quotes stands over its bar.
   * Before a bar: "[:" repeat from, "[1" and "[2" endings; after it ":]" repeat; "DC" da capo; "FINE". "p=" etc. set dynamics.
   */
  music: string;
  /** Over the tempo mark: "Lively". */
  tempoWords?: string;
  parts?: BookPart[];
}

/** Reads the shorthand into a concert-pitch score. */
export function engraveShorthand(line: BookLine): Score {
  const [beats, beatType] = line.metre;
  const full = barQuarters({ beats, beatType });
  let number = 0;
  let endingPasses: number[] | undefined;
  const measures = line.music.split("|").map((text, index): Measure => {
    const words = text.trim().split(/\s+/);
    const measure: Measure = { id: `m${index + 1}`, number: "", events: [] };
    let dynamic: Dynamic | undefined;
    for (const word of words) {
      if (word === "[:") measure.repeatStart = true;
      else if (/^\[\d$/.test(word)) {
        endingPasses = [Number(word[1])];
        measure.ending = { passes: endingPasses, start: true, stop: true };
      } else if (word === ":]") measure.repeatEnd = { times: 2 };
      else if (word === "DC") measure.jump = "da-capo";
      else if (word === "FINE") measure.fine = true;
      else if (word.startsWith('"')) measure.words = word.replaceAll('"', "").replaceAll("_", " ");
      else if (word.endsWith("=")) dynamic = word.slice(0, -1) as Dynamic;
      else {
        const event = readWord(word, `n${index + 1}-${measure.events.length + 1}`);
        if (dynamic) event.dynamic = dynamic;
        dynamic = undefined;
        measure.events.push(event);
      }
    }
    const short = compareFractions(sumFractions(measure.events.map((event) => event.duration)), full) < 0;
    if (short) measure.implicit = true;
    measure.number = short && index === 0 ? "0" : String(++number);
    if (index === 0) {
      measure.key = { fifths: line.fifths, mode: "major" };
      measure.time = { beats, beatType };
      measure.tempo = {
        ...(line.tempoWords ? { words: line.tempoWords } : {}),
        beatQuarters: "1",
        bpm: line.bpm,
      };
    }
    return measure;
  });
  closeTies(measures);
  const unpitched = line.music.includes("x:");
  const part: Part = {
    id: "P1",
    name: unpitched ? "Snare drum" : "Concert pitch",
    clef: unpitched ? "percussion" : "treble",
    soundsBy: { letters: 0, semitones: 0 },
    measures,
  };
  return { title: line.title, composer: line.composer, parts: [part] };
}

function readWord(word: string, id: string): ScoreEvent {
  const match = /^([A-Gxr](?:bb?|##?)?\d?):(\d+(?:\/\d+)?)([~().>,^{}]*)$/.exec(word);
  if (!match) throw new RangeError(`"${word}" is not a note of the demo shorthand`);
  const [, name, length, signs] = match as unknown as [string, string, string, string];
  const [num, den = "1"] = length.split("/");
  const duration: Fraction = fraction(Number(num), Number(den));
  const event: ScoreEvent = {
    id,
    kind: name === "r" ? "rest" : "note",
    duration,
    ...shapeOfDuration(duration),
  };
  if (name !== "r" && name !== "x") event.pitch = parsePitch(name);
  if (signs.includes("~")) event.tieStart = true;
  if (signs.includes("(")) event.slurStart = 1;
  if (signs.includes(")")) event.slurStop = 1;
  if (signs.includes(".")) event.articulations = ["staccato"];
  if (signs.includes(">")) event.articulations = ["accent"];
  if (signs.includes(",")) event.breath = true;
  if (signs.includes("^")) event.fermata = true;
  if (signs.includes("{")) event.hairpinStart = "crescendo";
  if (signs.includes("}")) event.hairpinStop = true;
  return event;
}

function closeTies(measures: Measure[]) {
  const events = measures.flatMap((measure) => measure.events);
  events.forEach((event, i) => {
    if (event.tieStart && events[i + 1]) events[i + 1]!.tieStop = true;
  });
}

/** A line of the book with its further parts: second, easy, bass, or one that some instruments play instead. */
export function bookScore(line: BookLine): Score {
  const score = engraveShorthand(line);
  const others = (line.parts ?? []).map(({ name, instruments, music }, i): Part => {
    const [part] = engraveShorthand({ ...line, music }).parts;
    return {
      ...part,
      id: `P${i + 2}`,
      name,
      ...(instruments?.length ? { forInstruments: instruments } : {}),
      measures: part.measures.map((measure) => ({
        ...measure,
        // Ids are unique in a line: the further part's notes get a letter of their own.
        events: measure.events.map((event) => ({ ...event, id: `p${i + 2}${event.id}` })),
      })),
    };
  });
  return { ...score, parts: [score.parts[0], ...others] };
}
