import { createHash } from "node:crypto";
import { join } from "node:path";
import { UniqueConstraintError } from "sequelize";
import { v7 as uuid } from "uuid";
import { type Assessment, type AssessOptions, modeFor } from "../../core/listen";
import { instrumentById } from "../../core/music";
import type { Score } from "../../core/score";
import {
  AssessmentBar,
  AssessmentRow,
  Assignment,
  Band,
  LineRevision,
  Media,
  Player,
  Take,
  Task,
} from "../../data";
import { config } from "../../server/config";
import { database } from "../../server/database";
import { mediaStore } from "../../server/media-store";
import { type ThreadPool, threadPool } from "../../server/threads";
import { partOf } from "../shelf/part";

/** What the thread is asked. */
export interface AssessRequest {
  bytes: Uint8Array;
  part: Score;
  options: AssessOptions;
}
/** Either everything that follows from the recording, or the sentence that says why it cannot be read. */
export type AssessAnswer =
  | { readable: true; assessment: Assessment; seconds: number; peaks: number[]; flac: Uint8Array }
  | { readable: false; problem: string };

/** How a share of a take's notes counts as clean: right pitch, in time, full length. */
export function isClean(note: Assessment["notes"][number]): boolean {
  return (
    note.verdict === "ok" &&
    note.timing !== "early" &&
    note.timing !== "late" &&
    note.length !== "short" &&
    note.length !== "long"
  );
}

let pool: ThreadPool<AssessRequest, AssessAnswer> | undefined;

/**
 * Assesses a stored take and keeps the answer. Safe to run again after a crash: files are written whole under fixed
 * names, and rows that exist already are left as they are.
 */
export async function assessStoredTake(takeId: string): Promise<void> {
  const take = await Take.findByPk(takeId);
  if (!take || take.state !== "waiting") return;
  const original = (await Media.findByPk(take.originalId))!;
  const { part, options } = await whatWasAsked(take);
  pool ??= threadPool(join(config().distFolder, "assess-thread.mjs"), config().workerThreads);
  const bytes = await mediaStore().read(original.storeKey);
  const answer = await pool.run({ bytes, part, options });
  if (!answer.readable) {
    await take.update({ state: "unreadable", problem: answer.problem });
    return;
  }
  const storeKey = `takes/${take.bandId}/${take.id}.canonical.flac`;
  await mediaStore().put(storeKey, answer.flac);
  await keepAnswer(take, part, answer, storeKey);
}

/** After the last attempt the take says so itself, and still waits for the director's ear. */
export async function giveUpOn(takeId: string): Promise<void> {
  await Take.update(
    { state: "unreadable", problem: "The bench could not assess this take; listen to it yourself." },
    { where: { id: takeId, state: "waiting" } },
  );
}

export async function closeAssessing(): Promise<void> {
  await pool?.close();
  pool = undefined;
}

async function whatWasAsked(take: Take): Promise<{ part: Score; options: AssessOptions }> {
  const task = (await Task.findByPk(take.taskId))!;
  const assignment = (await Assignment.findByPk(task.assignmentId))!;
  const revision = (await LineRevision.findByPk(assignment.revisionId))!;
  const band = (await Band.findByPk(take.bandId))!;
  const { stage } = (await Player.findByPk(take.playerId))!;
  const mode = modeFor(revision.score);
  return {
    part: partOf(revision.score, instrumentById(task.instrumentId), stage, task.partId).score,
    options: {
      ...(mode ? { mode } : {}),
      bpm: assignment.goalBpm,
      instrumentId: task.instrumentId,
      pitchToleranceCents: band.pitchToleranceCents,
      timingToleranceMs: band.timingToleranceMs,
    },
  };
}

async function keepAnswer(
  take: Take,
  part: Score,
  answer: Extract<AssessAnswer, { readable: true }>,
  storeKey: string,
): Promise<void> {
  const { assessment } = answer;
  const id = uuid();
  try {
    await database().transaction(async (transaction) => {
      const canonicalId = uuid();
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
          notesTotal: assessment.notes.length,
          notesClean: assessment.notes.filter(isClean).length,
          notesWrong: assessment.notes.filter((note) => note.verdict !== "ok").length,
          tempoBpm: assessment.take.tempoBpm,
        },
        { transaction },
      );
      await AssessmentBar.bulkCreate(
        barsOf(assessment, part).map((bar) => ({ assessmentId: id, bandId: take.bandId, ...bar })),
        { transaction },
      );
      await take.update(
        { state: "assessed", canonicalId, seconds: answer.seconds, peaks: answer.peaks },
        { transaction },
      );
    });
  } catch (error) {
    if (!(error instanceof UniqueConstraintError)) throw error;
  }
}

/** Notes, wrong notes and untimely notes by measure of the score, every pass counted. */
function barsOf(
  assessment: Assessment,
  part: Score,
): { measureIndex: number; notes: number; wrong: number; untimely: number }[] {
  const measureOf = new Map(
    part.parts[0].measures.flatMap((measure, index) =>
      measure.events.map((event) => [event.id, index] as const),
    ),
  );
  const bars = new Map<number, { measureIndex: number; notes: number; wrong: number; untimely: number }>();
  for (const note of assessment.notes) {
    const measureIndex = measureOf.get(note.eventId)!;
    const bar = bars.get(measureIndex) ?? { measureIndex, notes: 0, wrong: 0, untimely: 0 };
    bar.notes++;
    if (note.verdict !== "ok") bar.wrong++;
    else if (!isClean(note)) bar.untimely++;
    bars.set(measureIndex, bar);
  }
  return [...bars.values()];
}
