import type { Transaction } from "sequelize";
import { run, select } from "./select";

export interface JobRow {
  id: string;
  kind: "assess-take";
  subjectId: string;
  engineVersion: string;
  attempts: number;
}

/** Queues a job once; the same kind, subject and engine version is never queued twice. */
export function queueJob(
  job: {
    id: string;
    kind: JobRow["kind"];
    subjectId: string;
    engineVersion: string;
    bandId: string;
    playerId: string;
  },
  transaction?: Transaction,
): Promise<number> {
  return run(
    `INSERT INTO jobs (id, kind, subject_id, engine_version, band_id, player_id, run_after)
     VALUES (:id, :kind, :subjectId, :engineVersion, :bandId, :playerId, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE id = id`,
    job,
    transaction,
  );
}

/** A job that may be taken now: it waits and its time has come, or its worker has not been heard of. */
const DUE = `attempts < :mostAttempts
  AND ((state = 'waiting' AND run_after <= UTC_TIMESTAMP(3)) OR (state = 'running' AND lease_until < UTC_TIMESTAMP(3)))`;

/**
 * Jobs that may be taken now, fairest first: bands and then players with the fewest at work, then those served longest
 * ago, then the oldest. One of each player, since taking one changes the order.
 */
export function dueJobs(mostAttempts: number, most: number): Promise<{ id: string }[]> {
  return select(
    `SELECT d.id FROM (
       SELECT MIN(CONCAT(DATE_FORMAT(run_after, '%Y%m%d%H%i%s%f'), id)) AS first, band_id, player_id, SUBSTRING(MIN(CONCAT(DATE_FORMAT(run_after, '%Y%m%d%H%i%s%f'), id)), 21) AS id
       FROM jobs WHERE ${DUE} GROUP BY band_id, player_id) d
     LEFT JOIN (SELECT band_id, SUM(state = 'running') AS running, MAX(started_at) AS served FROM jobs
       WHERE started_at > UTC_TIMESTAMP(3) - INTERVAL 1 HOUR GROUP BY band_id) b ON b.band_id = d.band_id
     LEFT JOIN (SELECT player_id, SUM(state = 'running') AS running, MAX(started_at) AS served FROM jobs
       WHERE started_at > UTC_TIMESTAMP(3) - INTERVAL 1 HOUR GROUP BY player_id) p ON p.player_id = d.player_id
     ORDER BY COALESCE(b.running, 0), COALESCE(p.running, 0), b.served, p.served, d.first LIMIT ${most}`,
    { mostAttempts },
  );
}

/** Locks the first of these jobs that nobody else is taking (raw SQL: the query builder ignores skipLocked on this dialect). */
export async function lockOne(
  ids: readonly string[],
  mostAttempts: number,
  transaction: Transaction,
): Promise<JobRow | undefined> {
  const [row] = await select<JobRow>(
    `SELECT id, kind, subject_id AS subjectId, engine_version AS engineVersion, attempts FROM jobs
     WHERE id IN (:ids) AND ${DUE} ORDER BY FIELD(id, :ids) LIMIT 1 FOR UPDATE SKIP LOCKED`,
    { ids, mostAttempts },
    transaction,
  );
  return row;
}

/** Jobs that were claimed as often as they may be and never came back. @returns what they were about */
export async function lostJobs(mostAttempts: number): Promise<{ id: string; subjectId: string }[]> {
  return select(
    `SELECT id, subject_id AS subjectId FROM jobs
     WHERE state = 'running' AND lease_until < UTC_TIMESTAMP(3) AND attempts >= :mostAttempts`,
    { mostAttempts },
  );
}

/** Takes that wait to be heard without a job that would do it. */
export function forgottenTakes(): Promise<{ id: string; bandId: string; playerId: string }[]> {
  return select(
    `SELECT k.id, k.band_id AS bandId, k.player_id AS playerId FROM takes k
     WHERE k.state = 'waiting' AND NOT EXISTS
       (SELECT 1 FROM jobs j WHERE j.subject_id = k.id AND j.state IN ('waiting', 'running')) LIMIT 10000`,
  );
}

/** Takes of a band that were heard, but not by this version of the engine. */
export function takesHeardByOthers(
  bandId: string,
  engineVersion: string,
): Promise<{ id: string; bandId: string; playerId: string }[]> {
  return select(
    `SELECT k.id, k.band_id AS bandId, k.player_id AS playerId FROM takes k
     WHERE k.band_id = :bandId AND k.state IN ('assessed', 'unheard') AND NOT EXISTS
       (SELECT 1 FROM assessments s WHERE s.take_id = k.id AND s.engine_version = :engineVersion)`,
    { bandId, engineVersion },
  );
}
