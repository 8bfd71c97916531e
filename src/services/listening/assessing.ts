import { createHash } from "node:crypto";
import { join } from "node:path";
import { UniqueConstraintError } from "sequelize";
import { v7 as uuid } from "uuid";
import {
  type Assessment,
  type AssessOptions,
  type AttemptRule,
  ENGINE_VERSION,
  modeFor,
} from "../../core/listen";
import { instrumentById } from "../../core/music";
import { NEIGHBOUR_TEMPO } from "../../core/practice";
import { derivePart, type Score } from "../../core/score";
import {
  AssessmentRow,
  Assignment,
  Band,
  LineRevision,
  lockTask,
  Media,
  rankTask,
  Take,
  Task,
  touchBand,
} from "../../data";
import { config } from "../../server/config";
import { database } from "../../server/database";
import { mediaStore } from "../../server/media-store";
import { type ThreadPool, threadPool } from "../../server/threads";
import { scoreOfTake } from "../giving";
import { exemptNotes } from "../knowledge";
import { settingsOf } from "../settings";
import { type CountedBy, keepCounted, notesOf, overrulesOf } from "./counted";

/** What the thread is asked. */
export interface AssessRequest {
  bytes: Uint8Array;
  part: Score;
  options: AssessOptions;
  /** Which of several attempts in one recording counts. */
  attempts: AttemptRule;
}
/** Either everything that follows from the recording, or the sentence that says why it cannot be read. */
export type AssessAnswer =
  | { readable: true; assessment: Assessment; seconds: number; peaks: number[]; flac: Uint8Array }
  | { readable: false; problem: string };

/** Fifteen minutes of sound take about 20 s on one core; twice that beside other work, and room. */
const LONGEST_MS = 120_000;
const MEMORY_MB = 1024;

let pool: ThreadPool<AssessRequest, AssessAnswer> | undefined;

/**
 * Assesses a stored take with the present engine and keeps the answer beside those of earlier engines. Safe to run again
 * after a crash: files are written whole under fixed names, and rows that exist already are left as they are.
 */
export async function assessStoredTake(takeId: string): Promise<void> {
  const take = await Take.findByPk(takeId);
  if (!take || take.state === "unreadable") return;
  if (await AssessmentRow.findOne({ where: { takeId, engineVersion: ENGINE_VERSION }, attributes: ["id"] }))
    return;
  const original = (await Media.findByPk(take.originalId))!;
  // Its sound was erased by the rule of the band: what earlier engines heard stands.
  if (original.erasedAt) return;
  const asked = await whatWasAsked(take);
  const { part, options, attempts } = asked;
  pool ??= threadPool(join(config().distFolder, "assess-thread.mjs"), {
    size: config().workerThreads,
    longestMs: LONGEST_MS,
    memoryMb: MEMORY_MB,
  });
  const bytes = await mediaStore().read(original.storeKey);
  const answer = await pool.run({ bytes, part, options, attempts });
  if (!answer.readable) {
    await sayOf(take, "unreadable", answer.problem);
    return;
  }
  const storeKey = `takes/${take.bandId}/${take.id}.canonical.flac`;
  await mediaStore().put(storeKey, answer.flac);
  await keepAnswer(take, asked, answer, storeKey);
}

/** After the last attempt the take says so itself: it waits for the director's ear, and the bench may be asked again. */
export async function giveUpOn(takeId: string): Promise<void> {
  const take = await Take.findOne({ where: { id: takeId, state: "waiting" } });
  if (take)
    await sayOf(take, "unheard", "The bench could not hear this take. Let it try again, or listen yourself.");
}

/** Nothing came of hearing a take that still waits, and why. */
async function sayOf(take: Take, state: "unreadable" | "unheard", problem: string): Promise<void> {
  await database().transaction(async (transaction) => {
    await lockTask(take.taskId, transaction);
    await Take.update({ state, problem }, { where: { id: take.id, state: "waiting" }, transaction });
    await rankTask(take.taskId, NEIGHBOUR_TEMPO, transaction);
  });
}

export async function closeAssessing(): Promise<void> {
  await pool?.close();
  pool = undefined;
}

/** What a take is heard against: the part as it was pinned, the bars that were asked for, the band's decisions. */
interface Asked extends CountedBy {
  options: AssessOptions;
  attempts: AttemptRule;
}

/** What a take is heard against and counted by. */
export async function whatWasAsked(take: Take): Promise<Asked> {
  const task = (await Task.findByPk(take.taskId))!;
  const assignment = (await Assignment.findByPk(task.assignmentId))!;
  const revision = (await LineRevision.findByPk(assignment.revisionId))!;
  const band = (await Band.findByPk(take.bandId))!;
  const mode = modeFor(revision.score);
  const { instrumentId, stage, partId, octaveShift } = task;
  const whole = derivePart(revision.score, instrumentById(instrumentId), stage, {
    partId,
    octave: octaveShift,
  });
  return {
    part: scoreOfTake(whole.score, take),
    instrumentId,
    exempt: await exemptNotes(take.playerId, instrumentId),
    attempts: settingsOf(band).attempts,
    options: {
      ...(mode ? { mode } : {}),
      ...(take.gaps?.length ? { gaps: take.gaps } : {}),
      bpm: take.asked?.goalBpm ?? assignment.goalBpm,
      instrumentId,
      pitchToleranceCents: band.pitchToleranceCents,
      timingToleranceMs: settingsOf(band).judging[stage].inTimeMs,
      a4Hz: Number(band.a4Hz),
      corrected: settingsOf(band).corrected,
    },
  };
}

async function keepAnswer(
  take: Take,
  asked: Asked,
  answer: Extract<AssessAnswer, { readable: true }>,
  storeKey: string,
): Promise<void> {
  const { assessment } = answer;
  const id = uuid();
  const words = (await overrulesOf([take.id])).get(take.id) ?? [];
  try {
    await database().transaction(async (transaction) => {
      await touchBand(take.bandId, transaction);
      await lockTask(take.taskId, transaction);
      const canonicalId = take.canonicalId ?? uuid();
      if (!take.canonicalId)
        await Media.create(
          {
            id: canonicalId,
            bandId: take.bandId,
            storeKey,
            bytes: answer.flac.length,
            sha256: createHash("sha256").update(answer.flac).digest("hex"),
            contentType: "audio/flac",
          },
          { transaction },
        );
      await AssessmentRow.create(
        {
          id,
          bandId: take.bandId,
          takeId: take.id,
          engineVersion: assessment.engineVersion,
          status: assessment.take.status,
          result: assessment,
          ...notesOf(assessment, asked, words).counts,
          tempoBpm: assessment.take.tempoBpm,
        },
        { transaction },
      );
      await keepCounted(take, id, assessment, asked, words, transaction);
      await take.update(
        { state: "assessed", problem: null, canonicalId, seconds: answer.seconds, peaks: answer.peaks },
        { transaction },
      );
      await rankTask(take.taskId, NEIGHBOUR_TEMPO, transaction);
    });
  } catch (error) {
    // Another worker was quicker with the same take and engine: its answer stands.
    const quicker =
      error instanceof UniqueConstraintError &&
      (await AssessmentRow.findOne({ where: { takeId: take.id, engineVersion: assessment.engineVersion } }));
    if (!quicker) throw error;
  }
}
