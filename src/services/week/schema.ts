import { z } from "zod";
import { FASTEST_BPM, SLOWEST_BPM } from "../../core/score";

const id = z.uuid("This is not a known id.");

/** To whom and until when something is given. */
export const GiveOut = z.object({
  groupId: id,
  goalBpm: z.coerce
    .number({ error: `The goal tempo is a number from ${SLOWEST_BPM} to ${FASTEST_BPM}.` })
    .int("The goal tempo is a whole number.")
    .min(SLOWEST_BPM, `The slowest goal tempo is ${SLOWEST_BPM}.`)
    .max(FASTEST_BPM, `The fastest goal tempo is ${FASTEST_BPM}.`),
  timesPerWeek: z.coerce
    .number({ error: "Times a week is a number from 1 to 14." })
    .int("Times a week is a whole number.")
    .min(1, "At least once a week.")
    .max(14, "At most 14 times a week."),
  dueDate: z.iso.date("Choose the day it is due."),
  note: z.string().trim().max(500, "A note has at most 500 letters.").default(""),
});

export const Assign = GiveOut.extend({
  lineId: id,
  /** Which part of the line everybody gets; each instrument's own, or the first, when left out. */
  partId: z.string().max(64).optional(),
});

export interface WeekItem {
  assignmentId: string;
  lineId: string;
  lineNumber: number | null;
  lineTitle: string;
  groupName: string;
  goalBpm: number;
  timesPerWeek: number;
  dueDate: string;
  dueLabel: string;
  overdue: boolean;
  tasks: number;
  waiting: number;
  accepted: number;
  again: number;
  missing: { name: string; instrument: string }[];
  /** The bar that went wrong in most takes, when at least two missed it. */
  hardestBar: { label: string; wrong: number; takes: number } | null;
}

export interface WeekView {
  bandName: string;
  today: string;
  todayLabel: string;
  waitingTakes: number;
  needEar: number;
  missingPlayers: number;
  hardest: { line: string; bar: NonNullable<WeekItem["hardestBar"]> } | null;
  items: WeekItem[];
}
