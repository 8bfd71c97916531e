import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { groupBy } from "../../core/lists";
import {
  COUNTING_SYSTEMS,
  type CountingSystem,
  CourseError,
  countForms,
  formId,
  gradeOf,
  makePage,
  PageError,
  planCourse,
  readForm,
  scoreOfForms,
  syllablesOf,
} from "../../core/rhythm";
import { type Score, vocabularyOf } from "../../core/score";
import {
  Band,
  BandCountingSystem,
  Course,
  CourseMiss,
  Drill,
  type DrillContent,
  DrillRevision,
  drillsOfBand,
  seatsOfBand,
} from "../../data";
import { database } from "../../server/database";
import type { EngravingWidth } from "../../server/engrave";
import { type Actor, type Director, director, found, ServiceError, somebody } from "../actor";
import { audit } from "../audit";
import { assignMade, type Given } from "../giving";
import type { GiveOut } from "../giving/schema";
import { bandKnowledge } from "../knowledge";
import { engravePart, withRestSyllables, withSungSyllables } from "../parts";
import type {
  CourseDetail,
  CourseSummary,
  DrillDetail,
  DrillSummary,
  MakeCourse,
  MakeDrill,
  MarkMissed,
  RhythmAsked,
  SaveDrill,
  SaveSystem,
  SystemsView,
} from "./schema";

export { ChooseSystem, MakeCourse, MakeDrill, MarkMissed, OpenDay, SaveDrill, SaveSystem } from "./schema";

/** Counting pages by name, those of courses in the order of their days. */
export async function listDrills(actor: Actor): Promise<DrillSummary[]> {
  const { bandId } = director(actor);
  const rows = await drillsOfBand(bandId);
  return rows.map(({ content, ...row }) => {
    const { forms, bpm } = content;
    const bars = forms.map(readForm);
    const metres = [...new Set(bars.map(({ metre }) => `${metre.beats}/${metre.beatType}`))];
    const grades = bars.reduce((sum, bar) => sum + gradeOf(bar).grade, 0) / Math.max(1, bars.length);
    return {
      ...row,
      bars: forms.length,
      metres: metres.join(", "),
      bpm,
      grade: Math.round(10 * grades) / 10,
    };
  });
}

/** Makes a page and keeps it. @throws ServiceError with the nearest page there is, when there is none like it */
export async function makeDrill(actor: Actor, input: z.output<typeof MakeDrill>): Promise<{ id: string }> {
  const who = director(actor);
  return storeDrill(who, input.title, { ...contentOf(input), forms: formsFor(input) });
}

function formsFor({ settings }: z.output<typeof MakeDrill>): string[] {
  try {
    return makePage(settings).forms.map(formId);
  } catch (error) {
    if (error instanceof PageError) throw new ServiceError("bad-input", error.message);
    throw error;
  }
}

function contentOf({
  settings,
  bpm,
  loops,
  system,
}: z.output<typeof MakeDrill>): Omit<DrillContent, "forms"> {
  return { settings, bpm, loops, system };
}

async function storeDrill(
  who: Director,
  title: string,
  content: DrillContent,
  course: { courseId: string; courseDay: number } | null = null,
): Promise<{ id: string }> {
  const id = uuid();
  await database().transaction(async (transaction) => {
    await Drill.create({ id, bandId: who.bandId, title, ...course }, { transaction });
    await DrillRevision.create(
      { id: uuid(), bandId: who.bandId, drillId: id, number: 1, content },
      { transaction },
    );
    await audit(who, "make-drill", id, transaction);
  });
  return { id };
}

export async function drillDetail(actor: Actor, drillId: string): Promise<DrillDetail> {
  const { bandId } = director(actor);
  const drill = found(await Drill.findOne({ where: { id: drillId, bandId } }), "counting page");
  const { number, content } = await newestDrill(bandId, drillId);
  const course = drill.courseId ? await Course.findByPk(drill.courseId) : null;
  const { metres, slotsPerBeat, rests, attacks } = content.settings;
  const simple = attacks === null || attacks[0] === attacks[1];
  return {
    id: drill.id,
    title: drill.title,
    version: number,
    ...content,
    available: simple
      ? metres.reduce(
          (sum, metre) =>
            sum + countForms({ metre, slotsPerBeat, rests, ...(attacks ? { attacks: attacks[0] } : {}) }),
          0,
        )
      : null,
    course: course && { id: course.id, title: course.title, day: drill.courseDay! },
  };
}

async function newestDrill(bandId: string, drillId: string): Promise<DrillRevision> {
  return found(
    await DrillRevision.findOne({ where: { drillId, bandId }, order: [["number", "DESC"]] }),
    "counting page",
  );
}

