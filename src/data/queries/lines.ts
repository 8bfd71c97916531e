import type { Score } from "../../core/score";
import type { StoredOutline } from "../models";
import { LineRevision } from "../models";
import { readJson, select } from "./select";

/** The newest form of a line; null when the band has no such line. */
export function newestRevisionOf(bandId: string, lineId: string): Promise<LineRevision | null> {
  return LineRevision.findOne({
    where: { lineId, bandId },
    attributes: { exclude: ["outline"] },
    order: [["number", "DESC"]],
  });
}

/** What is said about a line, apart from its notes. */
export interface LineHead {
  id: string;
  number: number | null;
  page: number | null;
  title: string;
  introduces: string;
  book: string;
  teachingPlace: number | null;
  teachingReason: string;
}

export interface ShelfRow extends LineHead {
  revisionId: string;
  /** How often it is given. */
  assigned: number;
  /** Somebody was given it, now or before. */
  everGiven: boolean;
}

/** Lines of the shelf in book order: those on it, or those archived. */
export async function shelfRows(bandId: string, archived: boolean, most: number): Promise<ShelfRow[]> {
  const rows = await select<ShelfRow>(
    `SELECT l.id, l.number, l.page, l.title, l.introduces, COALESCE(b.title, '') AS book,
       l.teaching_place AS teachingPlace, l.teaching_reason AS teachingReason, r.id AS revisionId,
       COALESCE(g.given, 0) AS assigned, g.line_id IS NOT NULL AS everGiven
     FROM \`lines\` l
     JOIN (SELECT line_id, MAX(number) AS number FROM line_revisions WHERE band_id = :bandId GROUP BY line_id) n ON n.line_id = l.id
     JOIN line_revisions r ON r.line_id = l.id AND r.number = n.number
     LEFT JOIN books b ON b.id = l.book_id
     LEFT JOIN (SELECT x.line_id, SUM(a.withdrawn_at IS NULL) AS given FROM assignments a JOIN line_revisions x ON x.id = a.revision_id
       WHERE a.band_id = :bandId AND a.chosen_by IS NULL GROUP BY x.line_id) g ON g.line_id = l.id
     WHERE l.band_id = :bandId AND l.kind = 'line' AND l.removed_at IS ${archived ? "NOT NULL" : "NULL"}
     ORDER BY book = '', book, l.number IS NULL, l.number, l.title, l.id LIMIT ${most}`,
    { bandId },
  );
  return rows.map((row) => ({ ...row, assigned: Number(row.assigned), everGiven: Boolean(row.everGiven) }));
}

/** A line on the shelf with its newest revision. */
export type PlannedLine = Pick<LineHead, "id" | "number" | "title" | "teachingPlace"> & {
  revisionId: string;
};

/** Lines of the shelf in book order; only those that are named, where some are. */
export function plannedLines(
  bandId: string,
  lineIds: readonly string[] | null,
  most: number,
): Promise<PlannedLine[]> {
  if (lineIds?.length === 0) return Promise.resolve([]);
  const named = lineIds === null ? "" : "AND line_id IN (:lineIds)";
  return select(
    `SELECT l.id, l.number, l.title, l.teaching_place AS teachingPlace, r.id AS revisionId
     FROM (SELECT line_id, MAX(number) AS number FROM line_revisions WHERE band_id = :bandId ${named} GROUP BY line_id) n
     JOIN \`lines\` l ON l.id = n.line_id AND l.kind = 'line' AND l.removed_at IS NULL
     JOIN line_revisions r ON r.line_id = l.id AND r.number = n.number
     LEFT JOIN books b ON b.id = l.book_id
     ORDER BY b.title IS NULL, b.title, l.number IS NULL, l.number, l.title, l.id LIMIT ${most}`,
    { bandId, ...(lineIds === null ? {} : { lineIds }) },
  );
}

/** A line of a book, as somebody may go on to it. */
export type BookLine = Pick<LineHead, "id" | "number" | "page" | "title" | "teachingPlace">;

/** Lines of a book that are on the shelf, in book order. */
export function linesOfBook(bandId: string, bookId: string): Promise<BookLine[]> {
  return select(
    `SELECT id, number, page, title, teaching_place AS teachingPlace FROM \`lines\`
     WHERE band_id = :bandId AND book_id = :bookId AND kind = 'line' AND removed_at IS NULL
     ORDER BY number IS NULL, number, title, id`,
    { bandId, bookId },
  );
}

/** What was computed of revisions when they were stored; without a row or with null it is still to be computed. */
export async function storedOutlines(
  revisionIds: readonly string[],
): Promise<{ id: string; outline: StoredOutline | null }[]> {
  if (revisionIds.length === 0) return [];
  const rows = await select<{ id: string; outline: StoredOutline | string | null }>(
    "SELECT id, outline FROM line_revisions WHERE id IN (:revisionIds)",
    { revisionIds },
  );
  return rows.map((row) => ({ ...row, outline: row.outline === null ? null : readJson(row.outline) }));
}

/** Notes of revisions as text, for the thread that computes what is missing. */
export async function scoreTexts(revisionIds: readonly string[]): Promise<{ id: string; text: string }[]> {
  if (revisionIds.length === 0) return [];
  const rows = await select<{ id: string; score: Score | string }>(
    "SELECT id, score FROM line_revisions WHERE id IN (:revisionIds)",
    { revisionIds },
  );
  return rows.map(({ id, score }) => ({
    id,
    text: typeof score === "string" ? score : JSON.stringify(score),
  }));
}

/** How often a line was ever given, withdrawn or not. */
export async function timesGiven(lineId: string): Promise<number> {
  const [row] = await select<{ times: number }>(
    "SELECT COUNT(*) AS times FROM assignments a JOIN line_revisions r ON r.id = a.revision_id WHERE r.line_id = :lineId",
    { lineId },
  );
  return Number(row?.times ?? 0);
}

/** Whether a line is on a player's stand. */
export async function isGivenTo(playerId: string, lineId: string): Promise<boolean> {
  const rows = await select(
    `SELECT 1 FROM tasks t JOIN assignments a ON a.id = t.assignment_id AND a.withdrawn_at IS NULL
     JOIN line_revisions r ON r.id = a.revision_id WHERE t.player_id = :playerId AND r.line_id = :lineId LIMIT 1`,
    { playerId, lineId },
  );
  return rows.length > 0;
}

/** Printed numbers of the bars of revisions, those that are still to be computed left out. */
export async function barNumbersOf(revisionIds: readonly string[]): Promise<Map<string, string[]>> {
  if (revisionIds.length === 0) return new Map();
  const rows = await select<{ id: string; numbers: string[] | string | null }>(
    "SELECT id, JSON_EXTRACT(outline, '$.barNumbers') AS numbers FROM line_revisions WHERE id IN (:revisionIds)",
    { revisionIds },
  );
  return new Map(rows.flatMap(({ id, numbers }) => (numbers === null ? [] : [[id, readJson(numbers)]])));
}
