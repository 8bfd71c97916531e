import { createHash } from "node:crypto";
import { QueryTypes, type Transaction } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { INSTRUMENTS, keyName, type Stage } from "../../core/music";
import {
  compareBars,
  concertPart,
  formOf,
  type Glance,
  glanceAt,
  markedTempo,
  playOutOrder,
  readScore,
  type Score,
  ScoreReadError,
  type ScoreReading,
  writeMidi,
  writeMusicXml,
} from "../../core/score";
import { Book, Group, Line, LineRevision } from "../../data";
import { database } from "../../server/database";
import type { EngravingWidth } from "../../server/engrave";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { partOf, partView } from "./part";
import { bandAtGlance, readinessOf, seatsFor, seatsOf } from "./readiness";
import type {
  ImportLine,
  LineDetail,
  LineOutline,
  LineSummary,
  PartView,
  PrintedPart,
  ReadinessRow,
} from "./schema";

export { ImportLine, LARGEST_SCORE } from "./schema";

/** Every line on the shelf with what a director chooses by, in book order. */
export async function listLines(actor: Actor): Promise<LineSummary[]> {
  const { bandId } = director(actor);
  const rows = await database().query<{
    id: string;
    number: number | null;
    page: number | null;
    title: string;
    introduces: string;
    hash: string;
    score: Score | string;
    assigned: number;
  }>(
    `SELECT l.id, l.number, l.page, l.title, l.introduces, r.content_hash AS hash, r.score,
       (SELECT COUNT(*) FROM assignments a JOIN line_revisions ar ON ar.id = a.revision_id WHERE ar.line_id = l.id AND a.withdrawn_at IS NULL) AS assigned
     FROM \`lines\` l
     JOIN line_revisions r ON r.line_id = l.id AND r.number = (SELECT MAX(x.number) FROM line_revisions x WHERE x.line_id = l.id)
     WHERE l.band_id = ? ORDER BY l.number IS NULL, l.number, l.title LIMIT 2000`,
    { replacements: [bandId], type: QueryTypes.SELECT },
  );
  const seats = await seatsOf(bandId);
  return rows.map(({ score, hash, ...row }) => {
    const { outline, glance } = readOnce(hash, () =>
      typeof score === "string" ? (JSON.parse(score) as Score) : score,
    );
    return {
      ...row,
      ...outline,
      rhythms: glance.vocabulary.rhythms,
      ...bandAtGlance(glance, seats),
      assigned: Number(row.assigned),
    };
  });
}

/** Lines that were read before, by content: a shelf of thousands is read once a process. */
const readLines = new Map<string, { outline: ReturnType<typeof outlineOf>; glance: Glance }>();

function readOnce(hash: string, score: () => Score) {
  const known = readLines.get(hash);
  if (known) return known;
  const line = score();
  const read = { outline: outlineOf(line), glance: glanceAt(line) };
  readLines.set(hash, read);
  return read;
}

function outlineOf(score: Score): Pick<LineOutline, "concertKey" | "metre" | "bars" | "bpm"> {
  const measures = concertPart(score).parts[0].measures;
  const time = measures[0]?.time ?? { beats: 4, beatType: 4 };
  const unpitched = score.parts[0].clef === "percussion";
  return {
    concertKey: unpitched ? "rhythm" : keyName(measures[0]?.key?.fifths ?? 0, measures[0]?.key?.mode),
    metre: `${time.beats}/${time.beatType}`,
    bars: measures.filter((measure) => !measure.implicit).length || measures.length,
    bpm: Math.round(markedTempo(score).bpm),
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
    ...outlineOf(revision.score),
    revisionId: revision.id,
    composer: revision.score.composer ?? null,
    sourceName: revision.sourceName,
    notUnderstood: revision.notUnderstood,
    unpitched: revision.score.parts[0].clef === "percussion",
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
): Promise<{ name: string; bytes: Uint8Array<ArrayBuffer> }> {
  const { bandId } = director(actor);
  const line = found(await Line.findOne({ where: { id: lineId, bandId } }), "line");
  const revision = await newestRevision(bandId, lineId);
  const instrument = instrumentId === "concert" ? null : INSTRUMENTS.find((each) => each.id === instrumentId);
  if (instrument === undefined) throw new ServiceError("not-found", "There is no such instrument.");
  const { score } = partOf(revision.score, instrument, stage);
  const name = [line.number, line.title, instrument?.name ?? "concert"]
    .filter(Boolean)
    .join(" ")
    .replace(/[^\p{L}\p{N} ]+/gu, "")
    .trim();
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
    stage: Stage;
  }>(
    `SELECT p.id AS playerId, p.name AS playerName, i.instrument_id AS instrumentId, p.stage FROM group_members m
     JOIN players p ON p.id = m.player_id JOIN player_instruments i ON i.player_id = p.id AND i.to_date IS NULL
     WHERE m.group_id = ? ORDER BY p.name, i.from_date, i.instrument_id`,
    { replacements: [groupId], type: QueryTypes.SELECT },
  );
  const place = (id: string) => INSTRUMENTS.findIndex((instrument) => instrument.id === id);
  const seats = seatsFor(revision.score.parts[0].clef === "percussion", members).sort(
    (a, b) => place(a.instrumentId) - place(b.instrumentId),
  );
  // A section shares one part, made once.
  const made = new Map<string, Promise<PartView>>();
  return Promise.all(
    seats.map(async ({ playerName, instrumentId, stage }) => {
      const key = `${instrumentId}/${stage}`;
      const part = made.get(key) ?? partView(revision.score, instrumentId, stage, "medium");
      made.set(key, part);
      return { playerName, part: await part };
    }),
  );
}