/** Keeps a changed page as its next version; its bars are made anew only where the settings ask for other ones. */
export async function saveDrill(
  actor: Actor,
  drillId: string,
  { basedOn, ...input }: z.output<typeof SaveDrill>,
): Promise<{ version: number }> {
  const who = director(actor);
  const drill = found(await Drill.findOne({ where: { id: drillId, bandId: who.bandId } }), "counting page");
  const { number, content: before } = await newestDrill(who.bandId, drillId);
  if (number !== basedOn)
    throw new ServiceError(
      "conflict",
      `This page was changed in between: it is at version ${number}. Reload it.`,
    );
  const same = JSON.stringify(before.settings) === JSON.stringify(input.settings);
  const content = { ...contentOf(input), forms: same ? before.forms : formsFor(input) };
  if (drill.title === input.title && JSON.stringify(content) === JSON.stringify(before))
    return { version: number };
  await database().transaction(async (transaction) => {
    await DrillRevision.create(
      { id: uuid(), bandId: who.bandId, drillId, number: number + 1, content },
      { transaction },
    );
    await drill.update({ title: input.title }, { transaction });
    await audit(who, "save-drill", drillId, transaction);
  });
  return { version: number + 1 };
}

export async function setDrillRemoved(actor: Actor, drillId: string, removed: boolean): Promise<void> {
  const who = director(actor);
  const drill = found(await Drill.findOne({ where: { id: drillId, bandId: who.bandId } }), "counting page");
  await database().transaction(async (transaction) => {
    await drill.update({ removedAt: removed ? new Date() : null }, { transaction });
    await audit(who, removed ? "remove-drill" : "restore-drill", drillId, transaction);
  });
}

/**
 * A page as notes and as a picture.
 * @param systemId  the counting system whose syllables stand under the notes, null for none; the page's own when left out
 */
export async function drillPage(
  actor: Actor,
  drillId: string,
  width: EngravingWidth,
  systemId?: string | null,
): Promise<{ score: Score; svg: string }> {
  const { bandId } = director(actor);
  const drill = found(await Drill.findOne({ where: { id: drillId, bandId } }), "counting page");
  const { content } = await newestDrill(bandId, drillId);
  const score = scoreOfDrill(drill.title, content);
  const shown = systemId === undefined ? content.system : systemId;
  return { score, svg: await countingPicture(bandId, score, width, shown) };
}

function scoreOfDrill(title: string, { forms, bpm, loops, system }: DrillContent): Score {
  return scoreOfForms(forms.map(readForm), { title, bpm, loops, system });
}

/** The rhythms of a page with those of the band who have not met them, by what each player knows on any instrument. */
export async function rhythmsAsked(actor: Actor, drillId: string): Promise<RhythmAsked[]> {
  const { bandId } = director(actor);
  const { content } = await newestDrill(bandId, drillId);
  const { rhythms } = vocabularyOf(scoreOfDrill("", content));
  const [seats, knowledge] = await Promise.all([seatsOfBand(bandId), bandKnowledge(bandId)]);
  const players = [...groupBy(knowledge.seated(seats), ({ playerId }) => playerId).values()];
  return rhythms.map((rhythm) => ({
    rhythm,
    newFor: players
      .filter((own) => !own.some(({ known }) => known.rhythms.has(rhythm)))
      .map(([first]) => ({ id: first!.playerId, name: first!.playerName }))
      .sort((a, b) => a.name.localeCompare(b.name)),
  }));
}

/** A counting page engraved, syllables under the notes where a system is given. */
export async function countingPicture(
  bandId: string,
  score: Score,
  width: EngravingWidth,
  systemId: string | null,
): Promise<string> {
  if (systemId === null) return engravePart(score, width);
  const { systems } = await systemsOf(bandId);
  const system = systems.find((each) => each.id === systemId);
  if (!system) return engravePart(score, width);
  const syllables = syllablesOf(score.parts[0].measures, system);
  return withRestSyllables(await engravePart(withSungSyllables(score, syllables), width), score, syllables);
}

/** Gives a page to a group: everybody claps it. */
export async function giveDrill(
  actor: Actor,
  drillId: string,
  input: z.output<typeof GiveOut>,
): Promise<Given> {
  const who = director(actor);
  const drill = found(await Drill.findOne({ where: { id: drillId, bandId: who.bandId } }), "counting page");
  const { content } = await newestDrill(who.bandId, drillId);
  return assignMade(who, input, { kind: "counting", drillId }, () => scoreOfDrill(drill.title, content));
}

/** Counting systems: those that ship, then the band's own; and the one the band counts in. */
export async function countingSystems(actor: Actor): Promise<SystemsView> {
  return systemsOf(somebody(actor).bandId);
}

async function systemsOf(bandId: string): Promise<SystemsView> {
  const own = await BandCountingSystem.findAll({ where: { bandId }, order: [["name", "ASC"]] });
  const band = found(await Band.findByPk(bandId), "band");
  return {
    systems: [...COUNTING_SYSTEMS, ...own.map((row) => row.content)],
    chosen: band.countingSystem,
  };
}

