import { z } from "zod";
import { daysBetween } from "../../core/calendar";
import { INSTRUMENTS } from "../../core/music";
import {
  type Draft,
  type GroupState,
  LARGEST_CALENDAR_FILE,
  LEAST_MINUTES,
  type LineAsk,
  MOST_MINUTES,
  type Pace,
  type Passage,
  type PassageState,
  type Proposal,
  type Slot,
  STRIP_KINDS,
  type Strip,
  type Term,
  type Weekday,
} from "../../core/plan";
import type { Terms } from "../../core/practice";
import { GivenTerms } from "../giving/schema";
import { tidied } from "../tidy";

const id = z.uuid("This is not a known id.");
const date = z.iso
  .date("Choose a day.")
  .refine((day) => day >= "2000-01-01" && day <= "2199-12-31", "Choose a day from 2000 to 2199.");
const time = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, "A time is written such as 09:40.");
const minutes = (least: number, most: number) =>
  z.coerce
    .number({ error: `Minutes are from ${least} to ${most}.` })
    .int("Minutes are whole.")
    .min(least, `Minutes are from ${least} to ${most}.`)
    .max(most, `Minutes are from ${least} to ${most}.`);
const instrumentId = z
  .string()
  .refine((value) => INSTRUMENTS.some((each) => each.id === value), "There is no such instrument.");
const bar = z.number().int().min(0).max(2000).nullable();

const weekday = z
  .number()
  .int()
  .min(1)
  .max(7)
  .transform((value) => value as Weekday);

const Pattern = z.discriminatedUnion("kind", [
  z.object({
    kind: z.literal("weekly"),
    weekdays: z.array(weekday).min(1, "Choose at least one weekday.").max(7),
    everyWeeks: z.number().int().min(1, "Every 1 to 8 weeks.").max(8, "Every 1 to 8 weeks."),
  }),
  z
    .object({
      kind: z.literal("cycle"),
      length: z.number().int().min(2, "A cycle has 2 to 20 days.").max(20, "A cycle has 2 to 20 days."),
      on: z.array(z.number().int().min(1)).min(1, "Choose at least one day of the cycle.").max(20),
    })
    .refine(({ length, on }) => on.every((day) => day <= length), "The cycle has no such day."),
]);

const Programme = z
  .array(
    z.object({
      kind: z.enum(["line", "piece"]),
      refId: id,
      /** Whoever the concert is for when null. */
      groupId: id.nullable(),
      spoken: tidied(1000, "Spoken words have at most 1000 letters.").default(""),
    }),
  )
  .max(60, "At most 60 pieces.");
/** The programme of a concert, with the version of the calendar it was read at. */
export const SaveProgramme = z.object({ version: z.number().int().min(0), programme: Programme });

const LONGEST_TERM_DAYS = 550;
const inOrder = ({ from, to }: { from: string; to: string | null }) => to === null || to >= from;

/** The school year as a director saves it, whole: what is left out is gone. */
export const SaveCalendar = z.object({
  /** The version it was read at: who saved in between is not overwritten. */
  version: z.number().int().min(0),
  terms: z
    .array(
      z
        .object({
          id,
          name: tidied(80, "A term's name has at most 80 letters.", "Name the term."),
          from: date,
          to: date,
        })
        .refine(inOrder, "A term ends after it begins.")
        .refine(
          ({ from, to }) => daysBetween(from, to) <= LONGEST_TERM_DAYS,
          "A term lasts a year and a half at most.",
        ),
    )
    .max(40, "At most 40 terms."),
  shortDays: z
    .array(z.object({ date, endsAt: time, name: tidied(80, "A name has at most 80 letters.").default("") }))
    .max(200, "At most 200 days that end early."),
  meetings: z
    .array(
      z
        .object({
          id,
          groupId: id,
          pattern: Pattern,
          from: date,
          to: date.nullable(),
          startsAt: time,
          minutes: minutes(5, 600),
        })
        .refine(inOrder, "Meetings end after they begin."),
    )
    .max(60, "At most 60 meetings."),
  changes: z
    .array(
      z.object({
        meetingId: id,
        date,
        kind: z.enum(["cancelled", "moved", "extra"]),
        toDate: date.nullable(),
        startsAt: time.nullable(),
        minutes: minutes(5, 600).nullable(),
        name: tidied(80, "A name has at most 80 letters.").default(""),
      }),
    )
    .max(500, "At most 500 single changes."),
  goals: z
    .array(
      z.object({
        id,
        kind: z.enum(["concert", "test"]),
        name: tidied(120, "A name has at most 120 letters.", "Name the concert or test."),
        date,
        groupId: id.nullable(),
        programme: Programme,
      }),
    )
    .max(60, "At most 60 concerts and tests."),
});

