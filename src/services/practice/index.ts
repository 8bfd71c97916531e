import { createHash } from "node:crypto";
import { Op, UniqueConstraintError } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { instrumentById } from "../../core/music";
import { type Purpose, type Score, withTempo } from "../../core/score";
import {
  Assignment,
  Band,
  Line,
  LineRevision,
  Media,
  Player,
  PlayerInstrument,
  Take,
  Task,
  Upload,
} from "../../data";
import { config } from "../../server/config";
import { database } from "../../server/database";
import type { EngravingWidth } from "../../server/engrave";
import { enqueue } from "../../server/jobs";
import { mediaStore } from "../../server/media-store";
import { CONTENT_TYPES, sniffSound } from "../../server/sniff";
import { type Actor, found, type PlayerActor, player, ServiceError } from "../actor";
import { audit } from "../audit";
import { dayLabel, today } from "../calendar";
import { countingPicture, countingSystems } from "../counting";
import { takeSummaries } from "../listening/takes";
import { pencilOf, recordingsOf } from "../shelf";
import { ownFingerings } from "../shelf/fingerings";
import { partOf, partView } from "../shelf/part";
import { withPencil } from "../shelf/pencil-svg";
import type { BeginUpload } from "./schema";
import { CHUNK_BYTES, type StandTask, type StandView, type TakeSummary, type TaskDetail } from "./wire";

export { BeginUpload } from "./schema";
export { CHUNK_BYTES } from "./wire";

/** A player's tasks: what is asked again first, then open ones by due date, then what is done. */
export async function stand(actor: Actor): Promise<StandView> {
  const who = player(actor);
  const band = found(await Band.findByPk(who.bandId), "band");
  const tasks = await Task.findAll({
    where: { playerId: who.playerId, bandId: who.bandId },
    limit: 200,
    order: [["id", "DESC"]],
  });
  const views = await describeTasks(tasks, band);
  const urgency = { again: 0, open: 1, sent: 2, accepted: 3 };
  views.sort((a, b) => urgency[a.state] - urgency[b.state] || a.dueDate.localeCompare(b.dueDate));
  return { playerName: who.name, bandName: band.name, tasks: views };
}

async function describeTasks(tasks: Task[], band: Band): Promise<StandTask[]> {
  const assignments = await Assignment.findAll({
    where: { id: tasks.map((task) => task.assignmentId), withdrawnAt: null },
  });
  const revisions = await LineRevision.findAll({
    where: { id: assignments.map((assignment) => assignment.revisionId) },
    attributes: ["id", "lineId"],
  });
  const lines = await Line.findAll({ where: { id: revisions.map((revision) => revision.lineId) } });
  const takes = await Take.findAll({
    where: { taskId: tasks.map((task) => task.id) },
    attributes: ["taskId"],
  });
  const now = today(band.timeZone);
  return tasks.flatMap((task) => {
    const assignment = assignments.find((each) => each.id === task.assignmentId);
    if (!assignment) return [];
    const line = lines.find(
      (each) => each.id === revisions.find((revision) => revision.id === assignment.revisionId)?.lineId,
    )!;
    return [
      {
        id: task.id,
        lineTitle: line.title,
        lineNumber: line.number,
        page: line.page,
        instrumentName: instrumentById(task.instrumentId).name,
        goalBpm: assignment.goalBpm,
        timesPerWeek: assignment.timesPerWeek,
        dueDate: assignment.dueDate,
        dueLabel: dayLabel(assignment.dueDate),
        overdue: assignment.dueDate < now,
        note: assignment.note,
        state: task.state,
        takes: takes.filter((take) => take.taskId === task.id).length,
      },
    ];
  });
}

/** One task with the part to play from and everything sent so far. */
export async function taskDetail(actor: Actor, taskId: string, width: EngravingWidth): Promise<TaskDetail> {
  const who = player(actor);
  const task = await ownTask(who, taskId);
  const band = found(await Band.findByPk(who.bandId), "band");
  const [summary] = await describeTasks([task], band);
  const view = found(summary, "task");
  const { stage } = found(await Player.findByPk(who.playerId), "player");
  const assignment = found(await Assignment.findByPk(task.assignmentId), "task");
  const revision = found(await LineRevision.findByPk(assignment.revisionId), "line");
  const asked = withTempo(revision.score, assignment.goalBpm);
  const { instrumentId, partId } = task;
  const played = await PlayerInstrument.findOne({
    where: { playerId: who.playerId, instrumentId, toDate: null },
  });
  const part = await partView(asked, instrumentId, stage, width, {
    partId,
    variant: played?.variant ?? null,
    own: await ownFingerings(who.bandId, instrumentId),
  });
  const pencil = await pencilOf(who, revision.lineId, instrumentId);
  const { purpose } = revision.score;
  const counting = purpose?.kind === "counting" ? await countingOf(who, purpose, asked, width) : null;
  return {
    ...view,
    instrumentId,
    lineId: revision.lineId,
    catalogued: revision.score.catalogued ?? false,
    part: { ...part, svg: withPencil(counting?.svg ?? part.svg, pencil) },
    counting: counting && { forms: counting.forms, system: counting.system },
    score: partOf(asked, instrumentById(instrumentId), stage, partId).score,
    pencil,
    recordings: await recordingsOf(who, revision.lineId),
    tolerances: { pitchToleranceCents: band.pitchToleranceCents, timingToleranceMs: band.timingToleranceMs },
    history: await takeSummaries({ taskId: task.id }),
  };
}