/** Keeps an own counting system under its name; the same name again changes it. */
export async function saveSystem(actor: Actor, input: z.output<typeof SaveSystem>): Promise<{ id: string }> {
  const who = director(actor);
  if (COUNTING_SYSTEMS.some((each) => each.name.toLowerCase() === input.name.toLowerCase()))
    throw new ServiceError("bad-input", `"${input.name}" is a system that ships. Give yours another name.`, {
      name: "Choose another name.",
    });
  const known = await BandCountingSystem.findOne({ where: { bandId: who.bandId, name: input.name } });
  const id = known?.id ?? uuid();
  const content: CountingSystem = { ...input, id, source: "own" };
  await database().transaction(async (transaction) => {
    if (known) await known.update({ content }, { transaction });
    else
      await BandCountingSystem.create({ id, bandId: who.bandId, name: input.name, content }, { transaction });
    await audit(who, "save-counting-system", id, transaction);
  });
  return { id };
}

/** The system the band counts in. */
export async function chooseSystem(actor: Actor, systemId: string): Promise<void> {
  const who = director(actor);
  const { systems } = await systemsOf(who.bandId);
  found(
    systems.find((each) => each.id === systemId),
    "counting system",
  );
  await Band.update({ countingSystem: systemId }, { where: { id: who.bandId } });
}

export async function listCourses(actor: Actor): Promise<CourseSummary[]> {
  const { bandId } = director(actor);
  const courses = await Course.findAll({
    where: { bandId, removedAt: null },
    order: [["title", "ASC"]],
    limit: 200,
  });
  return courses.map(({ id, title, settings }) => ({
    id,
    title,
    days: settings.days,
    minutesPerDay: settings.minutesPerDay,
  }));
}

/** @throws ServiceError with the nearest course that can be planned */
export async function makeCourse(
  actor: Actor,
  { title, settings }: z.output<typeof MakeCourse>,
): Promise<{ id: string }> {
  const who = director(actor);
  try {
    planCourse(settings);
  } catch (error) {
    if (error instanceof CourseError) throw new ServiceError("bad-input", error.message);
    throw error;
  }
  const id = uuid();
  await database().transaction(async (transaction) => {
    await Course.create({ id, bandId: who.bandId, title, settings }, { transaction });
    await audit(who, "make-course", id, transaction);
  });
  return { id };
}

export async function courseDetail(actor: Actor, courseId: string): Promise<CourseDetail> {
  const { bandId } = director(actor);
  const course = found(await Course.findOne({ where: { id: courseId, bandId } }), "course");
  const [misses, drills] = await Promise.all([
    CourseMiss.findAll({ where: { courseId, bandId }, order: [["day", "ASC"]] }),
    Drill.findAll({ where: { courseId, bandId, removedAt: null } }),
  ]);
  const missed = misses.map(({ day, formId: form }) => ({ day, formId: form }));
  const { title, settings } = course;
  return {
    id: course.id,
    title,
    days: settings.days,
    minutesPerDay: settings.minutesPerDay,
    settings,
    plan: planCourse(settings, missed),
    missed,
    pages: drills.map((drill) => ({ day: drill.courseDay!, drillId: drill.id })),
  };
}

/** Marks a bar as missed on a day, so that it comes back after one, three and six days; or takes the mark away. */
export async function markMissed(
  actor: Actor,
  courseId: string,
  { day, formId: form, missed }: z.output<typeof MarkMissed>,
): Promise<CourseDetail> {
  const who = director(actor);
  const { plan } = await courseDetail(who, courseId);
  const today = found(
    plan.find((each) => each.day === day),
    "day",
  );
  if (![...today.fresh, ...today.back].some((each) => formId(each) === form))
    throw new ServiceError("not-found", "This bar is not in that day's lesson.");
  const row = { bandId: who.bandId, courseId, day, formId: form };
  if (missed) await CourseMiss.upsert(row);
  else await CourseMiss.destroy({ where: row });
  return courseDetail(who, courseId);
}

/** The page of a course's day, made when it is first opened: what comes back first, then what is new. */
export async function openDay(actor: Actor, courseId: string, day: number): Promise<{ drillId: string }> {
  const who = director(actor);
  const course = await courseDetail(who, courseId);
  const made = course.pages.find((page) => page.day === day);
  if (made) return { drillId: made.drillId };
  const lesson = found(
    course.plan.find((each) => each.day === day),
    "day",
  );
  const { chosen } = await systemsOf(who.bandId);
  const forms = [...lesson.back, ...lesson.fresh];
  const first = forms[0]!;
  const { id } = await storeDrill(
    who,
    `${course.title}, day ${day}: ${lesson.focus}`,
    {
      settings: {
        metres: [...new Map(forms.map(({ metre }) => [`${metre.beats}/${metre.beatType}`, metre])).values()],
        slotsPerBeat: first.slotsPerBeat,
        attacks: null,
        rests: true,
        ties: true,
        dots: true,
        grades: null,
        choice: "random",
        rings: false,
        bars: forms.length,
        seed: course.settings.seed * 100 + day,
      },
      forms: forms.map(formId),
      bpm: course.settings.bpm,
      loops: course.settings.loops,
      system: chosen,
    },
    { courseId, courseDay: day },
  );
  return { drillId: id };
}
