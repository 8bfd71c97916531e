import { signatureAlter } from "../music";
import {
  addFractions,
  type Fraction,
  fraction,
  fractionToNumber,
  multiplyFractions,
  subtractFractions,
  sumFractions,
} from "./fraction";
import { barQuarters, beatOfMetre, type Measure, type Part, type Score, type ScoreEvent } from "./model";
import { escapeXml } from "./xml-tree";

const ACCIDENTALS: Record<string, string> = {
  "-2": "flat-flat",
  "-1": "flat",
  "0": "natural",
  "1": "sharp",
  "2": "double-sharp",
};
const UNIT_NAMES: Record<Fraction, string> = {
  "4": "whole",
  "2": "half",
  "1": "quarter",
  "1/2": "eighth",
  "1/4": "16th",
};

/**
 * Writes a score as MusicXML 4.0 (score-partwise), ids included, beams and accidentals worked out.
 * Source: MusicXML 4.0, W3C Community Group Report, 2021.
 */
export function writeMusicXml(score: Score): string {
  const list = score.parts
    .map(
      (part) =>
        `<score-part id="${escapeXml(part.id)}"><part-name>${escapeXml(part.name)}</part-name></score-part>`,
    )
    .join("");
  const composer = score.composer ? `<creator type="composer">${escapeXml(score.composer)}</creator>` : "";
  const own = ownFields(score);
  const identification = composer || own ? `<identification>${composer}${own}</identification>` : "";
  return (
    `<?xml version="1.0" encoding="UTF-8"?>\n<score-partwise version="4.0">` +
    `<movement-title>${escapeXml(score.title)}</movement-title>${identification}<part-list>${list}</part-list>` +
    `${score.parts.map(writePart).join("")}</score-partwise>\n`
  );
}

/** What MusicXML has no place for travels in a field of our own, as JSON. */
export const OWN_FIELD = "ulu-bench";
export interface OwnFields {
  overrides?: Score["overrides"];
  catalogued?: true;
  /** By part id. */
  forInstruments?: Record<string, string[]>;
  purpose?: Score["purpose"];
  /** Ids of parts that are not moved. */
  asWritten?: string[];
}

function ownFields(score: Score): string {
  const assigned = score.parts.flatMap((part) =>
    part.forInstruments ? [[part.id, part.forInstruments] as const] : [],
  );
  const fixed = score.parts.filter((part) => part.asWritten).map((part) => part.id);
  const own: OwnFields = {
    ...(score.overrides ? { overrides: score.overrides } : {}),
    ...(score.catalogued ? { catalogued: true } : {}),
    ...(assigned.length > 0 ? { forInstruments: Object.fromEntries(assigned) } : {}),
    ...(score.purpose ? { purpose: score.purpose } : {}),
    ...(fixed.length > 0 ? { asWritten: fixed } : {}),
  };
  if (Object.keys(own).length === 0) return "";
  return `<miscellaneous><miscellaneous-field name="${OWN_FIELD}">${escapeXml(JSON.stringify(own))}</miscellaneous-field></miscellaneous>`;
}

function writePart(part: Part): string {
  const divisions = part.measures
    .flatMap((measure) => measure.events)
    .reduce((lcm, event) => leastCommonMultiple(lcm, Number(event.duration.split("/")[1] ?? 1)), 1);
  let time = { beats: 4, beatType: 4 };
  const context: Context = { divisions, fifths: 0, beamGroups: [], barBeginsAt: "0", openWord: false };
  const measures = part.measures.map((measure, index) => {
    context.fifths = measure.key?.fifths ?? context.fifths;
    time = measure.time ?? time;
    context.beamGroups = beamGroups(time);
    context.barBeginsAt =
      index === 0 && measure.implicit
        ? subtractFractions(barQuarters(time), sumFractions(measure.events.map((event) => event.duration)))
        : "0";
    return writeMeasure(measure, index, part, context);
  });
  return `<part id="${escapeXml(part.id)}">${measures.join("")}</part>`;
}

