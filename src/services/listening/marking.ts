import { daysBetween } from "../../core/calendar";
import { type MarkedBy, type Marks, rubricFor } from "../../core/progress";
import { Assignment, Band, Take, Task } from "../../data";
import { found, ServiceError } from "../actor";
import { today } from "../calendar";
import { termsOf } from "../giving";
import { settingsOf } from "../settings";

/**
 * How a take of a task is marked today. Late is what had nothing sent on the day it was due: who is asked again, or plays it again of
 * own accord, is not late for that.
 */
export async function markingOf(taskId: string): Promise<MarkedBy> {
  const task = found(await Task.findByPk(taskId, { attributes: ["assignmentId", "bandId"] }), "task");
  const [assignment, band, first] = await Promise.all([
    Assignment.findByPk(task.assignmentId, { attributes: ["terms", "dueDate"] }),
    Band.findByPk(task.bandId, { attributes: ["timeZone", "settings"] }),
    Take.findOne({ where: { taskId }, attributes: ["recordedAt"], order: ["recordedAt"] }),
  ]);
  const { rubrics, late } = settingsOf(found(band, "band"));
  const { terms, dueDate } = found(assignment, "task");
  return {
    rubric: rubricFor(rubrics, termsOf({ terms })),
    lateDays: lateDaysOf(dueDate, band!.timeZone, first?.recordedAt ?? null),
    late,
  };
}

/** Days from the day something was due to that of its first take; to today while there is none. By the clock of the device that recorded it. */
export function lateDaysOf(dueDate: string, timeZone: string, firstAt: Date | null): number {
  return Math.max(0, daysBetween(dueDate, today(timeZone, (firstAt ?? new Date()).getTime())));
}

/** @throws ServiceError where something is marked that the rubric does not have */
export function checkMarks({ rubric }: MarkedBy, marks: Marks): void {
  const fits = Object.entries(marks).every(
    ([id, level]) => level <= rubric.levels.length && rubric.criteria.some((each) => each.id === id),
  );
  if (!fits || (rubric.school === "pass" && Object.keys(marks).length > 0))
    throw new ServiceError("conflict", "What is marked was changed in between. Open the take anew.");
}
