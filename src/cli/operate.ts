import { setTimeout as pause } from "node:timers/promises";
import { migrate } from "../data";
import { closeDatabase, database } from "../server/database";
import { claim, fail, finish } from "../server/jobs";
import { log } from "../server/log";
import { createBand } from "../services/band/create";
import { assessStoredTake, closeAssessing, giveUpOn } from "../services/listening/assessing";

/** How long an idle worker waits before it looks again. */
const IDLE_MS = 400;

export async function migrateCommand(): Promise<void> {
  const applied = await migrate(database());
  console.log(
    applied.length === 0
      ? "The database is up to date."
      : `The database was brought up to date: ${applied.join(", ")}.`,
  );
  await closeDatabase();
}

/** Works off the queue until the process is asked to stop; a job under way is finished first. */
export async function workCommand(): Promise<void> {
  let stopping = false;
  const stop = () => {
    stopping = true;
  };
  process.once("SIGTERM", stop);
  process.once("SIGINT", stop);
  log().info("worker started");
  while (!stopping) {
    const job = await claim().catch((error: Error) => {
      log().error({ reason: error.message }, "the queue cannot be read");
      return null;
    });
    if (!job) {
      await pause(IDLE_MS);
      continue;
    }
    try {
      await assessStoredTake(job.subjectId);
      await finish(job);
      log().info({ job: job.id, take: job.subjectId }, "take assessed");
    } catch (error) {
      const { message } = error as Error;
      if (await fail(job, message)) await giveUpOn(job.subjectId);
      log().error({ job: job.id, reason: message, attempt: job.attempts }, "a job failed");
    }
  }
  await closeAssessing();
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
  await createBand({
    name,
    town: town ?? "",
    classCode: code,
    timeZone: zone,
    directorName: director,
    email,
    password,
  });
  console.log(`${name} is ready. ${director} signs in with ${email}.`);
  await closeDatabase();
}
