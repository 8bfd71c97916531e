import { instrumentById } from "../../core/music";
import { forDrumsOnly, type Score } from "../../core/score";
import { Assignment, LineRevision, PlayerInstrument, seatsOfBand, Take, Task, touchBand } from "../../data";
import { database } from "../../server/database";
import { type Actor, found, type PlayerActor, player, ServiceError } from "../actor";
import { audit } from "../audit";
import { bandKnowledge } from "../knowledge";
import { termsOf } from "./asked";
import { newTask, pinsFor } from "./pins";

/** A player's own task. @throws ServiceError for any other */
export async function ownTask(who: PlayerActor, taskId: string): Promise<Task> {
  return found(
    await Task.findOne({ where: { id: taskId, playerId: who.playerId, bandId: who.bandId } }),
    "task",
  );
}

/**
 * A percussionist takes a task on another of their own percussion instruments. What was sent on the first one stays with it
 * and comes back with it.
 */
export async function chooseInstrument(
  actor: Actor,
  taskId: string,
  instrumentId: string,
): Promise<{ taskId: string }> {
  const who = player(actor);
  const task = await ownTask(who, taskId);
  if (task.instrumentId === instrumentId) return { taskId };
  const assignment = found(await Assignment.findByPk(task.assignmentId), "task");
  const revision = found(await LineRevision.findByPk(assignment.revisionId), "line");
  const choice = await choicesFor(task, assignment, revision.score);
  if (!choice.includes(instrumentId))
    throw new ServiceError("bad-input", "This task is not for that instrument.");
  if (task.state === "accepted")
    throw new ServiceError("conflict", "This task is done; your director has accepted it.");
  const seats = (await bandKnowledge(who.bandId)).seated(
    (await seatsOfBand(who.bandId)).filter((seat) => seat.playerId === who.playerId),
  );
  const seat = found(
    seats.find((each) => each.instrumentId === instrumentId),
    "instrument",
  );
  return database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    const { assignmentId } = task;
    const there = await Task.findOne({
      where: { assignmentId, playerId: who.playerId, instrumentId },
      transaction,
    });
    if (there) await there.update({ closedAt: null }, { transaction });
    const taken =
      there ??
      (await Task.create(newTask(who.bandId, assignmentId, seat, pinsFor(revision.score, null)(seat)), {
        transaction,
      }));
    await task.update({ closedAt: new Date() }, { transaction });
    await audit(who, "choose-instrument", taken.id, transaction);
    return { taskId: taken.id };
  });
}

const PERCUSSION: ReadonlySet<string> = new Set(["mallets", "drums"]);

/** The player's instruments on which a task can be done: one for most, bells and snare for a percussionist. */
export async function choicesFor(
  { playerId, instrumentId }: Pick<Task, "playerId" | "instrumentId">,
  { onlyFor }: Pick<Assignment, "onlyFor">,
  score: Score,
): Promise<string[]> {
  if (!PERCUSSION.has(instrumentById(instrumentId).family) || score.purpose) return [instrumentId];
  const own = await PlayerInstrument.findAll({ where: { playerId, toDate: null } });
  return own
    .map((each) => each.instrumentId)
    .filter((id) => PERCUSSION.has(instrumentById(id).family))
    .filter((id) => onlyFor?.instrumentIds?.includes(id) ?? true)
    .filter((id) => !forDrumsOnly(score) || instrumentById(id).ranges === null);
}

/** A player says that a task of which nothing is recorded is done, or not after all. */
export async function tellDone(actor: Actor, taskId: string, done: boolean): Promise<void> {
  const who = player(actor);
  const task = await ownTask(who, taskId);
  const assignment = found(await Assignment.findByPk(task.assignmentId), "task");
  if (termsOf(assignment).record.kind !== "nothing")
    throw new ServiceError("conflict", "Your director wants to hear this one: send a take.");
  // A director's word stands, and what was said already needs no saying.
  if (done ? task.state === "accepted" : !task.toldDoneAt) return;
  const sent = await Take.count({ where: { taskId } });
  await database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    await task.update(
      done
        ? { state: "accepted", toldDoneAt: new Date() }
        : { state: sent > 0 ? "sent" : "open", toldDoneAt: null },
      { transaction },
    );
    await audit(who, done ? "told-done" : "told-undone", taskId, transaction);
  });
}
