import type { Transaction } from "sequelize";
import { NEIGHBOUR_TEMPO } from "../../core/practice";
import type { Seat } from "../../core/ready";
import type { TaskState } from "../models";
import { run, select } from "./select";
import type { QueueRow, TakeOutcome } from "./takes";
import { AT_SIGHT, OUTCOME, withNumbers } from "./takes";

/** What of the queue is asked for: in which order, and of whom or what. */
export interface QueueAsk {
  order: "worst" | "line" | "player" | "due" | "newest";
  groupId: string | null;
  instrumentId: string | null;
  lineId: string | null;
  /** Only what the bench could not judge, whose player asked something, said the take was not yet it, or played it anew after a word; or where nothing was found. */
  need: "ear" | "asked" | "unsure" | "anew" | "clean" | null;
  after: number;
  most: number;
}

/**
 * How a take came out (s is its current assessment, k the take): 0 counted, 1 heard by ear, 2 still being heard, 3 what the bench
 * could not judge.
 */
const HEARING = `CASE WHEN k.state = 'waiting' THEN 2 WHEN k.state <> 'assessed' OR s.status IS NULL OR s.status <> 'assessed' THEN 3
    WHEN s.notes_total = 0 THEN 1 ELSE 0 END`;
const SLOW = "COALESCE(s.tempo_bpm < :neighbour * k.lowest_bpm, 0)";
/** Takes of a task, best first, as `compareTakes` orders them. */
const BEST_FIRST = `(${HEARING}), IF(k.state = 'assessed', ${SLOW}, 0), IF(k.state = 'assessed', s.notes_wrong / NULLIF(s.notes_total, 0), 0),
    IF(k.state = 'assessed', (s.notes_total - s.notes_clean - s.notes_wrong) / NULLIF(s.notes_total, 0), 0), k.created_at DESC, k.id DESC`;

/**
 * Holds a task until the transaction ends: whatever changes how its takes came out comes one after the other. Locked after the row
 * of the band and before any take, always in this order.
 */
export async function lockTask(taskId: string, transaction: Transaction): Promise<void> {
  await select("SELECT id FROM tasks WHERE id = :taskId FOR UPDATE", { taskId }, transaction);
}

/** Chooses the best take of a task anew; part of whatever changes how one of its takes came out. */
export async function rankTask(taskId: string, neighbour: number, transaction: Transaction): Promise<void> {
  await run(
    `UPDATE tasks t LEFT JOIN (
       SELECT k.task_id, k.id, ${HEARING} AS hearing, s.notes_wrong AS wrong, s.notes_total - s.notes_clean - s.notes_wrong AS uneven
       FROM takes k LEFT JOIN current_assessments s ON s.take_id = k.id WHERE k.task_id = :taskId ORDER BY ${BEST_FIRST} LIMIT 1) b ON b.task_id = t.id
     SET t.best_take_id = b.id, t.hearing = b.hearing, t.best_wrong = b.wrong, t.best_uneven = b.uneven WHERE t.id = :taskId`,
    { taskId, neighbour },
    transaction,
  );
}

/** What nobody asked for stands behind what was given; then by the asked order, worst first within it, the name and the task last. */
const WORST =
  "CASE t.hearing WHEN 3 THEN 0 WHEN 0 THEN 1 WHEN 1 THEN 2 ELSE 3 END, t.best_wrong DESC, t.best_uneven DESC";
const ORDER: Record<QueueAsk["order"], string> = {
  worst: WORST,
  line: `l.number IS NULL, l.number, l.title, ${WORST}`,
  player: `playerName, ${WORST}`,
  due: `a.due_date, ${WORST}`,
  newest: "(SELECT k.created_at FROM takes k WHERE k.id = t.best_take_id) DESC",
};
const NAME = "COALESCE(NULLIF(p.called_name, ''), p.name)";

export interface DeskRow extends QueueRow {
  causes: number;
  asked: boolean;
  dueDate: string;
  /** The director who is hearing it just now, another than who asks. */
  claimedBy: string | null;
}

