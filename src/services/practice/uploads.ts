import { createHash } from "node:crypto";
import { Op, UniqueConstraintError } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { NEIGHBOUR_TEMPO } from "../../core/practice";
import {
  Assignment,
  Band,
  lockTask,
  Media,
  rankTask,
  Take,
  Task,
  takesOfLastDay,
  Upload,
  uploadsUnderWay,
} from "../../data";
import { config } from "../../server/config";
import { database } from "../../server/database";
import { queueAgain } from "../../server/jobs";
import { mediaStore } from "../../server/media-store";
import { CONTENT_TYPES, sniffSound } from "../../server/sniff";
import { type Actor, found, type PlayerActor, player, ServiceError, somebody } from "../actor";
import { audit } from "../audit";
import { dayLabel, today } from "../calendar";
import { needRoom } from "../disk";
import { givenNow, keptWithTake, termsOf } from "../giving";
import { ownTakeSummary, storeTake } from "../listening";
import type { BeginUpload } from "./schema";
import { CHUNK_BYTES, type TakeSummary } from "./wire";

/**
 * Quotas: far above what practising needs, far below what fills a disk. A child sends a take or two a task and day; a class
 * of thirty sends at once after the lesson.
 */
export const QUOTAS = {
  openUploadsAPlayer: 4,
  openUploadsABand: 150,
  openBytesABand: 3_000_000_000,
  takesATaskAndDay: 25,
  takesAPlayerAndDay: 80,
  /** A recording is announced when it is sent; earlier dates are drafts that waited on the device. */
  oldestRecordingDays: 120,
  /** Announcements that were not completed for so long are removed with what had arrived. */
  openUploadDays: 14,
} as const;

/** A device's clock may be ahead by so much. */
const CLOCK_AHEAD_MS = 24 * 3600_000;

/**
 * Announces a recording. Saying it again is harmless: the answer tells how many bytes have arrived, and whether the take is
 * already here. The id is made by the browser and must be new, or the same player's for the same task: nothing is written
 * before that is known.
 */
export async function beginUpload(
  actor: Actor,
  input: z.output<typeof BeginUpload>,
): Promise<{ received: number; complete: boolean }> {
  const who = player(actor);
  found(
    await Task.findOne({ where: { id: input.taskId, playerId: who.playerId, bandId: who.bandId } }),
    "task",
  );
  const assignment = await assignmentOf(input.taskId);
  await mayBeSent(assignment, who.bandId);
  const limit = config().maxTakeBytes;
  if (input.bytes > limit)
    throw new ServiceError(
      "too-large",
      `This recording has ${Math.round(input.bytes / 1e6)} MB; the most that can be sent is ${limit / 1e6} MB. Send a shorter one.`,
    );
  const take = await Take.findByPk(input.id, { attributes: ["id", "playerId", "taskId"] });
  if (take) {
    ownOrConflict(take, who, input.taskId);
    return { received: input.bytes, complete: true };
  }
  const known = await Upload.findByPk(input.id);
  if (known) {
    ownOrConflict(known, who, input.taskId);
    if (Number(known.bytes) !== input.bytes || known.sha256 !== input.sha256) throw taken();
    return { received: Math.min(await mediaStore().size(draftKey(known)), input.bytes), complete: false };
  }
  await onceAtSight(input.taskId, assignment);
  await withinQuotas(who, input);
  await needRoom(input.bytes);
  const upload = {
    id: input.id,
    bandId: who.bandId,
    playerId: who.playerId,
    taskId: input.taskId,
    bytes: input.bytes,
    sha256: input.sha256,
    recordedAt: withinReason(new Date(input.recordedAt)),
    gaps: input.gaps.length > 0 ? input.gaps : null,
  };
  try {
    await Upload.create(upload);
  } catch (error) {
    // The same announcement at the same moment: whose it is decides.
    if (!(error instanceof UniqueConstraintError)) throw error;
    ownOrConflict(found(await Upload.findByPk(input.id), "upload"), who, input.taskId);
  }
  // Announcements of the same moment did not see each other above.
  const { playerUploads } = await uploadsUnderWay(who.bandId, who.playerId);
  if (playerUploads > QUOTAS.openUploadsAPlayer) {
    await Upload.destroy({ where: { id: input.id, playerId: who.playerId } });
    throw onTheirWay(playerUploads - 1);
  }
  return { received: 0, complete: false };
}

