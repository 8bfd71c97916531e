import { Op } from "sequelize";
import { NEIGHBOUR_TEMPO } from "../../core/practice";
import {
  Assignment,
  forgetHearing,
  lockTask,
  OverruleRow,
  otherTasksOf,
  Pin,
  Review,
  rankTask,
  Take,
  Task,
  touchBand,
} from "../../data";
import { database } from "../../server/database";
import { queueAgain } from "../../server/jobs";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { dayLabel } from "../calendar";
import { givenNow, keptWithTake } from "../giving";
import { shownAnew } from "../knowledge";
import { mayHear } from "../settings";
import type { OtherTask } from "./wire";

/** The other tasks of the player of a take, what is open first: one of them it may have been. */
export async function otherTasks(actor: Actor, takeId: string): Promise<OtherTask[]> {
  const who = director(actor);
  await mayHear(who);
  const take = found(await Take.findOne({ where: { id: takeId, bandId: who.bandId } }), "take");
  const tasks = await otherTasksOf(take.playerId, take.taskId);
  return tasks.map(({ dueDate, ...task }) => ({ ...task, dueLabel: dayLabel(dueDate) }));
}

/**
 * Moves a take to the task of the same player that it was for in truth; the bench hears it again against that line. What was said
 * against the engine was about the other line and goes; a take on which a word was said, or with marks at its notes, stays.
 */
export async function moveTake(actor: Actor, takeId: string, taskId: string): Promise<void> {
  const who = director(actor);
  await mayHear(who);
  const take = found(await Take.findOne({ where: { id: takeId, bandId: who.bandId } }), "take");
  const { playerId, bandId } = take;
  const to = found(await Task.findOne({ where: { id: taskId, bandId, playerId } }), "task");
  const from = take.taskId;
  if (from === taskId) return;
  if (await Review.findByPk(takeId))
    throw new ServiceError("conflict", "A word was said on this take. Take it back first, then move it.");
  if ((await Pin.count({ where: { takeId } })) > 0)
    throw new ServiceError("conflict", "Take the marks at its notes away first: they are about this line.");
  if (take.state === "waiting")
    throw new ServiceError("conflict", "The bench is still listening to it. Move it in a moment.");
  const assignment = found(await Assignment.findByPk(to.assignmentId), "task");
  const kept = keptWithTake(await givenNow(taskId, assignment));
  await database().transaction(async (transaction) => {
    await touchBand(bandId, transaction);
    for (const id of [from, taskId].sort()) await lockTask(id, transaction);
    await OverruleRow.destroy({ where: { takeId }, transaction });
    await forgetHearing(takeId, transaction);
    await take.update({ ...kept, taskId, state: "waiting", problem: null }, { transaction });
    const left = await Take.count({ where: { taskId: from }, transaction });
    if (left === 0) await Task.update({ state: "open" }, { where: { id: from, state: "sent" }, transaction });
    await Task.update(
      { state: "sent" },
      { where: { id: taskId, state: { [Op.ne]: "accepted" } }, transaction },
    );
    await rankTask(from, NEIGHBOUR_TEMPO, transaction);
    await rankTask(taskId, NEIGHBOUR_TEMPO, transaction);
    await queueAgain({ id: takeId, bandId, playerId }, transaction);
    await shownAnew(take, transaction);
    await audit(who, "move-take", takeId, transaction);
  });
}