/** One page of what waits for a director, a task by its best take, and how many there are in all. */
export async function queuePage(
  bandId: string,
  userId: string,
  ask: QueueAsk,
): Promise<{ rows: DeskRow[]; total: number; needEar: number }> {
  const given = { bandId, userId, groupId: ask.groupId, instrumentId: ask.instrumentId, lineId: ask.lineId };
  const waiting = `t.band_id = :bandId AND t.state = 'sent' AND t.best_take_id IS NOT NULL
    ${ask.groupId === null ? "" : "AND a.group_id = :groupId"} ${ask.instrumentId === null ? "" : "AND t.instrument_id = :instrumentId"}
    ${ask.lineId === null ? "" : "AND r.line_id = :lineId"} ${ask.need === "ear" ? "AND t.hearing = 3" : ""} ${ask.need === "asked" ? `AND ${ASKED}` : ""}
    ${ask.need === "unsure" ? `AND ${UNSURE}` : ""} ${ask.need === "anew" ? `AND ${ANEW}` : ""} ${ask.need === "clean" ? `AND ${CLEAN}` : ""}`;
  const tables =
    "tasks t JOIN assignments a ON a.id = t.assignment_id JOIN line_revisions r ON r.id = a.revision_id JOIN `lines` l ON l.id = r.line_id";
  // The page is cut by ids alone; what only its rows need is looked up after it.
  const [rows, [count]] = await Promise.all([
    select<DeskRow>(
      `SELECT t.id AS taskId, k.id AS takeId, k.state, k.created_at AS createdAt, s.id AS assessmentId, ${OUTCOME}, ${NAME} AS playerName,
         t.instrument_id AS instrumentId, a.chosen_by IS NOT NULL AS chosen, CAST(a.due_date AS CHAR) AS dueDate, l.title AS lineTitle, l.number AS lineNumber,
         ${AT_SIGHT} AS sight, ${ASKED} AS asked, u.name AS claimedBy,
         (SELECT COUNT(*) FROM assessment_causes x WHERE x.assessment_id = s.id) AS causes
       FROM (SELECT t.id, ${NAME} AS playerName FROM ${tables} JOIN players p ON p.id = t.player_id WHERE ${waiting}
         ORDER BY a.chosen_by IS NOT NULL, ${ORDER[ask.order]}, playerName, t.id LIMIT ${ask.most} OFFSET ${ask.after}) page
       JOIN ${tables.replace("tasks t JOIN", "tasks t ON t.id = page.id JOIN")} JOIN players p ON p.id = t.player_id
       JOIN takes k ON k.id = t.best_take_id LEFT JOIN current_assessments s ON s.take_id = k.id
       LEFT JOIN take_claims m ON m.task_id = t.id AND m.until > NOW(3) AND m.by_id <> :userId LEFT JOIN users u ON u.id = m.by_id
       ORDER BY chosen, ${ORDER[ask.order]}, playerName, t.id`,
      given,
    ),
    select<{ total: number; needEar: number | null }>(
      `SELECT COUNT(*) AS total, SUM(t.hearing = 3) AS needEar
       FROM ${ask.groupId === null && ask.lineId === null && ask.need !== "clean" ? "tasks t" : tables} WHERE ${waiting}`,
      given,
    ),
  ]);
  return {
    rows: rows.map((row) => ({
      ...withNumbers(row),
      chosen: Boolean(row.chosen),
      sight: Boolean(row.sight),
      asked: Boolean(row.asked),
      causes: Number(row.causes),
    })),
    total: Number(count!.total),
    needEar: Number(count!.needEar ?? 0),
  };
}

const ASKED = "EXISTS (SELECT 1 FROM questions q WHERE q.task_id = t.id AND q.answered_at IS NULL)";
/** Nothing was found in it, at a tempo that counts; a test is heard whatever was found, and so is whoever asks something. */
const CLEAN = `t.hearing = 0 AND t.best_wrong = 0 AND t.best_uneven = 0 AND COALESCE(JSON_VALUE(a.terms, '$.test'), 0) = 0
    AND NOT ${ASKED}
    AND NOT EXISTS (SELECT 1 FROM takes k JOIN current_assessments s ON s.take_id = k.id LEFT JOIN assessment_causes x ON x.assessment_id = s.id
      WHERE k.id = t.best_take_id AND (x.kind IS NOT NULL OR s.tempo_bpm < ${NEIGHBOUR_TEMPO} * k.lowest_bpm))`;