/** @throws ServiceError for a task that is not open yet, or of which nothing is recorded */
async function mayBeSent(assignment: Assignment, bandId: string): Promise<void> {
  if (termsOf(assignment).record.kind === "nothing")
    throw new ServiceError(
      "bad-input",
      "Nothing is recorded of this one: tell your director when it is done.",
    );
  const { timeZone } = found(await Band.findByPk(bandId, { attributes: ["timeZone"] }), "band");
  if (assignment.opensOn && assignment.opensOn > today(timeZone))
    throw new ServiceError("bad-input", `This opens on ${dayLabel(assignment.opensOn)}.`);
}

/** @throws ServiceError for a line that was read at sight and sent, as long as nobody asks for it again and it can be heard */
async function onceAtSight(taskId: string, assignment: Assignment): Promise<void> {
  if (!termsOf(assignment).sight) return;
  const task = found(await Task.findByPk(taskId, { attributes: ["state"] }), "task");
  if (task.state === "again") return;
  if ((await Take.count({ where: { taskId, state: { [Op.ne]: "unreadable" } } })) === 0) return;
  throw new ServiceError(
    "bad-input",
    "You have read this one at sight and sent it: once is what is asked. Your director can ask for it again.",
  );
}

function onTheirWay(takes: number): ServiceError {
  return new ServiceError(
    "busy",
    `${takes} of your takes are still on their way. This one follows when they have arrived.`,
  );
}

function taken(): ServiceError {
  return new ServiceError("conflict", "Another recording was announced under this id.");
}

/** What is already there under an id belongs to the same player and task. @throws ServiceError otherwise */
function ownOrConflict(
  there: { playerId: string; taskId: string },
  { playerId }: PlayerActor,
  taskId: string,
): void {
  if (there.playerId !== playerId || there.taskId !== taskId) throw taken();
}

async function withinQuotas(
  who: PlayerActor,
  { taskId, bytes }: z.output<typeof BeginUpload>,
): Promise<void> {
  const [open, day] = await Promise.all([
    uploadsUnderWay(who.bandId, who.playerId),
    takesOfLastDay(who.playerId, taskId),
  ]);
  if (day.ofTask >= QUOTAS.takesATaskAndDay)
    throw new ServiceError(
      "quota",
      `You sent ${day.ofTask} takes of this line since yesterday. Rest, and send the next one tomorrow.`,
    );
  if (day.ofPlayer >= QUOTAS.takesAPlayerAndDay)
    throw new ServiceError(
      "quota",
      `You sent ${day.ofPlayer} takes since yesterday. Rest, and send the next one tomorrow.`,
    );
  if (open.playerUploads >= QUOTAS.openUploadsAPlayer) throw onTheirWay(open.playerUploads);
  if (open.bandUploads >= QUOTAS.openUploadsABand || open.bandBytes + bytes > QUOTAS.openBytesABand)
    throw new ServiceError("busy", "Many takes of your band are on their way. Yours follows in a moment.");
}

/** A device with a wrong clock does not date a take into next year or the last century. */
function withinReason(recordedAt: Date): Date {
  const now = Date.now();
  const oldest = now - QUOTAS.oldestRecordingDays * 24 * 3600_000;
  const at = recordedAt.getTime();
  return at > now + CLOCK_AHEAD_MS || at < oldest ? new Date(now) : recordedAt;
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
  const received = await mediaStore().size(draftKey(upload));
  if (!Number.isInteger(offset) || offset < 0 || offset > received) return { received };
  if (offset + chunk.length > Number(upload.bytes))
    throw new ServiceError("bad-input", "More bytes arrived than were announced.");
  await needRoom(chunk.length);
  return { received: await mediaStore().append(draftKey(upload), offset, chunk) };
}

/**
 * Turns a wholly received upload into a take: checksum, kind of file, then bytes, then row and job in one transaction, so
 * that nothing half-written is ever visible and no take waits unqueued. Saying it again gives the same take.
 */
