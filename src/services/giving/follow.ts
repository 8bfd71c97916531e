import { Op, type Transaction } from "sequelize";
import { v7 as uuid } from "uuid";
import { groupBy } from "../../core/lists";
import { type Seat, seatsFor } from "../../core/ready";
import { forDrumsOnly, type Score } from "../../core/score";
import { Assignment, GroupMember, LineRevision, type OnlyFor, seatsOfBand, Task } from "../../data";
import type { BandKnowledge } from "../knowledge";
import { pinsFor, reads } from "./pins";

/** Tasks that a change of people opened, closed and brought back, by id. */
export interface Followed {
  opened: string[];
  closed: string[];
  reopened: string[];
}

/**
 * Lets homework follow its people: who is in a group has what is still due of it, who left it or the instrument has none of
 * it left. What was sent stays, what was accepted stays as it is, and nothing of the past is opened.
 *
 * @param today  the band's local day
 * @param knowledge  read before the transaction began: a change never waits for a second connection
 */
export async function followPeople(
  bandId: string,
  playerIds: readonly string[],
  today: string,
  knowledge: BandKnowledge,
  transaction: Transaction,
): Promise<Followed> {
  const followed: Followed = { opened: [], closed: [], reopened: [] };
  if (playerIds.length === 0) return followed;
  const [plainSeats, memberships, tasks] = await Promise.all([
    seatsOfBand(bandId, transaction),
    GroupMember.findAll({ where: { bandId, playerId: [...playerIds], toDate: null }, transaction }),
    Task.findAll({
      where: { bandId, playerId: [...playerIds], state: { [Op.ne]: "accepted" } },
      transaction,
    }),
  ]);
  const seats = knowledge.seated(plainSeats);
  const due = await Assignment.findAll({
    where: { bandId, withdrawnAt: null, dueDate: { [Op.gte]: today } },
    transaction,
  });
  const given = await Assignment.findAll({
    where: { id: [...new Set(tasks.map((task) => task.assignmentId))] },
    attributes: ["id", "groupId"],
    transaction,
  });
  const givenOf = new Map(given.map((assignment) => [assignment.id, assignment]));
  const seatsOf = groupBy(seats, (seat) => seat.playerId);
  const groupsOf = new Map(playerIds.map((id) => [id, new Set<string>()]));
  for (const { playerId, groupId } of memberships) groupsOf.get(playerId)!.add(groupId);

  const close: string[] = [];
  for (const task of tasks) {
    const seated = (seatsOf.get(task.playerId) ?? []).some((seat) => seat.instrumentId === task.instrumentId);
    const assignment = givenOf.get(task.assignmentId)!;
    const member = groupsOf.get(task.playerId)!.has(assignment.groupId);
    if (!(seated && member) && task.closedAt === null) close.push(task.id);
  }
  followed.closed = close;
  const accepted = await Task.findAll({
    where: { bandId, playerId: [...playerIds], assignmentId: due.map(({ id }) => id), state: "accepted" },
    attributes: ["playerId", "assignmentId"],
    transaction,
  });
  const done = new Set(accepted.map((task) => `${task.playerId}/${task.assignmentId}`));
  const scores = await scoresOf(due, transaction);
  const rows: TaskRow[] = [];
  const reopen: string[] = [];
  for (const assignment of due) {
    const score = scores.get(assignment.revisionId)!;
    const pins = pinsFor(score, null);
    for (const playerId of playerIds) {
      if (!groupsOf.get(playerId)!.has(assignment.groupId) || done.has(`${playerId}/${assignment.id}`))
        continue;
      const [seat] = seatsFor(forDrumsOnly(score), seatsOf.get(playerId) ?? []);
      if (!seat || !reads(score, seat) || !isFor(assignment.onlyFor, seat)) continue;
      // A percussionist who chose the other instrument for it keeps it there.
      const elsewhere = tasks.some(
        (task) =>
          task.playerId === playerId &&
          task.assignmentId === assignment.id &&
          task.closedAt === null &&
          !close.includes(task.id),
      );
      if (elsewhere) continue;
      const own = tasks.find(
        (task) =>
          task.playerId === playerId &&
          task.assignmentId === assignment.id &&
          task.instrumentId === seat.instrumentId,
      );
      if (own) {
        reopen.push(own.id);
        continue;
      }
      const id = uuid();
      followed.opened.push(id);
      rows.push({
        id,
        bandId,
        assignmentId: assignment.id,
        playerId,
        instrumentId: seat.instrumentId,
        ...pins(seat),
        state: "open",
      });
    }
  }
  followed.reopened = reopen;
  await setClosed(close, new Date(), transaction);
  await setClosed(reopen, null, transaction);
  await Task.bulkCreate(rows, { transaction });
  return followed;
}

/** Whether what was given to a group is for this seat of it: everything that is said has to fit. */
export function isFor(
  onlyFor: OnlyFor | null | undefined,
  { instrumentId, stage, playerId }: Pick<Seat, "instrumentId" | "stage" | "playerId">,
): boolean {
  const fits = <T>(allowed: readonly T[] | undefined, own: T) => !allowed || allowed.includes(own);
  return (
    fits(onlyFor?.instrumentIds, instrumentId) &&
    fits(onlyFor?.stages, stage) &&
    fits(onlyFor?.playerIds, playerId)
  );
}

export async function setClosed(
  ids: readonly string[],
  closedAt: Date | null,
  transaction: Transaction,
): Promise<void> {
  if (ids.length > 0) await Task.update({ closedAt }, { where: { id: [...ids] }, transaction });
}

type TaskRow = Pick<
  Task,
  | "id"
  | "bandId"
  | "assignmentId"
  | "playerId"
  | "instrumentId"
  | "stage"
  | "variant"
  | "partId"
  | "octaveShift"
  | "state"
>;

async function scoresOf(due: readonly Assignment[], transaction: Transaction): Promise<Map<string, Score>> {
  const revisions = await LineRevision.findAll({
    where: { id: [...new Set(due.map(({ revisionId }) => revisionId))] },
    attributes: ["id", "score"],
    transaction,
  });
  return new Map(revisions.map(({ id, score }) => [id, score]));
}