/** The best takes of tasks that wait in which nothing was found, but for those that another director is hearing. */
export async function cleanTakes(bandId: string, userId: string): Promise<string[]> {
  const rows = await select<{ id: string }>(
    `SELECT t.best_take_id AS id FROM tasks t JOIN assignments a ON a.id = t.assignment_id
       LEFT JOIN take_claims m ON m.task_id = t.id AND m.until > NOW(3) AND m.by_id <> :userId
     WHERE t.band_id = :bandId AND t.state = 'sent' AND m.task_id IS NULL AND ${CLEAN}`,
    { bandId, userId },
  );
  return rows.map(({ id }) => id);
}

/** How many takes in which nothing was found this director heard lately. */
export async function cleanSamplesHeard(bandId: string, userId: string, hours: number): Promise<number> {
  const [row] = await select<{ heard: number }>(
    `SELECT COUNT(*) AS heard FROM reviews v JOIN takes k ON k.id = v.take_id JOIN current_assessments s ON s.take_id = k.id
     WHERE v.band_id = :bandId AND v.reviewer_id = :userId AND v.unheard = 0 AND v.reviewed_at > NOW(3) - INTERVAL :hours HOUR
       AND s.status = 'assessed' AND s.notes_total > 0 AND s.notes_clean = s.notes_total
       AND NOT EXISTS (SELECT 1 FROM assessment_causes x WHERE x.assessment_id = s.id)`,
    { bandId, userId, hours },
  );
  return Number(row!.heard);
}

/** What its player said of the last take of it was "not yet". */
const UNSURE = `(SELECT JSON_VALUE(f.detail, '$.rating') FROM practice_facts f WHERE f.task_id = t.id AND f.kind = 'rating' ORDER BY f.at DESC LIMIT 1) = 1`;
const ANEW =
  "EXISTS (SELECT 1 FROM takes h JOIN reviews v ON v.take_id = h.id WHERE h.task_id = t.id AND v.decision = 'again')";

/** How many tasks wait, by group, instrument and line. */
export async function queueFacets(bandId: string): Promise<
  {
    groupId: string;
    groupName: string;
    instrumentId: string;
    lineId: string;
    lineTitle: string;
    lineNumber: number | null;
    tasks: number;
  }[]
> {
  const rows = await select<Awaited<ReturnType<typeof queueFacets>>[number]>(
    `SELECT a.group_id AS groupId, g.name AS groupName, t.instrument_id AS instrumentId, r.line_id AS lineId, l.title AS lineTitle,
       l.number AS lineNumber, COUNT(*) AS tasks
     FROM tasks t JOIN assignments a ON a.id = t.assignment_id JOIN band_groups g ON g.id = a.group_id
     JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id
     WHERE t.band_id = :bandId AND t.state = 'sent' GROUP BY a.group_id, t.instrument_id, r.line_id
     ORDER BY g.name, l.number, l.title`,
    { bandId },
  );
  return rows.map((row) => ({ ...row, tasks: Number(row.tasks) }));
}

export interface HeardRow extends TakeOutcome {
  takeId: string;
  taskId: string;
  state: QueueRow["state"];
  playerName: string;
  instrumentId: string;
  lineTitle: string;
  lineNumber: number | null;
  decision: "accepted" | "again";
  reviewedAt: Date;
  released: boolean;
}

/** Takes on which a word was said, the newest word first. */
export async function heardTakes(bandId: string, after: number, most: number): Promise<HeardRow[]> {
  const rows = await select<HeardRow>(
    `SELECT k.id AS takeId, k.task_id AS taskId, k.state, COALESCE(NULLIF(p.called_name, ''), p.name) AS playerName, t.instrument_id AS instrumentId,
       l.title AS lineTitle, l.number AS lineNumber, v.decision, v.reviewed_at AS reviewedAt, v.released_at IS NOT NULL AS released, ${OUTCOME}
     FROM (SELECT take_id, decision, reviewed_at, released_at FROM reviews WHERE band_id = :bandId ORDER BY reviewed_at DESC, take_id LIMIT ${most} OFFSET ${after}) v
     JOIN takes k ON k.id = v.take_id JOIN tasks t ON t.id = k.task_id JOIN players p ON p.id = t.player_id
     JOIN assignments a ON a.id = t.assignment_id JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id
     LEFT JOIN current_assessments s ON s.take_id = k.id ORDER BY v.reviewed_at DESC, k.id`,
    { bandId },
  );
  return rows.map((row) => ({ ...withNumbers(row), released: Boolean(row.released) }));
}

