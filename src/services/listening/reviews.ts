import { v7 as uuid } from "uuid";
import type { z } from "zod";
import type { Criterion } from "../../core/progress";
import { Band, Mark, OutboxLetter, Review, reviewedLines, Take, Task, touchBand, User } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found } from "../actor";
import { audit } from "../audit";
import { shownAnew } from "../knowledge";
import { decidedBy } from "../settings";
import type { ReviewTake } from "./schema";

/** Keeps the director's word on a take: marks, comment, and whether it is accepted or asked again. A later word replaces an earlier one. */
export async function reviewTake(
  actor: Actor,
  takeId: string,
  input: z.output<typeof ReviewTake>,
): Promise<void> {
  const who = director(actor);
  const take = found(await Take.findOne({ where: { id: takeId, bandId: who.bandId } }), "take");
  const { release } = await decidedBy(who.bandId);
  const now = new Date();
  await database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    await Mark.destroy({ where: { takeId }, transaction });
    await Review.upsert(
      {
        takeId,
        bandId: who.bandId,
        reviewerId: who.userId,
        decision: input.decision,
        comment: input.comment,
        reviewedAt: now,
        releasedAt: release === "at-once" ? now : null,
      },
      { transaction },
    );
    const marks = Object.entries(input.marks) as [Criterion, number][];
    await Mark.bulkCreate(
      marks.map(([criterion, score]) => ({ takeId, bandId: who.bandId, criterion, score })),
      { transaction },
    );
    await Task.update({ state: input.decision }, { where: { id: take.taskId }, transaction });
    await shownAnew(take, transaction);
    await audit(who, `review-${input.decision}`, takeId, transaction);
  });
}

/** Takes the director's word on a take back: the take waits again, as it did before. */
export async function takeBackReview(actor: Actor, takeId: string): Promise<void> {
  const who = director(actor);
  const take = found(await Take.findOne({ where: { id: takeId, bandId: who.bandId } }), "take");
  await database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    await Mark.destroy({ where: { takeId }, transaction });
    const undone = await Review.destroy({ where: { takeId }, transaction });
    if (undone === 0) return;
    await Task.update({ state: "sent" }, { where: { id: take.taskId }, transaction });
    await shownAnew(take, transaction);
    await audit(who, "take-back-review", takeId, transaction);
  });
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
