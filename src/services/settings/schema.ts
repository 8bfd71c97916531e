import { z } from "zod";
import { STAGES, type Stage } from "../../core/music";
import type { Weekday } from "../../core/plan";
import { HEARD, MOST_CRITERIA, type Rubric } from "../../core/progress";
import { tidied } from "../tidy";

/** How notes are called where a director or the bench says them. */
export const NAMINGS = ["letters", "solfege", "numbers"] as const;
export const PAPERS = ["a4", "letter"] as const;

const whole = (least: number, most: number, sentence: string) =>
  z.coerce.number({ error: sentence }).int(sentence).min(least, sentence).max(most, sentence);

/** What counts as in tune and in time at a stage: cents from the pitch after the take's own tuning, ms from the player's beat. */
const judging = z.object({
  inTuneCents: whole(5, 50, "In tune is from 5 to 50 cents."),
  inTimeMs: whole(20, 200, "In time is from 20 to 200 milliseconds."),
});

const byStage = <T extends z.ZodType>(one: T) =>
  z.object(Object.fromEntries(STAGES.map((stage) => [stage, one])) as Record<Stage, T>);

const id = z.string().regex(/^[a-z0-9-]{1,40}$/, "This name of a criterion cannot be used.");
const areUnlike = (all: string[]) => new Set(all).size === all.length;
const word = (what: string) => tidied(30, `${what} has at most 30 letters.`, `${what} needs a word.`);

const rubric = z
  .object({
    id,
    name: tidied(40, "The name of a way to mark has at most 40 letters.", "Name every way to mark."),
    school: z.enum(["marks", "pass"]),
    levels: z.array(word("A level")).min(2, "There are 2 to 6 levels.").max(6, "There are 2 to 6 levels."),
    criteria: z
      .array(
        z.object({
          id,
          word: word("A criterion"),
          weight: whole(1, 5, "A weight is from 1 to 5."),
          means: z.array(tidied(160, "What a level means has at most 160 letters.")).max(6),
          hears: z.enum(HEARD).nullable(),
        }),
      )
      .min(1, "A way to mark has at least one criterion.")
      .max(MOST_CRITERIA, `A way to mark has at most ${MOST_CRITERIA} criteria.`)
      .refine((all) => areUnlike(all.map((each) => each.id)), "Every criterion is there once."),
  })
  .transform(
    (one): Rubric => ({
      ...one,
      criteria: one.criteria.map((each) => ({
        ...each,
        means: each.means.some(Boolean) ? one.levels.map((_, place) => each.means[place] ?? "") : [],
      })),
    }),
  );

const DayOff = z
  .object({
    from: z.iso.date("Choose the first day off."),
    to: z.iso.date("Choose the last day off."),
    name: tidied(80, "A name has at most 80 letters.").default(""),
  })
  .refine((off) => off.to >= off.from, "Days off end after they begin.");

