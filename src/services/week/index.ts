import { Op, QueryTypes, type Transaction } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { instrumentById, type Stage } from "../../core/music";
import { forDrumsOnly, type Score } from "../../core/score";
import { partId as kindId } from "../../core/warmup";
import { Assignment, Band, Group, LineRevision, Task } from "../../data";
import { database } from "../../server/database";
import { type Actor, type Director, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { dayLabel, today } from "../calendar";
import { newestRevision, type StoredLine, storeLine } from "../shelf";
import { seatsFor } from "../shelf/readiness";
import type { Assign, GiveOut, WeekItem, WeekView } from "./schema";

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
  const revision = await newestRevision(who.bandId, input.lineId);
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
  about: Pick<StoredLine, "kind" | "routineId" | "drillId">,
  scoreFor: (seats: GroupSeat[]) => Score,
): Promise<Given> {
  const who = director(actor);
  const group = await groupOf(who, input.groupId);
  const score = scoreFor(seatsFor(false, await groupSeats(group.id)));
  return give(who, group, input, score, null, async (transaction) => {
    const made = await storeLine(who.bandId, score, { ...about, fileName: "the bench", transaction });
    return made.revisionId;
  });
}

async function groupOf({ bandId }: Director, groupId: string): Promise<Group> {
  return found(await Group.findOne({ where: { id: groupId, bandId } }), "group");
}

interface GroupSeat {
  playerId: string;
  instrumentId: string;
  variant: string | null;
  stage: Stage;
}