/** Takes the claim on a task unless somebody else holds it. @returns the name of who holds it instead */
export async function claimTask(
  bandId: string,
  taskId: string,
  userId: string,
  seconds: number,
): Promise<string | null> {
  await run(
    `INSERT INTO take_claims (task_id, band_id, by_id, until) VALUES (:taskId, :bandId, :userId, NOW(3) + INTERVAL ${seconds} SECOND)
     ON DUPLICATE KEY UPDATE by_id = IF(by_id = VALUES(by_id) OR until < NOW(3), VALUES(by_id), by_id),
       until = IF(by_id = VALUES(by_id), VALUES(until), until)`,
    { bandId, taskId, userId },
  );
  const [row] = await select<{ byId: string; name: string }>(
    "SELECT m.by_id AS byId, u.name FROM take_claims m JOIN users u ON u.id = m.by_id WHERE m.task_id = :taskId",
    { taskId },
  );
  return row && row.byId !== userId ? row.name : null;
}

/** The id of the assessment of a take that counts now; null before there is one. */
export async function currentAssessmentId(takeId: string): Promise<string | null> {
  const [row] = await select<{ id: string }>("SELECT id FROM current_assessments WHERE take_id = :takeId", {
    takeId,
  });
  return row?.id ?? null;
}

/** How many reviews wait to be released to their players. */
export async function reviewsHeldBack(bandId: string): Promise<number> {
  const [row] = await select<{ held: number }>(
    "SELECT COUNT(*) AS held FROM reviews WHERE band_id = :bandId AND released_at IS NULL",
    { bandId },
  );
  return Number(row?.held ?? 0);
}

/** Lines of which answers wait to be released, with how many. */
export async function reviewedLines(
  bandId: string,
): Promise<
  { lineTitle: string; lineNumber: number | null; groupName: string; takes: number; again: number }[]
> {
  const rows = await select<Awaited<ReturnType<typeof reviewedLines>>[number]>(
    `SELECT l.title AS lineTitle, l.number AS lineNumber, g.name AS groupName, COUNT(*) AS takes, SUM(v.decision = 'again') AS again
     FROM reviews v JOIN takes k ON k.id = v.take_id JOIN tasks t ON t.id = k.task_id JOIN assignments a ON a.id = t.assignment_id
     JOIN band_groups g ON g.id = a.group_id JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id
     WHERE v.band_id = :bandId AND v.released_at IS NULL GROUP BY l.id, g.id ORDER BY l.number, l.title, g.name`,
    { bandId },
  );
  return rows.map((row) => ({ ...row, takes: Number(row.takes), again: Number(row.again) }));
}

/** A task for which a recording may be brought. */
export interface BringRow {
  taskId: string;
  playerId: string;
  playerName: string;
  instrumentId: string;
  lineId: string;
  lineTitle: string;
  lineNumber: number | null;
  goalBpm: number;
  dueDate: string;
  state: TaskState;
}

/** Tasks of players who are in the band, given and due not longer than so many days ago, by player and line. */
export function tasksToBring(bandId: string, days: number): Promise<BringRow[]> {
  return select(
    `SELECT t.id AS taskId, p.id AS playerId, p.name AS playerName, t.instrument_id AS instrumentId, l.id AS lineId, l.title AS lineTitle,
       l.number AS lineNumber, a.goal_bpm AS goalBpm, CAST(a.due_date AS CHAR) AS dueDate, t.state
     FROM tasks t JOIN players p ON p.id = t.player_id AND p.left_on IS NULL JOIN assignments a ON a.id = t.assignment_id AND a.withdrawn_at IS NULL
     JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id
     WHERE t.band_id = :bandId AND t.closed_at IS NULL AND a.due_date >= CURRENT_DATE - INTERVAL ${days} DAY
     ORDER BY p.name, p.id, a.due_date DESC, l.number LIMIT 5000`,
    { bandId },
  );
}

