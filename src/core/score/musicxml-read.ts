import { strFromU8, unzipSync } from "fflate";
import { parsePitch, pitchId } from "../music";
import { LeftOut } from "./left-out";
import { SCORE_LIMITS } from "./limits";
import type { Part, Purpose, Score } from "./model";
import { readPart } from "./musicxml-part";
import { OWN_FIELD, type OwnFields } from "./musicxml-write";
import { child, children, childText, readXml, ScoreReadError, type XmlElement } from "./xml-tree";

export interface ReadChoices {
  /** Which note of a chord a line keeps. */
  chords?: "top" | "bottom" | undefined;
}

export interface ScoreReading {
  score: Score;
  /** What stood in the file and was not understood, one sentence each, without repeats. */
  notUnderstood: string[];
}

const MAX_BYTES = 20_000_000;

/**
 * Reads MusicXML 4.0 (score-partwise or score-timewise; .mxl too) into the score model.
 *
 * @param bytes the file as it was uploaded
 * Full scores are read part by part. A part with several voices gives one part a voice; of a chord one note is kept; bars of
 * free length get a metre of their own. Whatever is left out or changed is told with its bar.
 *
 * @returns the score with every part, ids kept where the file has them, and a list of what was not understood
 * @throws ScoreReadError with the line and the reason; nothing outside the file is ever read
 * Source: MusicXML 4.0, W3C Community Group Report, 2021.
 */
export function readMusicXml(bytes: Uint8Array, { chords = "top" }: ReadChoices = {}): ScoreReading {
  if (bytes.length > MAX_BYTES) throw new ScoreReadError("the file is larger than 20 MB");
  const { text, latin1 } = bytes[0] === 0x50 && bytes[1] === 0x4b ? scoreInsideMxl(bytes) : decodeText(bytes);
  const read = readXml(text);
  const root = read.name === "score-timewise" ? asPartwise(read) : read;
  if (root.name !== "score-partwise")
    throw new ScoreReadError(`this is XML, but not MusicXML (it begins with <${root.name}>)`, root.line);

  const leftOut = new LeftOut();
  if (latin1) leftOut.say("the text is not UTF-8: it was read as Latin-1");
  const names = new Map(
    children(child(root, "part-list") ?? root, "score-part").map((part) => [
      part.attributes.id,
      childText(part, "part-name") ?? "",
    ]),
  );
  const sources = children(root, "part");
  if (sources.length > SCORE_LIMITS.parts)
    throw new ScoreReadError(`there are ${sources.length} parts, more than ${SCORE_LIMITS.parts}`, root.line);
  const seenIds = new Map<string, number>();
  const byPart = sources.map((part, place) =>
    readPart(part, { name: names.get(part.attributes.id ?? "") ?? "", place, chords, seenIds, leftOut }),
  );
  const parts = melodyFirst(withinLimits(byPart, leftOut));
  const [first, ...others] = parts;
  if (!first) throw new ScoreReadError("there is no part in this file", root.line);
  if (!hasNotes(first)) throw new ScoreReadError("there are no notes in this file", root.line);
  const title =
    childText(root, "movement-title") ||
    childText(child(root, "work") ?? root, "work-title") ||
    "Untitled line";
  const composer = children(child(root, "identification") ?? root, "creator")
    .find((creator) => creator.attributes.type === "composer")
    ?.text.trim();
  const score: Score = { title, ...(composer ? { composer } : {}), parts: [first, ...others] };
  return {
    score: { ...score, ...readOwnFields(root, score, leftOut) },
    notUnderstood: leftOut.sentences(),
  };
}

function hasNotes(part: Part): boolean {
  return part.measures.some((measure) => measure.events.some((event) => event.kind === "note"));
}

/** Each part's first voice, and its further voices as parts of their own as long as there is room for them. */
function withinLimits(byPart: readonly Part[][], leftOut: LeftOut): Part[] {
  const all = byPart.flat();
  if (all.length <= SCORE_LIMITS.parts) return all;
  leftOut.say(`${all.length - byPart.length} further voices of single parts were left out`);
  return byPart.flatMap((voices) => voices.slice(0, 1));
}

/** The part that stands for the line is the first with pitches: drums and parts that only rest come later. */
function melodyFirst(parts: readonly Part[]): Part[] {
  const melody = parts.findIndex((part) => part.clef !== "percussion" && hasNotes(part));
  const first = melody >= 0 ? melody : parts.findIndex(hasNotes);
  return first > 0 ? [parts[first]!, ...parts.filter((_, i) => i !== first)] : [...parts];
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
function readOwnFields(root: XmlElement, score: Score, leftOut: LeftOut): Partial<Score> {
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
    leftOut.say("what a director had changed for single instruments could not be read and was left out");
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

interface Decoded {
  text: string;
  /** The bytes were no UTF-8, so each was taken for a letter of Latin-1. */
  latin1: boolean;
}

function decodeText(bytes: Uint8Array): Decoded {
  const utf16 = (bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff);
  if (utf16)
    return {
      text: new TextDecoder(bytes[0] === 0xff ? "utf-16le" : "utf-16be").decode(bytes),
      latin1: false,
    };
  try {
    return { text: new TextDecoder("utf-8", { fatal: true }).decode(bytes), latin1: false };
  } catch {
    const text = new TextDecoder("latin1").decode(bytes);
    if (!text.trimStart().startsWith("<"))
      throw new ScoreReadError("this is not a text file, so it cannot be MusicXML");
    return { text, latin1: true };
  }
}

function scoreInsideMxl(bytes: Uint8Array): Decoded {
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
