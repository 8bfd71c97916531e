import type { Assessment } from "../../core/listen";
import { type Asks, type Terms, withAsks } from "../../core/practice";
import type { MarkedBy, Marks } from "../../core/progress";
import type { Seat } from "../../core/ready";
import type { AskedDynamic } from "../../core/score";
import type { AskedOfTake, TakeState, TaskState } from "../models";
import { readJson, select } from "./select";

/** What the bench made of a take, as the current assessment says: the newest there is of it. */
export interface TakeOutcome {
  status: "assessed" | "no-match" | "too-quiet" | "no-music" | null;
  total: number | null;
  clean: number | null;
  wrong: number | null;
  /** What was played at, and the slowest that counted when it was sent; null where there is none. */
  tempoBpm: number | null;
  lowestBpm: number | null;
}

/** The columns of an outcome: s is the current assessment, k the take. */
export const OUTCOME = `s.status, s.notes_total AS total, s.notes_clean AS clean, s.notes_wrong AS wrong, s.tempo_bpm AS tempoBpm,
       k.lowest_bpm AS lowestBpm`;

/** Numbers that the database gives as text. */
export function withNumbers<R extends Pick<TakeOutcome, "tempoBpm" | "lowestBpm">>(row: R): R {
  const number = (value: number | null) => (value === null ? null : Number(value));
  return { ...row, tempoBpm: number(row.tempoBpm), lowestBpm: number(row.lowestBpm) };
}

export interface QueueRow extends TakeOutcome {
  takeId: string;
  taskId: string;
  playerName: string;
  instrumentId: string;
  lineTitle: string;
  lineNumber: number | null;
  /** Opened by its player's own choice, or read at sight. */
  chosen: boolean;
  sight: boolean;
  state: TakeState;
  assessmentId: string | null;
  createdAt: Date;
}

/** Whether an assignment a is read at sight. */
export const AT_SIGHT = "(JSON_VALUE(a.terms, '$.sight.lookSec') IS NOT NULL)";

/** So many tasks are listed at once; what is reviewed makes room. */
const MOST_WAITING = 500;

