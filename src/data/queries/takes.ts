import type { TaskState } from "../models";
import { select } from "./select";

/** What the bench made of a take, as the current assessment says: the newest there is of it. */
export interface TakeOutcome {
  status: "assessed" | "no-match" | "too-quiet" | "no-music" | null;
  total: number | null;
  clean: number | null;
  wrong: number | null;
}

export interface QueueRow extends TakeOutcome {
  takeId: string;
  taskId: string;
  playerName: string;
  instrumentId: string;
  lineTitle: string;
  lineNumber: number | null;
  state: "waiting" | "assessed" | "unreadable" | "unheard";
  assessmentId: string | null;
  createdAt: Date;
}

/** So many tasks are listed at once; what is reviewed makes room. */
const MOST_WAITING = 500;

/** Every take of the tasks that wait for the director, newest first within a task. */
export function takesOfWaitingTasks(bandId: string): Promise<QueueRow[]> {
  return select(
    `SELECT k.id AS takeId, t.id AS taskId, p.name AS playerName, t.instrument_id AS instrumentId, l.title AS lineTitle,
       l.number AS lineNumber, k.state, k.created_at AS createdAt,
       s.id AS assessmentId, s.status, s.notes_total AS total, s.notes_clean AS clean, s.notes_wrong AS wrong
     FROM (SELECT id, player_id, assignment_id, instrument_id FROM tasks WHERE band_id = :bandId AND state = 'sent' ORDER BY id LIMIT ${MOST_WAITING}) t
     JOIN takes k ON k.task_id = t.id
     JOIN players p ON p.id = t.player_id
     JOIN assignments a ON a.id = t.assignment_id
     JOIN line_revisions r ON r.id = a.revision_id
     JOIN \`lines\` l ON l.id = r.line_id
     LEFT JOIN current_assessments s ON s.take_id = k.id
     ORDER BY t.id, k.created_at DESC, k.id DESC`,
    { bandId },
  );
}

/** Every take of a task in a row, oldest first, with the director's decision on it. */
export function takesOfTask(
  taskId: string,
): Promise<
  (TakeOutcome &
    Pick<QueueRow, "takeId" | "state"> & { recordedAt: Date; decision: "accepted" | "again" | null })[]
> {
  return select(
    `SELECT k.id AS takeId, k.state, k.recorded_at AS recordedAt, r.decision, s.status, s.notes_total AS total,
       s.notes_clean AS clean, s.notes_wrong AS wrong
     FROM takes k LEFT JOIN current_assessments s ON s.take_id = k.id LEFT JOIN reviews r ON r.take_id = k.id
     WHERE k.task_id = :taskId ORDER BY k.created_at, k.id`,
    { taskId },
  );
}

export interface AssessedBar {
  assessmentId: string;
  measureIndex: number;
  wrong: number;
  untimely: number;
}

export function barsOfAssessments(assessmentIds: readonly string[]): Promise<AssessedBar[]> {
  if (assessmentIds.length === 0) return Promise.resolve([]);
  return select(
    `SELECT assessment_id AS assessmentId, measure_index AS measureIndex, wrong, untimely
     FROM assessment_bars WHERE assessment_id IN (:assessmentIds) ORDER BY measure_index`,
    { assessmentIds },
  );
}

/** Where takes of a revision went wrong, by instrument and bar, over the whole band. */
export async function sectionBars(
  bandId: string,
  revisionId: string,
): Promise<{ instrumentId: string; measureIndex: number; wrong: number; takes: number }[]> {
  const rows = await select<{ instrumentId: string; measureIndex: number; wrong: number; takes: number }>(
    `SELECT t.instrument_id AS instrumentId, b.measure_index AS measureIndex, SUM(b.wrong > 0) AS wrong, COUNT(*) AS takes
     FROM assignments a JOIN tasks t ON t.assignment_id = a.id JOIN takes k ON k.task_id = t.id
     JOIN current_assessments s ON s.take_id = k.id AND s.status = 'assessed' JOIN assessment_bars b ON b.assessment_id = s.id
     WHERE a.band_id = :bandId AND a.revision_id = :revisionId GROUP BY t.instrument_id, b.measure_index`,
    { bandId, revisionId },
  );
  return rows.map((row) => ({ ...row, wrong: Number(row.wrong), takes: Number(row.takes) }));
}

