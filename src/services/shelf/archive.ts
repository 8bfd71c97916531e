import { Op } from "sequelize";
import { Line, LineRecording, LineRevision, PencilMark, shelfRows, timesGiven } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import type { ArchivedLine } from "./schema";

const MOST_ARCHIVED = 2000;

export function archivedCount(bandId: string): Promise<number> {
  return Line.count({ where: { bandId, kind: "line", removedAt: { [Op.ne]: null } } });
}

/** Lines off the shelf, in book order. */
export async function archivedLines(actor: Actor): Promise<ArchivedLine[]> {
  const { bandId } = director(actor);
  const rows = await shelfRows(bandId, true, MOST_ARCHIVED);
  return rows.map(({ revisionId: _revision, assigned: _assigned, everGiven, ...head }) => ({
    ...head,
    given: everGiven,
  }));
}

/** The title of an archived line, for the word that it was taken off; null for any other. */
export async function archivedTitle(actor: Actor, lineId: string): Promise<string | null> {
  const { bandId } = director(actor);
  const line = await Line.findOne({ where: { id: lineId, bandId, removedAt: { [Op.ne]: null } } });
  return line?.title ?? null;
}

/** Takes a line off the shelf, or puts it back: whoever was given it keeps it. */
export async function setLineRemoved(actor: Actor, lineId: string, removed: boolean): Promise<void> {
  const who = director(actor);
  const line = found(await Line.findOne({ where: { id: lineId, bandId: who.bandId, kind: "line" } }), "line");
  await database().transaction(async (transaction) => {
    await line.update({ removedAt: removed ? new Date() : null }, { transaction });
    await audit(who, removed ? "archive-line" : "restore-line", lineId, transaction);
  });
}

/** Deletes an archived line that was never given to anybody. @throws ServiceError for any other */
export async function deleteLine(actor: Actor, lineId: string): Promise<void> {
  const who = director(actor);
  const line = found(await Line.findOne({ where: { id: lineId, bandId: who.bandId, kind: "line" } }), "line");
  if (!line.removedAt)
    throw new ServiceError("conflict", "Archive this line first; only archived lines are deleted.");
  if ((await timesGiven(lineId)) > 0)
    throw new ServiceError(
      "conflict",
      "This line was given to players; it stays in the archive with what they sent.",
    );
  await database().transaction(async (transaction) => {
    const where = { lineId, bandId: who.bandId };
    await PencilMark.destroy({ where, transaction });
    await LineRecording.destroy({ where, transaction });
    await LineRevision.destroy({ where, transaction });
    await line.destroy({ transaction });
    await audit(who, "delete-line", lineId, transaction);
  });
}