/** What a counting page needs beside its notes: its bars by name, the system it is counted in, and that written under it. */
async function countingOf(
  who: PlayerActor,
  { forms, system }: Extract<Purpose, { kind: "counting" }>,
  score: Score,
  width: EngravingWidth,
): Promise<NonNullable<TaskDetail["counting"]> & { svg: string }> {
  const { systems, chosen } = await countingSystems(who);
  const used = systems.find((each) => each.id === (system ?? chosen)) ?? systems[0]!;
  return { forms, system: used, svg: await countingPicture(who.bandId, score, width, system) };
}

async function ownTask(who: PlayerActor, taskId: string): Promise<Task> {
  return found(
    await Task.findOne({ where: { id: taskId, playerId: who.playerId, bandId: who.bandId } }),
    "task",
  );
}

/**
 * Announces a recording. Saying it again is harmless: the answer tells how many bytes have arrived, and whether
 * the take is already here.
 */
export async function beginUpload(
  actor: Actor,
  input: z.output<typeof BeginUpload>,
): Promise<{ received: number; complete: boolean }> {
  const who = player(actor);
  await ownTask(who, input.taskId);
  const limit = config().maxTakeBytes;
  if (input.bytes > limit)
    throw new ServiceError(
      "too-large",
      `This recording has ${Math.round(input.bytes / 1e6)} MB; the most that can be sent is ${limit / 1e6} MB. Send a shorter one.`,
    );
  if (await Take.findOne({ where: { id: input.id, playerId: who.playerId } }))
    return { received: input.bytes, complete: true };
  const known = await Upload.findByPk(input.id);
  if (known) {
    if (
      known.playerId !== who.playerId ||
      Number(known.bytes) !== input.bytes ||
      known.sha256 !== input.sha256
    )
      throw new ServiceError("conflict", "Another recording was announced under this id.");
  } else {
    try {
      await Upload.create({
        id: input.id,
        bandId: who.bandId,
        playerId: who.playerId,
        taskId: input.taskId,
        bytes: input.bytes,
        sha256: input.sha256,
        recordedAt: new Date(input.recordedAt),
      });
    } catch (error) {
      if (!(error instanceof UniqueConstraintError)) throw error;
    }
  }
  return { received: Math.min(await mediaStore().size(draftKey(input.id)), input.bytes), complete: false };
}

/** Adds a chunk. Out of step, the answer is the number of bytes to go on from; nothing is written twice. */
export async function putChunk(
  actor: Actor,
  uploadId: string,
  offset: number,
  chunk: Uint8Array,
): Promise<{ received: number }> {
  const who = player(actor);
  const upload = found(await Upload.findOne({ where: { id: uploadId, playerId: who.playerId } }), "upload");
  if (chunk.length > CHUNK_BYTES)
    throw new ServiceError("too-large", `A chunk has at most ${CHUNK_BYTES} bytes.`);
  const received = await mediaStore().size(draftKey(uploadId));
  if (!Number.isInteger(offset) || offset < 0 || offset > received) return { received };
  if (offset + chunk.length > Number(upload.bytes))
    throw new ServiceError("bad-input", "More bytes arrived than were announced.");
  return { received: await mediaStore().append(draftKey(uploadId), offset, chunk) };
}

/**
 * Turns a wholly received upload into a take: checksum, kind of file, then bytes, row and job in this order, so that
 * nothing half-written is ever visible. Saying it again gives the same take.
 */
export async function completeUpload(actor: Actor, uploadId: string): Promise<TakeSummary> {
  const who = player(actor);
  const done = await Take.findOne({ where: { id: uploadId, playerId: who.playerId } });
  if (done) return found((await takeSummaries({ id: done.id }))[0], "take");
  const upload = found(await Upload.findOne({ where: { id: uploadId, playerId: who.playerId } }), "upload");
  const store = mediaStore();
  const bytes = await store.read(draftKey(uploadId)).catch(() => new Uint8Array(0));
  if (bytes.length !== Number(upload.bytes))
    throw new ServiceError("conflict", `${bytes.length} of ${upload.bytes} bytes have arrived so far.`);
  if (createHash("sha256").update(bytes).digest("hex") !== upload.sha256) {
    await store.remove(draftKey(uploadId));
    throw new ServiceError("conflict", "The recording was damaged on its way; it is being sent again.");
  }
  const kind = sniffSound(bytes);
  if (!kind) {
    await store.remove(draftKey(uploadId));
    await upload.destroy();
    throw new ServiceError(
      "bad-input",
      "This file is not a sound recording. Send WAV, FLAC, MP3, Ogg, WebM or M4A.",
    );
  }
  const storeKey = `takes/${who.bandId}/${uploadId}.${kind}`;
  await store.put(storeKey, bytes);
  try {
    await database().transaction(async (transaction) => {
      const mediaId = uuid();
      await Media.create(
        {
          id: mediaId,
          bandId: who.bandId,
          storeKey,
          bytes: bytes.length,
          sha256: upload.sha256,
          contentType: CONTENT_TYPES[kind],
        },
        { transaction },
      );
      await Take.create(
        {
          id: uploadId,
          bandId: who.bandId,
          taskId: upload.taskId,
          playerId: who.playerId,
          originalId: mediaId,
          canonicalId: null,
          seconds: 0,
          peaks: null,
          state: "waiting",
          problem: null,
          recordedAt: upload.recordedAt,
        },
        { transaction },
      );
      await Task.update(
        { state: "sent" },
        { where: { id: upload.taskId, state: { [Op.ne]: "accepted" } }, transaction },
      );
      await Upload.destroy({ where: { id: uploadId }, transaction });
      await audit(who, "send-take", uploadId, transaction);
    });
  } catch (error) {
    if (!(error instanceof UniqueConstraintError)) throw error;
  }
  await enqueue("assess-take", uploadId);
  await store.remove(draftKey(uploadId));
  return found((await takeSummaries({ id: uploadId }))[0], "take");
}

function draftKey(uploadId: string): string {
  return `uploads/${uploadId}`;
}