/** The take of a player whose recording has these bytes; null where there is none. */
export async function sameSoundOfPlayer(playerId: string, sha256: string): Promise<string | null> {
  const [row] = await select<{ id: string }>(
    "SELECT k.id FROM takes k JOIN media m ON m.id = k.original_id WHERE k.player_id = :playerId AND m.sha256 = :sha256 LIMIT 1",
    { playerId, sha256 },
  );
  return row?.id ?? null;
}

/** Forgets what the engine heard in a take, whatever the engine. */
export async function forgetHearing(takeId: string, transaction: Transaction): Promise<void> {
  for (const table of ["assessment_bars", "assessment_causes"])
    await run(
      `DELETE b FROM ${table} b JOIN assessments s ON s.id = b.assessment_id WHERE s.take_id = :takeId`,
      { takeId },
      transaction,
    );
  await run("DELETE FROM assessments WHERE take_id = :takeId", { takeId }, transaction);
}

/** Tasks of a player beside one, what is open or sent first, the newest first. */
export function otherTasksOf(
  playerId: string,
  taskId: string,
): Promise<
  { taskId: string; lineTitle: string; lineNumber: number | null; dueDate: string; state: TaskState }[]
> {
  return select(
    `SELECT t.id AS taskId, l.title AS lineTitle, l.number AS lineNumber, CAST(a.due_date AS CHAR) AS dueDate, t.state
     FROM tasks t JOIN assignments a ON a.id = t.assignment_id AND a.withdrawn_at IS NULL JOIN line_revisions r ON r.id = a.revision_id
     JOIN \`lines\` l ON l.id = r.line_id
     WHERE t.player_id = :playerId AND t.id <> :taskId AND t.closed_at IS NULL
     ORDER BY t.state = 'accepted', a.due_date DESC, t.id LIMIT 40`,
    { playerId, taskId },
  );
}

/** Lines that groups have, with what is still to be heard of each: playing tests first, then by the day they are due. */
export async function liveLines(
  bandId: string,
  days: number,
): Promise<
  {
    assignmentId: string;
    groupName: string;
    lineTitle: string;
    lineNumber: number | null;
    dueDate: string;
    test: boolean;
    players: number;
    left: number;
  }[]
> {
  const rows = await select<Awaited<ReturnType<typeof liveLines>>[number]>(
    `SELECT a.id AS assignmentId, g.name AS groupName, l.title AS lineTitle, l.number AS lineNumber, CAST(a.due_date AS CHAR) AS dueDate,
       COALESCE(JSON_VALUE(a.terms, '$.test'), 0) AS test, COUNT(*) AS players, SUM(t.state <> 'accepted') AS \`left\`
     FROM assignments a JOIN band_groups g ON g.id = a.group_id JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id
     JOIN tasks t ON t.assignment_id = a.id AND t.closed_at IS NULL JOIN players p ON p.id = t.player_id AND p.left_on IS NULL
     WHERE a.band_id = :bandId AND a.withdrawn_at IS NULL AND a.chosen_by IS NULL AND a.due_date >= CURRENT_DATE - INTERVAL ${days} DAY
       AND COALESCE(JSON_VALUE(a.terms, '$.record.kind'), 'all') <> 'nothing'
     GROUP BY a.id ORDER BY test DESC, a.due_date, l.number, a.id LIMIT 100`,
    { bandId },
  );
  return rows.map((row) => ({
    ...row,
    test: Boolean(Number(row.test)),
    players: Number(row.players),
    left: Number(row.left),
  }));
}

export interface LiveSeat {
  taskId: string;
  playerName: string;
  instrumentId: string;
  stage: Seat["stage"];
  partId: string | null;
  octaveShift: number | null;
  state: TaskState;
  /** When its first take was recorded; null before there is one. */
  firstAt: Date | null;
}

/** Who has an assignment on the stand. */
export function seatsOfAssignment(assignmentId: string): Promise<LiveSeat[]> {
  return select(
    `SELECT t.id AS taskId, ${NAME} AS playerName, t.instrument_id AS instrumentId, t.stage, t.part_id AS partId,
       t.octave_shift AS octaveShift, t.state, (SELECT MIN(k.recorded_at) FROM takes k WHERE k.task_id = t.id) AS firstAt
     FROM tasks t JOIN players p ON p.id = t.player_id AND p.left_on IS NULL
     WHERE t.assignment_id = :assignmentId AND t.closed_at IS NULL ORDER BY playerName, t.id`,
    { assignmentId },
  );
}
