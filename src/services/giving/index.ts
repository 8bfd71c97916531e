import type { Transaction } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { instrumentById } from "../../core/music";
import { seatsFor } from "../../core/ready";
import { derivePart, forDrumsOnly, type Score } from "../../core/score";
import { partId as kindId } from "../../core/warmup";
import {
  Assignment,
  Band,
  Group,
  Line,
  LineRevision,
  type NamedSeat,
  newestRevisionOf,
  seatsOfGroup,
  Task,
} from "../../data";
import { database } from "../../server/database";
import { type Actor, type Director, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { today } from "../calendar";
import { storeLine } from "../lines";
import type { Assign, GiveOut } from "./schema";

export { Assign, GiveOut } from "./schema";

export interface Given {
  assignmentId: string;
  tasks: number;
  leftOut: string[];
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
  return give(who, group, input, revision.score, partId, async () => revision.id);
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
  const score = scoreFor(seatsFor(false, await seatsOfGroup(group.id)));
  return give(who, group, input, score, null, async (transaction) => {
    const made = await storeLine(who.bandId, score, { ...about, fileName: "the bench", transaction });
    return made.revisionId;
  });
}

async function groupOf({ bandId }: Director, groupId: string): Promise<Group> {
  return found(await Group.findOne({ where: { id: groupId, bandId } }), "group");
}

/** @param revisionOf  the revision to give, stored in the same transaction where it is new */
async function give(
  who: Director,
  group: Group,
  input: z.output<typeof GiveOut>,
  score: Score,
  partId: string | null,
  revisionOf: (transaction: Transaction) => Promise<string>,
): Promise<Given> {
  const band = found(await Band.findByPk(who.bandId), "band");
  if (input.dueDate < today(band.timeZone))
    throw new ServiceError("bad-input", "The due date has already passed.", {
      dueDate: "Choose today or a later day.",
    });
  const members = await seatsOfGroup(group.id);
  const unpitchedLine = forDrumsOnly(score);
  const chosen = seatsFor(unpitchedLine, members);
  if (chosen.length === 0)
    throw new ServiceError(
      "bad-input",
      unpitchedLine
        ? `Nobody in ${group.name} plays an unpitched instrument, which this line is for.`
        : `There are no players in ${group.name} yet.`,
    );
  const assignmentId = uuid();
  const pins = pinsFor(score, partId);
  await database().transaction(async (transaction) => {
    await Assignment.create(
      {
        id: assignmentId,
        bandId: who.bandId,
        groupId: group.id,
        revisionId: await revisionOf(transaction),
        goalBpm: input.goalBpm,
        timesPerWeek: input.timesPerWeek,
        dueDate: input.dueDate,
        note: input.note,
      },
      { transaction },
    );
    await Task.bulkCreate(
      chosen.map((seat) => ({
        id: uuid(),
        bandId: who.bandId,
        assignmentId,
        playerId: seat.playerId,
        instrumentId: seat.instrumentId,
        ...pins(seat),
        state: "open" as const,
      })),
      { transaction },
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

type Pins = Pick<Task, "stage" | "variant" | "partId" | "octaveShift">;

/** How the part of each seat is made today: what a task keeps, so that no later change moves notes under a take. */
function pinsFor(
  score: Score,
  asked: string | null,
): (seat: Omit<NamedSeat, "playerName" | "playerId">) => Pins {
  const made = new Map<string, Pins>();
  return ({ instrumentId, stage, variant }) => {
    const key = `${instrumentId}/${stage}/${variant}`;
    const known = made.get(key);
    if (known) return known;
    const instrument = instrumentById(instrumentId);
    // A warm-up holds a part for each kind of player.
    const partId = score.purpose?.kind === "warm-up" ? kindId({ instrument, stage, variant }) : asked;
    const { source, octaveShift } = derivePart(score, instrument, stage, { partId });
    const pins = { stage, variant, partId: source.id, octaveShift };
    made.set(key, pins);
    return pins;
  };
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

/** Takes an assignment back: players no longer see it; takes already sent stay. Undo by giving back. */
export async function setWithdrawn(actor: Actor, assignmentId: string, withdrawn: boolean): Promise<void> {
  const who = director(actor);
  const assignment = found(
    await Assignment.findOne({ where: { id: assignmentId, bandId: who.bandId } }),
    "assignment",
  );
  await database().transaction(async (transaction) => {
    await assignment.update({ withdrawnAt: withdrawn ? new Date() : null }, { transaction });
    await audit(who, withdrawn ? "withdraw-assignment" : "restore-assignment", assignmentId, transaction);
  });
}
