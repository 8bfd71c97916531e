import type { z } from "zod";
import { groupBy } from "../../core/lists";
import { instrumentById } from "../../core/music";
import { type Criterion, withoutExempt } from "../../core/progress";
import { derivePart, withTempo } from "../../core/score";
import {
  barsOfAssessments,
  LineRevision,
  Mark,
  Media,
  type QueueRow,
  Review,
  sectionBars,
  Take,
  type TakeOutcome,
  Task,
  takeContext,
  takesOfTask,
  takesOfWaitingTasks,
  touchBand,
} from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found, ServiceError, somebody } from "../actor";
import { audit } from "../audit";
import { scoreOfTake, termsOf } from "../giving";
import { exemptNotes, shownAnew } from "../knowledge";
import { engravePart } from "../parts";
import { decidedBy, mayHear } from "../settings";
import { bestTakes, needsEar, rankOf } from "./best";
import type { ReviewTake } from "./schema";
import { takeSummaries } from "./takes";
import type { QueueItem, TakeDetail } from "./wire";

export {
  type AssessAnswer,
  type AssessRequest,
  assessStoredTake,
  closeAssessing,
  giveUpOn,
} from "./assessing";
export { bestTakes, needsEar } from "./best";
export { eraseOldSounds } from "./retention";
export { ReviewTake } from "./schema";
export { takeSummaries } from "./takes";

/** Tasks that wait for the director with the best take of each, worst first. */
export async function listenQueue(actor: Actor): Promise<QueueItem[]> {
  const { bandId } = director(actor);
  const rows = await worstFirst(bandId);
  const bars = groupBy(
    await barsOfAssessments(rows.flatMap((row) => row.assessmentId ?? [])),
    (bar) => bar.assessmentId,
  );
  return rows.map((row) => ({
    takeId: row.takeId,
    taskId: row.taskId,
    playerName: row.playerName,
    instrumentName: instrumentById(row.instrumentId).name,
    lineTitle: row.lineTitle,
    lineNumber: row.lineNumber,
    chosen: row.chosen,
    sight: row.sight,
    remark: takeRemark(row),
    needsEar: needsEar(row),
    bars: (bars.get(row.assessmentId ?? "") ?? []).map(({ wrong, untimely }) => ({ wrong, untimely })),
  }));
}

async function worstFirst(bandId: string): Promise<QueueRow[]> {
  return bestTakes(await takesOfWaitingTasks(bandId)).sort(
    (a, b) =>
      // What nobody asked for waits behind what was given.
      Number(a.chosen) - Number(b.chosen) ||
      badness(b) - badness(a) ||
      a.playerName.localeCompare(b.playerName),
  );
}

/** What the bench could not judge comes first, then by notes wrong, then by notes uneven; what is still being heard last. */
function badness(row: QueueRow): number {
  const rank = rankOf(row);
  if (rank.kind === "ear") return 1e6;
  if (rank.kind === "waiting") return -1;
  return rank.kind === "counted" ? rank.wrong + rank.uneven / 1000 : 0;
}

/** A take in two or three words. */
export function takeRemark(row: TakeOutcome & Pick<QueueRow, "state">): string {
  if (row.state === "unreadable") return "cannot be read";
  if (row.state === "unheard") return "could not be heard";
  const rank = rankOf(row);
  if (rank.kind === "waiting") return "being listened to";
  if (rank.kind === "by-ear") return "by ear";
  if (rank.kind === "ear")
    return { "no-match": "not this line", "too-quiet": "almost silent", "no-music": "no playing heard" }[
      row.status as "no-match" | "too-quiet" | "no-music"
    ];
  const notes =
    rank.wrong > 0
      ? `${rank.wrong} wrong`
      : rank.uneven > 0
        ? `${rank.uneven} uneven`
        : rank.slow
          ? ""
          : "clean";
  return [rank.slow ? "too slow" : "", notes].filter(Boolean).join(", ");
}

