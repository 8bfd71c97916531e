import type { z } from "zod";
import { INSTRUMENTS, pitchName, pitchToMidi, type Stage } from "../../core/music";
import { type ReadyRow, readinessOf } from "../../core/ready";
import {
  barQuarters,
  beatOfMetre,
  compareBars,
  forDrumsOnly,
  formOf,
  type Measure,
  outlineOf,
  type Score,
  writeMidi,
  writeMusicXml,
} from "../../core/score";
import { Book, Line, seatsOfBand, timesGiven } from "../../data";
import type { EngravingWidth } from "../../server/engrave";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { bandKnowledge } from "../knowledge";
import { broughtBefore, draftOf, readUpload, storeLine } from "../lines";
import { drawOnce, engraveLine, ownFingerings, partOf, partView, withPencil } from "../parts";
import { fileName, onPartOf } from "./names";
import { pencilOf } from "./pencil";
import { newestRevision } from "./revise";
import type {
  CatalogueLine,
  FileLook,
  ImportLine,
  LineDetail,
  LineHead,
  LookAtFile,
  PartView,
} from "./schema";

export { archivedLines, archivedTitle, deleteLine, setLineRemoved } from "./archive";
export { bandBegun, bringBook, bringEveryNote } from "./begin";
export { type LineFacts, lineFacts, listLines, shelfView } from "./list";
export { erasePencil, pencilOf, writePencil } from "./pencil";
export { lineBundle, type PlayerSet, type SheetToPrint, setForGroup, sheetsForGroup } from "./print";
export {
  attachRecording,
  LARGEST_RECORDING,
  recordingSound,
  recordingsOf,
  setBars,
  setRemoved,
} from "./recordings";
export { describeLine, newestRevision, removePart, savePart, setOverride } from "./revise";
export {
  CatalogueLine,
  ImportLine,
  LARGEST_SCORE,
  LineAbout,
  LookAtFile,
  SavePart,
  SaveView,
  SetBars,
  SetFingerings,
  SetOverride,
  SetRemoved,
  WritePencil,
} from "./schema";
export { removeView, savedViews, saveView } from "./views";

/** What is said about a line, whatever its notes are like. */
export async function lineHead(actor: Actor, lineId: string): Promise<LineHead> {
  const { bandId } = director(actor);
  return headOf(found(await Line.findOne({ where: { id: lineId, bandId } }), "line"));
}

async function headOf(line: Line): Promise<LineHead> {
  const { id, number, page, title, introduces, bookId, teachingPlace, teachingReason } = line;
  const book = bookId ? found(await Book.findByPk(bookId), "book").title : "";
  return { id, number, page, title, introduces, book, teachingPlace, teachingReason };
}

export async function lineDetail(actor: Actor, lineId: string): Promise<LineDetail> {
  const { bandId } = director(actor);
  const line = found(await Line.findOne({ where: { id: lineId, bandId } }), "line");
  const revision = await newestRevision(bandId, lineId);
  return {
    ...(await headOf(line)),
    archived: line.removedAt !== null,
    given: (await timesGiven(lineId)) > 0,
    parts: revision.score.parts.map(({ id, name, forInstruments }) => ({
      id,
      name,
      forInstruments: forInstruments ?? [],
    })),
    ...outlineOf(revision.score),
    revisionId: revision.id,
    composer: revision.score.composer ?? null,
    sourceName: revision.sourceName,
    notUnderstood: revision.notUnderstood,
    unpitched: forDrumsOnly(revision.score),
    barRelations: compareBars(revision.score),
    form: formOf(revision.score),
  };
}

