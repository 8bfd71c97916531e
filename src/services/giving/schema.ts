import { z } from "zod";
import { FASTEST_BPM, SLOWEST_BPM } from "../../core/score";
import { tidied } from "../tidy";

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
  note: tidied(500, "A note has at most 500 letters.").default(""),
});

export const Assign = GiveOut.extend({
  lineId: id,
  /** Which part of the line everybody gets; each instrument's own, or the first, when left out. */
  partId: z
    .string()
    .regex(/^[\w.-]{0,64}$/, "This line has no such part.")
    .optional(),
});