function groupSeats(groupId: string): Promise<GroupSeat[]> {
  return database().query<GroupSeat>(
    `SELECT m.player_id AS playerId, i.instrument_id AS instrumentId, i.variant, p.stage FROM group_members m
     JOIN players p ON p.id = m.player_id
     JOIN player_instruments i ON i.player_id = m.player_id AND i.to_date IS NULL
     WHERE m.group_id = ? ORDER BY m.player_id, i.from_date, i.instrument_id`,
    { replacements: [groupId], type: QueryTypes.SELECT },
  );
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
  const members = await groupSeats(group.id);
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
  // A warm-up is written for each instrument and stage: the part that is right today stays with the task.
  const ownPart = (seat: GroupSeat) =>
    score.purpose?.kind === "warm-up"
      ? kindId({ instrument: instrumentById(seat.instrumentId), stage: seat.stage, variant: seat.variant })
      : partId;
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
      chosen.map((member) => ({
        id: uuid(),
        bandId: who.bandId,
        assignmentId,
        playerId: member.playerId,
        instrumentId: member.instrumentId,
        partId: ownPart(member),
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

/** What is due, what waits, and who has not sent anything: everything assigned and not over for more than a week. */
export async function weekView(actor: Actor): Promise<WeekView> {
  const { bandId } = director(actor);
  const band = found(await Band.findByPk(bandId), "band");
  const now = today(band.timeZone);
  const assignments = await Assignment.findAll({
    where: { bandId, withdrawnAt: null, dueDate: { [Op.gte]: daysBefore(now, 7) } },
    order: [
      ["dueDate", "ASC"],
      ["id", "ASC"],
    ],
    limit: 200,
  });
  const ids = assignments.map((assignment) => assignment.id);
  const select = <T extends object>(sql: string) =>
    ids.length === 0
      ? Promise.resolve([] as T[])
      : database().query<T>(sql, { replacements: { ids }, type: QueryTypes.SELECT });
  const [revisions, groups, tasks, bars] = await Promise.all([
    select<{ revisionId: string; lineId: string; number: number | null; title: string }>(
      "SELECT DISTINCT r.id AS revisionId, l.id AS lineId, l.number, l.title FROM assignments a JOIN line_revisions r ON r.id = a.revision_id JOIN `lines` l ON l.id = r.line_id WHERE a.id IN (:ids)",
    ),
    Group.findAll({ where: { bandId } }),
    select<{
      assignmentId: string;
      state: string;
      name: string;
      instrumentId: string;
      status: string | null;
    }>(
      `SELECT t.assignment_id AS assignmentId, t.state, p.name, t.instrument_id AS instrumentId,
         IF(t.state = 'sent', (SELECT IF(k.state = 'unreadable', 'unreadable', s.status) FROM takes k LEFT JOIN assessments s ON s.take_id = k.id WHERE k.task_id = t.id ORDER BY k.created_at DESC, s.created_at DESC LIMIT 1), NULL) AS status
       FROM tasks t JOIN players p ON p.id = t.player_id WHERE t.assignment_id IN (:ids) ORDER BY p.name`,
    ),
    select<{ assignmentId: string; measureIndex: number; wrong: number; takes: number }>(
      `SELECT t.assignment_id AS assignmentId, b.measure_index AS measureIndex, SUM(b.wrong > 0) AS wrong, COUNT(*) AS takes
       FROM tasks t JOIN takes k ON k.task_id = t.id JOIN assessments s ON s.take_id = k.id AND s.status = 'assessed' JOIN assessment_bars b ON b.assessment_id = s.id
       WHERE t.assignment_id IN (:ids) GROUP BY t.assignment_id, b.measure_index`,
    ),
  ]);
  const numbers = await measureNumbers(assignments.map((assignment) => assignment.revisionId));
  const items = assignments.map((assignment): WeekItem => {
    const line = revisions.find((revision) => revision.revisionId === assignment.revisionId)!;
    const own = tasks.filter((task) => task.assignmentId === assignment.id);
    const count = (state: string) => own.filter((task) => task.state === state).length;
    const worst = bars
      .map((bar) => ({ ...bar, wrong: Number(bar.wrong), takes: Number(bar.takes) }))
      .filter((bar) => bar.assignmentId === assignment.id && bar.wrong >= 2)
      .sort((a, b) => b.wrong - a.wrong || a.takes - b.takes)[0];
    return {
      assignmentId: assignment.id,
      lineId: line.lineId,
      lineNumber: line.number,
      lineTitle: line.title,
      groupName: groups.find((group) => group.id === assignment.groupId)!.name,
      goalBpm: assignment.goalBpm,
      timesPerWeek: assignment.timesPerWeek,
      dueDate: assignment.dueDate,
      dueLabel: dayLabel(assignment.dueDate),
      overdue: assignment.dueDate < now,
      tasks: own.length,
      waiting: count("sent"),
      accepted: count("accepted"),
      again: count("again"),
      missing: own
        .filter((task) => task.state === "open")
        .map((task) => ({ name: task.name, instrument: instrumentById(task.instrumentId).name })),
      hardestBar: worst
        ? {
            label: numbers.get(assignment.revisionId)?.[worst.measureIndex] ?? String(worst.measureIndex + 1),
            wrong: worst.wrong,
            takes: worst.takes,
          }
        : null,
    };
  });
  const waiting = tasks.filter((task) => task.state === "sent");
  return {
    bandName: band.name,
    today: now,
    todayLabel: dayLabel(now),
    waitingTakes: waiting.length,
    needEar: waiting.filter((task) => task.status !== null && task.status !== "assessed").length,
    missingPlayers: new Set(tasks.filter((task) => task.state === "open").map((task) => task.name)).size,
    hardest: hardestOf(items),
    items,
  };
}

/** The bar that went wrong in most takes: how many it concerns counts before their share. */
function hardestOf(items: WeekItem[]): WeekView["hardest"] {
  const lines = items.flatMap(({ lineNumber, lineTitle, hardestBar }) =>
    hardestBar ? [{ line: lineNumber ? `No. ${lineNumber}` : lineTitle, bar: hardestBar }] : [],
  );
  return lines.sort((a, b) => b.bar.wrong - a.bar.wrong || a.bar.takes - b.bar.takes)[0] ?? null;
}

async function measureNumbers(revisionIds: string[]): Promise<Map<string, string[]>> {
  const revisions = await LineRevision.findAll({
    where: { id: [...new Set(revisionIds)] },
    attributes: ["id", "score"],
  });
  return new Map(
    revisions.map((revision) => [
      revision.id,
      revision.score.parts[0].measures.map((measure) => measure.number),
    ]),
  );
}

function daysBefore(date: string, days: number): string {
  return new Date(Date.parse(`${date}T00:00:00Z`) - days * 86_400_000).toISOString().slice(0, 10);
}