/** One take with everything needed to hear, see and mark it. */
export async function takeDetail(actor: Actor, takeId: string): Promise<TakeDetail> {
  const { bandId } = director(actor);
  const take = found(await takeContext(bandId, takeId), "take");
  await mayHear(director(actor));
  const [revision, [own], all, section, exempt, decided] = await Promise.all([
    LineRevision.findByPk(take.revisionId, { attributes: ["score"] }),
    takeSummaries({ id: takeId }),
    takesOfTask(take.taskId),
    sectionBars(bandId, take.revisionId),
    exemptNotes(take.playerId, take.instrumentId),
    decidedBy(bandId),
  ]);
  const instrument = instrumentById(take.instrumentId);
  const { partId, octaveShift: octave } = take;
  const whole = derivePart(found(revision, "line").score, instrument, take.stage, { partId, octave }).score;
  const score = scoreOfTake(whole, take);
  const { criteria: marked, test } = termsOf(take);
  const { assessment } = own!;
  return {
    id: take.takeId,
    taskId: take.taskId,
    playerName: take.playerName,
    instrumentName: instrument.name,
    lineTitle: take.lineTitle,
    lineNumber: take.lineNumber,
    page: take.page,
    goalBpm: take.asked?.goalBpm ?? take.goalBpm,
    lowestBpm: take.asked?.lowestBpm ?? null,
    test,
    marked,
    takeNumber: all.findIndex((each) => each.takeId === takeId) + 1,
    takeCount: all.length,
    seconds: take.seconds,
    state: take.state,
    problem: take.problem,
    peaks: take.peaks ?? [],
    svg: await engravePart(withTempo(score, null), "medium"),
    score,
    assessment: assessment && withoutExempt(assessment, score, exempt),
    inTuneCents: decided.judging[take.stage].inTuneCents,
    hearFirst: decided.hearFirst,
    criteria: decided.criteria,
    review: own!.review,
    takes: all.map((each) => ({
      id: each.takeId,
      recordedAt: new Date(each.recordedAt).toISOString(),
      remark: takeRemark(each),
      decision: each.decision,
    })),
    section: sectionOf(section, whole.parts[0].measures.length),
  };
}

/** Where takes of this line went wrong, by instrument and bar, over the whole band. */
function sectionOf(rows: Awaited<ReturnType<typeof sectionBars>>, measures: number): TakeDetail["section"] {
  const instruments = [...new Set(rows.map((row) => row.instrumentId))];
  return instruments.map((id) => ({
    instrument: instrumentById(id).name,
    bars: Array.from({ length: measures }, (_, index) => {
      const row = rows.find((each) => each.instrumentId === id && each.measureIndex === index);
      return { wrong: row?.wrong ?? 0, takes: row?.takes ?? 0 };
    }),
  }));
}

/** Keeps the director's word on a take: marks, comment, and whether it is accepted or asked again. A later word replaces an earlier one. */
export async function reviewTake(
  actor: Actor,
  takeId: string,
  input: z.output<typeof ReviewTake>,
): Promise<{ next: string | null }> {
  const who = director(actor);
  const take = found(await Take.findOne({ where: { id: takeId, bandId: who.bandId } }), "take");
  const queue = await worstFirst(who.bandId);
  const place = queue.findIndex((item) => item.taskId === take.taskId);
  const next = queue[place + 1]?.takeId ?? queue.find((item) => item.taskId !== take.taskId)?.takeId ?? null;
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
        reviewedAt: new Date(),
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
  return { next };
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

/** Where the sound of a take lies, for its player and the band's director only. The lossless copy is preferred. */
export async function takeSound(
  actor: Actor,
  takeId: string,
): Promise<{ storeKey: string; contentType: string; bytes: number }> {
  const who = somebody(actor);
  const take = found(await Take.findOne({ where: { id: takeId, bandId: who.bandId } }), "take");
  if (who.kind === "player" && take.playerId !== who.playerId)
    throw new ServiceError("not-found", "This take does not exist, or it belongs to somebody else.");
  if (who.kind === "director") await mayHear(who);
  const media = found(await Media.findByPk(take.canonicalId ?? take.originalId), "recording");
  if (media.erasedAt)
    throw new ServiceError(
      "not-found",
      "The sound of this take was erased, as your band decided for takes of its age.",
    );
  return { storeKey: media.storeKey, contentType: media.contentType, bytes: Number(media.bytes) };
}
