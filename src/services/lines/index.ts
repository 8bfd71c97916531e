import { createHash } from "node:crypto";
import { Op, type Transaction } from "sequelize";
import { v7 as uuid } from "uuid";
import { type Score, ScoreReadError, type ScoreReading } from "../../core/score";
import { Book, Line, LineRevision, type StoredOutline } from "../../data";
import { database } from "../../server/database";
import { proveScore, readDraft, readScoreFile, type SortedFile } from "../../server/scores";
import { OverrunError } from "../../server/threads";
import { ServiceError } from "../actor";

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
  /** What was computed of it already; computed here when left out. */
  outline?: StoredOutline;
}

/**
 * Reads a file in a thread of its own, within limits of time and memory, and computes everything that pages show of it once:
 * what passes can be stored.
 * @throws ServiceError with the place and the reason
 */
export function readUpload(
  bytes: Uint8Array,
  name: string,
  sorted: SortedFile = {},
): Promise<ScoreReading & { outline: StoredOutline }> {
  return orRefused(readScoreFile(bytes, sorted), name);
}

/** A line on the shelf that came from the same notes, or from a file of the same name; null when there is none. */
export async function broughtBefore(
  bandId: string,
  score: Score,
  fileName: string,
): Promise<{ lineId: string; title: string; sameNotes: boolean } | null> {
  const hash = contentHash(score);
  const revision = await LineRevision.findOne({
    where: { bandId, [Op.or]: [{ contentHash: hash }, { sourceName: fileName }] },
    attributes: ["lineId", "contentHash"],
    order: [["id", "DESC"]],
  });
  const line = revision && (await Line.findByPk(revision.lineId, { attributes: ["id", "title"] }));
  return line && { lineId: line.id, title: line.title, sameNotes: revision.contentHash === hash };
}

/** Reads what is typed: checked, not proved. @throws ServiceError with the place and the reason */
export function draftOf(bytes: Uint8Array, name: string): Promise<ScoreReading> {
  return orRefused(readDraft(bytes), name);
}

/** A score changed by the bench itself passes the same gate. @throws ServiceError with the place and the reason */
export function provedOutline(score: Score, name: string): Promise<StoredOutline> {
  return orRefused(proveScore(score), name);
}

/** @param name  what was not done, the beginning of the sentence */
async function orRefused<T>(work: Promise<T>, name: string): Promise<T> {
  try {
    return await work;
  } catch (error) {
    throw refusal(error, name);
  }
}

function refusal(error: unknown, name: string): unknown {
  if (error instanceof OverrunError)
    return new ServiceError(
      "bad-input",
      `${name}. ${error.message}; a line of music is read in a moment. Cut it into shorter ones.`,
    );
  if (error instanceof ScoreReadError)
    return new ServiceError("bad-input", `${name}. ${error.message.replace(/\.?$/, ".")}`);
  return error;
}

/** Stores a line with its first revision, in the caller's transaction where there is one. */
export async function storeLine(
  bandId: string,
  score: Score,
  { transaction: callers, ...about }: StoredLine & { transaction?: Transaction },
  also?: (lineId: string, transaction: Transaction) => Promise<void>,
): Promise<{ lineId: string; revisionId: string }> {
  const [id, revisionId] = [uuid(), uuid()];
  const outline = about.outline ?? (await provedOutline(score, "This line was not stored"));
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
        contentHash: contentHash(score),
        score,
        sourceName: about.fileName,
        notUnderstood: about.notUnderstood ?? [],
        outline,
      },
      { transaction },
    );
    await also?.(id, transaction);
  };
  if (callers) await store(callers);
  else await database().transaction(store);
  return { lineId: id, revisionId };
}

/** Two revisions with the same notes and overrides have the same hash. */
export function contentHash(score: Score): string {
  return createHash("sha256").update(JSON.stringify(score)).digest("hex");
}

/** The band's book of this title, made when it is new; null for no title. */
export async function bookId(
  bandId: string,
  title: string,
  transaction: Transaction,
): Promise<string | null> {
  if (!title) return null;
  const [book] = await Book.findOrCreate({
    where: { bandId, title },
    defaults: { id: uuid(), bandId, title },
    transaction,
  });
  return book.id;
}
