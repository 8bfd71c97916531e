import { beatsIn, type Form, formId, type Metre, readForm } from "./form";
import { gradeOf } from "./grade";
import { easiestFirst, makePage, PageError, type PageSettings, USUAL_PAGE } from "./page";
import { headsOf } from "./spell";

export interface CourseSettings {
  /** Lessons, 2 to 15; two school weeks are 10. */
  days: number;
  /** 5 to 15. */
  minutesPerDay: number;
  bpm: number;
  /** How often a bar is played before the next one. */
  loops: number;
  seed: number;
}

export const USUAL_COURSE: CourseSettings = { days: 10, minutesPerDay: 8, bpm: 80, loops: 2, seed: 1 };

export interface CourseDay {
  /** From 1. */
  day: number;
  /** What is new, such as "ties". */
  focus: string;
  /** New bars, easiest first. */
  fresh: Form[];
  /** Bars that were missed and come back today. */
  back: Form[];
  /** Mean grade of the new bars. */
  grade: number;
  seconds: number;
}

/** A bar that went wrong on a day. */
export interface Missed {
  formId: string;
  day: number;
}

const four: Metre = { beats: 4, beatType: 4 };

const hasDot = (form: Form) => headsOf(form).some((head) => head.kind === "note" && head.dotted);
const hasTie = (form: Form) => headsOf(form).some((head) => head.tied);
const hasRest = (form: Form) => headsOf(form).some((head) => head.kind === "rest");

/** What each lesson brings, in the order in which counting grows: common practice, no published source; grades see to the slope. */
const STEPS: { focus: string; settings: Partial<PageSettings>; has?: (form: Form) => boolean }[] = [
  { focus: "attacks on the beat", settings: { slotsPerBeat: 1, ties: false, dots: true } },
  { focus: "rests on the beat", settings: { slotsPerBeat: 1, rests: true, ties: false }, has: hasRest },
  { focus: "pairs of eighths", settings: { attacks: [4, 7], ties: false, dots: false } },
  { focus: "attacks off the beat", settings: { attacks: [3, 7], ties: false, dots: false } },
  { focus: "dotted quarters", settings: { attacks: [3, 6], ties: false, dots: true }, has: hasDot },
  { focus: "ties", settings: { attacks: [3, 6], ties: true, dots: false }, has: hasTie },
  {
    focus: "rests off the beat",
    settings: { attacks: [3, 6], rests: true, ties: false, dots: false },
    has: hasRest,
  },
  { focus: "rests, dots and ties", settings: { attacks: [3, 6], rests: true } },
  { focus: "sixteenths", settings: { slotsPerBeat: 4, attacks: [5, 9], ties: false, dots: true } },
  {
    focus: "mixed metre",
    settings: {
      metres: [four, { beats: 3, beatType: 4 }, { beats: 2, beatType: 4 }],
      slotsPerBeat: 4,
      attacks: [4, 8],
      rests: true,
      ties: false,
    },
  },
];

/** Days after a miss on which a bar comes back: soon, then later (spaced practice). */
const RETURNS = [1, 3, 6];
/** Looking, setting the metronome and one word between bars, seconds. */
const SETUP_SEC = 60;
const BETWEEN_SEC = 12;
/** Read, clap and count: each bar's loop is done so many times over. */
const TIMES_OVER = 3;
const LEAST_BARS = 2;
const MOST_CANDIDATES = 40;

/** A course that cannot be planned: one sentence and the nearest that can. */
export class CourseError extends RangeError {
  constructor(
    message: string,
    readonly offer: CourseSettings,
  ) {
    super(message);
  }
}

/**
 * Plans counting for two weeks or so: minutes a day, a grade that rises, missed bars back after 1, 3 and 6 days. No new bar
 * comes twice in a course. The same settings give the same course; misses change only the days after them.
 * @throws CourseError for days or minutes out of range
 */
export function planCourse(settings: CourseSettings, missed: readonly Missed[] = []): CourseDay[] {
  check(settings);
  const used = new Set<string>();
  let floor = 0;
  return Array.from({ length: settings.days }, (_, i): CourseDay => {
    const day = i + 1;
    const step = STEPS[Math.round((i * (STEPS.length - 1)) / (settings.days - 1))]!;
    const back = returning(missed, day);
    const room = 60 * settings.minutesPerDay - SETUP_SEC - secondsOf(back, settings);
    const fresh = freshForms(step, settings, day, room, used, floor);
    for (const form of fresh) used.add(formId(form));
    const grade = fresh.reduce((sum, form) => sum + gradeOf(form).grade, 0) / fresh.length;
    floor = Math.max(floor, grade);
    return {
      day,
      focus: step.focus,
      fresh,
      back,
      grade: Math.round(100 * grade) / 100,
      seconds: Math.round(SETUP_SEC + secondsOf([...back, ...fresh], settings)),
    };
  });
}

function returning(missed: readonly Missed[], day: number): Form[] {
  const ids = missed.filter((miss) => RETURNS.includes(day - miss.day)).map((miss) => miss.formId);
  return [...new Set(ids)].map(readForm);
}

/** As many new bars as the minutes hold, from those no easier on the whole than the day before's. */
function freshForms(
  step: (typeof STEPS)[number],
  settings: CourseSettings,
  day: number,
  room: number,
  used: ReadonlySet<string>,
  floor: number,
): Form[] {
  const page: PageSettings = { ...USUAL_PAGE, ...step.settings, seed: settings.seed * 100 + day };
  const unused = candidatesOf(page).filter((form) => !used.has(formId(form)));
  // A lesson is on what it is called after: bars without it only where the others are used up.
  const about = unused.filter((form) => step.has?.(form) ?? true);
  const candidates = [...unused.filter((form) => !about.includes(form)), ...about];
  const hardEnough = about.filter((form) => gradeOf(form).grade >= floor);
  const chosen: Form[] = [];
  let seconds = 0;
  // The hardest of the step come last: when too few are hard enough, they serve instead.
  for (const form of [...hardEnough, ...candidates.toReversed()]) {
    if (chosen.includes(form)) continue;
    const next = secondsOf([form], settings);
    if (chosen.length >= LEAST_BARS && seconds + next > room) break;
    chosen.push(form);
    seconds += next;
  }
  return easiestFirst(chosen);
}

/** Bars of a step, as many as a long lesson could use, or all there are. */
function candidatesOf(page: PageSettings): Form[] {
  try {
    return makePage({ ...page, bars: MOST_CANDIDATES }).forms;
  } catch (error) {
    if (error instanceof PageError) return makePage(error.offer).forms;
    throw error;
  }
}

export function secondsOf(
  forms: readonly Form[],
  { bpm, loops }: Pick<CourseSettings, "bpm" | "loops">,
): number {
  return forms.reduce(
    (sum, form) => sum + BETWEEN_SEC + (TIMES_OVER * (loops + 1) * beatsIn(form.metre) * 60) / bpm,
    0,
  );
}

function check(settings: CourseSettings): void {
  const limits = { days: [2, 15], minutesPerDay: [5, 15], bpm: [40, 160], loops: [1, 8] } as const;
  const words = { days: "days", minutesPerDay: "minutes a day", bpm: "beats a minute", loops: "times a bar" };
  for (const [name, [least, most]] of Object.entries(limits) as [
    keyof typeof limits,
    readonly [number, number],
  ][]) {
    const near = Math.min(most, Math.max(least, Math.round(settings[name]) || least));
    if (near !== settings[name])
      throw new CourseError(
        `A course has ${least} to ${most} ${words[name]}, not ${settings[name]}; the nearest is ${near}.`,
        { ...settings, [name]: near },
      );
  }
}
