import { createHash } from "node:crypto";
import { v7 as uuid } from "uuid";
import { Assignment, sameSoundOfPlayer, Task, tasksToBring, touchBand } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { dayLabel } from "../calendar";
import { givenNow, keptWithTake } from "../giving";
import { keepSound } from "../keep-sound";
import { mayHear } from "../settings";
import { storeTake } from "./store";
import type { BringTask } from "./wire";

/** A recording of a phone in one request, bytes: fifteen minutes of good sound. */
export const LARGEST_BROUGHT = 60_000_000;
/** Work that was due so long ago may still be brought, days. */
const DUE_SINCE_DAYS = 60;

/** Tasks for which a director may bring recordings, every player's. */
export async function bringTasks(actor: Actor): Promise<BringTask[]> {
  const who = director(actor);
  await mayHear(who);
  const tasks = await tasksToBring(who.bandId, DUE_SINCE_DAYS);
  return tasks.map(({ dueDate, ...task }) => ({ ...task, dueLabel: dayLabel(dueDate) }));
}

/**
 * Takes a recording in for a player's task, as the player would have sent it. The same bytes of the same player are the take
 * that is there already, also where it was sent for another task.
 */
export async function bringTake(
  actor: Actor,
  taskId: string,
  recordedAt: Date,
  bytes: Uint8Array,
): Promise<{ takeId: string; known: boolean }> {
  const who = director(actor);
  await mayHear(who);
  const { bandId } = who;
  const task = found(await Task.findOne({ where: { id: taskId, bandId } }), "task");
  if (bytes.length === 0) throw new ServiceError("bad-input", "This file is empty.");
  const sha256 = createHash("sha256").update(bytes).digest("hex");
  const known = await sameSoundOfPlayer(task.playerId, sha256);
  if (known) return { takeId: known, known: true };
  const assignment = found(await Assignment.findByPk(task.assignmentId), "task");
  const kept = keptWithTake(await givenNow(taskId, assignment));
  const id = uuid();
  const keep = await keepSound(bandId, `takes/${bandId}/${id}`, bytes);
  await database().transaction(async (transaction) => {
    await touchBand(bandId, transaction);
    const originalId = await keep(transaction);
    const { playerId } = task;
    const at = recordedAt.getTime() > Date.now() ? new Date() : recordedAt;
    await storeTake(
      { id, bandId, taskId, playerId, originalId, recordedAt: at, gaps: null, ...kept },
      transaction,
    );
    await audit(who, "bring-take", id, transaction);
  });
  return { takeId: id, known: false };
}