/** Every take of the tasks that wait for the director, newest first within a task. */
export async function takesOfWaitingTasks(bandId: string): Promise<QueueRow[]> {
  const rows = await select<QueueRow>(
    `SELECT k.id AS takeId, t.id AS taskId, COALESCE(NULLIF(p.called_name, ''), p.name) AS playerName, t.instrument_id AS instrumentId, l.title AS lineTitle,
       l.number AS lineNumber, a.chosen_by IS NOT NULL AS chosen, ${AT_SIGHT} AS sight, k.state, k.created_at AS createdAt,
       s.id AS assessmentId, ${OUTCOME}
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
  return rows.map((row) => ({
    ...withNumbers(row),
    chosen: Boolean(row.chosen),
    sight: Boolean(row.sight),
  }));
}

export interface TaskTakeRow extends TakeOutcome, Pick<QueueRow, "takeId" | "state"> {
  recordedAt: Date;
  decision: "accepted" | "again" | null;
}

/** Every take of a task in a row, oldest first, with the director's decision on it. */
export async function takesOfTask(taskId: string): Promise<TaskTakeRow[]> {
  const rows = await select<TaskTakeRow>(
    `SELECT k.id AS takeId, k.state, k.recorded_at AS recordedAt, r.decision, ${OUTCOME}
     FROM takes k LEFT JOIN current_assessments s ON s.take_id = k.id LEFT JOIN reviews r ON r.take_id = k.id
     WHERE k.task_id = :taskId ORDER BY k.created_at, k.id`,
    { taskId },
  );
  return rows.map(withNumbers);
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

/** The bar of each assignment that went wrong in most takes, where at least two missed it. */
export async function hardestBars(
  assignmentIds: readonly string[],
): Promise<{ assignmentId: string; measureIndex: number; wrong: number; takes: number }[]> {
  if (assignmentIds.length === 0) return [];
  const rows = await select<{ assignmentId: string; measureIndex: number; wrong: number; takes: number }>(
    `SELECT t.assignment_id AS assignmentId, b.measure_index AS measureIndex, SUM(b.wrong > 0) AS wrong, COUNT(*) AS takes
     FROM tasks t JOIN takes k ON k.task_id = t.id
     JOIN current_assessments s ON s.take_id = k.id AND s.status = 'assessed' JOIN assessment_bars b ON b.assessment_id = s.id
     WHERE t.assignment_id IN (:assignmentIds) GROUP BY t.assignment_id, b.measure_index HAVING wrong >= 2
     ORDER BY wrong DESC, takes, b.measure_index`,
    { assignmentIds },
  );
  const hardest = new Map<string, (typeof rows)[number]>();
  for (const row of rows)
    if (!hardest.has(row.assignmentId))
      hardest.set(row.assignmentId, { ...row, wrong: Number(row.wrong), takes: Number(row.takes) });
  return [...hardest.values()];
}

/** The newest take of an assignment in which a bar went wrong; null when there is none. */
export async function takeWrongIn(assignmentId: string, measureIndex: number): Promise<string | null> {
  const [row] = await select<{ takeId: string }>(
    `SELECT k.id AS takeId FROM tasks t JOIN takes k ON k.task_id = t.id
     JOIN current_assessments s ON s.take_id = k.id AND s.status = 'assessed' JOIN assessment_bars b ON b.assessment_id = s.id
     WHERE t.assignment_id = :assignmentId AND b.measure_index = :measureIndex AND b.wrong > 0
     ORDER BY k.created_at DESC, k.id DESC LIMIT 1`,
    { assignmentId, measureIndex },
  );
  return row?.takeId ?? null;
}

/** How many tasks of each assignment there are in each state. */
export async function taskCounts(
  assignmentIds: readonly string[],
): Promise<{ assignmentId: string; state: TaskState; tasks: number }[]> {
  if (assignmentIds.length === 0) return [];
  const rows = await select<{ assignmentId: string; state: TaskState; tasks: number }>(
    `SELECT assignment_id AS assignmentId, state, COUNT(*) AS tasks FROM tasks
     WHERE assignment_id IN (:assignmentIds) AND (closed_at IS NULL OR state IN ('sent', 'accepted'))
     GROUP BY assignment_id, state`,
    { assignmentIds },
  );
  return rows.map((row) => ({ ...row, tasks: Number(row.tasks) }));
}

/** Who has not sent anything of an assignment yet, by name. */
export function openTasks(
  assignmentIds: readonly string[],
): Promise<{ assignmentId: string; playerId: string; name: string; instrumentId: string }[]> {
  if (assignmentIds.length === 0) return Promise.resolve([]);
  return select(
    `SELECT t.assignment_id AS assignmentId, p.id AS playerId, p.name, t.instrument_id AS instrumentId
     FROM tasks t JOIN players p ON p.id = t.player_id
     WHERE t.assignment_id IN (:assignmentIds) AND t.state = 'open' AND t.closed_at IS NULL ORDER BY p.name, p.id`,
    { assignmentIds },
  );
}

export interface DueRow {
  id: string;
  revisionId: string;
  goalBpm: number;
  timesPerWeek: number;
  dueDate: string;
  note: string;
  firstBar: number | null;
  lastBar: number | null;
  terms: Terms | null;
  opensOn: string | null;
  countsFor: string | null;
  groupId: string;
  groupName: string;
  lineId: string;
  lineTitle: string;
  lineNumber: number | null;
}

/** What is given and due from a local date on, with its line and group, earliest first. */
export async function assignmentsDue(bandId: string, from: string): Promise<DueRow[]> {
  const rows = await select<Omit<DueRow, "terms"> & { terms: Terms | string | null }>(
    `SELECT a.id, a.revision_id AS revisionId, a.goal_bpm AS goalBpm, a.times_per_week AS timesPerWeek,
       CAST(a.due_date AS CHAR) AS dueDate, a.note, a.first_bar AS firstBar, a.last_bar AS lastBar, a.terms,
       CAST(a.opens_on AS CHAR) AS opensOn, a.counts_for AS countsFor, g.id AS groupId, g.name AS groupName, l.id AS lineId, l.title AS lineTitle, l.number AS lineNumber
     FROM assignments a JOIN band_groups g ON g.id = a.group_id JOIN line_revisions r ON r.id = a.revision_id
     JOIN \`lines\` l ON l.id = r.line_id
     WHERE a.band_id = :bandId AND a.withdrawn_at IS NULL AND a.chosen_by IS NULL AND a.due_date >= :from ORDER BY a.due_date, a.id LIMIT 200`,
    { bandId, from },
  );
  return rows.map(withTerms);
}

