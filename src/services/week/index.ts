import { Op } from "sequelize";
import { instrumentById } from "../../core/music";
import {
  Assignment,
  Band,
  barsOfAssignments,
  Group,
  LineRevision,
  linesOfAssignments,
  takesOfWaitingTasks,
  tasksOfAssignments,
} from "../../data";
import { type Actor, director, found } from "../actor";
import { dayLabel, today } from "../calendar";
import { bestTakes, needsEar } from "../listening/best";
import type { WeekItem, WeekView } from "./schema";

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
  const [revisions, groups, tasks, bars, waiting] = await Promise.all([
    linesOfAssignments(ids),
    Group.findAll({ where: { bandId } }),
    tasksOfAssignments(ids),
    barsOfAssignments(ids),
    takesOfWaitingTasks(bandId),
  ]);
  const numbers = await measureNumbers(bars.length > 0 ? assignments.map((assignment) => assignment.revisionId) : []);
  const items = assignments.map((assignment): WeekItem => {
    const line = revisions.find((revision) => revision.revisionId === assignment.revisionId)!;
    const own = tasks.filter((task) => task.assignmentId === assignment.id);
    const count = (state: string) => own.filter((task) => task.state === state).length;
    const worst = bars
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
  // The badge counts what Listen lists: every task that waits, whatever its line.
  const best = bestTakes(waiting);
  return {
    bandName: band.name,
    today: now,
    todayLabel: dayLabel(now),
    waitingTakes: best.length,
    needEar: best.filter(needsEar).length,
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
