import { Op, type Transaction } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { whyOff } from "../../core/calendar";
import { instrumentById } from "../../core/music";
import { seatsFor } from "../../core/ready";
import { derivePart, forDrumsOnly, type Score } from "../../core/score";
import {
  Assignment,
  Band,
  Group,
  GroupMember,
  Line,
  LineRevision,
  type NamedSeat,
  newestRevisionOf,
  Player,
  seatsOfBand,
  seatsOfGroup,
  Task,
  Teaching,
  touchBand,
} from "../../data";
import { database } from "../../server/database";
import { type Actor, type Director, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { dayLabel, today } from "../calendar";
import { bandKnowledge, keepTeaching, lessonsOf, lineName } from "../knowledge";
import { storeLine } from "../lines";
import { settingsOf } from "../settings";
import { followPeople, isFor } from "./follow";
import { pinsFor, reads } from "./pins";
import type { Assign, ChangeAssignment, Doubt, GiveOut } from "./schema";

export { type Followed, followPeople, setClosed } from "./follow";
export { Assign, ChangeAssignment, GiveEarlier, GiveOut } from "./schema";

export interface Given {
  assignmentId: string;
  tasks: number;
  leftOut: string[];
}

/** What is given, once it is known how. */
interface Matter {
  score: Score;
  /** A part for everybody, where the director chose one. */
  partId: string | null;
  bars: { firstBar: number | null; lastBar: number | null };
  /** How it is told as a reason for what somebody knows. */
  said: string;
  lineId: string | null;
  /** The revision to give, stored in the same transaction where it is new. */
  revisionOf: (transaction: Transaction) => Promise<string>;
}

/** Gives a line to a group: one task for every player and pitched or unpitched instrument that can play it. */
export async function assign(actor: Actor, input: z.output<typeof Assign>): Promise<Given> {
  const who = director(actor);
  const group = await groupOf(who, input.groupId);
  const revision = found(await newestRevisionOf(who.bandId, input.lineId), "line");
  const line = found(await Line.findByPk(input.lineId), "line");
  if (line.removedAt)
    throw new ServiceError("conflict", "This line is archived; put it back on the shelf before you give it.");
  const partId = input.partId || null;
  if (partId !== null && !revision.score.parts.some((part) => part.id === partId))
    throw new ServiceError("not-found", "This line has no such part.");
  const band = found(await Band.findByPk(who.bandId), "band");
  if (!input.sure?.includes("again")) await notGivenAlready(group, input.lineId, today(band.timeZone));
  return give(who, band, group, input, {
    score: revision.score,
    partId,
    bars: barsOf(revision.score, input),
    said: lineName(line),
    lineId: line.id,
    revisionOf: async () => revision.id,
  });
}

/**
 * Gives something made for the occasion to a group: a warm-up block or a counting page becomes a line of its own kind with
 * the notes it has today.
 * @param scoreFor  the score for the seats of the group, each part written for one kind of player
 */
export async function assignMade(
  actor: Actor,
  input: z.output<typeof GiveOut>,
  about: { kind: "warm-up"; routineId: string } | { kind: "counting"; drillId: string },
  scoreFor: (seats: NamedSeat[]) => Score,
): Promise<Given> {
  const who = director(actor);
  const group = await groupOf(who, input.groupId);
  const band = found(await Band.findByPk(who.bandId), "band");
  const score = scoreFor(seatsFor(false, await seatsOfGroup(group.id)));
  return give(who, band, group, input, {
    score,
    partId: null,
    bars: { firstBar: null, lastBar: null },
    said: score.title.slice(0, 80),
    lineId: null,
    revisionOf: async (transaction) => {
      const made = await storeLine(who.bandId, score, { ...about, fileName: "the bench", transaction });
      return made.revisionId;
    },
  });
}

async function groupOf({ bandId }: Director, groupId: string): Promise<Group> {
  return found(await Group.findOne({ where: { id: groupId, bandId, archivedAt: null } }), "group");
}

/** Asked once, then done. */
function doubt(kind: Doubt, sentence: string): ServiceError {
  return new ServiceError("conflict", sentence, { sure: kind });
}

/** @throws ServiceError when the group has the line on its stands already */
async function notGivenAlready(group: Group, lineId: string, now: string): Promise<void> {
  const revisions = await LineRevision.findAll({ where: { lineId }, attributes: ["id"] });
  const before = await Assignment.findOne({
    where: {
      groupId: group.id,
      revisionId: revisions.map(({ id }) => id),
      withdrawnAt: null,
      dueDate: { [Op.gte]: now },
    },
  });
  if (before)
    throw doubt(
      "again",
      `${group.name} has this line already, due ${dayLabel(before.dueDate)}. Give it a second time all the same, or change the first in the week.`,
    );
}

/** The bars asked for, checked; none where it is the whole line. */
function barsOf(
  score: Score,
  {
    firstBar = null,
    lastBar = null,
  }: { firstBar?: number | null | undefined; lastBar?: number | null | undefined },
): Matter["bars"] {
  const last = score.parts[0].measures.length - 1;
  if (firstBar === null && lastBar === null) return { firstBar: null, lastBar: null };
  const [from, to] = [firstBar ?? 0, lastBar ?? last];
  if (from > to || to > last)
    throw new ServiceError("bad-input", "This line has no such bars.", {
      firstBar: "Choose bars of this line.",
    });
  return from === 0 && to === last ? { firstBar: null, lastBar: null } : { firstBar: from, lastBar: to };
}

/** @throws ServiceError for a day that has passed, or one that is off and was not confirmed */
function dayThatServes(band: Band, dueDate: string, sure: readonly Doubt[] = []): void {
  if (dueDate < today(band.timeZone))
    throw new ServiceError("bad-input", "The due date has already passed.", {
      dueDate: "Choose today or a later day.",
    });
  const off = whyOff(dueDate, settingsOf(band));
  if (off && !sure.includes("day-off"))
    throw doubt(
      "day-off",
      `${dayLabel(dueDate)} is off (${off}). Choose another day, or give it for that day all the same.`,
    );
}

async function give(
  who: Director,
  band: Band,
  group: Group,
  input: z.output<typeof GiveOut>,
  matter: Matter,
): Promise<Given> {
  dayThatServes(band, input.dueDate, input.sure);
  const { score, partId, bars } = matter;
  const [instrumentId, playerId] = [input.instrumentId ?? null, input.playerId ?? null];
  const members = (await seatsOfGroup(group.id)).filter((seat) => isFor({ instrumentId, playerId }, seat));
  const unpitchedLine = forDrumsOnly(score);
  const chosen = (await bandKnowledge(who.bandId)).seated(seatsFor(unpitchedLine, members));
  if (chosen.length === 0)
    throw new ServiceError(
      "bad-input",
      unpitchedLine
        ? `Nobody in ${group.name} plays an unpitched instrument, which this line is for.`
        : instrumentId || playerId
          ? `Nobody in ${group.name} is asked by this any more.`
          : `There are no players in ${group.name} yet.`,
    );
  const assignmentId = uuid();
  const pins = pinsFor(score, partId);
  const lessons = input.teach
    ? await lessonsOf(
        who.bandId,
        score,
        chosen,
        input.dueDate,
        (seat) => pins(seat as (typeof chosen)[number]).partId,
      )
    : [];
  await database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    await Assignment.create(
      {
        id: assignmentId,
        bandId: who.bandId,
        groupId: group.id,
        instrumentId,
        playerId,
        revisionId: await matter.revisionOf(transaction),
        goalBpm: input.goalBpm,
        timesPerWeek: input.timesPerWeek,
        dueDate: input.dueDate,
        note: input.note,
        ...bars,
      },
      { transaction },
    );
    await Task.bulkCreate(
      chosen.map((seat) => newTask(who.bandId, assignmentId, seat, pins(seat))),
      { transaction },
    );
    if (lessons.length > 0)
      await keepTeaching(
        who,
        lessons,
        { lineId: matter.lineId, assignmentId, groupId: group.id, said: matter.said, on: input.dueDate },
        transaction,
      );
    await audit(who, "assign", assignmentId, transaction);
  });
  const leftOut = [...new Set(members.map((member) => member.playerId))].length - chosen.length;
  return {
    assignmentId,
    tasks: chosen.length,
    leftOut:
      leftOut > 0
        ? [
            leftOut === 1
              ? `1 player of ${group.name} has no unpitched instrument and was left out`
              : `${leftOut} players of ${group.name} have no unpitched instrument and were left out`,
          ]
        : [],
  };
}