/** One instrument's part of a line as a file to take along; "concert" for the line as it sounds. */
export async function lineFile(
  actor: Actor,
  lineId: string,
  instrumentId: string,
  kind: "musicxml" | "mid",
  stage: Stage,
  partId: string | null = null,
): Promise<{ name: string; bytes: Uint8Array<ArrayBuffer> }> {
  const { bandId } = director(actor);
  const line = found(await Line.findOne({ where: { id: lineId, bandId } }), "line");
  const revision = await newestRevision(bandId, lineId);
  const instrument = instrumentId === "concert" ? null : INSTRUMENTS.find((each) => each.id === instrumentId);
  if (instrument === undefined) throw new ServiceError("not-found", "There is no such instrument.");
  const { score } = partOf(revision.score, instrument, stage, { partId });
  if (kind === "mid" && revision.score.catalogued)
    throw new ServiceError(
      "bad-input",
      "The notes of this line are in the book only, so there is no MIDI file of it.",
    );
  const name = fileName([line.number, line.title, instrument?.name ?? "concert"]);
  const bytes = kind === "mid" ? writeMidi(score) : new TextEncoder().encode(writeMusicXml(score));
  return { name: `${name}.${kind}`, bytes };
}

/** How ready the band is for a line, by instrument, stage and what is new; with the names behind every row. */
export async function lineReadiness(
  actor: Actor,
  lineId: string,
): Promise<(ReadyRow & { people: { id: string; name: string }[] })[]> {
  const { bandId } = director(actor);
  const { score } = await newestRevision(bandId, lineId);
  const seats = await seatsOfBand(bandId);
  const nameOf = new Map(seats.map(({ playerId, playerName }) => [playerId, playerName]));
  return readinessOf(score, (await bandKnowledge(bandId)).seated(seats)).map((row) => ({
    ...row,
    people: row.playerIds
      .map((id) => ({ id, name: nameOf.get(id)! }))
      .sort((a, b) => a.name.localeCompare(b.name)),
  }));
}

/** One instrument's part of a line, engraved; "concert" for the line as it sounds. */
export async function linePart(
  actor: Actor,
  lineId: string,
  instrumentId: string,
  stage: Stage,
  width: EngravingWidth,
  partId: string | null = null,
): Promise<PartView> {
  const { bandId } = director(actor);
  if (instrumentId !== "concert" && !INSTRUMENTS.some((instrument) => instrument.id === instrumentId))
    throw new ServiceError("not-found", "There is no such instrument.");
  const { score } = await newestRevision(bandId, lineId);
  const own = await ownFingerings(bandId, instrumentId);
  const view = await partView(score, instrumentId, stage, width, { partId, own });
  const marks = await pencilOf(actor, lineId, instrumentId);
  return { ...view, svg: withPencil(view.svg, marks.filter(onPartOf(instrumentId))) };
}

/** A part as notes rather than a picture: to be heard, and to be opened for typing. */
export async function lineScore(
  actor: Actor,
  lineId: string,
  instrumentId: string | null,
  stage: Stage,
  partId: string | null,
): Promise<{ score: Score; revisionId: string }> {
  const { bandId } = director(actor);
  const revision = await newestRevision(bandId, lineId);
  if (instrumentId === null) return { score: revision.score, revisionId: revision.id };
  const instrument = instrumentId === "concert" ? null : INSTRUMENTS.find((each) => each.id === instrumentId);
  if (instrument === undefined) throw new ServiceError("not-found", "There is no such instrument.");
  return { score: partOf(revision.score, instrument, stage, { partId }).score, revisionId: revision.id };
}

/**
 * Puts a line on the shelf of which only place and size are known: its notes stay in the copyrighted book. It can be
 * planned and recorded; takes are answered with rhythm, level and tuning only.
 */
export async function catalogueLine(
  actor: Actor,
  input: z.output<typeof CatalogueLine>,
): Promise<{ lineId: string }> {
  const who = director(actor);
  const time = { beats: input.beats, beatType: input.beatType };
  const score: Score = {
    title: input.title,
    catalogued: true,
    parts: [
      {
        id: "P1",
        name: "In the book",
        clef: input.unpitched ? "percussion" : "treble",
        soundsBy: { letters: 0, semitones: 0 },
        measures: emptyBars(time, input),
      },
    ],
  };
  const { lineId } = await storeLine(
    who.bandId,
    score,
    {
      ...input,
      number: input.number ?? undefined,
      page: input.page ?? undefined,
      bookTitle: input.book,
      fileName: "the book",
    },
    async (id, transaction) => audit(who, "catalogue-line", id, transaction),
  );
  return { lineId };
}

