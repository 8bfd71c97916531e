import { setTimeout as pause } from "node:timers/promises";
import { Band, migrate } from "../data";
import { config } from "../server/config";
import { closeDatabase, database } from "../server/database";
import { sweepDecoding } from "../server/decode";
import {
  type ClaimedJob,
  claim,
  fail,
  finish,
  giveUpLost,
  queueForgotten,
  queueReassessment,
  RENEW_MS,
  renew,
} from "../server/jobs";
import { log } from "../server/log";
import { drawBandInvitation, newCodesFor, sweepAccounts } from "../services/accounts";
import { createBand } from "../services/band";
import { pinOldTasks } from "../services/giving";
import { assessStoredTake, closeAssessing, eraseOldSounds, giveUpOn } from "../services/listening";
import { sweepUploads } from "../services/practice";

/** How long an idle worker waits before it looks again. */
const IDLE_MS = 400;
/** How often what was lost or has run out is looked for, beside the time at the start. */
const HOUSEKEEPING_MS = 60_000;

export async function migrateCommand(): Promise<void> {
  const applied = await migrate(database());
  await pinOldTasks();
  console.log(
    applied.length === 0
      ? "The database is up to date."
      : `The database was brought up to date: ${applied.join(", ")}.`,
  );
  await closeDatabase();
}

/**
 * Works off the queue until the process is asked to stop, with as many takes at once as there are worker threads; jobs under
 * way are finished first.
 */
export async function workCommand(): Promise<void> {
  const stop = new AbortController();
  process.once("SIGTERM", () => stop.abort());
  process.once("SIGINT", () => stop.abort());
  const { workerThreads } = config();
  database();
  log().info({ threads: workerThreads }, "worker started");
  await Promise.all([
    keepHouse(stop.signal),
    ...Array.from({ length: workerThreads }, () => workOff(stop.signal)),
  ]);
  await closeAssessing();
  await closeDatabase();
}

async function workOff(stop: AbortSignal): Promise<void> {
  while (!stop.aborted) {
    const job = await claim().catch((error: Error) => {
      log().error({ reason: error.name }, "the queue cannot be read");
      return null;
    });
    if (job) await workOn(job);
    else await rest(IDLE_MS, stop);
  }
}

async function workOn(job: ClaimedJob): Promise<void> {
  const stillAtWork = setInterval(() => {
    renew(job).catch((error: Error) =>
      log().error({ job: job.id, reason: error.name }, "a lease was not renewed"),
    );
  }, RENEW_MS);
  try {
    await assessStoredTake(job.subjectId);
    await finish(job);
    log().info({ job: job.id, take: job.subjectId }, "take assessed");
  } catch (error) {
    const { message } = error as Error;
    log().error({ job: job.id, take: job.subjectId, reason: message, attempt: job.attempts }, "a job failed");
    // With the database gone the lease runs out by itself and the job comes back.
    await fail(job, message)
      .then((over) => (over ? giveUpOn(job.subjectId) : undefined))
      .catch((problem: Error) =>
        log().error({ job: job.id, reason: problem.name }, "a failure was not noted"),
      );
  } finally {
    clearInterval(stillAtWork);
  }
}

/** Finds what was lost and takes away what has run out: at the start, then every minute. */
async function keepHouse(stop: AbortSignal): Promise<void> {
  while (!stop.aborted) {
    try {
      for (const takeId of await giveUpLost()) await giveUpOn(takeId);
      const done = {
        forgotten: await queueForgotten(),
        announcements: await sweepUploads(),
        signIns: await sweepAccounts(),
        temporary: await sweepDecoding(),
        erased: await eraseOldSounds(),
      };
      if (Object.values(done).some((count) => count > 0)) log().info(done, "kept house");
    } catch (error) {
      log().error({ reason: (error as Error).name }, "housekeeping failed; it is tried again in a minute");
    }
    await rest(HOUSEKEEPING_MS, stop);
  }
}

/** Waits, or less when the process is asked to stop. */
async function rest(ms: number, stop: AbortSignal): Promise<void> {
  await pause(ms, undefined, { signal: stop }).catch(() => undefined);
}

/** Lets the present engine hear every take of a band again; earlier verdicts stay beside the new ones. */
export async function reassessCommand(
  given: Record<string, string | boolean | undefined>,
  refuse: (sentence: string) => never,
): Promise<void> {
  const { code } = given as { code?: string };
  if (!code) return refuse("--code is needed: the class code of the band.");
  database();
  const classCode = code.toUpperCase();
  const band = /^[A-Z0-9-]+$/.test(classCode) ? await Band.findOne({ where: { classCode } }) : null;
  if (!band) return refuse(`There is no band with the class code ${code}.`);
  const takes = await queueReassessment(band.id);
  console.log(
    takes === 0
      ? `Every take of ${band.name} was heard by this version of the engine already.`
      : `${takes} ${takes === 1 ? "take" : "takes"} of ${band.name} will be heard again; the worker does it beside new ones.`,
  );
  await closeDatabase();
}

export async function newBandCommand(
  given: Record<string, string | boolean | undefined>,
  refuse: (sentence: string) => never,
): Promise<void> {
  const { name, town, code, zone, director, email } = given as Record<string, string | undefined>;
  const password = process.env.ULU_PASSWORD ?? "";
  if (!name || !code || !zone || !director || !email)
    return refuse("--name, --code, --zone, --director and --email are all needed.");
  if (password.length < 12) return refuse("Set ULU_PASSWORD to a password of at least 12 letters.");
  const { userId } = await createBand({
    name,
    town: town ?? "",
    classCode: code,
    timeZone: zone,
    directorName: director,
    email,
    password,
  });
  const codes = await newCodesFor(userId);
  console.log(
    [
      `${name} is ready. ${director} signs in with ${email}.`,
      "One-time codes for a lost password; print them and keep them away from the computer:",
      ...codes.map((code) => `  ${code}`),
    ].join("\n"),
  );
  await closeDatabase();
}

/** A code by which somebody makes a band of their own in the application. */
export async function inviteBandCommand(): Promise<void> {
  database();
  const code = await drawBandInvitation();
  console.log(`Invitation code ${code}: opens /new-band once within 14 days.`);
  await closeDatabase();
}