function newTask(
  bandId: string,
  assignmentId: string,
  { playerId, instrumentId }: NamedSeat,
  pins: ReturnType<ReturnType<typeof pinsFor>>,
) {
  return { id: uuid(), bandId, assignmentId, playerId, instrumentId, ...pins, state: "open" as const };
}

/**
 * Changes what was given: tempo, times, day, note, bars. What players began is kept as it is; they are told what changed.
 * Takes sent before keep the bars they were asked for.
 */
export async function changeAssignment(
  actor: Actor,
  assignmentId: string,
  input: z.output<typeof ChangeAssignment>,
): Promise<{ changedNote: string }> {
  const who = director(actor);
  const assignment = await ownAssignment(who, assignmentId);
  const band = found(await Band.findByPk(who.bandId), "band");
  if (input.dueDate !== assignment.dueDate) dayThatServes(band, input.dueDate, input.sure);
  const revision = found(await LineRevision.findByPk(assignment.revisionId), "line");
  const bars = barsOf(revision.score, input);
  const said = [
    input.goalBpm !== assignment.goalBpm && `the goal is ${input.goalBpm} bpm now`,
    input.dueDate !== assignment.dueDate && `it is due ${dayLabel(input.dueDate)} now`,
    input.timesPerWeek !== assignment.timesPerWeek && `${input.timesPerWeek} times a week now`,
    (bars.firstBar !== assignment.firstBar || bars.lastBar !== assignment.lastBar) &&
      "other bars are asked for now",
  ].filter(Boolean);
  const changedNote = said.length > 0 ? `Changed: ${said.join(", ")}.` : assignment.changedNote;
  await database().transaction(async (transaction) => {
    const { goalBpm, timesPerWeek, dueDate, note } = input;
    await touchBand(who.bandId, transaction);
    await assignment.update({ goalBpm, timesPerWeek, dueDate, note, changedNote, ...bars }, { transaction });
    await Teaching.update(
      { taughtOn: dueDate },
      { where: { assignmentId, bandId: who.bandId }, transaction },
    );
    await audit(who, "change-assignment", assignmentId, transaction);
  });
  return { changedNote };
}