function withTerms<R extends { terms: Terms | string | null }>(row: R): R & { terms: Terms | null } {
  return { ...row, terms: row.terms === null ? null : readJson<Terms>(row.terms) };
}

export interface StandRow {
  id: string;
  state: TaskState;
  instrumentId: string;
  goalBpm: number;
  timesPerWeek: number;
  dueDate: string;
  note: string;
  changedNote: string;
  firstBar: number | null;
  lastBar: number | null;
  revisionId: string;
  terms: Terms | null;
  opensOn: string | null;
  toldDone: boolean;
  /** Opened by the player's own choice. */
  chosen: boolean;
  lineId: string;
  bookId: string | null;
  lineTitle: string;
  lineNumber: number | null;
  page: number | null;
  takes: number;
}

/** What stands on a player's stand, the newest first; or one task of it. */
const HELD_BACK =
  "EXISTS (SELECT 1 FROM takes h JOIN reviews v ON v.take_id = h.id AND v.released_at IS NULL WHERE h.task_id = t.id)";

/** What the next take of a task is asked for otherwise; nothing while the word that says so is held back. */
export async function asksOfTask(taskId: string): Promise<Asks | null> {
  const [row] = await select<{ asks: Asks | string | null }>(
    `SELECT IF(${HELD_BACK}, NULL, t.asks) AS asks FROM tasks t WHERE t.id = :taskId`,
    { taskId },
  );
  return row?.asks ? readJson<Asks>(row.asks) : null;
}

/** Dynamics the director pencilled into the part of a task since it was given. */
export function dynamicsOfTask(taskId: string): Promise<AskedDynamic[]> {
  return select<AskedDynamic>(
    `SELECT m.event_id AS eventId, m.text AS dynamic
     FROM tasks t JOIN assignments a ON a.id = t.assignment_id JOIN line_revisions r ON r.id = a.revision_id
     JOIN pencil_marks m ON m.line_id = r.line_id AND m.band_id = t.band_id
     WHERE t.id = :taskId AND m.kind = 'dynamic' AND m.player_id IS NULL AND m.shared
       AND (m.instrument_id IS NULL OR m.instrument_id = t.instrument_id)
     ORDER BY m.instrument_id IS NOT NULL, m.id`,
    { taskId },
  );
}

export async function tasksOfPlayer(playerId: string, taskId: string | null = null): Promise<StandRow[]> {
  const rows = await select<
    Omit<StandRow, "terms"> & { terms: Terms | string | null; asks: Asks | string | null }
  >(
    // A word that is held back is not seen yet: the task still looks sent.
    `SELECT t.id, IF(t.state IN ('accepted', 'again') AND ${HELD_BACK}, 'sent', t.state) AS state, t.instrument_id AS instrumentId, a.goal_bpm AS goalBpm, a.times_per_week AS timesPerWeek,
       CAST(a.due_date AS CHAR) AS dueDate, a.note, a.changed_note AS changedNote, a.first_bar AS firstBar,
       a.last_bar AS lastBar, a.revision_id AS revisionId, a.terms, CAST(a.opens_on AS CHAR) AS opensOn,
       IF(${HELD_BACK}, NULL, t.asks) AS asks, t.told_done_at IS NOT NULL AS toldDone, a.chosen_by IS NOT NULL AS chosen, l.id AS lineId, l.book_id AS bookId, l.title AS lineTitle, l.number AS lineNumber, l.page,
       (SELECT COUNT(*) FROM takes k WHERE k.task_id = t.id) AS takes
     FROM tasks t JOIN assignments a ON a.id = t.assignment_id AND a.withdrawn_at IS NULL
     JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id
     WHERE t.player_id = :playerId AND (t.closed_at IS NULL OR t.state IN ('sent', 'accepted')) ${taskId === null ? "" : "AND t.id = :taskId"} ORDER BY t.id DESC LIMIT 200`,
    { playerId, taskId },
  );
  return rows.map(({ asks, ...row }) => ({
    ...withAsks(withTerms(row), asks === null ? null : readJson<Asks>(asks)),
    takes: Number(row.takes),
    toldDone: Boolean(row.toldDone),
    chosen: Boolean(row.chosen),
  }));
}

