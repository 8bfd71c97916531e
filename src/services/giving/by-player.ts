import { v7 as uuid } from "uuid";
import { addDays } from "../../core/calendar";
import { instrumentById } from "../../core/music";
import { PLAIN_TERMS } from "../../core/practice";
import { seatsFor } from "../../core/ready";
import { forDrumsOnly, type Score, timeline } from "../../core/score";
import {
  Assignment,
  GroupMember,
  LineRevision,
  newestRevisionOf,
  PlayerInstrument,
  seatsOfBand,
  seatsOfPlayer,
  Take,
  Task,
  touchBand,
} from "../../data";
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

/** What a player chose for themselves is put back on the shelf after so many days without a word, and once a week is enough. */
const OWN_DAYS = 13;

/**
 * Puts a line on a player's own stand, by the player's own choice: for nobody else, required of nobody. Asked twice it is there
 * once; what was put back before comes back with everything sent.
 * @param today  the band's local day
 */
export async function giveToOneself(
  who: PlayerActor,
  lineId: string,
  today: string,
): Promise<{ taskId: string }> {
  const revision = found(await newestRevisionOf(who.bandId, lineId), "line");
  const membership = await GroupMember.findOne({
    where: { playerId: who.playerId, bandId: who.bandId, toDate: null },
    order: [["fromDate", "ASC"]],
  });
  const seats = (await bandKnowledge(who.bandId)).seated(await seatsOfPlayer(who.playerId));
  const [seat] = seatsFor(forDrumsOnly(revision.score), seats);
  if (!membership || !seat)
    throw new ServiceError("conflict", "You are in no group yet, so nothing can be put on your stand.");
  const dueDate = addDays(today, OWN_DAYS);
  return database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    const revisions = await LineRevision.findAll({ where: { lineId }, attributes: ["id"], transaction });
    const before = await Assignment.findOne({
      where: { chosenBy: who.playerId, revisionId: revisions.map(({ id }) => id) },
      transaction,
    });
    if (before) {
      await before.update({ withdrawnAt: null, dueDate }, { transaction });
      const own = found(
        await Task.findOne({
          where: { assignmentId: before.id, playerId: who.playerId },
          order: [["closedAt", "ASC"]],
          transaction,
        }),
        "task",
      );
      return { taskId: own.id };
    }
    const assignmentId = uuid();
    await Assignment.create(
      {
        id: assignmentId,
        bandId: who.bandId,
        groupId: membership.groupId,
        onlyFor: { playerIds: [who.playerId] },
        revisionId: revision.id,
        goalBpm: Math.round(timeline(revision.score).bpm),
        timesPerWeek: 1,
        dueDate,
        note: "",
        terms: { ...PLAIN_TERMS, extra: true },
        chosenBy: who.playerId,
      },
      { transaction },
    );
    const task = await Task.create(
      newTask(who.bandId, assignmentId, seat, pinsFor(revision.score, null)(seat)),
      { transaction },
    );
    await audit(who, "choose-line", task.id, transaction);
    return { taskId: task.id };
  });
}

/** Puts what a player chose back on the shelf, or takes it again. What was sent stays. */
export async function keepChosen(actor: Actor, taskId: string, kept: boolean): Promise<void> {
  const who = player(actor);
  const task = await ownTask(who, taskId);
  const assignment = found(await Assignment.findByPk(task.assignmentId), "task");
  if (assignment.chosenBy !== who.playerId)
    throw new ServiceError("conflict", "Your director gave you this one.");
  await database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    await assignment.update({ withdrawnAt: kept ? null : new Date() }, { transaction });
    await audit(who, kept ? "take-line-again" : "put-line-back", taskId, transaction);
  });
}
