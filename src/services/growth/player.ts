import { addDays } from "../../core/calendar";
import { groupBy } from "../../core/lists";
import { instrumentById } from "../../core/music";
import { countingResults } from "../../core/practice";
import { type MarkResult, resultOf, rubricFor, USUAL_RUBRIC } from "../../core/progress";
import {
  Band,
  everyTakeOf,
  everyTaskOf,
  factsOfKind,
  Group,
  GroupMember,
  givenWithout,
  Player,
  PlayerInstrument,
  type PlayerTakeRow,
  practisedDays,
  type TakeMarks,
  teachingsOf,
} from "../../data";
import { type Actor, director, found } from "../actor";
import { dayLabel, today as todayIn } from "../calendar";
import { instrumentKnowledge, playerKnowledge, weeksSince } from "../knowledge";
import { takeRemark } from "../listening";
import { countedIn } from "../practice";
import { settingsOf } from "../settings";
import type { PlayerPage, PlayerTake } from "./schema";

/** So far back the log of practice goes: four weeks of any weekday. */
const WEEKS_BACK_DAYS = 27;
/** So many results of counting are read at most. */
const MOST_COUNTED = 1000;

/** A player on one page: instruments and what is known on each, what was taught, every task and take. */
export async function playerPage(actor: Actor, playerId: string): Promise<PlayerPage> {
  const { bandId } = director(actor);
  const player = found(await Player.findOne({ where: { id: playerId, bandId } }), "player");
  const band = found(await Band.findByPk(bandId), "band");
  const today = todayIn(band.timeZone);
  const [knowledge, held, members, groups, teachings, tasks, takes, earlier, practice, counted] =
    await Promise.all([
      playerKnowledge(bandId, playerId, today),
      PlayerInstrument.findAll({ where: { playerId, bandId }, order: [["fromDate", "DESC"]] }),
      GroupMember.findAll({ where: { playerId, bandId }, order: [["fromDate", "ASC"]] }),
      Group.findAll({ where: { bandId }, attributes: ["id", "name"] }),
      teachingsOf(bandId, { playerId }),
      everyTaskOf(playerId),
      everyTakeOf(playerId),
      givenWithout(playerId),
      practisedDays(playerId, addDays(today, -WEEKS_BACK_DAYS), today),
      factsOfKind(playerId, ["counting"], MOST_COUNTED),
    ]);
  const nameOf = new Map(groups.map(({ id, name }) => [id, name]));
  const takesOf = groupBy(takes, ({ taskId }) => taskId);
  const weeks = weeksSince(player.stageSince, today);
  // What is held today first; an instrument that came back is shown once.
  const instruments = [...held].sort((a, b) => Number(a.toDate !== null) - Number(b.toDate !== null));
  return {
    id: playerId,
    name: player.name,
    calledName: player.calledName,
    stage: player.stage,
    joinedOn: dayLabel(player.joinedOn),
    leftOn: player.leftOn && dayLabel(player.leftOn),
    hasCard: player.secretHash !== null,
    kit: player.kit,
    today,
    practice,
    counting: countingResults(countedIn(counted)),
    logBy: settingsOf(band).logBy,
    groups: members.map(({ groupId, fromDate, toDate }) => ({
      name: nameOf.get(groupId)!,
      from: dayLabel(fromDate),
      to: toDate && dayLabel(toDate),
    })),
    instruments: instruments
      .filter((each, i) => instruments.findIndex((other) => other.instrumentId === each.instrumentId) === i)
      .map(({ instrumentId, fromDate, toDate, stage }) => {
        const own = stage ?? player.stage;
        return instrumentKnowledge(
          { instrumentId, stage: own, from: dayLabel(fromDate), to: toDate && dayLabel(toDate) },
          knowledge.of({ playerId, instrumentId, stage: own }),
          weeks,
          settingsOf(band).soundWeeks,
        );
      }),
    teachings: teachings.map(({ id, said, taughtOn, groupName }) => ({
      id,
      said,
      taughtOn: dayLabel(taughtOn),
      groupName,
    })),
    tasks: tasks
      .filter((task) => !task.withdrawn || takesOf.has(task.taskId))
      .map(({ instrumentId, dueDate, assignmentId: _given, withdrawn: _back, ...task }) => ({
        ...task,
        instrument: instrumentById(instrumentId).name,
        dueLabel: dayLabel(dueDate),
        takes: (takesOf.get(task.taskId) ?? []).map(takeOf),
      })),
    earlier: earlier.map(({ assignmentId, lineTitle, lineNumber, dueDate, groupName }) => ({
      assignmentId,
      name: lineNumber ? `No. ${lineNumber} · ${lineTitle}` : lineTitle,
      dueLabel: dayLabel(dueDate),
      groupName,
    })),
  };
}

/** The director's marks as one; null where nothing was marked. Marks of before a band had rubrics are by the usual one. */
export function markOf({ marks, markedBy, criteria }: TakeMarks): MarkResult | null {
  const by = markedBy ?? {
    rubric: rubricFor([USUAL_RUBRIC], { rubric: null, criteria }),
    lateDays: 0,
    late: { percentPerDay: 0, mostPercent: 0 },
  };
  return resultOf(by, marks ?? {});
}

const wholePercent = (result: MarkResult | null) => (result ? Math.round(result.percent) : null);

function takeOf(row: PlayerTakeRow): PlayerTake {
  return {
    takeId: row.takeId,
    recordedAt: dayLabel(new Date(row.recordedAt).toISOString().slice(0, 10)),
    remark: takeRemark(row),
    decision: row.decision,
    comment: row.comment ?? "",
    mark: wholePercent(markOf(row)),
    erased: Boolean(row.erased),
  };
}