/** Gives one player what was given to one of their groups before they came. */
export async function giveEarlier(
  actor: Actor,
  assignmentId: string,
  playerId: string,
): Promise<{ taskId: string }> {
  const who = director(actor);
  const assignment = await ownAssignment(who, assignmentId);
  const person = found(await Player.findOne({ where: { id: playerId, bandId: who.bandId } }), "player");
  if (!(await GroupMember.findOne({ where: { groupId: assignment.groupId, playerId, toDate: null } })))
    throw new ServiceError("conflict", `${person.name} is not in the group that had this.`);
  const revision = found(await LineRevision.findByPk(assignment.revisionId), "line");
  const knowledge = await bandKnowledge(who.bandId);
  const seats = knowledge.seated(
    (await seatsOfBand(who.bandId)).filter((seat) => seat.playerId === playerId),
  );
  const [seat] = seatsFor(forDrumsOnly(revision.score), seats);
  if (!seat || !reads(revision.score, seat))
    throw new ServiceError("bad-input", `There is no part in it for an instrument of ${person.name}.`);
  const own = await Task.findOne({ where: { assignmentId, playerId, instrumentId: seat.instrumentId } });
  return database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    const task =
      own ??
      (await Task.create(newTask(who.bandId, assignmentId, seat, pinsFor(revision.score, null)(seat)), {
        transaction,
      }));
    if (own) await own.update({ closedAt: null }, { transaction });
    await audit(who, "give-earlier", task.id, transaction);
    return { taskId: task.id };
  });
}

async function membersOf(groupId: string, transaction: Transaction): Promise<string[]> {
  const members = await GroupMember.findAll({
    where: { groupId, toDate: null },
    attributes: ["playerId"],
    transaction,
  });
  return members.map(({ playerId }) => playerId);
}

async function ownAssignment({ bandId }: Director, assignmentId: string): Promise<Assignment> {
  return found(await Assignment.findOne({ where: { id: assignmentId, bandId } }), "assignment");
}

/** Tasks are pinned in batches, so that memory stays small however many there are. */
const TASKS_A_BATCH = 500;

/**
 * Pins part and octave of tasks from before they were kept, by the rules of today: run once after the migration.
 * @returns how many tasks were pinned
 */
export async function pinOldTasks(): Promise<number> {
  let pinned = 0;
  for (;;) {
    const tasks = await Task.findAll({ where: { octaveShift: null }, limit: TASKS_A_BATCH });
    if (tasks.length === 0) return pinned;
    const assignments = await Assignment.findAll({
      where: { id: tasks.map((task) => task.assignmentId) },
      attributes: ["id", "revisionId"],
    });
    const revisions = await LineRevision.findAll({
      where: { id: assignments.map((assignment) => assignment.revisionId) },
      attributes: ["id", "score"],
    });
    for (const task of tasks) {
      const { revisionId } = assignments.find((each) => each.id === task.assignmentId)!;
      const { score } = revisions.find((each) => each.id === revisionId)!;
      const { instrumentId, stage, variant, partId } = task;
      const { source, octaveShift } = derivePart(score, instrumentById(instrumentId), stage, { partId });
      await task.update({ variant, partId: source.id, octaveShift });
      pinned++;
    }
  }
}

/**
 * Takes an assignment back: players no longer see it; takes already sent stay, and what it would have taught is not taught.
 * Undo by giving back.
 */
export async function setWithdrawn(actor: Actor, assignmentId: string, withdrawn: boolean): Promise<void> {
  const who = director(actor);
  const assignment = await ownAssignment(who, assignmentId);
  const band = found(await Band.findByPk(who.bandId), "band");
  const now = today(band.timeZone);
  const knowledge = await bandKnowledge(who.bandId);
  await database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    await assignment.update({ withdrawnAt: withdrawn ? new Date() : null }, { transaction });
    await Teaching.update(
      { removedAt: withdrawn ? new Date() : null },
      { where: { assignmentId, bandId: who.bandId, taughtOn: { [Op.gte]: now } }, transaction },
    );
    // Who came in the meantime gets it too, who left does not.
    if (!withdrawn)
      await followPeople(
        who.bandId,
        await membersOf(assignment.groupId, transaction),
        now,
        knowledge,
        transaction,
      );
    await audit(who, withdrawn ? "withdraw-assignment" : "restore-assignment", assignmentId, transaction);
  });
}