export async function completeUpload(actor: Actor, uploadId: string): Promise<TakeSummary> {
  const who = player(actor);
  const done = await Take.findOne({ where: { id: uploadId, playerId: who.playerId } });
  if (done) return ownTakeSummary(done.id);
  const upload = found(await Upload.findOne({ where: { id: uploadId, playerId: who.playerId } }), "upload");
  const store = mediaStore();
  const bytes = await store.read(draftKey(upload)).catch(() => new Uint8Array(0));
  if (bytes.length !== Number(upload.bytes))
    throw new ServiceError("conflict", `${bytes.length} of ${upload.bytes} bytes have arrived so far.`);
  if (createHash("sha256").update(bytes).digest("hex") !== upload.sha256) {
    await store.remove(draftKey(upload));
    throw new ServiceError("conflict", "The recording was damaged on its way; it is being sent again.");
  }
  const kind = sniffSound(bytes);
  if (!kind) {
    await store.remove(draftKey(upload));
    await upload.destroy();
    throw new ServiceError(
      "bad-input",
      "This file is not a sound recording. Send WAV, FLAC, MP3, Ogg, WebM or M4A.",
    );
  }
  // Two that were announced at the same moment did not know of each other.
  const assignment = await assignmentOf(upload.taskId);
  await onceAtSight(upload.taskId, assignment);
  await needRoom(bytes.length);
  // The player's own folder: no id, whoever made it, leads to another player's file.
  const storeKey = `takes/${who.bandId}/${who.playerId}/${uploadId}.${kind}`;
  await store.put(storeKey, bytes);
  const kept = keptWithTake(await givenNow(upload.taskId, assignment));
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
      await storeTake(
        {
          id: uploadId,
          bandId: who.bandId,
          taskId: upload.taskId,
          playerId: who.playerId,
          originalId: mediaId,
          recordedAt: upload.recordedAt,
          gaps: upload.gaps ?? null,
          ...kept,
        },
        transaction,
      );
      await Upload.destroy({ where: { id: uploadId }, transaction });
      await audit(who, "send-take", uploadId, transaction);
    });
  } catch (error) {
    // Completed twice at the same moment: the first one made the take.
    const first =
      error instanceof UniqueConstraintError &&
      (await Take.findOne({ where: { id: uploadId, playerId: who.playerId, taskId: upload.taskId } }));
    if (!first) throw error;
  }
  await store.remove(draftKey(upload));
  return ownTakeSummary(uploadId);
}

async function assignmentOf(taskId: string): Promise<Assignment> {
  const task = found(await Task.findByPk(taskId), "task");
  return found(await Assignment.findByPk(task.assignmentId), "task");
}

/** Asks the bench to hear a take again that it could not hear; for its player and the band's director. */
export async function hearAgain(actor: Actor, takeId: string): Promise<void> {
  const who = somebody(actor);
  const take = found(await Take.findOne({ where: { id: takeId, bandId: who.bandId } }), "take");
  if (who.kind === "player" && take.playerId !== who.playerId)
    throw new ServiceError("not-found", "This take does not exist, or it belongs to somebody else.");
  if (take.state !== "unheard")
    throw new ServiceError("conflict", "The bench has heard this take, or is about to.");
  await database().transaction(async (transaction) => {
    await lockTask(take.taskId, transaction);
    await take.update({ state: "waiting", problem: null }, { transaction });
    await rankTask(take.taskId, NEIGHBOUR_TEMPO, transaction);
    await queueAgain(take, transaction);
    await audit(who, "hear-again", takeId, transaction);
  });
}

/** Removes announcements that never became takes, with what had arrived of them. @returns how many */
export async function sweepUploads(now = Date.now()): Promise<number> {
  const old = await Upload.findAll({
    where: { createdAt: { [Op.lt]: new Date(now - QUOTAS.openUploadDays * 24 * 3600_000) } },
    limit: 1000,
  });
  for (const upload of old) {
    await mediaStore().remove(draftKey(upload));
    await upload.destroy();
  }
  return old.length;
}

function draftKey({ id, playerId }: Pick<Upload, "id" | "playerId">): string {
  return `uploads/${playerId}/${id}`;
}
