import { createHash } from "node:crypto";
import { strToU8, zipSync } from "fflate";
import { QueryTypes, type Transaction } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { INSTRUMENTS, type Instrument, instrumentById, keyName, type Stage } from "../../core/music";
import {
  barQuarters,
  beatOfMetre,
  compareBars,
  concertPart,
  forDrumsOnly,
  formOf,
  type Glance,
  glanceAt,
  type Measure,
  markedTempo,
  type Part,
  type Score,
  writeMidi,
  writeMusicXml,
} from "../../core/score";
import { Book, Group, Line, LineRevision } from "../../data";
import { database } from "../../server/database";
import type { EngravingWidth } from "../../server/engrave";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { ownFingerings } from "./fingerings";
import { drawOnce, partOf, partView } from "./part";
import { pencilForPrint, pencilOf } from "./pencil";
import { withPencil } from "./pencil-svg";
import { bandAtGlance, readinessOf, seatsFor, seatsOf } from "./readiness";
import { bookId, newestRevision, readUpload } from "./revise";
import type {
  CatalogueLine,
  ImportLine,
  LineDetail,
  LineOutline,
  LineSummary,
  PartView,
  PencilView,
  PrintedPart,
  ReadinessRow,
} from "./schema";

export { fingeringChart, setFingerings } from "./fingerings";
export { erasePencil, pencilOf, writePencil } from "./pencil";
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
  SavePart,
  SaveView,
  SetBars,
  SetFingerings,
  SetOverride,
  WritePencil,
} from "./schema";
export { removeView, savedViews, saveView } from "./views";

/** A shelf larger than this is cut; nobody teaches so many lines. */
const MOST_LINES = 5000;

/** Every line on the shelf with what a director chooses by, in book order. */
export async function listLines(actor: Actor): Promise<LineSummary[]> {
  const { bandId } = director(actor);
  const rows = await database().query<{
    id: string;
    number: number | null;
    page: number | null;
    title: string;
    introduces: string;
    book: string;
    teachingPlace: number | null;
    teachingReason: string;
    hash: string;
    assigned: number;
  }>(
    `SELECT l.id, l.number, l.page, l.title, l.introduces, COALESCE(b.title, '') AS book,
       l.teaching_place AS teachingPlace, l.teaching_reason AS teachingReason, r.content_hash AS hash,
       (SELECT COUNT(*) FROM assignments a JOIN line_revisions ar ON ar.id = a.revision_id WHERE ar.line_id = l.id AND a.withdrawn_at IS NULL) AS assigned
     FROM \`lines\` l
     JOIN line_revisions r ON r.line_id = l.id AND r.number = (SELECT MAX(x.number) FROM line_revisions x WHERE x.line_id = l.id)
     LEFT JOIN books b ON b.id = l.book_id
     WHERE l.band_id = ? AND l.kind = 'line' ORDER BY book = '', book, l.number IS NULL, l.number, l.title LIMIT ${MOST_LINES}`,
    { replacements: [bandId], type: QueryTypes.SELECT },
  );
  const askBand = bandAtGlance(await seatsOf(bandId));
  await readNewLines(
    bandId,
    rows.map((row) => row.hash),
  );
  return rows.map(({ hash, ...row }) => {
    const { outline, glance } = readLines.get(hash)!;
    return {
      ...row,
      ...outline,
      rhythms: glance.vocabulary.rhythms,
      difficulty: glance.difficulty,
      ...askBand(glance),
      assigned: Number(row.assigned),
    };
  });
}

/** Lines that were read before, by content: a shelf of thousands is read once a process. */
const readLines = new Map<string, { outline: ReturnType<typeof outlineOf>; glance: Glance }>();

/** Fetches and reads the notes of those lines only that this process has not read. */
async function readNewLines(bandId: string, hashes: string[]): Promise<void> {
  const unread = [...new Set(hashes.filter((hash) => !readLines.has(hash)))];
  if (unread.length === 0) return;
  const rows = await database().query<{ hash: string; score: Score | string }>(
    "SELECT content_hash AS hash, score FROM line_revisions WHERE band_id = ? AND content_hash IN (?)",
    { replacements: [bandId, unread], type: QueryTypes.SELECT },
  );
  for (const { hash, score } of rows) {
    const line = typeof score === "string" ? (JSON.parse(score) as Score) : score;
    readLines.set(hash, { outline: outlineOf(line), glance: glanceAt(line) });
  }
}

