import { z } from "zod";
import { FASTEST_BPM, SLOWEST_BPM } from "../../core/score";
import { tidied } from "../tidy";

const id = z.uuid("This is not a known id.");

/** What a director is asked about once before it is done. */
export const DOUBTS = ["again", "day-off"] as const;
export type Doubt = (typeof DOUBTS)[number];

const flag = z
  .union([z.boolean(), z.literal("on"), z.literal("")])
  .transform((value) => value === true || value === "on");

/** How often, how fast and until when. */
const Terms = z.object({
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
  /** What the director was asked about and said yes to. */
  sure: z.array(z.enum(DOUBTS)).max(2).optional(),
});

/** To whom and until when something is given. */
export const GiveOut = Terms.extend({
  groupId: id,
  /** Only players of this instrument in the group, or this player alone; everybody when left out. */
  instrumentId: z
    .string()
    .regex(/^[\w-]{1,32}$/, "There is no such instrument.")
    .nullable()
    .optional(),
  playerId: id.nullable().optional(),
  /** Its new things count as taught from the day it is due. */
  teach: flag.optional(),
});

/** Bars by index, from 0; both or neither. */
const Bars = {
  firstBar: z.number().int().min(0).max(2000).nullable().optional(),
  lastBar: z.number().int().min(0).max(2000).nullable().optional(),
};

export const Assign = GiveOut.extend({
  lineId: id,
  /** Which part of the line everybody gets; each player's own, or the first, when left out. */
  partId: z
    .string()
    .regex(/^[\w.-]{0,64}$/, "This line has no such part.")
    .optional(),
  ...Bars,
});

export const ChangeAssignment = Terms.extend(Bars);

/** Something given to players one by one, beside the group it was given to. */
export const GiveEarlier = z.object({ playerId: id });
