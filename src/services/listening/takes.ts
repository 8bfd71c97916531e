import type { WhereOptions } from "sequelize";
import { gapSeconds } from "../../core/listen";
import { currentResults, Mark, Review, Take, User } from "../../data";
import { found } from "../actor";
import type { TakeSummary } from "../practice/wire";

/** Takes with their current assessment and review, newest take first. */
export async function takeSummaries(where: WhereOptions): Promise<TakeSummary[]> {
  const takes = await Take.findAll({
    where,
    order: [
      ["created_at", "DESC"],
      ["id", "DESC"],
    ],
    attributes: { exclude: ["peaks"] },
    limit: 50,
  });
  if (takes.length === 0) return [];
  const ids = takes.map((take) => take.id);
  const [assessments, reviews, marks] = await Promise.all([
    currentResults(ids),
    Review.findAll({ where: { takeId: ids } }),
    Mark.findAll({ where: { takeId: ids } }),
  ]);
  const reviewers =
    reviews.length === 0
      ? []
      : await User.findAll({
          where: { id: reviews.map((review) => review.reviewerId) },
          attributes: ["id", "name"],
        });
  return takes.map((take) => {
    const review = reviews.find((each) => each.takeId === take.id);
    return {
      id: take.id,
      recordedAt: take.recordedAt.toISOString(),
      seconds: Number(take.seconds),
      state: take.state,
      problem: take.problem,
      leftOutSec: gapSeconds(take.gaps ?? [], Number(take.seconds)),
      assessment: assessments.find((each) => each.takeId === take.id)?.result ?? null,
      review: review
        ? {
            decision: review.decision,
            comment: review.comment,
            forFamily: review.forFamily,
            marks: Object.fromEntries(
              marks.filter((mark) => mark.takeId === take.id).map((mark) => [mark.criterion, mark.score]),
            ),
            markedBy: review.markedBy ?? null,
            released: review.releasedAt !== null,
            reviewer: reviewers.find((user) => user.id === review.reviewerId)?.name ?? "",
          }
        : null,
    };
  });
}

/** One take as its player sees it: what a director said only once it is released. */
export async function ownTakeSummary(takeId: string): Promise<TakeSummary> {
  const take = found((await takeSummaries({ id: takeId }))[0], "take");
  return { ...take, review: take.review?.released ? take.review : null };
}