function outlineOf(score: Score): Pick<LineOutline, "concertKey" | "metre" | "bars" | "bpm" | "catalogued"> {
  const measures = concertPart(score).parts[0].measures;
  const time = measures[0]?.time ?? { beats: 4, beatType: 4 };
  const unpitched = forDrumsOnly(score);
  return {
    concertKey: unpitched ? "rhythm" : keyName(measures[0]?.key?.fifths ?? 0, measures[0]?.key?.mode),
    metre: `${time.beats}/${time.beatType}`,
    bars: measures.filter((measure) => !measure.implicit).length || measures.length,
    bpm: Math.round(markedTempo(score).bpm),
    catalogued: score.catalogued ?? false,
  };
}

export async function lineDetail(actor: Actor, lineId: string): Promise<LineDetail> {
  const { bandId } = director(actor);
  const line = found(await Line.findOne({ where: { id: lineId, bandId } }), "line");
  const revision = await newestRevision(bandId, lineId);
  return {
    id: line.id,
    number: line.number,
    page: line.page,
    title: line.title,
    introduces: line.introduces,
    book: line.bookId ? found(await Book.findByPk(line.bookId), "book").title : "",
    teachingPlace: line.teachingPlace,
    teachingReason: line.teachingReason,
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
  const { score } = partOf(revision.score, instrument, stage, partId);
  if (kind === "mid" && revision.score.catalogued)
    throw new ServiceError(
      "bad-input",
      "The notes of this line are in the book only, so there is no MIDI file of it.",
    );
  const name = fileName([line.number, line.title, instrument?.name ?? "concert"]);
  const bytes = kind === "mid" ? writeMidi(score) : new TextEncoder().encode(writeMusicXml(score));
  return { name: `${name}.${kind}`, bytes };
}

/** The part of every player of a group who can play a line, in score order: what is printed and handed out. */
export async function partsForGroup(actor: Actor, lineId: string, groupId: string): Promise<PrintedPart[]> {
  const { bandId } = director(actor);
  const revision = await newestRevision(bandId, lineId);
  found(await Group.findOne({ where: { id: groupId, bandId } }), "group");
  const members = await database().query<{
    playerId: string;
    playerName: string;
    instrumentId: string;
    variant: string | null;
    stage: Stage;
  }>(
    `SELECT p.id AS playerId, p.name AS playerName, i.instrument_id AS instrumentId, i.variant, p.stage FROM group_members m
     JOIN players p ON p.id = m.player_id JOIN player_instruments i ON i.player_id = p.id AND i.to_date IS NULL
     WHERE m.group_id = ? ORDER BY p.name, i.from_date, i.instrument_id`,
    { replacements: [groupId], type: QueryTypes.SELECT },
  );
  const place = (id: string) => INSTRUMENTS.findIndex((instrument) => instrument.id === id);
  const seats = seatsFor(forDrumsOnly(revision.score), members).sort(
    (a, b) => place(a.instrumentId) - place(b.instrumentId),
  );
  const marks = await pencilForPrint(bandId, lineId);
  // A section shares one part, made once.
  const made = new Map<string, Promise<PartView>>();
  return Promise.all(
    seats.map(async ({ playerId, playerName, instrumentId, variant, stage }) => {
      const key = `${instrumentId}/${variant}/${stage}`;
      const make = async () =>
        partView(revision.score, instrumentId, stage, "medium", {
          variant,
          own: await ownFingerings(bandId, instrumentId),
        });
      const shared = made.get(key) ?? make();
      made.set(key, shared);
      const part = await shared;
      const written = marks.get(playerId) ?? [];
      const own = [...(marks.get(null) ?? []).filter(onPartOf(instrumentId)), ...written];
      return { playerName, part: { ...part, svg: withPencil(part.svg, own) } };
    }),
  );
}

/** How ready the band is for a line, by instrument and stage. */
export async function lineReadiness(actor: Actor, lineId: string): Promise<ReadinessRow[]> {
  const { bandId } = director(actor);
  const { score } = await newestRevision(bandId, lineId);
  return readinessOf(score, await seatsOf(bandId));
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

/** A mark for every instrument stands on every part, in concert pitch too. */
function onPartOf(instrumentId: string): (mark: Pick<PencilView, "instrumentId">) => boolean {
  return (mark) => mark.instrumentId === null || mark.instrumentId === instrumentId;
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
  return { score: partOf(revision.score, instrument, stage, partId).score, revisionId: revision.id };
}

/** Every part of a line that the band needs, as MusicXML and MIDI, in one file. */
export async function lineBundle(
  actor: Actor,
  lineId: string,
): Promise<{ name: string; bytes: Uint8Array<ArrayBuffer> }> {
  const { bandId } = director(actor);
  const line = found(await Line.findOne({ where: { id: lineId, bandId } }), "line");
  const { score } = await newestRevision(bandId, lineId);
  const wanted = new Map<string, { instrument: Instrument | null; stage: Stage }>();
  wanted.set("Concert pitch", { instrument: null, stage: "widening" });
  for (const { instrumentId, stage } of seatsFor(forDrumsOnly(score), await seatsOf(bandId))) {
    const instrument = instrumentById(instrumentId);
    wanted.set(`${instrument.name}, ${stage.replaceAll("-", " ")}`, { instrument, stage });
  }
  const files: Record<string, Uint8Array> = {};
  for (const [name, { instrument, stage }] of wanted) {
    const part = partOf(score, instrument, stage).score;
    files[`${fileName([name])}.musicxml`] = strToU8(writeMusicXml(part));
    if (!score.catalogued) files[`${fileName([name])}.mid`] = writeMidi(part);
  }
  const bytes = Uint8Array.from(zipSync(files, { level: 6 }));
  return { name: `${fileName([line.number, line.title])}.zip`, bytes };
}

function fileName(words: (string | number | null)[]): string {
  return words
    .filter(Boolean)
    .join(" ")
    .replace(/[^\p{L}\p{N} ]+/gu, "")
    .trim();
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
  const { score } = readUpload(bytes, "This line cannot be drawn yet");
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
): Promise<{ lineId: string; notUnderstood: string[] }> {
  const who = director(actor);
  const { score, notUnderstood } = readUpload(bytes, `${input.fileName} was not imported`);
  const { lineId } = await storeLine(
    who.bandId,
    withPlayers(score),
    { ...input, bookTitle: input.book, notUnderstood },
    async (id, transaction) => audit(who, "import-line", id, transaction),
  );
  return { lineId, notUnderstood };
}

/** A further part that bears an instrument's name is for that instrument; the others are chosen by the director. */
function withPlayers(score: Score): Score {
  const [first, ...others] = score.parts;
  const named = others.map((part): Part => {
    const instrument = INSTRUMENTS.find((each) => each.name.toLowerCase() === part.name.trim().toLowerCase());
    return instrument && !part.forInstruments ? { ...part, forInstruments: [instrument.id] } : part;
  });
  return { ...score, parts: [first, ...named] };
}

/** What is said of a line that is stored. */
export interface StoredLine {
  title?: string;
  number?: number;
  page?: number;
  introduces?: string;
  teachingPlace?: number | null;
  teachingReason?: string;
  fileName: string;
  notUnderstood?: string[];
  bookTitle?: string;
  kind?: Line["kind"];
  routineId?: string;
  drillId?: string;
}

/** Stores a line with its first revision, in the caller's transaction where there is one. */
export async function storeLine(
  bandId: string,
  score: Score,
  { transaction: callers, ...about }: StoredLine & { transaction?: Transaction },
  also?: (lineId: string, transaction: Transaction) => Promise<void>,
): Promise<{ lineId: string; revisionId: string }> {
  const [id, revisionId] = [uuid(), uuid()];
  const text = JSON.stringify(score);
  const store = async (transaction: Transaction) => {
    await Line.create(
      {
        id,
        bandId,
        bookId: await bookId(bandId, about.bookTitle ?? "", transaction),
        number: about.number ?? null,
        page: about.page ?? null,
        title: about.title || score.title.slice(0, 160),
        introduces: about.introduces ?? "",
        teachingPlace: about.teachingPlace ?? null,
        teachingReason: about.teachingReason ?? "",
        kind: about.kind ?? "line",
        routineId: about.routineId ?? null,
        drillId: about.drillId ?? null,
      },
      { transaction },
    );
    await LineRevision.create(
      {
        id: revisionId,
        bandId,
        lineId: id,
        number: 1,
        contentHash: createHash("sha256").update(text).digest("hex"),
        score,
        sourceName: about.fileName,
        notUnderstood: about.notUnderstood ?? [],
      },
      { transaction },
    );
    await also?.(id, transaction);
  };
  if (callers) await store(callers);
  else await database().transaction(store);
  return { lineId: id, revisionId };
}
