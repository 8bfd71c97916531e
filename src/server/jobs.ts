import type { Transaction } from "sequelize";
import { v7 as uuid } from "uuid";
import { ENGINE_VERSION } from "../core/listen";
import {
  dueJobs,
  forgottenTakes,
  Job,
  type JobRow,
  lockOne,
  lostJobs,
  queueJob,
  takesHeardByOthers,
} from "../data";
import { database } from "./database";

/** A claimed job: how often it was claimed, this time included. */
export type ClaimedJob = JobRow;

/** A job whose worker says nothing for so long returns to the queue. A worker at work says so every `RENEW_MS`. */
const LEASE_MS = 60_000;
export const RENEW_MS = 15_000;
/** Claims, not failures: a take that kills its process is given up too. */
const MAX_ATTEMPTS = 4;
/** How many of the fairest jobs a worker tries for before it waits. */
const CANDIDATES = 16;

interface TakeOf {
  id: string;
  bandId: string;
  playerId: string;
}

/**
 * Queues a take to be heard by the present engine, once. Part of the transaction that stores the take: neither is there
 * without the other.
 */
export async function queueTake(take: TakeOf, transaction?: Transaction): Promise<void> {
  await queueJob(
    {
      id: uuid(),
      kind: "assess-take",
      subjectId: take.id,
      engineVersion: ENGINE_VERSION,
      bandId: take.bandId,
      playerId: take.playerId,
    },
    transaction,
  );
}

/** Queues again what was given up, from the beginning. */
export async function queueAgain(take: TakeOf, transaction: Transaction): Promise<void> {
  await queueTake(take, transaction);
  await Job.update(
    { state: "waiting", attempts: 0, runAfter: new Date(), leaseUntil: null, problem: null },
    { where: { subjectId: take.id, engineVersion: ENGINE_VERSION }, transaction },
  );
}

/**
 * Claims a due job, also one whose lease has run out, fairly by band and player. Other workers skip locked rows; a deadlock
 * counts as nothing found.
 */
export async function claim(): Promise<ClaimedJob | null> {
  const due = await dueJobs(MAX_ATTEMPTS, CANDIDATES);
  if (due.length === 0) return null;
  try {
    return await database().transaction(async (transaction) => {
      const job = await lockOne(
        due.map(({ id }) => id),
        MAX_ATTEMPTS,
        transaction,
      );
      if (!job) return null;
      const attempts = job.attempts + 1;
      await Job.update(
        { state: "running", attempts, startedAt: new Date(), leaseUntil: new Date(Date.now() + LEASE_MS) },
        { where: { id: job.id }, transaction },
      );
      return { ...job, attempts };
    });
  } catch (error) {
    const code = (error as { original?: { errno?: number } }).original?.errno;
    if (code === 1213 || code === 1205) return null;
    throw error;
  }
}

/** Says that a job is still being worked on. */
export async function renew(job: ClaimedJob): Promise<void> {
  await Job.update(
    { leaseUntil: new Date(Date.now() + LEASE_MS) },
    { where: { id: job.id, state: "running", attempts: job.attempts } },
  );
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

/** Gives up jobs that took their workers with them every time. @returns the takes they were about */
export async function giveUpLost(): Promise<string[]> {
  const lost = await lostJobs(MAX_ATTEMPTS);
  for (const { id } of lost)
    await Job.update(
      { state: "failed", leaseUntil: null, problem: "Its worker ended each time." },
      { where: { id, state: "running" } },
    );
  return lost.map(({ subjectId }) => subjectId);
}

/** Queues takes that wait without a job: nothing is forgotten, whatever was lost. @returns how many */
export async function queueForgotten(): Promise<number> {
  const takes = await forgottenTakes();
  for (const take of takes) await database().transaction((transaction) => queueAgain(take, transaction));
  return takes.length;
}

/** Queues every take of a band that the present engine has not heard. @returns how many */
export async function queueReassessment(bandId: string): Promise<number> {
  const takes = await takesHeardByOthers(bandId, ENGINE_VERSION);
  for (const take of takes) await queueTake(take);
  return takes.length;
}
