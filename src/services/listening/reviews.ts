import { v7 as uuid } from "uuid";
import type { z } from "zod";
import type { Asks } from "../../core/practice";
import { type Marks, type Rubric, suggestedMarks } from "../../core/progress";
import {
  Assignment,
  Band,
  cleanSamplesHeard,
  cleanTakes,
  currentResults,
  LineRevision,
  Mark,
  OutboxLetter,
  Review,
  reviewedLines,
  Take,
  Task,
  touchBand,
  User,
} from "../../data";
import { database } from "../../server/database";
import { type Actor, type Director, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { shownAnew } from "../knowledge";
import { decidedBy, mayHear } from "../settings";
import { checkMarks, markingOf } from "./marking";
import type { AcceptTogether, ReviewTake } from "./schema";
import type { CleanTakes } from "./wire";

/** Keeps the director's word on a take: marks, comment, and whether it is accepted or asked again. A later word replaces an earlier one. */
export async function reviewTake(
  actor: Actor,
  takeId: string,
  input: z.input<typeof ReviewTake>,
): Promise<void> {
  const who = director(actor);
  const take = found(await Take.findOne({ where: { id: takeId, bandId: who.bandId } }), "take");
  const before = await Review.findByPk(takeId);
  // A mark that is changed stays within the rubric it was given by.
  const markedBy = before?.markedBy ?? (await markingOf(take.taskId));
  checkMarks(markedBy, input.marks);
  const asks = input.decision === "again" ? await barsThatAre(take, input.asks ?? null) : null;
  await keepReview(who, take, {
    ...input,
    comment: input.comment ?? "",
    forFamily: input.forFamily ?? "",
    asks,
    markedBy,
    unheard: false,
  });
}

type Word = Pick<z.output<typeof ReviewTake>, "decision" | "comment" | "marks" | "forFamily"> &
  Pick<Review, "markedBy" | "unheard"> & { asks: Asks | null };

async function keepReview(who: Director, take: Take, word: Word): Promise<void> {
  const { id: takeId, bandId, taskId } = take;
  const { release } = await decidedBy(bandId);
  const now = new Date();
  const { decision, comment, forFamily, markedBy, unheard, asks } = word;
  await database().transaction(async (transaction) => {
    await touchBand(bandId, transaction);
    await Mark.destroy({ where: { takeId }, transaction });
    await Review.upsert(
      {
        takeId,
        bandId,
        reviewerId: who.userId,
        decision,
        comment,
        forFamily,
        reviewedAt: now,
        releasedAt: release === "at-once" ? now : null,
        markedBy,
        unheard,
      },
      { transaction },
    );
    await Mark.bulkCreate(
      Object.entries(word.marks).map(([criterion, score]) => ({ takeId, bandId, criterion, score })),
      { transaction },
    );
    await Task.update({ state: decision, asks }, { where: { id: taskId }, transaction });
    await shownAnew(take, transaction);
    await audit(who, unheard ? "accept-together" : `review-${decision}`, takeId, transaction);
  });
}

/** @throws ServiceError where the bars that are asked for are not in the line */
async function barsThatAre(take: Take, asks: Asks | null): Promise<Asks | null> {
  if (!asks || (asks.goalBpm === null && asks.bars === null)) return null;
  const task = await Task.findByPk(take.taskId);
  const assignment = await Assignment.findByPk(task!.assignmentId);
  const { firstBar, lastBar } = assignment!;
  const all = (await LineRevision.findByPk(assignment!.revisionId))!.score.parts[0].measures.length;
  const { bars } = asks;
  if (bars && (bars.firstBar < (firstBar ?? 0) || bars.lastBar > (lastBar ?? all - 1)))
    throw new ServiceError("bad-input", "These bars are not among those that were given.");
  return asks;
}

/** Takes the director's word on a take back: the take waits again, as it did before. */
export async function takeBackReview(actor: Actor, takeId: string): Promise<void> {
  const who = director(actor);
  const take = found(await Take.findOne({ where: { id: takeId, bandId: who.bandId } }), "take");
  await takeBack(who, take);
}

async function takeBack(who: Director, take: Take): Promise<void> {
  const takeId = take.id;
  await database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    await Mark.destroy({ where: { takeId }, transaction });
    const undone = await Review.destroy({ where: { takeId }, transaction });
    if (undone === 0) return;
    await Task.update({ state: "sent", asks: null }, { where: { id: take.taskId }, transaction });
    await shownAnew(take, transaction);
    await audit(who, "take-back-review", takeId, transaction);
  });
}

