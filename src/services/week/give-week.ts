import { Op } from "sequelize";
import type { z } from "zod";
import { groupBy } from "../../core/lists";
import { keyOf } from "../../core/plan";
import { Assignment, aloneWithPlan, raisePlan, StripRow } from "../../data";
import { database } from "../../server/database";
import { type Actor, type Director, director, ServiceError } from "../actor";
import { giveDrill } from "../counting";
import { assign, setWithdrawn } from "../giving";
import { lineFacts } from "../shelf";
import { onlyForOf, stripOf } from "./ribbon";
import type { GiveWeek, StripView } from "./schema";

export interface GivenWeek {
  /** `tasks` is null for what stands beside tasks, to be ticked off. */
  given: { title: string; tasks: number | null; assignmentId: string | null }[];
  /** What could not be given, each with its sentence. */
  refused: { title: string; why: string }[];
}

/**
 * Puts strips of home rows on the stands: what stands there on several days is one task, asked for as many times, due on the
 * last of them. What has been given already is left alone, so that a second click gives nothing twice.
 */
export async function giveWeek(actor: Actor, input: z.output<typeof GiveWeek>): Promise<GivenWeek> {
  const who = director(actor);
  return alone(who, () => give(who, input));
}

/** A double click, and two directors at once, give and take back one after the other. */
async function alone<T>(who: Director, work: () => Promise<T>): Promise<T> {
  const done = await database().transaction((transaction) =>
    aloneWithPlan(who.bandId, transaction, async () => ({ done: await work() })),
  );
  if (!done) throw new ServiceError("conflict", "Work is being given just now. Look at the week again.");
  return done.done;
}

async function give(who: Director, { stripIds }: z.output<typeof GiveWeek>): Promise<GivenWeek> {
  const rows = await StripRow.findAll({
    where: {
      id: stripIds,
      bandId: who.bandId,
      atHome: true,
      removedAt: null,
      assignmentId: null,
      givenAt: null,
    },
    order: ["date", "place", "id"],
  });
  if (rows.length === 0) {
    const there = await StripRow.count({ where: { id: stripIds, bandId: who.bandId } });
    if (there === 0) throw new ServiceError("not-found", "This is not in the plan any more.");
    throw new ServiceError("conflict", "Everything of this is on the stands already.");
  }
  const facts = new Map((await lineFacts(who.bandId)).map((line) => [line.id, line]));
  const answer: GivenWeek = { given: [], refused: [] };
  for (const strips of groupBy(rows.map(stripOf), sameTask).values()) {
    const first = strips[0]!;
    const { title } = first;
    try {
      const given = await giveOne(who, strips, facts.get(first.refId ?? "")?.outline.bpm ?? USUAL_BPM);
      answer.given.push({ title, ...(given ?? (await besideTasks(who, strips))) });
    } catch (error) {
      if (!(error instanceof ServiceError)) throw error;
      answer.refused.push({ title, why: error.message });
    }
  }
  return answer;
}

const USUAL_BPM = 80;

/** One task: the same thing and bars for the same people. */
const sameTask = ({ groupId, kind, refId, title, forWhom, firstBar, lastBar }: StripView) =>
  [groupId, kind, refId ?? title, keyOf(forWhom), firstBar, lastBar].join("/");

/** @returns null for what is done without the stand: cards, words, worksheets */
async function giveOne(
  who: Director,
  strips: readonly StripView[],
  goalBpm: number,
): Promise<{ tasks: number; assignmentId: string } | null> {
  const first = strips[0]!;
  const { groupId, refId, forWhom, firstBar, lastBar, kind } = first;
  if (refId === null) return null;
  const terms = {
    groupId,
    goalBpm,
    timesPerWeek: Math.min(14, strips.length),
    dueDate: strips.at(-1)!.date,
    note: strips.map(({ note }) => note).find(Boolean) ?? "",
    only: onlyForOf(forWhom),
    ...(first.terms ? { terms: first.terms } : {}),
    // What stands on the ribbon was asked and answered there.
    sure: ["again" as const, "day-off" as const],
  };
  const given =
    kind === "line"
      ? await assign(who, { ...terms, lineId: refId, firstBar, lastBar })
      : kind === "counting"
        ? await giveDrill(who, refId, terms)
        : null;
  if (!given) return null;
  await database().transaction(async (transaction) => {
    const version = await raisePlan(who.bandId, transaction);
    await StripRow.update(
      { assignmentId: given.assignmentId, version },
      { where: { id: strips.map(({ id }) => id), bandId: who.bandId }, transaction },
    );
  });
  return { tasks: given.tasks, assignmentId: given.assignmentId };
}

/** Sheets, listening, cards, pieces and words: on the stands as they are, each day to be ticked off. */
async function besideTasks(
  who: Director,
  strips: readonly StripView[],
): Promise<{ tasks: null; assignmentId: null }> {
  await database().transaction(async (transaction) => {
    const version = await raisePlan(who.bandId, transaction);
    await StripRow.update(
      { givenAt: new Date(), version },
      { where: { id: strips.map(({ id }) => id), bandId: who.bandId }, transaction },
    );
  });
  return { tasks: null, assignmentId: null };
}

/** Takes back what was given for strips: undo of `giveWeek`. */
export async function takeWeekBack(actor: Actor, input: z.output<typeof GiveWeek>): Promise<void> {
  const who = director(actor);
  return alone(who, () => takeBack(who, input));
}

async function takeBack(who: Director, { stripIds }: z.output<typeof GiveWeek>): Promise<void> {
  const rows = await StripRow.findAll({
    where: {
      id: stripIds,
      bandId: who.bandId,
      [Op.or]: [{ assignmentId: { [Op.ne]: null } }, { givenAt: { [Op.ne]: null } }],
    },
  });
  if (rows.length === 0) throw new ServiceError("not-found", "Nothing of this is on the stands.");
  const ids = [...new Set(rows.flatMap(({ assignmentId }) => assignmentId ?? []))];
  const open = await Assignment.findAll({ where: { id: ids, bandId: who.bandId, withdrawnAt: null } });
  for (const { id } of open) await setWithdrawn(who, id, true);
  await database().transaction(async (transaction) => {
    const version = await raisePlan(who.bandId, transaction);
    await StripRow.update(
      { assignmentId: null, givenAt: null, version },
      { where: { id: rows.map(({ id }) => id), bandId: who.bandId }, transaction },
    );
  });
}