/** What a band decides of its own; stored as JSON beside its name and zone. */
export const Decided = z.object({
  judging: byStage(judging),
  naming: z.enum(NAMINGS),
  paper: z.enum(PAPERS),
  /** Saturdays and Sundays are off too. */
  weekendsOff: z.boolean(),
  daysOff: z.array(DayOff).max(200, "At most 200 stretches of days off."),
  /** Days of the week with school, 1 is Monday. */
  schoolWeek: z
    .array(z.number().int().min(1).max(7))
    .min(1, "A week has at least one school day.")
    .max(7)
    .transform((days) => [...new Set(days)].sort() as Weekday[]),
  /** What is asked at home on a day. */
  homeMinutes: whole(5, 120, "Home minutes are from 5 to 120 a day."),
  /** Between two blocks of a class. */
  changeoverMinutes: whole(0, 10, "Between two blocks are from 0 to 10 minutes."),
  /** Players who are making a sound get cards of names and fingerings in place of playing. */
  cardsFirst: z.boolean(),
  /** Weeks of making a sound. */
  soundWeeks: whole(0, 20, "Weeks of making a sound are from 0 to 20."),
  /** Ways to mark, the usual one first. */
  rubrics: z
    .array(rubric)
    .min(1, "There has to be one way to mark.")
    .max(12, "At most 12 ways to mark.")
    .refine((all) => areUnlike(all.map(({ id }) => id)), "Every way to mark is there once.")
    .refine((all) => areUnlike(all.map(({ name }) => name)), "Two ways to mark have the same name."),
  /** What is taken off a take whose task had nothing sent when it was due: percent points a day, and at most. */
  late: z.object({
    percentPerDay: whole(0, 100, "From 0 to 100 percent points are taken off a day."),
    mostPercent: whole(0, 100, "At most 0 to 100 percent points are taken off."),
  }),
  /** What counts of several marked takes of one task. */
  redo: z.enum(["best", "last"]),
  /** What counts of several attempts in one recording. */
  attempts: z.enum(["best", "last"]),
  /** What a note counts as that was wrong at first and put right. */
  corrected: z.enum(["right", "wrong"]),
  /** So many of the clean takes are heard before the others are accepted with them. */
  cleanSamples: whole(1, 20, "From 1 to 20 clean takes are heard first."),
  /** Clean takes that are accepted together are marked as the bench suggests. */
  markTogether: z.boolean(),
  /** When a line counts as learned. */
  whenDone: z.enum(["clean-days", "no-mistakes", "tomorrow"]),
  cleanPasses: whole(1, 10, "Clean passes are from 1 to 10."),
  cleanDays: whole(1, 10, "Days of clean passes are from 1 to 10."),
  /** Poor tries in a row after which something easier is offered. */
  poorTries: whole(2, 10, "Help is offered after 2 to 10 poor tries."),
  /** Minutes of playing a day after which lips rest; null says nothing. */
  playingMinutes: whole(5, 120, "Playing is from 5 to 120 minutes a day.").nullable(),
  tuneWhen: z.enum(["before", "after-long-tones", "never"]),
  /** A line is heard first, or read first unheard. */
  firstMeeting: z.enum(["heard", "read"]),
  putTogether: z.enum(["halves", "backwards"]),
  slursFirst: z.enum(["tongued", "slurred"]),
  /** Who is through may open the next line of the book. */
  ownPace: z.boolean(),
  /** A take is accepted after it was heard, or one of its findings was met. */
  hearFirst: z.boolean(),
  /** When players see what was said of their takes. */
  release: z.enum(["at-once", "together"]),
  /** How often the bench has to be right in a kind of finding before it suggests words for it. */
  trustPercent: whole(0, 99, "The bench has to be right in 0 to 99 of a hundred."),
  logBy: z.enum(["times", "minutes"]),
  /** A page of the week for families to sign. */
  logSheet: z.boolean(),
  /** The director's own words to remember the lines and the spaces by; empty says nothing. */
  lineHint: tidied(120, "A hint has at most 120 letters."),
  spaceHint: tidied(120, "A hint has at most 120 letters."),
  /** The sound of a take is erased after so many weeks; verdicts and marks stay. Null keeps it. */
  retentionWeeks: whole(1, 520, "Takes are kept from 1 to 520 weeks.").nullable(),
});
export type Decided = z.output<typeof Decided>;

const Kept = Decided.extend({
  name: tidied(120, "The band's name has at most 120 letters.", "Type the band's name."),
  town: tidied(120, "At most 120 letters."),
  timeZone: z.string().max(64).refine(isTimeZone, "Choose a time zone such as Europe/Lisbon."),
  a4Hz: z.coerce
    .number({ error: "A is tuned from 415 to 466 Hz." })
    .min(415, "A is tuned from 415 to 466 Hz.")
    .max(466, "A is tuned from 415 to 466 Hz."),
  /** Directors who may listen to what the players send; at least one. */
  hearing: z.array(z.uuid()).min(1, "Somebody has to hear the takes.").max(50),
});
export type Kept = z.output<typeof Kept>;

/** What is changed; the rest stays as it is. */
export const SaveSettings = Kept.partial().extend({
  /** What stood there when the page was opened, of what is changed: what somebody else changed since is asked about. */
  was: z.record(z.string(), z.unknown()).default({}),
  /** It replaces what somebody else changed. */
  sure: z.boolean().default(false),
});

export function isTimeZone(name: string): boolean {
  try {
    return Boolean(new Intl.DateTimeFormat("en", { timeZone: name }));
  } catch {
    return false;
  }
}

export interface SettingsView extends Decided {
  name: string;
  town: string;
  classCode: string;
  timeZone: string;
  a4Hz: number;
  directors: { userId: string; name: string; mayHear: boolean }[];
  zones: string[];
}
