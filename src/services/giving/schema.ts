import { z } from "zod";
import { INSTRUMENTS, STAGES } from "../../core/music";
import { PLAIN_TERMS, PRACTICE_STEPS, type Terms } from "../../core/practice";
import { MOST_CRITERIA } from "../../core/progress";
import { FASTEST_BPM, SLOWEST_BPM, STYLES } from "../../core/score";
import { tidied } from "../tidy";

const id = z.uuid("This is not a known id.");

/** What a director is asked about once before it is done. */
export const DOUBTS = ["again", "day-off"] as const;
export type Doubt = (typeof DOUBTS)[number];

const flag = z
  .union([z.boolean(), z.literal("on"), z.literal("")])
  .transform((value) => value === true || value === "on");

const bpm = (called: string) =>
  z.coerce
    .number({ error: `The ${called} tempo is a number from ${SLOWEST_BPM} to ${FASTEST_BPM}.` })
    .int(`The ${called} tempo is a whole number.`)
    .min(SLOWEST_BPM, `The slowest ${called} tempo is ${SLOWEST_BPM}.`)
    .max(FASTEST_BPM, `The fastest ${called} tempo is ${FASTEST_BPM}.`);
/** A bar by index, from 0. */
const bar = z.number().int().min(0).max(2000);
const barRange = z.object({ firstBar: bar, lastBar: bar });
const inOrder = ({ firstBar, lastBar }: z.output<typeof barRange>) => firstBar <= lastBar;
const NO_SUCH_BARS = "Choose bars of this line.";

/** How it is to be played, recorded and marked; plain where nothing is said. */
export const GivenTerms = z
  .object({
    withoutRepeats: z.boolean(),
    lowestBpm: bpm("lowest").nullable(),
    ladder: z
      .object({
        fromBpm: bpm("first"),
        stepBpm: z
          .number()
          .int("A ladder climbs by 1 to 40 bpm.")
          .min(1, "A ladder climbs by 1 to 40 bpm.")
          .max(40, "A ladder climbs by 1 to 40 bpm."),
      })
      .nullable(),
    styles: z
      .array(barRange.extend({ style: z.enum(STYLES) }).refine(inOrder, NO_SUCH_BARS))
      .max(20, "At most 20 styles in a line."),
    steps: z.array(z.enum(PRACTICE_STEPS)).min(1, "Choose at least one step.").max(30).nullable(),
    record: z.union([
      z.object({ kind: z.enum(["all", "nothing"]) }),
      barRange.extend({ kind: z.literal("bars") }).refine(inOrder, NO_SUCH_BARS),
    ]),
    minutes: z.coerce
      .number({ error: "Minutes are from 1 to 60." })
      .int("Minutes are whole.")
      .min(1, "Minutes are from 1 to 60.")
      .max(60, "Minutes are from 1 to 60.")
      .nullable(),
    rubric: z.string().max(40).nullable(),
    criteria: z
      .array(
        z.object({
          criterion: z.string().min(1).max(40),
          weight: z
            .number()
            .int("A weight is from 1 to 5.")
            .min(1, "A weight is from 1 to 5.")
            .max(5, "A weight is from 1 to 5."),
        }),
      )
      .min(1, "Something has to be marked.")
      .max(MOST_CRITERIA)
      .refine(
        (all) => new Set(all.map(({ criterion }) => criterion)).size === all.length,
        "Every criterion counts once.",
      )
      .nullable(),
    test: z.boolean(),
    extra: z.boolean(),
    sight: z
      .object({
        lookSec: z
          .number()
          .int("A look lasts 10 to 300 seconds.")
          .min(10, "A look lasts 10 to 300 seconds.")
          .max(300, "A look lasts 10 to 300 seconds."),
      })
      .nullable(),
  })
  .partial()
  .transform((terms): Terms => ({ ...PLAIN_TERMS, ...(terms as Partial<Terms>) }));

/** How often, how fast and until when. */
const Frame = z.object({
  goalBpm: bpm("goal"),
  timesPerWeek: z.coerce
    .number({ error: "Times a week is a number from 1 to 14." })
    .int("Times a week is a whole number.")
    .min(1, "At least once a week.")
    .max(14, "At most 14 times a week."),
  dueDate: z.iso.date("Choose the day it is due."),
  /** On the stands from this day on; at once when left out. */
  opensOn: z
    .union([z.iso.date("Choose the day it opens."), z.literal("").transform(() => null)])
    .nullable()
    .optional(),
  terms: GivenTerms.optional(),
  note: tidied(500, "A note has at most 500 letters.").default(""),
  /** What the director was asked about and said yes to. */
  sure: z.array(z.enum(DOUBTS)).max(2).optional(),
});

/** To whom and until when something is given. */
export const GiveOut = Frame.extend({
  groupId: id,
  /** Only players of these instruments, of these stages, or these players; everybody of the group when left out. */
  only: z
    .object({
      instrumentIds: z
        .array(
          z.enum(INSTRUMENTS.map((each) => each.id) as [string, ...string[]], "There is no such instrument."),
        )
        .min(1)
        .max(40),
      stages: z.array(z.enum(STAGES)).min(1),
      playerIds: z.array(id).min(1).max(300),
    })
    .partial()
    .nullable()
    .optional(),
  /** Its new things count as taught from the day it is due. */
  teach: flag.optional(),
});

/** Both or neither. */
const Bars = { firstBar: bar.nullable().optional(), lastBar: bar.nullable().optional() };
const partId = z.string().regex(/^[\w.-]{0,64}$/, "This line has no such part.");

export const Assign = GiveOut.extend({
  lineId: id,
  /** Which part of the line everybody gets; each player's own, or the first, when left out. */
  partId: partId.optional(),
  /** Parts of single players, by player. */
  parts: z.record(id, partId.min(1)).optional(),
  ...Bars,
});

export const ChangeAssignment = Frame.extend(Bars);

/** The same again for who could not take the test then. */
export const MakeUpTest = z.object({
  playerIds: z.array(id).min(1, "Choose who takes it later.").max(300),
  dueDate: z.iso.date("Choose the day it is due."),
  sure: z.array(z.enum(DOUBTS)).max(2).optional(),
});

/** On which of a player's own instruments a task is done. */
export const ChooseInstrument = z.object({ instrumentId: z.string().max(32) });
/** Where nothing is recorded, the player says it is done. */
export const TellDone = z.object({ done: z.boolean() });

/** What a player chose stays on the stand, or goes back on the shelf. */
export const KeepChosen = z.object({ kept: z.boolean() });

/** Something given to players one by one, beside the group it was given to. */
export const GiveEarlier = z.object({ playerId: id });