/** How ready the band is for a line, by instrument and stage. */
export async function lineReadiness(actor: Actor, lineId: string): Promise<ReadinessRow[]> {
  const { bandId } = director(actor);
  const { score } = await newestRevision(bandId, lineId);
  return readinessOf(score, await seatsOf(bandId));
}

export async function newestRevision(bandId: string, lineId: string): Promise<LineRevision> {
  return found(
    await LineRevision.findOne({ where: { lineId, bandId }, order: [["number", "DESC"]] }),
    "line",
  );
}

/** One instrument's part of a line, engraved; "concert" for the line as it sounds. */
export async function linePart(
  actor: Actor,
  lineId: string,
  instrumentId: string,
  stage: Stage,
  width: EngravingWidth,
): Promise<PartView> {
  const { bandId } = director(actor);
  if (instrumentId !== "concert" && !INSTRUMENTS.some((instrument) => instrument.id === instrumentId))
    throw new ServiceError("not-found", "There is no such instrument.");
  return partView((await newestRevision(bandId, lineId)).score, instrumentId, stage, width);
}

/**
 * Puts a MusicXML or ABC file on the shelf as a new line. The file is read whole before anything is stored.
 * @throws ServiceError with the line of the file and the reason
 */
export async function importLine(
  actor: Actor,
  input: z.output<typeof ImportLine>,
  bytes: Uint8Array,
): Promise<{ lineId: string; notUnderstood: string[] }> {
  const who = director(actor);
  let reading: ScoreReading;
  try {
    reading = readScore(bytes);
    playOutOrder(reading.score.parts[0].measures);
  } catch (error) {
    if (error instanceof ScoreReadError || error instanceof RangeError)
      throw new ServiceError(
        "bad-input",
        `${input.fileName} was not imported. ${error.message.replace(/\.?$/, ".")}`,
      );
    throw error;
  }
  const extraParts = reading.score.parts.length - 1;
  const notUnderstood =
    extraParts > 0
      ? [
          `${extraParts === 1 ? "One more part" : `${extraParts} more parts`} in the file: only the first is played`,
          ...reading.notUnderstood,
        ]
      : reading.notUnderstood;
  const lineId = await storeLine(
    who.bandId,
    reading.score,
    { ...input, notUnderstood },
    async (id, transaction) => audit(who, "import-line", id, transaction),
  );
  return { lineId, notUnderstood };
}

/** Stores a line with its first revision in one transaction. */
export async function storeLine(
  bandId: string,
  score: Score,
  about: {
    title?: string;
    number?: number;
    page?: number;
    introduces?: string;
    fileName: string;
    notUnderstood?: string[];
    bookTitle?: string;
  },
  also?: (lineId: string, transaction: Transaction) => Promise<void>,
): Promise<string> {
  const id = uuid();
  const text = JSON.stringify(score);
  await database().transaction(async (transaction) => {
    const book = about.bookTitle
      ? (
          await Book.findOrCreate({
            where: { bandId, title: about.bookTitle },
            defaults: { id: uuid(), bandId, title: about.bookTitle },
            transaction,
          })
        )[0]
      : null;
    await Line.create(
      {
        id,
        bandId,
        bookId: book?.id ?? null,
        number: about.number ?? null,
        page: about.page ?? null,
        title: about.title || score.title.slice(0, 160),
        introduces: about.introduces ?? "",
      },
      { transaction },
    );
    await LineRevision.create(
      {
        id: uuid(),
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
  });
  return id;
}
