import { isDeepStrictEqual } from "node:util";
import { Op, type Transaction } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { whyOff } from "../../core/calendar";
import { instrumentById } from "../../core/music";
import { PLAIN_TERMS, rungsOf, type Terms } from "../../core/practice";
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
  type OnlyFor,
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
import { termsOf } from "./asked";
import { followPeople, isFor } from "./follow";
import { newTask, pinsFor, reads } from "./pins";
import type { Assign, ChangeAssignment, Doubt, GiveOut, MakeUpTest } from "./schema";

export { givenNow, keptWithTake, recordedOf, scoreOfTake, shownOf, termsOf } from "./asked";
export { choicesFor, chooseInstrument, giveToOneself, keepChosen, ownTask, tellDone } from "./by-player";
export { type Followed, followPeople, isFor, setClosed } from "./follow";
export {
  Assign,
  ChangeAssignment,
  ChooseInstrument,
  GiveEarlier,
  GiveOut,
  KeepChosen,
  MakeUpTest,
  TellDone,
} from "./schema";

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
  /** Parts of single players, where the director chose them. */
  parts: Record<string, string>;
  /** The test it makes up for. */
  countsFor?: string;
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
  const parts = input.parts ?? {};
  const chosen = [...(partId === null ? [] : [partId]), ...Object.values(parts)];
  if (!chosen.every((id) => revision.score.parts.some((part) => part.id === id)))
    throw new ServiceError("not-found", "This line has no such part.");
  const band = found(await Band.findByPk(who.bandId), "band");
  if (!input.sure?.includes("again")) await notGivenAlready(group, input.lineId, today(band.timeZone));
  return give(who, band, group, input, {
    score: revision.score,
    partId,
    parts,
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
    parts: {},
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
      chosenBy: null,
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

/** @throws ServiceError for terms that do not go together, or speak of bars that are not asked for */
function termsThatServe(
  score: Score,
  { firstBar, lastBar }: Matter["bars"],
  { goalBpm, dueDate, opensOn }: { goalBpm: number; dueDate: string; opensOn?: string | null | undefined },
  terms: Terms,
): void {
  const refuse = (field: string, sentence: string): never => {
    throw new ServiceError("bad-input", sentence, { [field]: sentence });
  };
  const [from, to] = [firstBar ?? 0, lastBar ?? score.parts[0].measures.length - 1];
  if (terms.lowestBpm !== null && terms.lowestBpm > goalBpm)
    refuse("lowestBpm", "The lowest tempo that counts is not over the goal.");
  if (terms.ladder && terms.ladder.fromBpm >= goalBpm) refuse("ladder", "A ladder begins under the goal.");
  if (terms.styles.some((style) => style.firstBar < from || style.lastBar > to))
    refuse("styles", "A style speaks of bars that are not asked for.");
  if (terms.record.kind === "bars" && (terms.record.firstBar < from || terms.record.lastBar > to))
    refuse("record", "The bars to record are among the bars that are asked for.");
  if (terms.test && terms.record.kind === "nothing")
    refuse("record", "A test is recorded, or it cannot be heard.");
  if (terms.sight && terms.record.kind !== "all") refuse("sight", "What is read at sight is recorded whole.");
  if (terms.sight && (terms.ladder || terms.steps))
    refuse("sight", "What is read at sight is played once: without a ladder, without steps.");
  if (opensOn && opensOn > dueDate) refuse("opensOn", "It opens before it is due, or on that day.");
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
  const { score, partId, bars, parts } = matter;
  const terms = input.terms ?? PLAIN_TERMS;
  termsThatServe(score, bars, input, terms);
  const onlyFor = input.only && Object.keys(input.only).length > 0 ? onlyIn(input.only) : null;
  await ownPlayers(who, [...(onlyFor?.playerIds ?? []), ...Object.keys(parts)]);
  const members = (await seatsOfGroup(group.id)).filter((seat) => isFor(onlyFor, seat));
  const unpitchedLine = forDrumsOnly(score);
  const chosen = (await bandKnowledge(who.bandId)).seated(seatsFor(unpitchedLine, members));
  if (chosen.length === 0)
    throw new ServiceError(
      "bad-input",
      unpitchedLine
        ? `Nobody in ${group.name} plays an unpitched instrument, which this line is for.`
        : onlyFor
          ? `Nobody in ${group.name} is asked by this any more.`
          : `There are no players in ${group.name} yet.`,
    );
  const assignmentId = uuid();
  const pins = pinsFor(score, partId, parts);
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
        onlyFor,
        revisionId: await matter.revisionOf(transaction),
        goalBpm: input.goalBpm,
        timesPerWeek: input.timesPerWeek,
        dueDate: input.dueDate,
        note: input.note,
        terms,
        opensOn: input.opensOn ?? null,
        countsFor: matter.countsFor ?? null,
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

/** @throws ServiceError when one of them is not of the band */
async function ownPlayers({ bandId }: Director, playerIds: readonly string[]): Promise<void> {
  const asked = [...new Set(playerIds)];
  if (asked.length === 0) return;
  if ((await Player.count({ where: { bandId, id: asked } })) !== asked.length)
    throw new ServiceError("not-found", "One of these players does not exist, or belongs to another band.");
}

/** What is said of whom it is for; what is left out is no limit. */
function onlyIn(only: NonNullable<z.output<typeof GiveOut>["only"]>): OnlyFor {
  const { instrumentIds, stages, playerIds } = only;
  return {
    ...(instrumentIds ? { instrumentIds } : {}),
    ...(stages ? { stages } : {}),
    ...(playerIds ? { playerIds } : {}),
  };
}

/**
 * Changes what was given: tempo, times, day, note, bars and terms. What players began is kept as it is; they are told what changed.
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
  const before = termsOf(assignment);
  const terms = input.terms ?? before;
  const opensOn = input.opensOn === undefined ? (assignment.opensOn ?? null) : input.opensOn;
  termsThatServe(revision.score, bars, { ...input, opensOn }, terms);
  const said = [
    input.goalBpm !== assignment.goalBpm && `the goal is ${input.goalBpm} bpm now`,
    input.dueDate !== assignment.dueDate && `it is due ${dayLabel(input.dueDate)} now`,
    input.timesPerWeek !== assignment.timesPerWeek && `${input.timesPerWeek} times a week now`,
    (bars.firstBar !== assignment.firstBar || bars.lastBar !== assignment.lastBar) &&
      "other bars are asked for now",
    opensOn !== (assignment.opensOn ?? null) &&
      opensOn !== null &&
      opensOn > today(band.timeZone) &&
      `it opens ${dayLabel(opensOn)} now`,
    ...changedTerms(before, terms, input.goalBpm),
  ].filter(Boolean);
  const changedNote = said.length > 0 ? `Changed: ${said.join(", ")}.` : assignment.changedNote;
  await database().transaction(async (transaction) => {
    const { goalBpm, timesPerWeek, dueDate, note } = input;
    await touchBand(who.bandId, transaction);
    await assignment.update(
      { goalBpm, timesPerWeek, dueDate, note, changedNote, terms, opensOn, ...bars },
      { transaction },
    );
    await Teaching.update(
      { taughtOn: dueDate },
      { where: { assignmentId, bandId: who.bandId }, transaction },
    );
    await audit(who, "change-assignment", assignmentId, transaction);
  });
  return { changedNote };
}

/** What of the terms is different, in the words of a player. */
function changedTerms(before: Terms, now: Terms, goalBpm: number): string[] {
  const differs = (name: keyof Terms) => !isDeepStrictEqual(before[name], now[name]);
  const repeats = now.withoutRepeats ? "without the repeats now" : "with the repeats now";
  const lowest =
    now.lowestBpm === null ? "any tempo counts now" : `takes count from ${now.lowestBpm} bpm on now`;
  const record = {
    all: "all of it is recorded now",
    nothing: "nothing is recorded now",
    bars: "other bars are recorded now",
  };
  return [
    ...(differs("withoutRepeats") ? [repeats] : []),
    ...(differs("lowestBpm") ? [lowest] : []),
    ...(differs("ladder") && now.ladder
      ? [`the ladder is ${rungsOf(now.ladder, goalBpm).join(", ")} now`]
      : []),
    ...(differs("styles") ? ["look at how the notes are held"] : []),
    ...(differs("record") ? [record[now.record.kind]] : []),
    ...(differs("steps") ? ["look at the steps"] : []),
    ...(differs("minutes") && now.minutes !== null ? [`${now.minutes} minutes each time now`] : []),
    ...(differs("criteria") || differs("rubric") ? ["other things are marked now"] : []),
    ...(differs("test") ? [now.test ? "it counts as a test now" : "it is no test any more"] : []),
    ...(differs("sight")
      ? [
          now.sight
            ? `it is read at sight now, after ${now.sight.lookSec} seconds`
            : "you may practise it now",
        ]
      : []),
    ...(differs("extra") ? [now.extra ? "it is extra now" : "it is required now"] : []),
  ];
}

/** The same test once more for players who could not take it then: what they send counts for it. */
export async function makeUpTest(
  actor: Actor,
  assignmentId: string,
  { playerIds, dueDate, sure }: z.output<typeof MakeUpTest>,
): Promise<Given> {
  const who = director(actor);
  const test = await ownAssignment(who, assignmentId);
  await ownPlayers(who, playerIds);
  if (!termsOf(test).test) throw new ServiceError("conflict", "This counts for no test.");
  const group = await groupOf(who, test.groupId);
  const band = found(await Band.findByPk(who.bandId), "band");
  const revision = found(await LineRevision.findByPk(test.revisionId), "line");
  const line = found(await Line.findByPk(revision.lineId), "line");
  const taken = await Task.findAll({ where: { assignmentId, playerId: playerIds } });
  const parts = Object.fromEntries(
    taken.flatMap(({ playerId, partId }) => (partId === null ? [] : [[playerId, partId as string]])),
  );
  const { goalBpm, timesPerWeek, note } = test;
  return give(
    who,
    band,
    group,
    {
      groupId: group.id,
      goalBpm,
      timesPerWeek,
      note,
      dueDate,
      sure,
      terms: termsOf(test),
      only: { playerIds },
    },
    {
      score: revision.score,
      partId: null,
      parts,
      // A make-up of a make-up is one of the test itself.
      countsFor: test.countsFor ?? test.id,
      bars: { firstBar: test.firstBar ?? null, lastBar: test.lastBar ?? null },
      said: lineName(line),
      lineId: line.id,
      revisionOf: async () => revision.id,
    },
  );
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
