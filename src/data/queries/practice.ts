import { readJson, run, select } from "./select";

export interface FactRow {
  id: string;
  taskId: string | null;
  kind: string;
  at: Date;
  day: string;
  seconds: number;
  detail: Record<string, unknown>;
}

const FACT = "id, task_id AS taskId, kind, at, CAST(day AS CHAR) AS day, seconds, detail";

function whole(row: Omit<FactRow, "detail"> & { detail: string | Record<string, unknown> }): FactRow {
  return { ...row, detail: readJson(row.detail), seconds: Number(row.seconds) };
}

/** Keeps facts that are not there yet. What is there already stays as it is, whoever says it again. */
export function keepFacts(
  rows: readonly (Omit<FactRow, "detail"> & { bandId: string; playerId: string; detail: string })[],
): Promise<number> {
  if (rows.length === 0) return Promise.resolve(0);
  const values = rows.map(
    (_, i) =>
      `(:id${i}, :band${i}, :player${i}, :task${i}, :kind${i}, :at${i}, :day${i}, :seconds${i}, :detail${i})`,
  );
  const given = Object.fromEntries(
    rows.flatMap((row, i) => [
      [`id${i}`, row.id],
      [`band${i}`, row.bandId],
      [`player${i}`, row.playerId],
      [`task${i}`, row.taskId],
      [`kind${i}`, row.kind],
      [`at${i}`, row.at],
      [`day${i}`, row.day],
      [`seconds${i}`, row.seconds],
      [`detail${i}`, row.detail],
    ]),
  );
  return run(
    `INSERT INTO practice_facts (id, band_id, player_id, task_id, kind, at, day, seconds, detail)
     VALUES ${values.join(", ")} ON DUPLICATE KEY UPDATE id = practice_facts.id`,
    given,
  );
}

/** Facts of one line of a player, the newest so many, oldest first. */
export async function factsOfTask(playerId: string, taskId: string, most: number): Promise<FactRow[]> {
  const rows = await select<Parameters<typeof whole>[0]>(
    `SELECT * FROM (SELECT ${FACT} FROM practice_facts WHERE player_id = :playerId AND task_id = :taskId
       ORDER BY practice_facts.at DESC, id DESC LIMIT ${most}) f ORDER BY at, id`,
    { playerId, taskId },
  );
  return rows.map(whole);
}

/** Facts of some kinds of a player, the newest so many, oldest first. */
export async function factsOfKind(
  playerId: string,
  kinds: readonly string[],
  most: number,
): Promise<FactRow[]> {
  const rows = await select<Parameters<typeof whole>[0]>(
    `SELECT * FROM (SELECT ${FACT} FROM practice_facts WHERE player_id = :playerId AND kind IN (:kinds)
       ORDER BY practice_facts.at DESC, id DESC LIMIT ${most}) f ORDER BY at, id`,
    { playerId, kinds },
  );
  return rows.map(whole);
}

/** How many facts a player handed over for each day from one on. */
export async function factCounts(playerId: string, from: string): Promise<Map<string, number>> {
  const rows = await select<{ day: string; facts: number }>(
    `SELECT CAST(day AS CHAR) AS day, COUNT(*) AS facts FROM practice_facts
     WHERE player_id = :playerId AND day >= :from GROUP BY day`,
    { playerId, from },
  );
  return new Map(rows.map(({ day, facts }) => [day, Number(facts)]));
}

/** Seconds of practice of a player by day, in all. @param from, to  local days, both included */
export async function practisedDays(
  playerId: string,
  from: string,
  to: string,
): Promise<{ day: string; seconds: number; ownMinutes: number }[]> {
  const rows = await select<{ day: string; seconds: number; ownMinutes: number }>(
    `SELECT CAST(day AS CHAR) AS day, SUM(seconds) AS seconds,
       SUM(IF(kind = 'own', CAST(JSON_VALUE(detail, '$.minutes') AS UNSIGNED), 0)) AS ownMinutes
     FROM practice_facts WHERE player_id = :playerId AND day BETWEEN :from AND :to GROUP BY day ORDER BY day`,
    { playerId, from, to },
  );
  return rows.map((row) => ({ ...row, seconds: Number(row.seconds), ownMinutes: Number(row.ownMinutes) }));
}