export const LookAtCalendar = z.object({
  text: z.string().max(LARGEST_CALENDAR_FILE, "This calendar is too large."),
});
export const AddDaysOff = z.object({
  days: z
    .array(
      z
        .object({ from: date, to: date, name: tidied(80, "A name has at most 80 letters.").default("") })
        .refine(inOrder, "Days off end after they begin."),
    )
    .min(1, "Choose at least one.")
    .max(200, "At most 200 at once."),
});

export interface CalendarView extends Omit<z.output<typeof SaveCalendar>, "terms"> {
  terms: Term[];
  today: string;
  groups: { id: string; name: string }[];
  lines: { id: string; name: string }[];
  pieces: { id: string; name: string }[];
  /** Where other calendars fetch it; null while it is not shared. */
  address: string | null;
  daysOff: { from: string; to: string; name: string }[];
}

const StripInput = z.object({
  id,
  groupId: id,
  where: z.enum(["class", "home"]),
  forWhom: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("everyone") }),
    z.object({ kind: z.literal("instrument"), instrumentId }),
    z.object({ kind: z.literal("player"), playerId: id }),
  ]),
  date,
  place: z.number().min(-1e6).max(1e6),
  kind: z.enum(STRIP_KINDS),
  refId: id.nullable(),
  title: tidied(160, "A title has at most 160 letters."),
  minutes: minutes(LEAST_MINUTES, MOST_MINUTES),
  firstBar: bar,
  lastBar: bar,
  note: tidied(500, "A note has at most 500 letters.").default(""),
  /** Stored as it was proposed; what the bench itself did not write is nothing. */
  reason: z.record(z.string(), z.unknown()).nullable(),
  terms: GivenTerms.optional(),
  notReached: z.literal(true).optional(),
});

/** Changes of strips, each with the version of the strip it was made from. */
export const SavePlan = z.object({
  /** What the person has seen of the plan: everything changed since then is sent back. */
  since: z.number().int().min(0),
  changes: z
    .array(
      z.object({
        id,
        /** Version of the strip before the change; null where it is new. */
        basis: z.number().int().min(0).nullable(),
        /** Null takes it off the ribbon. */
        strip: StripInput.nullable(),
      }),
    )
    .max(400, "At most 400 strips at once."),
});

/** A player who misses a group's class on a weekday, every week. */
export const SetClash = z.object({
  groupId: id,
  playerId: id,
  weekday,
  reason: tidied(80, "At most 80 letters.").default(""),
  /** False takes it back. */
  clash: z.boolean(),
});
/** Keeps the week of a day under a name. */
export const KeepTemplate = z.object({
  name: tidied(60, "A name has at most 60 letters.", "Name the template."),
  of: date,
});
export const TickAbsent = z.object({ groupId: id, date, playerId: id, absent: z.boolean() });
/** A reminder is written on a day off only where that was said. */
export const Remind = z.object({ sure: z.boolean().default(false) });
export const AskDraft = z.object({ monday: date, groupIds: z.array(id).max(50).optional() });
export const TurnDown = z.object({
  groupId: id,
  proposal: z.string().regex(/^[\x20-\x7e]{1,120}$/, "This is no proposal of the bench."),
  said: tidied(200, "At most 200 letters."),
  /** False wants it again. */
  down: z.boolean(),
});
export const GiveWeek = z.object({ stripIds: z.array(id).min(1, "There is nothing to give.").max(200) });

/** A strip as it is kept, with what others need to know of it. */
export interface StripView extends Strip {
  version: number;
  /** What was put on stands for it. */
  assignmentId: string | null;
  /** It is on stands, as a task or beside them. */
  onStands: boolean;
}

export interface SavedPlan {
  version: number;
  /** Strips that changed since, by whomever; taken off ones with `gone`. */
  strips: StripView[];
  gone: { id: string; version: number }[];
  /** Changes that were not made, because somebody else changed the strip in between: it comes with `strips`. */
  refused: { id: string; said: string }[];
  /** Who is not ready for the lines of these strips, by group and line. */
  asks: Asks;
}

/** By "group/line": players who meet something new, in score order. */
export type Asks = Record<string, LineAsk[]>;

/** What a whole term is drafted from, as it travels. */
export interface TermToDraft {
  /** Version of the plan it was read at. */
  version: number;
  groups: { state: Omit<GroupState, "turnedDown"> & { turnedDown: string[] }; slots: Slot[] }[];
}

/** What a group does in a week of the term. */
export interface TermCell {
  groupId: string;
  /** The lines in class, in order: "No. 20, 26", titles where there is no number. */
  lines: string;
  /** The lines the group met that week, whether they had been planned or not: taught, or due. */
  met: string;
  /** Minutes planned in class, and those there are. */
  planned: number;
  budget: number;
  /** Strips at home. */
  home: number;
}