interface Context {
  divisions: number;
  /** Whether the syllable before goes on. */
  openWord: boolean;
  fifths: number;
  /** Where groups under one beam begin in a bar, in quarters. */
  beamGroups: number[];
  /** Where in its bar the first event stands: after the beginning in a pickup. */
  barBeginsAt: Fraction;
}

function writeMeasure(measure: Measure, index: number, part: Part, context: Context): string {
  const beams = beamsOf(measure, context);
  const altered = new Map<string, number>();
  const notes = measure.events.map((event, place) => {
    const before = event.dynamic ? direction(`<dynamics><${event.dynamic}/></dynamics>`, "", "below") : "";
    const opens = event.hairpinStart ? direction(`<wedge type="${event.hairpinStart}"/>`, "", "below") : "";
    const closes = event.hairpinStop ? direction('<wedge type="stop"/>', "", "below") : "";
    const note = writeEvent(event, beams[place] ?? "", accidentalOf(event, altered, context.fifths), context);
    return before + opens + note + closes;
  });
  const opening = [
    measure.repeatStart || measure.ending?.start
      ? `<barline location="left">${measure.repeatStart ? "<bar-style>heavy-light</bar-style>" : ""}${measure.ending?.start ? `<ending number="${measure.ending.passes.join(",")}" type="start"/>` : ""}${measure.repeatStart ? '<repeat direction="forward"/>' : ""}</barline>`
      : "",
    attributesOf(measure, index, part, context.divisions),
    measure.rehearsal ? direction(`<rehearsal>${escapeXml(measure.rehearsal)}</rehearsal>`) : "",
    measure.tempo ? tempoDirection(measure.tempo) : "",
    measure.words ? direction(`<words>${escapeXml(measure.words)}</words>`) : "",
    measure.segno ? direction("<segno/>", '<sound segno="segno"/>') : "",
    measure.coda ? direction("<coda/>", '<sound coda="coda"/>') : "",
  ];
  const closing = [
    measure.toCoda ? direction("<words>To Coda</words>", '<sound tocoda="coda"/>') : "",
    measure.fine ? direction("<words>Fine</words>", '<sound fine="yes"/>') : "",
    measure.jump
      ? direction(
          `<words>${measure.jump === "da-capo" ? "D.C." : "D.S."}${jumpGoal(part)}</words>`,
          measure.jump === "da-capo" ? '<sound dacapo="yes"/>' : '<sound dalsegno="segno"/>',
        )
      : "",
    rightBarline(measure, index === part.measures.length - 1),
  ];
  const implicit = measure.implicit ? ' implicit="yes"' : "";
  return `<measure id="${escapeXml(measure.id)}" number="${escapeXml(measure.number)}"${implicit}>${opening.join("")}${notes.join("")}${closing.join("")}</measure>`;
}

function jumpGoal(part: Part): string {
  if (part.measures.some((measure) => measure.toCoda)) return " al Coda";
  return part.measures.some((measure) => measure.fine) ? " al Fine" : "";
}

function rightBarline(measure: Measure, last: boolean): string {
  const ending = measure.ending?.stop
    ? `<ending number="${measure.ending.passes.join(",")}" type="${measure.repeatEnd ? "stop" : "discontinue"}"/>`
    : "";
  const style = measure.repeatEnd || last ? "light-heavy" : measure.doubleBar ? "light-light" : "";
  if (!ending && !style) return "";
  const times =
    measure.repeatEnd && measure.repeatEnd.times !== 2 ? ` times="${measure.repeatEnd.times}"` : "";
  return `<barline location="right">${style ? `<bar-style>${style}</bar-style>` : ""}${ending}${measure.repeatEnd ? `<repeat direction="backward"${times}/>` : ""}</barline>`;
}

function direction(type: string, sound = "", placement = "above"): string {
  return `<direction placement="${placement}"><direction-type>${type}</direction-type>${sound}</direction>`;
}