function emptyBars(
  time: { beats: number; beatType: number },
  { fifths, bars, bpm, unpitched }: z.output<typeof CatalogueLine>,
): Measure[] {
  return Array.from({ length: bars }, (_, i) => ({
    id: `m${i + 1}`,
    number: String(i + 1),
    ...(i === 0
      ? {
          ...(unpitched ? {} : { key: { fifths, mode: "major" as const } }),
          time,
          tempo: { beatQuarters: beatOfMetre(time), bpm },
        }
      : {}),
    events: [
      {
        id: `r${i + 1}`,
        kind: "rest" as const,
        duration: barQuarters(time),
        type: "whole" as const,
        dots: 0,
        wholeMeasure: true as const,
      },
    ],
  }));
}

/** A line while it is typed: drawn, not kept. */
export async function drawDraft(actor: Actor, bytes: Uint8Array): Promise<{ svg: string }> {
  director(actor);
  const { score } = await draftOf(bytes, "This line cannot be drawn yet");
  return { svg: await drawOnce(score) };
}

/**
 * Puts a MusicXML, ABC or MIDI file on the shelf as a new line. The file is read whole before anything is stored.
 * @throws ServiceError with the line of the file and the reason
 */
export async function importLine(
  actor: Actor,
  input: z.output<typeof ImportLine>,
  bytes: Uint8Array,
): Promise<{ lineId: string; notUnderstood: string[]; before: FileLook["before"] }> {
  const who = director(actor);
  const failed = `${input.fileName} was not imported`;
  const { uses, chords, ...about } = input;
  const { score, notUnderstood, outline } = await readUpload(bytes, failed, {
    ...(uses ? { uses } : {}),
    ...(chords ? { chords } : {}),
  });
  const before = await broughtBefore(who.bandId, score, input.fileName);
  // Engraved once before it is stored: what cannot be drawn is not put on the shelf.
  await engraveLine(score, failed);
  const { lineId } = await storeLine(
    who.bandId,
    score,
    { ...about, bookTitle: about.book, notUnderstood, outline },
    async (id, transaction) => audit(who, "import-line", id, transaction),
  );
  return { lineId, notUnderstood, before };
}

/** What a file holds and what would become of it; nothing is stored. @throws ServiceError as `importLine` */
export async function lookAtFile(
  actor: Actor,
  { fileName }: z.output<typeof LookAtFile>,
  bytes: Uint8Array,
): Promise<FileLook> {
  const who = director(actor);
  const { score, notUnderstood } = await draftOf(bytes, `${fileName} cannot be imported`);
  return {
    title: score.title,
    parts: score.parts.map((part, place): FileLook["parts"][number] => {
      const pitches = part.measures
        .flatMap((measure) => measure.events.flatMap((event) => event.pitch ?? []))
        .sort((a, b) => pitchToMidi(a) - pitchToMidi(b));
      const [lowest, highest] = [pitches[0], pitches.at(-1)];
      const [instrumentId] = part.forInstruments ?? [];
      return {
        id: part.id,
        name: part.name || `Part ${place + 1}`,
        notes: part.measures.flatMap((measure) => measure.events).filter((event) => event.kind === "note")
          .length,
        bars: part.measures.length,
        range: lowest && highest ? [pitchName(lowest), pitchName(highest)] : null,
        use: place === 0 ? "line" : instrumentId ? { instrumentId } : "part",
      };
    }),
    hasChords: notUnderstood.some((sentence) => sentence.includes("of a chord")),
    notUnderstood,
    before: await broughtBefore(who.bandId, score, fileName),
  };
}