/** For each line of a player (null is what belongs to none) and each day from one on: seconds of practice, minutes written down. */
export async function practisedLines(
  playerId: string,
  from: string,
): Promise<{ taskId: string | null; day: string; seconds: number; ownMinutes: number }[]> {
  const rows = await select<{ taskId: string | null; day: string; seconds: number; ownMinutes: number }>(
    `SELECT task_id AS taskId, CAST(day AS CHAR) AS day, SUM(seconds) AS seconds,
       SUM(IF(kind = 'own', CAST(JSON_VALUE(detail, '$.minutes') AS UNSIGNED), 0)) AS ownMinutes
     FROM practice_facts WHERE player_id = :playerId AND day >= :from GROUP BY task_id, day`,
    { playerId, from },
  );
  return rows.map((row) => ({ ...row, seconds: Number(row.seconds), ownMinutes: Number(row.ownMinutes) }));
}

/** When takes of a player were recorded, from an instant on. */
export function takesRecordedSince(
  playerId: string,
  from: Date,
): Promise<{ taskId: string; recordedAt: Date }[]> {
  return select(
    `SELECT task_id AS taskId, recorded_at AS recordedAt FROM takes WHERE player_id = :playerId AND recorded_at >= :from`,
    { playerId, from },
  );
}

export interface QuestionRow {
  id: string;
  kind: "question" | "please-play";
  taskId: string;
  playerId: string;
  playerName: string;
  instrumentId: string;
  lineId: string;
  lineTitle: string;
  lineNumber: number | null;
  measure: string | null;
  text: string;
  askedAt: Date;
}

/** What players of a band asked and nobody has answered yet, the oldest first. */
export function openQuestions(bandId: string, taskId: string | null = null): Promise<QuestionRow[]> {
  return select(
    `SELECT q.id, q.kind, q.task_id AS taskId, q.player_id AS playerId, COALESCE(NULLIF(p.called_name, ''), p.name) AS playerName,
       t.instrument_id AS instrumentId, l.id AS lineId, l.title AS lineTitle, l.number AS lineNumber, q.measure, q.text,
       q.asked_at AS askedAt
     FROM questions q JOIN tasks t ON t.id = q.task_id JOIN assignments a ON a.id = t.assignment_id
     JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id JOIN players p ON p.id = q.player_id
     WHERE q.band_id = :bandId AND q.answered_at IS NULL ${taskId === null ? "" : "AND q.task_id = :taskId"} ORDER BY q.asked_at, q.id LIMIT 200`,
    { bandId, taskId },
  );
}

/** What a player asked about one line, the newest first, with who answered. */
export function questionsOfTask(taskId: string): Promise<
  (Pick<QuestionRow, "id" | "kind" | "measure" | "text" | "askedAt"> & {
    answer: string | null;
    answeredBy: string | null;
    /** It was answered with a recording. */
    sound: boolean;
  })[]
> {
  return select(
    `SELECT q.id, q.kind, q.measure, q.text, q.asked_at AS askedAt, q.answer, u.name AS answeredBy,
       q.answer_media_id IS NOT NULL AS sound
     FROM questions q LEFT JOIN users u ON u.id = q.answered_by WHERE q.task_id = :taskId
     ORDER BY q.asked_at DESC, q.id DESC LIMIT 50`,
    { taskId },
  );
}

/** What lines of a player's tasks are called, and their goals. */
export function titlesOfTasks(
  playerId: string,
  taskIds: readonly string[],
): Promise<{ taskId: string; title: string; goalBpm: number }[]> {
  if (taskIds.length === 0) return Promise.resolve([]);
  return select(
    `SELECT t.id AS taskId, l.title, a.goal_bpm AS goalBpm FROM tasks t JOIN assignments a ON a.id = t.assignment_id
     JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id
     WHERE t.player_id = :playerId AND t.id IN (:taskIds) ORDER BY t.id DESC`,
    { playerId, taskIds },
  );
}