function tempoDirection(tempo: NonNullable<Measure["tempo"]>): string {
  const plain = UNIT_NAMES[tempo.beatQuarters];
  const unit = plain ?? UNIT_NAMES[multiplyFractions(tempo.beatQuarters, "2/3")] ?? "quarter";
  const words = tempo.words
    ? `<direction-type><words>${escapeXml(tempo.words)}</words></direction-type>`
    : "";
  const metronome = `<direction-type><metronome><beat-unit>${unit}</beat-unit>${plain ? "" : "<beat-unit-dot/>"}<per-minute>${tempo.bpm}</per-minute></metronome></direction-type>`;
  return `<direction placement="above">${words}${metronome}<sound tempo="${tempo.bpm * fractionToNumber(tempo.beatQuarters)}"/></direction>`;
}

function attributesOf(measure: Measure, index: number, part: Part, divisions: number): string {
  const first = index === 0;
  const key = measure.key
    ? `<key><fifths>${measure.key.fifths}</fifths><mode>${measure.key.mode}</mode></key>`
    : "";
  const time = measure.time
    ? `<time><beats>${measure.time.beats}</beats><beat-type>${measure.time.beatType}</beat-type></time>`
    : "";
  const sign = {
    treble: "<sign>G</sign><line>2</line>",
    bass: "<sign>F</sign><line>4</line>",
    percussion: "<sign>percussion</sign>",
  }[part.clef];
  const staff = first && onOneLine(part) ? "<staff-details><staff-lines>1</staff-lines></staff-details>" : "";
  const octaves = Math.trunc(part.soundsBy.letters / 7);
  const transpose =
    first && part.soundsBy.letters !== 0
      ? `<transpose><diatonic>${part.soundsBy.letters - 7 * octaves}</diatonic><chromatic>${part.soundsBy.semitones - 12 * octaves}</chromatic>${octaves ? `<octave-change>${octaves}</octave-change>` : ""}</transpose>`
      : "";
  const body = `${first ? `<divisions>${divisions}</divisions>` : ""}${key}${time}${first ? `<clef>${sign}</clef>` : ""}${staff}${transpose}`;
  return body ? `<attributes>${body}</attributes>` : "";
}

/** Percussion without places of its own needs one line only. */
function onOneLine(part: Part): boolean {
  return (
    part.clef === "percussion" && !part.measures.some((measure) => measure.events.some((each) => each.drum))
  );
}

/** A word's syllables are marked as begin, middle and end; the hyphen in our text says that it goes on. */
function lyricOf(event: ScoreEvent, context: Context): string {
  if (!event.lyric) return "";
  const goesOn = event.lyric.endsWith("-") && event.lyric.length > 1;
  const syllabic = goesOn ? (context.openWord ? "middle" : "begin") : context.openWord ? "end" : "single";
  context.openWord = goesOn;
  const text = goesOn ? event.lyric.slice(0, -1) : event.lyric;
  return `<lyric><syllabic>${syllabic}</syllabic><text>${escapeXml(text)}</text></lyric>`;
}

function writeEvent(event: ScoreEvent, beam: string, accidental: string, context: Context): string {
  const pitch = event.pitch
    ? `<pitch><step>${event.pitch.letter}</step>${event.pitch.alter ? `<alter>${event.pitch.alter}</alter>` : ""}<octave>${event.pitch.octave}</octave></pitch>`
    : `<unpitched><display-step>${event.drum?.step ?? "E"}</display-step><display-octave>${event.drum?.octave ?? 4}</display-octave></unpitched>`;
  const head = event.drum?.head ? `<notehead>${event.drum.head}</notehead>` : "";
  const ties = `${event.tieStop ? '<tie type="stop"/>' : ""}${event.tieStart ? '<tie type="start"/>' : ""}`;
  const modification = event.tuplet
    ? `<time-modification><actual-notes>${event.tuplet.actual}</actual-notes><normal-notes>${event.tuplet.normal}</normal-notes></time-modification>`
    : "";
  const signs = [
    ...(event.articulations ?? []).map((name) => `<${name}/>`),
    event.breath ? "<breath-mark/>" : "",
  ].join("");
  const notations = [
    event.tieStop ? '<tied type="stop"/>' : "",
    event.tieStart ? '<tied type="start"/>' : "",
    event.slurStop ? `<slur type="stop" number="${event.slurStop}"/>` : "",
    event.slurStart ? `<slur type="start" number="${event.slurStart}"/>` : "",
    event.tuplet?.start ? '<tuplet type="start"/>' : "",
    event.tuplet?.stop ? '<tuplet type="stop"/>' : "",
    signs ? `<articulations>${signs}</articulations>` : "",
    event.fermata ? "<fermata/>" : "",
  ].join("");
  const rest = `<rest${event.wholeMeasure ? ' measure="yes"' : ""}/>`;
  return (
    `<note id="${escapeXml(event.id)}">${event.grace ? "<grace/>" : ""}${event.kind === "rest" ? rest : pitch}` +
    `${event.grace ? "" : `<duration>${fractionToNumber(multiplyFractions(event.duration, String(context.divisions)))}</duration>`}${ties}<voice>1</voice>` +
    `<type>${event.type}</type>${"<dot/>".repeat(event.dots)}${accidental}${modification}${head}${beam}` +
    `${notations ? `<notations>${notations}</notations>` : ""}${lyricOf(event, context)}</note>`
  );
}