export interface TakeContext {
  takeId: string;
  taskId: string;
  seconds: number;
  state: TakeState;
  problem: string | null;
  peaks: number[] | null;
  playerName: string;
  instrumentId: string;
  stage: Seat["stage"];
  partId: string | null;
  octaveShift: number | null;
  goalBpm: number;
  /** The bars that were asked for when it was sent; null for the whole line. */
  firstBar: number | null;
  lastBar: number | null;
  /** The bars of its assignment. */
  givenFirst: number | null;
  givenLast: number | null;
  /** What the next take of the task is asked for otherwise. */
  asks: Asks | null;
  /** How it was asked for beside its bars. */
  asked: AskedOfTake | null;
  /** How its task is given today. */
  terms: Terms | null;
  playerId: string;
  revisionId: string;
  lineId: string;
  lineTitle: string;
  lineNumber: number | null;
  page: number | null;
}

/** A take with its player, task and line; undefined when the band has no such take. */
export async function takeContext(bandId: string, takeId: string): Promise<TakeContext | undefined> {
  const [row] = await select<
    Omit<TakeContext, "peaks" | "asked" | "terms" | "asks"> & {
      asks: Asks | string | null;
      peaks: number[] | string | null;
      asked: AskedOfTake | string | null;
      terms: Terms | string | null;
    }
  >(
    `SELECT k.id AS takeId, k.task_id AS taskId, k.seconds, k.state, k.problem, k.peaks, COALESCE(NULLIF(p.called_name, ''), p.name) AS playerName,
       t.instrument_id AS instrumentId, t.stage, t.part_id AS partId, t.octave_shift AS octaveShift,
       k.first_bar AS firstBar, k.last_bar AS lastBar, a.first_bar AS givenFirst, a.last_bar AS givenLast, t.asks, k.asked, a.terms, k.player_id AS playerId, a.goal_bpm AS goalBpm, a.revision_id AS revisionId, l.id AS lineId, l.title AS lineTitle, l.number AS lineNumber, l.page
     FROM takes k JOIN tasks t ON t.id = k.task_id JOIN players p ON p.id = k.player_id
     JOIN assignments a ON a.id = t.assignment_id JOIN line_revisions r ON r.id = a.revision_id
     JOIN \`lines\` l ON l.id = r.line_id
     WHERE k.id = :takeId AND k.band_id = :bandId`,
    { bandId, takeId },
  );
  return (
    row && {
      ...withTerms(row),
      seconds: Number(row.seconds),
      peaks: row.peaks === null ? null : readJson(row.peaks),
      asked: row.asked === null ? null : readJson(row.asked),
      asks: row.asks === null ? null : readJson(row.asks),
    }
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
  assignmentId: string;
  /** The test it is, or makes up for; null where it counts for none. */
  testId: string | null;
  chosen: boolean;
  sight: boolean;
}

/** Tasks of those who are in the band today; what was closed before anything was sent is left out. */
export async function tasksOfBand(bandId: string): Promise<GrowthTaskRow[]> {
  const rows = await select<GrowthTaskRow>(
    `SELECT t.id AS taskId, p.id AS playerId, p.name, t.instrument_id AS instrumentId, t.state, l.id AS lineId, l.title, l.number,
       a.id AS assignmentId, COALESCE(a.counts_for, IF(JSON_VALUE(a.terms, '$.test') = 1, a.id, NULL)) AS testId,
       a.chosen_by IS NOT NULL AS chosen, ${AT_SIGHT} AS sight
     FROM tasks t JOIN players p ON p.id = t.player_id JOIN assignments a ON a.id = t.assignment_id AND a.withdrawn_at IS NULL
     JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id
     WHERE t.band_id = :bandId AND p.left_on IS NULL AND (t.closed_at IS NULL OR t.state IN ('sent', 'accepted'))
     ORDER BY t.id`,
    { bandId },
  );
  return rows.map((row) => ({ ...row, chosen: Boolean(row.chosen), sight: Boolean(row.sight) }));
}

/** The director's marks of a take, and how much each counts in its task. */
export interface TakeMarks {
  marks: Marks | null;
  /** How it was marked, as it stood then. */
  markedBy: MarkedBy | null;
  criteria: Terms["criteria"];
}

export function withMarks<R extends TakeMarks>(row: R): R {
  const read = <T>(value: T | null) => (value === null ? null : readJson<T>(value));
  return { ...row, marks: read(row.marks), markedBy: read(row.markedBy), criteria: read(row.criteria) };
}

export interface GrowthTakeRow extends TakeOutcome, TakeMarks {
  taskId: string;
  takeId: string;
  state: TakeState;
  createdAt: Date;
}

/** Every take of the band with its current outcome and the director's marks, oldest first. */
export async function takesOfBand(bandId: string): Promise<GrowthTakeRow[]> {
  const rows = await select<GrowthTakeRow>(
    `SELECT k.task_id AS taskId, k.id AS takeId, k.state, k.created_at AS createdAt, ${OUTCOME},
       JSON_QUERY(a.terms, '$.criteria') AS criteria, m.marks, r.marked_by AS markedBy
     FROM takes k JOIN tasks t ON t.id = k.task_id JOIN assignments a ON a.id = t.assignment_id LEFT JOIN current_assessments s ON s.take_id = k.id
     LEFT JOIN (SELECT take_id, JSON_OBJECTAGG(criterion, score) AS marks FROM marks WHERE band_id = :bandId GROUP BY take_id) m ON m.take_id = k.id
     LEFT JOIN reviews r ON r.take_id = k.id
     WHERE k.band_id = :bandId ORDER BY k.created_at, k.id`,
    { bandId },
  );
  return rows.map((row) => withMarks(withNumbers(row)));
}

/** What the newest assessed take of each player says of a part in a section: the same line, instrument and part, however often it was given. */
export async function sectionResults(
  { revisionId, instrumentId, partId }: { revisionId: string; instrumentId: string; partId: string | null },
  most: number,
): Promise<Assessment[]> {
  const rows = await select<{ result: Assessment | string }>(
    `SELECT s.result FROM (
       SELECT k.id, ROW_NUMBER() OVER (PARTITION BY k.player_id ORDER BY k.created_at DESC, k.id DESC) AS place
       FROM assignments a JOIN tasks t ON t.assignment_id = a.id AND t.instrument_id = :instrumentId AND t.part_id <=> :partId
       JOIN takes k ON k.task_id = t.id JOIN current_assessments c ON c.take_id = k.id AND c.status = 'assessed'
       WHERE a.revision_id = :revisionId) n
     JOIN current_assessments s ON s.take_id = n.id WHERE n.place = 1 ORDER BY s.take_id DESC LIMIT ${most}`,
    { revisionId, instrumentId, partId },
  );
  return rows.map(({ result }) => readJson(result));
}

/** What the current assessment of each take says, whole. */
export async function currentResults(
  takeIds: readonly string[],
): Promise<{ takeId: string; result: Assessment }[]> {
  if (takeIds.length === 0) return [];
  const rows = await select<{ takeId: string; result: Assessment | string }>(
    "SELECT take_id AS takeId, result FROM current_assessments WHERE take_id IN (:takeIds)",
    { takeIds },
  );
  return rows.map(({ takeId, result }) => ({ takeId, result: readJson(result) }));
}
