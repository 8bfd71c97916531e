import { parsePitch } from "../src/core/music";
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
} from "../src/core/score";

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
   * Signs after the length: "~" tie on, "(" slur from, ")" slur to, "." staccato, ">" accent, "," breath, "^" fermata.
   * Before a bar: "[:" repeat from, "[1" and "[2" endings; after it ":]" repeat; "DC" da capo; "FINE". "p=" etc. set dynamics.
   */
  music: string;
}

const harbour = "Composed for the demo";
const old = "Traditional";

/** Quayside Steps, Book One: invented; tunes marked traditional are old and free. */
export const BOOK_TITLE = "Quayside Steps, Book One";
export const LINES: BookLine[] = [
  {
    number: 4,
    page: 3,
    title: "First Light",
    introduces: "concert B♭, C, D",
    composer: harbour,
    fifths: -2,
    metre: [4, 4],
    bpm: 72,
    music: "Bb4:4 | C5:4 | D5:2 C5:2 | Bb4:4 | D5:2 D5:2 | C5:2 C5:2 | Bb4:2 C5:2 | Bb4:4",
  },
  {
    number: 9,
    page: 5,
    title: "Mooring Rope",
    introduces: "concert E♭ and F, quarter rests",
    composer: harbour,
    fifths: -2,
    metre: [4, 4],
    bpm: 76,
    music:
      "Bb4:1 C5:1 D5:2 | D5:1 Eb5:1 F5:2 | F5:1 Eb5:1 D5:1 C5:1 | Bb4:2 C5:1 r:1 | Bb4:1 C5:1 D5:2 | D5:1 Eb5:1 F5:1 r:1 | F5:1 D5:1 C5:2 | Bb4:3 r:1",
  },
  {
    number: 14,
    page: 7,
    title: "Fog Bell",
    introduces: "ties and half rests",
    composer: harbour,
    fifths: -2,
    metre: [4, 4],
    bpm: 80,
    music:
      "F5:3 D5:1 | F5:2 D5:2 | Eb5:4~ | Eb5:2 r:2 | Eb5:3 C5:1 | Eb5:2 C5:2 | D5:4~ | D5:2 r:2 | F5:2 D5:1 Bb4:1 | C5:2 D5:1 Eb5:1 | D5:2 C5:2 | Bb4:4",
  },
  {
    number: 18,
    page: 8,
    title: "Two Gulls",
    introduces: "eighth notes in pairs",
    composer: harbour,
    fifths: -2,
    metre: [2, 4],
    bpm: 72,
    music:
      "Bb4:1/2 C5:1/2 D5:1 | C5:1/2 D5:1/2 Eb5:1 | D5:1/2 Eb5:1/2 F5:1/2 Eb5:1/2 | D5:1 C5:1 | Bb4:1/2 C5:1/2 D5:1 | C5:1/2 D5:1/2 Eb5:1 | F5:1/2 Eb5:1/2 D5:1/2 C5:1/2 | Bb4:2",
  },
  {
    number: 22,
    page: 9,
    title: "Ferry Timetable",
    introduces: "slurs; concert G",
    composer: harbour,
    fifths: -2,
    metre: [4, 4],
    bpm: 84,
    music:
      "Bb4:1( D5:1) F5:1( G5:1) | F5:2 D5:2 | Eb5:1( C5:1) D5:1( Bb4:1) | C5:4 | Bb4:1( D5:1) F5:1( G5:1) | F5:2 Eb5:1 D5:1 | C5:1( D5:1) Eb5:1 C5:1 | Bb4:4",
  },
  {
    number: 27,
    page: 10,
    title: "Slack Tide",
    introduces: "three-four time, dotted half notes",
    composer: harbour,
    fifths: -2,
    metre: [3, 4],
    bpm: 92,
    music:
      "D5:2 C5:1 | Bb4:3 | Eb5:2 D5:1 | C5:3 | F5:1 Eb5:1 D5:1 | C5:2 D5:1 | Eb5:1 D5:1 C5:1 | D5:3 | D5:2 C5:1 | Bb4:3 | Eb5:2 D5:1 | C5:2 F5:1 | F5:1 Eb5:1 D5:1 | C5:1 D5:1 C5:1 | Bb4:3~ | Bb4:3^",
  },
  {
    number: 31,
    page: 11,
    title: "Lamplighter",
    introduces: "repeat with two endings",
    composer: harbour,
    fifths: -2,
    metre: [4, 4],
    bpm: 84,
    music: "[: F5:1 F5:1 G5:1 F5:1 | D5:1 Eb5:1 F5:2 | Eb5:1 Eb5:1 D5:1 C5:1 |[1 D5:2 F5:2 :] |[2 Bb4:4",
  },
  {
    number: 34,
    page: 11,
    title: "Net Menders",
    introduces: "concert A; the flat that stays",
    composer: harbour,
    fifths: -3,
    metre: [4, 4],
    bpm: 84,
    music:
      "mf= Eb5:1 F5:1 G5:2 | G5:1 F5:1 Eb5:2 | Eb5:1/2 F5:1/2 G5:1 Ab5:1 G5:1 | F5:3 r:1 | Bb4:1 Ab4:1 G4:2 | Ab4:1/2 Bb4:1/2 C5:1/2 Ab4:1/2 Bb4:2 | C5:1 Bb4:1 Ab4:1 F4:1 | Eb4:4",
  },
  {
    number: 36,
    page: 12,
    title: "Over the Bar",
    introduces: "crossing to the upper notes; concert A♭",
    composer: harbour,
    fifths: -3,
    metre: [4, 4],
    bpm: 80,
    music:
      "Eb5:2 F5:1 G5:1 | Ab5:2 G5:2 | F5:1 Eb5:1 D5:1 Eb5:1 | F5:4 | G5:2 Ab5:1 Bb5:1 | Ab5:2 G5:1 F5:1 | Eb5:1 G5:1 F5:1 D5:1 | Eb5:4",
  },
  {
    number: 38,
    page: 13,
    title: "Pickup at Pier Nine",
    introduces: "pickup notes",
    composer: harbour,
    fifths: -2,
    metre: [4, 4],
    bpm: 88,
    music:
      "F5:1 | D5:1 Bb4:1 D5:1 F5:1 | G5:2 F5:1 Eb5:1 | D5:1 F5:1 Eb5:1 C5:1 | Bb4:2 r:1 F5:1 | D5:1 Bb4:1 D5:1 F5:1 | G5:2 F5:1 Eb5:1 | D5:1 Eb5:1 C5:1 C5:1 | Bb4:3",
  },
  {
    number: 41,
    page: 14,
    title: "Harbour Master's Round",
    introduces: "D.C. al Fine",
    composer: harbour,
    fifths: -2,
    metre: [4, 4],
    bpm: 88,
    music:
      "Bb4:1 D5:1 F5:1 D5:1 | Eb5:1 C5:1 D5:2 | Bb4:1 D5:1 F5:1 D5:1 | C5:2 Bb4:2 FINE | F5:1 G5:1 F5:1 Eb5:1 | D5:1 Eb5:1 D5:2 | C5:1 D5:1 Eb5:1 C5:1 | D5:2 F5:2 DC",
  },
  {
    number: 45,
    page: 16,
    title: "The Parson's Farewell",
    introduces: "an old English dance tune in concert C minor",
    composer: old,
    fifths: -3,
    metre: [4, 4],
    bpm: 92,
    music:
      "C5:1 G4:1 C5:1 D5:1 | Eb5:1 D5:1 C5:2 | G5:1 F5:1 Eb5:1 D5:1 | Eb5:1 F5:1 G5:2 | G5:1 F5:1 Eb5:1 D5:1 | C5:1 D5:1 Eb5:1 C5:1 | D5:1 C5:1 B4:1 C5:1 | C5:4",
  },
];