/** Bars of assignments that went wrong, over all their takes. */
export async function barsOfAssignments(
  assignmentIds: readonly string[],
): Promise<{ assignmentId: string; measureIndex: number; wrong: number; takes: number }[]> {
  if (assignmentIds.length === 0) return [];
  const rows = await select<{ assignmentId: string; measureIndex: number; wrong: number; takes: number }>(
    `SELECT t.assignment_id AS assignmentId, b.measure_index AS measureIndex, SUM(b.wrong > 0) AS wrong, COUNT(*) AS takes
     FROM tasks t JOIN takes k ON k.task_id = t.id
     JOIN current_assessments s ON s.take_id = k.id AND s.status = 'assessed' JOIN assessment_bars b ON b.assessment_id = s.id
     WHERE t.assignment_id IN (:assignmentIds) GROUP BY t.assignment_id, b.measure_index`,
    { assignmentIds },
  );
  return rows.map((row) => ({ ...row, wrong: Number(row.wrong), takes: Number(row.takes) }));
}

export interface WeekTaskRow {
  assignmentId: string;
  taskId: string;
  state: TaskState;
  name: string;
  instrumentId: string;
}

export function tasksOfAssignments(assignmentIds: readonly string[]): Promise<WeekTaskRow[]> {
  if (assignmentIds.length === 0) return Promise.resolve([]);
  return select(
    `SELECT t.assignment_id AS assignmentId, t.id AS taskId, t.state, p.name, t.instrument_id AS instrumentId
     FROM tasks t JOIN players p ON p.id = t.player_id WHERE t.assignment_id IN (:assignmentIds) ORDER BY p.name, p.id`,
    { assignmentIds },
  );
}

/** The line of each assignment, and the printed numbers of its bars. */
export function linesOfAssignments(assignmentIds: readonly string[]): Promise<
  { revisionId: string; lineId: string; number: number | null; title: string }[]
> {
  if (assignmentIds.length === 0) return Promise.resolve([]);
  return select(
    `SELECT DISTINCT r.id AS revisionId, l.id AS lineId, l.number, l.title FROM assignments a
     JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id WHERE a.id IN (:assignmentIds)`,
    { assignmentIds },
  );
}

export interface GrowthTaskRow {
  taskId: string;
  playerId: string;
  name: string;
  instrumentId: string;
  state: TaskState;
  lineId: string;
  title: string;
  number: number | null;
}

export function tasksOfBand(bandId: string): Promise<GrowthTaskRow[]> {
  return select(
    `SELECT t.id AS taskId, p.id AS playerId, p.name, t.instrument_id AS instrumentId, t.state, l.id AS lineId, l.title, l.number
     FROM tasks t JOIN players p ON p.id = t.player_id JOIN assignments a ON a.id = t.assignment_id AND a.withdrawn_at IS NULL
     JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id
     WHERE t.band_id = :bandId ORDER BY t.id`,
    { bandId },
  );
}

export interface GrowthTakeRow extends TakeOutcome {
  taskId: string;
  takeId: string;
  state: QueueRow["state"];
  createdAt: Date;
  /** Mean of the director's marks. */
  mark: number | null;
}

/** Every take of the band with its current outcome and the director's mean mark, oldest first. */
export async function takesOfBand(bandId: string): Promise<GrowthTakeRow[]> {
  const rows = await select<GrowthTakeRow>(
    `SELECT k.task_id AS taskId, k.id AS takeId, k.state, k.created_at AS createdAt, s.status, s.notes_total AS total,
       s.notes_clean AS clean, s.notes_wrong AS wrong, m.mark
     FROM takes k LEFT JOIN current_assessments s ON s.take_id = k.id
     LEFT JOIN (SELECT take_id, AVG(score) AS mark FROM marks WHERE band_id = :bandId GROUP BY take_id) m ON m.take_id = k.id
     WHERE k.band_id = :bandId ORDER BY k.created_at, k.id`,
    { bandId },
  );
  return rows.map((row) => ({ ...row, mark: row.mark === null ? null : Number(row.mark) }));
}

/** The newest assessment of each take. */
export function currentAssessments<T extends object>(takeIds: readonly string[], columns: string): Promise<T[]> {
  if (takeIds.length === 0) return Promise.resolve([]);
  return select<T>(`SELECT take_id AS takeId, ${columns} FROM current_assessments WHERE take_id IN (:takeIds)`, {
    takeIds,
  });
}

/** How many takes of each task have arrived. */
export async function takeCounts(taskIds: readonly string[]): Promise<Map<string, number>> {
  if (taskIds.length === 0) return new Map();
  const rows = await select<{ taskId: string; takes: number }>(
    "SELECT task_id AS taskId, COUNT(*) AS takes FROM takes WHERE task_id IN (:taskIds) GROUP BY task_id",
    { taskIds },
  );
  return new Map(rows.map((row) => [row.taskId, Number(row.takes)]));
}
