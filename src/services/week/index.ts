import { addDays } from "../../core/calendar";
import { instrumentById } from "../../core/music";
import { isAskedFor } from "../../core/practice";
import {
  assignmentsDue,
  Band,
  barNumbersOf,
  hardestBars,
  openTasks,
  takesOfWaitingTasks,
  takeWrongIn,
  taskCounts,
} from "../../data";
import { type Actor, director, found } from "../actor";
import { dayLabel, today } from "../calendar";
import { termsOf } from "../giving";
import { bestTakes, needsEar } from "../listening";
import type { HardBar, WeekItem, WeekView } from "./schema";

export { calendarView, saveCalendar } from "./calendar";
export { classesBetween, type HeldClass } from "./classes";
export { concertView, saveProgramme } from "./concert";
export { draftView, termToDraft } from "./draft";
export { giveWeek, takeWeekBack } from "./give-week";
export { addDaysOff, lookAtHolidays, shareCalendar, sharedCalendar } from "./outside";
export { savePlan, setClash, tickAbsent, turnDown } from "./plan";
export {
  type HomeSheet,
  type HomeTask,
  homePages,
  type RunSheetBlock,
  runSheetOf,
  runSheetView,
} from "./print";
export { remind } from "./remind";
export { drawerView, MOST_WEEKS, nextClasses, ribbonView, stripsBetween, weekStrips } from "./ribbon";
export {
  AddDaysOff,
  AskDraft,
  GiveWeek,
  KeepTemplate,
  LookAtCalendar,
  Remind,
  SaveCalendar,
  SavePlan,
  SaveProgramme,
  SetClash,
  TickAbsent,
  TurnDown,
} from "./schema";

export { keepTemplate, setTemplateRemoved, templateStrips } from "./templates";
export { termView } from "./term";

/** What is due, what waits, and who has not sent anything: everything assigned and not over for more than a week. */
export async function weekView(actor: Actor): Promise<WeekView> {
  const { bandId } = director(actor);
  const band = found(await Band.findByPk(bandId), "band");
  const now = today(band.timeZone);
  const assignments = await assignmentsDue(bandId, addDays(now, -7));
  const ids = assignments.map((assignment) => assignment.id);
  const [counts, missing, bars, waiting] = await Promise.all([
    taskCounts(ids),
    openTasks(ids),
    hardestBars(ids),
    takesOfWaitingTasks(bandId),
  ]);
  const askedFor = new Set(assignments.filter((given) => isAskedFor(given, now)).map(({ id }) => id));
  const worstOf = new Map(bars.map((bar) => [bar.assignmentId, bar]));
  const numbers = await barNumbersOf(assignments.map(({ revisionId }) => revisionId));
  const items = assignments.map(({ id, revisionId, terms, countsFor, ...assignment }): WeekItem => {
    const own = counts.filter((count) => count.assignmentId === id);
    const count = (state: string) => own.find((each) => each.state === state)?.tasks ?? 0;
    const worst = worstOf.get(id);
    return {
      assignmentId: id,
      ...assignment,
      terms: termsOf({ terms }),
      makesUp: countsFor !== null,
      bars: numbers.get(revisionId) ?? [],
      dueLabel: dayLabel(assignment.dueDate),
      overdue: assignment.dueDate < now,
      tasks: own.reduce((sum, each) => sum + each.tasks, 0),
      waiting: count("sent"),
      accepted: count("accepted"),
      again: count("again"),
      missing: missing
        .filter((task) => task.assignmentId === id)
        .map(({ playerId, name, instrumentId }) => ({
          playerId,
          name,
          instrument: instrumentById(instrumentId).name,
        })),
      hardestBar: worst
        ? {
            index: worst.measureIndex,
            label: numbers.get(revisionId)?.[worst.measureIndex] ?? String(worst.measureIndex + 1),
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
    missingPlayers: new Set(
      missing.flatMap(({ playerId, assignmentId }) => (askedFor.has(assignmentId) ? [playerId] : [])),
    ).size,
    hardest: await hardestOf(items),
    items,
  };
}

/** The bar that went wrong in most takes: how many it concerns counts before their share. */
async function hardestOf(items: WeekItem[]): Promise<HardBar | null> {
  const [worst] = items
    .flatMap((item) => (item.hardestBar ? [{ ...item, bar: item.hardestBar }] : []))
    .sort((a, b) => b.bar.wrong - a.bar.wrong || a.bar.takes - b.bar.takes);
  if (!worst) return null;
  const { lineId, lineNumber, lineTitle, groupId, assignmentId, bar, bars } = worst;
  return {
    line: lineNumber ? `No. ${lineNumber}` : lineTitle,
    lineId,
    groupId,
    bar,
    bars: bars.length,
    takeId: await takeWrongIn(assignmentId, bar.index),
  };
}