/** So long ago a sample may have been heard, hours: an evening. */
const SAMPLED_HOURS = 12;

/**
 * Accepts takes that were found clean without hearing each, after this director heard the band's number of samples; or takes that
 * back. What is not clean any more, has a question, or was heard in between is passed over: those that were done are named.
 *
 * @throws ServiceError before enough samples were heard
 */
export async function acceptTogether(
  actor: Actor,
  { takeIds, accepted }: z.output<typeof AcceptTogether>,
): Promise<{ takeIds: string[] }> {
  const who = director(actor);
  await mayHear(who);
  const takes = await Take.findAll({ where: { id: takeIds, bandId: who.bandId } });
  if (takes.length < new Set(takeIds).size) found(null, "take");
  if (!accepted) {
    const given = await Review.findAll({ where: { takeId: takeIds, unheard: true }, attributes: ["takeId"] });
    const those = new Set(given.map(({ takeId }) => takeId));
    const back = takes.filter(({ id }) => those.has(id));
    for (const take of back) await takeBack(who, take);
    return { takeIds: back.map(({ id }) => id) };
  }
  const { markTogether } = await decidedBy(who.bandId);
  const { takeIds: waiting, samples, heard } = await cleanWaiting(who);
  if (heard < samples)
    throw new ServiceError(
      "conflict",
      `Hear ${samples} of the clean takes first; you have heard ${heard}. Your band decided so in Settings.`,
    );
  const clean = new Set(waiting);
  const done: string[] = [];
  for (const take of takes.filter(({ id }) => clean.has(id))) {
    const markedBy = await markingOf(take.taskId);
    const marks =
      markTogether && markedBy.rubric.school === "marks" ? await suggestionOf(take.id, markedBy.rubric) : {};
    await keepReview(who, take, {
      decision: "accepted",
      comment: "",
      forFamily: "",
      marks,
      markedBy,
      unheard: true,
      asks: null,
    });
    done.push(take.id);
  }
  return { takeIds: done };
}

/** The takes in which nothing was found, and how far this director is with the samples. */
export async function cleanWaiting(actor: Actor): Promise<CleanTakes> {
  const { bandId, userId } = director(actor);
  const [takeIds, heard, { cleanSamples }] = await Promise.all([
    cleanTakes(bandId, userId),
    cleanSamplesHeard(bandId, userId, SAMPLED_HOURS),
    decidedBy(bandId),
  ]);
  return { takeIds, samples: cleanSamples, heard };
}

async function suggestionOf(takeId: string, rubric: Rubric): Promise<Marks> {
  const [row] = await currentResults([takeId]);
  return row ? suggestedMarks(rubric, row.result) : {};
}

/**
 * Lets every player see what was said and held back, and writes one letter for all families: which lines were answered, and no
 * child by name.
 */
export async function releaseReviews(actor: Actor): Promise<{ released: number; letterId: string | null }> {
  const who = director(actor);
  const [band, self] = await Promise.all([Band.findByPk(who.bandId), User.findByPk(who.userId)]);
  const lines = await reviewedLines(who.bandId);
  if (lines.length === 0) return { released: 0, letterId: null };
  const letterId = uuid();
  const released = await database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    const [count] = await Review.update(
      { releasedAt: new Date() },
      { where: { bandId: who.bandId, releasedAt: null }, transaction },
    );
    const said = lines.map(({ lineNumber, lineTitle, groupName, takes, again }) => {
      const title = lineNumber ? `No. ${lineNumber}, ${lineTitle}` : lineTitle;
      const more = again === 0 ? "" : `, ${again} of them to be played once more`;
      return `- ${title} (${groupName}): ${takes === 1 ? "1 answer" : `${takes} answers`}${more}`;
    });
    await OutboxLetter.create(
      {
        id: letterId,
        bandId: who.bandId,
        recipient: self!.email,
        subject: `${band!.name}: answers are on the stands`,
        body: `Dear families,\n\nrecordings were heard and answered:\n\n${said.join("\n")}\n\nEvery player finds the own answer on the stand.\n\n${who.name}`,
        createdAt: new Date(),
      },
      { transaction },
    );
    await audit(who, "release-reviews", letterId, transaction);
    return count;
  });
  return { released, letterId };
}