/** A term seen whole. */
export interface TermView {
  term: { name: string; week: number | null; weeks: number };
  groups: { id: string; name: string; pace: DraftView["groups"][number]["pace"] }[];
  weeks: {
    monday: string;
    label: string;
    now: boolean;
    past: boolean;
    /** Why there is no school in the whole week. */
    off: string | null;
    goals: { name: string; label: string }[];
    cells: TermCell[];
  }[];
}

/** One day of a row of the ribbon. */
export interface RibbonCell {
  groupId: string;
  where: "class" | "home";
  date: string;
  /** Minutes there are; 0 where nothing is held. */
  budget: number;
  startsAt: string | null;
  remark: string;
  /** Number of the lesson in its term; null at home and where no class is held. */
  lesson: number | null;
}

export interface RibbonView {
  today: string;
  monday: string;
  weeks: number;
  /** "week 9 of 16", and what is near. */
  term: { name: string; week: number; weeks: number } | null;
  goals: { id: string; name: string; date: string; inDays: number }[];
  days: { date: string; label: string; off: string | null; remark: string }[];
  groups: {
    id: string;
    name: string;
    players: number;
    instruments: string[];
    members: { id: string; name: string; instruments: string[] }[];
  }[];
  /** Whether any group has class times at all. */
  meets: boolean;
  /** Who missed a class of these days. */
  absent: { groupId: string; date: string; playerId: string }[];
  /** Who misses a class every week. */
  clashes: { groupId: string; playerId: string; weekday: number; reason: string }[];
  /** Weeks kept by name. */
  templates: { id: string; name: string }[];
  /** Players who ticked off what stands beside tasks, by strip. */
  ticks: Record<string, number>;
  cells: RibbonCell[];
  strips: StripView[];
  version: number;
  asks: Asks;
  changeover: number;
  /** Lines of the strips shown; the whole shelf is fetched when the page is there. */
  drawer: DrawerItem[];
}

export interface DrawerItem {
  kind: "line" | "routine" | "counting" | "piece" | "worksheet" | "listening";
  refId: string;
  title: string;
  seconds: number;
  bars: number | null;
  /** The marked tempo of a line. */
  bpm: number | null;
}

/** What a week could look like, with what it stands on. */
export interface DraftView {
  groups: (Omit<Draft, "proposals"> & {
    groupId: string;
    proposals: Proposal[];
    pace: (Pace & { goal: number; done: number }) | null;
    turnedDown: { proposal: string; said: string }[];
  })[];
  asks: Asks;
}

export interface WeekItem {
  assignmentId: string;
  lineId: string;
  lineNumber: number | null;
  lineTitle: string;
  groupId: string;
  groupName: string;
  goalBpm: number;
  timesPerWeek: number;
  dueDate: string;
  dueLabel: string;
  overdue: boolean;
  note: string;
  /** Indexes of the bars asked for; null for the whole line. */
  firstBar: number | null;
  lastBar: number | null;
  terms: Terms;
  /** The day from which it is on the stands; at once when null. */
  opensOn: string | null;
  /** It makes up for a test. */
  makesUp: boolean;
  /** Printed numbers of its bars. */
  bars: string[];
  tasks: number;
  waiting: number;
  accepted: number;
  again: number;
  missing: { playerId: string; name: string; instrument: string }[];
  /** The bar that went wrong in most takes, when at least two missed it. */
  hardestBar: { index: number; label: string; wrong: number; takes: number } | null;
}

/** The bar that went wrong most of all that is due, and where to hear it and work on it. */
export interface HardBar {
  line: string;
  lineId: string;
  groupId: string;
  bar: NonNullable<WeekItem["hardestBar"]>;
  /** Bars of the line. */
  bars: number;
  /** A take in which it went wrong. */
  takeId: string | null;
}

export interface WeekView {
  bandName: string;
  today: string;
  todayLabel: string;
  waitingTakes: number;
  needEar: number;
  missingPlayers: number;
  hardest: HardBar | null;
  items: WeekItem[];
}

/** One thing of a concert, with what is ready of it. */
export interface ConcertEntry {
  kind: "line" | "piece";
  refId: string;
  name: string;
  groupId: string | null;
  /** Who plays it, in words. */
  who: string;
  spoken: string;
  seconds: number;
  /** Bars of a piece by state; null for a line. */
  states: Record<PassageState, number> | null;
  /** The passage of a piece that needs work most. */
  next: Passage | null;
  /** Median share of clean notes in the best takes of a line, and of how many players; null for a piece, or without takes. */
  clean: { share: number; players: number } | null;
  /** Whether a group that plays it has met the line. */
  met: boolean;
}

export interface ConcertView {
  id: string;
  kind: "concert" | "test";
  name: string;
  date: string;
  label: string;
  inDays: number;
  version: number;
  paper: "a4" | "letter";
  entries: ConcertEntry[];
  groups: { id: string; name: string }[];
  /** What can be put on the programme. */
  choices: { kind: "line" | "piece"; refId: string; name: string }[];
}