/** A drummer's page of the same book. */
export const SNARE_LINE: BookLine = {
  number: 19,
  page: 8,
  title: "Gull Feet",
  introduces: "eighths against rests, for snare",
  composer: harbour,
  fifths: 0,
  metre: [4, 4],
  bpm: 80,
  music:
    "x:1 x:1 x:1/2 x:1/2 x:1 | x:1 r:1 x:1/2 x:1/2 x:1 | x:1/2 x:1/2 x:1/2 x:1/2 x:1 x:1 | x:1 x:1 x:1 r:1 | x:1/2 x:1/2 x:1 x:1/2 x:1/2 x:1 | x:1 r:1 x:1 r:1 | x:1/2 x:1/2 x:1/2 x:1/2 x:1/2 x:1/2 x:1 | x:2 r:2",
};

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
      measure.key = { fifths: line.fifths, mode: line.title.includes("Parson") ? "minor" : "major" };
      measure.time = { beats, beatType };
      measure.tempo = { beatQuarters: "1", bpm: line.bpm };
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
  const match = /^([A-Gxr](?:bb?|##?)?\d?):(\d+(?:\/\d+)?)([~().>,^]*)$/.exec(word);
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
  return event;
}

function closeTies(measures: Measure[]) {
  const events = measures.flatMap((measure) => measure.events);
  events.forEach((event, i) => {
    if (event.tieStart && events[i + 1]) events[i + 1]!.tieStop = true;
  });
}
