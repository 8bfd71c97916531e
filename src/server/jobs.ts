import { QueryTypes } from "sequelize";
import { v7 as uuid } from "uuid";
import { Job } from "../data";
import { database } from "./database";

export type JobKind = "assess-take";
export interface ClaimedJob {
  id: string;
  kind: JobKind;
  subjectId: string;
  attempts: number;
}

/** A crashed worker's job returns after this time. */
const LEASE_MS = 60_000;
const MAX_ATTEMPTS = 4;

/** Queues a job once: the same kind and subject is never queued twice. */
export async function enqueue(kind: JobKind, subjectId: string): Promise<void> {
  await database().query(
    "INSERT IGNORE INTO jobs (id, kind, subject_id, run_after) VALUES (?, ?, ?, UTC_TIMESTAMP(3))",
    {
      replacements: [uuid(), kind, subjectId],
      type: QueryTypes.INSERT,
    },
  );
}

/**
 * Claims the oldest due job, also one whose lease has run out. Other workers skip locked rows
 * (raw SQL: the query builder ignores skipLocked on this dialect); a deadlock counts as nothing found.
 */
export async function claim(): Promise<ClaimedJob | null> {
  try {
    return await database().transaction(async (transaction) => {
      const [row] = await database().query<{
        id: string;
        kind: JobKind;
        subject_id: string;
        attempts: number;
      }>(
        `SELECT id, kind, subject_id, attempts FROM jobs
         WHERE (state = 'waiting' AND run_after <= UTC_TIMESTAMP(3)) OR (state = 'running' AND lease_until < UTC_TIMESTAMP(3))
         ORDER BY run_after LIMIT 1 FOR UPDATE SKIP LOCKED`,
        { transaction, type: QueryTypes.SELECT },
      );
      if (!row) return null;
      const attempts = row.attempts + 1;
      await Job.update(
        { state: "running", attempts, leaseUntil: new Date(Date.now() + LEASE_MS) },
        { where: { id: row.id }, transaction },
      );
      return { id: row.id, kind: row.kind, subjectId: row.subject_id, attempts };
    });
  } catch (error) {
    const code = (error as { original?: { errno?: number } }).original?.errno;
    if (code === 1213 || code === 1205) return null;
    throw error;
  }
}

export async function finish(job: ClaimedJob): Promise<void> {
  await Job.update({ state: "done", leaseUntil: null, problem: null }, { where: { id: job.id } });
}

/** Tries again later, longer each time, or gives up. @returns whether it was given up */
export async function fail(job: ClaimedJob, problem: string): Promise<boolean> {
  const over = job.attempts >= MAX_ATTEMPTS;
  const runAfter = new Date(Date.now() + 1000 * 4 ** job.attempts);
  await Job.update(
    { state: over ? "failed" : "waiting", leaseUntil: null, runAfter, problem: problem.slice(0, 500) },
    { where: { id: job.id } },
  );
  return over;
}
