import type { TakeState, TaskState } from "../models";
import { select } from "./select";
import { AT_SIGHT, OUTCOME, type TakeMarks, type TakeOutcome, withMarks, withNumbers } from "./takes";

export interface PlayerTaskRow {
  taskId: string;
  assignmentId: string;
  lineId: string;
  lineTitle: string;
  lineNumber: number | null;
  instrumentId: string;
  groupName: string;
  dueDate: string;
  state: TaskState;
  closed: boolean;
  withdrawn: boolean;
  /** Opened by own choice. */
  chosen: boolean;
  /** Read at sight. */
  sight: boolean;
}

/** Everything a player was ever given, the newest first. */
export async function everyTaskOf(playerId: string): Promise<PlayerTaskRow[]> {
  const rows = await select<
    Record<"closed" | "withdrawn" | "chosen" | "sight", number> &
      Omit<PlayerTaskRow, "closed" | "withdrawn" | "chosen" | "sight">
  >(
    `SELECT t.id AS taskId, a.id AS assignmentId, l.id AS lineId, l.title AS lineTitle, l.number AS lineNumber,
       t.instrument_id AS instrumentId, g.name AS groupName, CAST(a.due_date AS CHAR) AS dueDate, t.state,
       t.closed_at IS NOT NULL AS closed, a.withdrawn_at IS NOT NULL AS withdrawn,
       a.chosen_by IS NOT NULL AS chosen, ${AT_SIGHT} AS sight
     FROM tasks t JOIN assignments a ON a.id = t.assignment_id JOIN band_groups g ON g.id = a.group_id
     JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id
     WHERE t.player_id = :playerId ORDER BY a.due_date DESC, t.id DESC LIMIT 500`,
    { playerId },
  );
  return rows.map((row) => ({
    ...row,
    closed: Boolean(row.closed),
    withdrawn: Boolean(row.withdrawn),
    chosen: Boolean(row.chosen),
    sight: Boolean(row.sight),
  }));
}

export interface PlayerTakeRow extends TakeOutcome, TakeMarks {
  takeId: string;
  taskId: string;
  state: TakeState;
  recordedAt: Date;
  erased: number;
  decision: "accepted" | "again" | null;
  comment: string | null;
}

/** Every take of a player with its verdict and the director's word, oldest first. */
export async function everyTakeOf(playerId: string): Promise<PlayerTakeRow[]> {
  const rows = await select<PlayerTakeRow>(
    `SELECT k.id AS takeId, k.task_id AS taskId, k.state, k.recorded_at AS recordedAt, o.erased_at IS NOT NULL AS erased,
       r.decision, r.comment, r.marked_by AS markedBy, ${OUTCOME}, JSON_QUERY(a.terms, '$.criteria') AS criteria,
       (SELECT JSON_OBJECTAGG(criterion, score) FROM marks m WHERE m.take_id = k.id) AS marks
     FROM takes k JOIN tasks t ON t.id = k.task_id JOIN assignments a ON a.id = t.assignment_id JOIN media o ON o.id = k.original_id LEFT JOIN current_assessments s ON s.take_id = k.id
     LEFT JOIN reviews r ON r.take_id = k.id
     WHERE k.player_id = :playerId ORDER BY k.created_at, k.id LIMIT 2000`,
    { playerId },
  );
  return rows.map((row) => withMarks(withNumbers(row)));
}

/** What was given to the groups a player is in today, and not to the player: before they came. */
export function givenWithout(
  playerId: string,
): Promise<
  { assignmentId: string; lineTitle: string; lineNumber: number | null; dueDate: string; groupName: string }[]
> {
  return select(
    `SELECT a.id AS assignmentId, l.title AS lineTitle, l.number AS lineNumber, CAST(a.due_date AS CHAR) AS dueDate,
       g.name AS groupName
     FROM group_members m JOIN assignments a ON a.group_id = m.group_id AND a.withdrawn_at IS NULL
     JOIN band_groups g ON g.id = a.group_id JOIN line_revisions r ON r.id = a.revision_id
     JOIN \`lines\` l ON l.id = r.line_id
     WHERE m.player_id = :playerId AND m.to_date IS NULL AND a.only_for IS NULL
       AND NOT EXISTS (SELECT 1 FROM tasks t WHERE t.assignment_id = a.id AND t.player_id = :playerId AND t.closed_at IS NULL)
     ORDER BY a.due_date DESC, a.id DESC LIMIT 60`,
    { playerId },
  );
}