/** The accidental to print: only where the bar so far, or the signature, says something else. */
function accidentalOf(event: ScoreEvent, altered: Map<string, number>, fifths: number): string {
  if (!event.pitch) return "";
  const place = event.pitch.letter + event.pitch.octave;
  const inForce = altered.get(place) ?? signatureAlter(fifths, event.pitch.letter);
  if (event.pitch.alter === inForce || event.tieStop) return "";
  altered.set(place, event.pitch.alter);
  return `<accidental>${ACCIDENTALS[event.pitch.alter]}</accidental>`;
}

const BEAM_LEVELS: Record<string, number> = { eighth: 1, "16th": 2, "32nd": 3 };

/**
 * Where groups under one beam begin: at each beat (two beats of plain eighths stay apart); 3/8 is one group; odd numbers of
 * eighths go in twos with three at the end, 2+2+3 in 7/8.
 */
function beamGroups(time: { beats: number; beatType: number }): number[] {
  const beat = fractionToNumber(beatOfMetre(time));
  const bar = fractionToNumber(barQuarters(time));
  const odd =
    time.beatType >= 8 && time.beats % 2 === 1 && fractionToNumber(beatOfMetre(time)) * time.beatType === 4;
  const step = odd ? 2 * beat : beat;
  const starts: number[] = [];
  for (let at = 0; at < bar - (odd ? beat : 0) - 1e-9; at += step) starts.push(at);
  return odd && time.beats === 3 ? [0] : starts;
}

/** Beams for every event of a bar: runs of eighths and shorter inside one group are joined. */
function beamsOf(measure: Measure, { beamGroups, barBeginsAt }: Context): string[] {
  const beams = measure.events.map(() => "");
  let run: number[] = [];
  let runBeat = -1;
  let at = barBeginsAt;
  const close = () => {
    if (run.length > 1) {
      const levels = run.map((index) => BEAM_LEVELS[measure.events[index]!.type]!);
      run.forEach((index, place) => {
        beams[index] = Array.from({ length: levels[place]! }, (_, i) => beamTag(levels, place, i + 1)).join(
          "",
        );
      });
    }
    run = [];
  };
  measure.events.forEach((event, index) => {
    const place = fractionToNumber(at) + 1e-9;
    const inBeat = beamGroups.findLastIndex((start) => start <= place);
    if (inBeat !== runBeat || event.kind === "rest" || event.grace || !BEAM_LEVELS[event.type]) close();
    if (event.kind === "note" && !event.grace && BEAM_LEVELS[event.type]) {
      run.push(index);
      runBeat = inBeat;
    }
    at = addFractions(at, event.duration);
  });
  close();
  return beams;
}

function beamTag(levels: number[], place: number, level: number): string {
  const before = (levels[place - 1] ?? 0) >= level;
  const after = (levels[place + 1] ?? 0) >= level;
  const word = before
    ? after
      ? "continue"
      : "end"
    : after
      ? "begin"
      : place > 0
        ? "backward hook"
        : "forward hook";
  return `<beam number="${level}">${word}</beam>`;
}

function leastCommonMultiple(a: number, b: number): number {
  const reduced = fraction(a, b).split("/");
  return Number(reduced[0]) * b;
}
