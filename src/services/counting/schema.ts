import { z } from "zod";
import {
  type CountingSystem,
  type CourseDay,
  type CourseSettings,
  MOST_BARS,
  type PageSettings,
} from "../../core/rhythm";
import { tidied } from "../tidy";

const bpm = z
  .number({ error: "The tempo is a number from 30 to 200." })
  .int("The tempo is a whole number.")
  .min(30, "30 is the slowest tempo to count at.")
  .max(200, "200 is the fastest tempo to count at.");
const loops = z
  .number({ error: "A bar is played 1 to 8 times." })
  .int("A bar is played 1 to 8 times.")
  .min(1, "A bar is played at least once.")
  .max(8, "A bar is played at most 8 times.");
const attacks = z.number().int("Attacks are counted in whole numbers.").min(0).max(200);
const grade = z.number().min(0).max(200);
const title = tidied(160, "A name has at most 160 letters.", "Give the page a name.");
const systemId = z.string().regex(/^[\w-]{1,60}$/, "There is no such counting system.");
const seed = z.number().int().min(0).max(999_999_999);

/** Limits that a page refuses with an offer are left to the page itself. */
const Settings = z.object({
  metres: z
    .array(z.object({ beats: z.number().int().min(1).max(12), beatType: z.number().int().min(2).max(8) }))
    .max(7),
  slotsPerBeat: z.number().int().min(1).max(6),
  attacks: z.tuple([attacks, attacks]).nullable(),
  rests: z.boolean(),
  ties: z.boolean(),
  dots: z.boolean(),
  grades: z.tuple([grade, grade]).nullable(),
  choice: z.enum(["complete", "random"]),
  rings: z.boolean(),
  bars: z.number({ error: `A page has 1 to ${MOST_BARS} bars.` }).int(`A page has 1 to ${MOST_BARS} bars.`),
  seed,
}) satisfies z.ZodType<PageSettings>;

export const MakeDrill = z.object({
  title,
  settings: Settings,
  bpm,
  loops,
  system: systemId.nullable(),
});
export const SaveDrill = MakeDrill.extend({
  /** The version that was opened; a newer one in between refuses the change. */
  basedOn: z.number().int().min(1),
});

const syllable = tidied(12, "A syllable has at most 12 letters.");
const about = {
  name: tidied(60, "A name has at most 60 letters.", "Give the system a name."),
  rests: z.enum(["brackets", "silent"]),
  ties: z.enum(["brackets", "silent"]),
};
export const SaveSystem = z.discriminatedUnion("kind", [
  z.object({
    ...about,
    kind: z.literal("position"),
    simple: z.tuple([syllable, syllable, syllable, syllable]),
    triplet: z.tuple([syllable, syllable, syllable]),
    compound: z.tuple([syllable, syllable, syllable, syllable, syllable, syllable]),
  }),
  z.object({ ...about, kind: z.literal("value"), values: z.record(z.string().max(30), syllable) }),
]);
export const ChooseSystem = z.object({ system: systemId });

export const MakeCourse = z.object({
  title,
  settings: z.object({
    days: z.number().int(),
    minutesPerDay: z.number(),
    bpm: z.number(),
    loops: z.number(),
    seed,
  }) satisfies z.ZodType<CourseSettings>,
});
export const MarkMissed = z.object({
  day: z.number().int().min(1).max(15),
  formId: z.string().regex(/^[\w/:.-]{1,120}$/, "This bar is not in that day's lesson."),
  missed: z.boolean(),
});
export const OpenDay = z.object({ day: z.number().int().min(1).max(15) });

export interface DrillSummary {
  id: string;
  title: string;
  bars: number;
  metres: string;
  bpm: number;
  /** Mean grade of its bars. */
  grade: number;
  course: string | null;
}

/** A rhythm of a page, and those of the band who have not met it. */
export interface RhythmAsked {
  rhythm: string;
  newFor: { id: string; name: string }[];
}

export interface DrillDetail {
  id: string;
  title: string;
  version: number;
  settings: PageSettings;
  forms: string[];
  /** Forms there are with these settings; null where nobody counted them one by one. */
  available: number | null;
  bpm: number;
  loops: number;
  system: string | null;
  course: { id: string; title: string; day: number } | null;
}

export interface CourseSummary {
  id: string;
  title: string;
  days: number;
  minutesPerDay: number;
}

export interface CourseDetail extends CourseSummary {
  settings: CourseSettings;
  plan: CourseDay[];
  missed: { day: number; formId: string }[];
  /** Pages made of its days so far. */
  pages: { day: number; drillId: string }[];
}

export interface SystemsView {
  systems: CountingSystem[];
  /** The band's own choice. */
  chosen: string;
}
