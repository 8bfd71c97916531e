import { QueryTypes } from "sequelize";
import type { z } from "zod";
import { instrumentById } from "../../core/music";
import { withTempo } from "../../core/score";
import { Assignment, Line, LineRevision, Mark, Media, Player, Review, Take, Task } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found, ServiceError, somebody } from "../actor";
import { audit } from "../audit";
import { engravePart, partOf } from "../shelf/part";
import type { ReviewTake } from "./schema";
import { takeSummaries } from "./takes";
import type { Criterion, QueueItem, TakeDetail } from "./wire";

export { ReviewTake } from "./schema";

/** Takes that wait for the director, worst first. */
export async function listenQueue(actor: Actor): Promise<QueueItem[]> {
  const { bandId } = director(actor);
  const rows = await database().query<{
    takeId: string;
    playerName: string;
    instrumentId: string;
    lineTitle: string;
    lineNumber: number | null;
    state: string;
    problem: string | null;
    assessmentId: string | null;
    status: string | null;
    total: number | null;
    clean: number | null;
    wrong: number | null;
  }>(
    `SELECT k.id AS takeId, p.name AS playerName, t.instrument_id AS instrumentId, l.title AS lineTitle, l.number AS lineNumber, k.state, k.problem,
       s.id AS assessmentId, s.status, s.notes_total AS total, s.notes_clean AS clean, s.notes_wrong AS wrong
     FROM tasks t
     JOIN takes k ON k.id = (SELECT x.id FROM takes x WHERE x.task_id = t.id ORDER BY x.created_at DESC, x.id DESC LIMIT 1)
     JOIN players p ON p.id = t.player_id
     JOIN assignments a ON a.id = t.assignment_id
     JOIN line_revisions r ON r.id = a.revision_id
     JOIN \`lines\` l ON l.id = r.line_id
     LEFT JOIN assessments s ON s.id = (SELECT y.id FROM assessments y WHERE y.take_id = k.id ORDER BY y.id DESC LIMIT 1)
     WHERE t.band_id = ? AND t.state = 'sent' LIMIT 500`,
    { replacements: [bandId], type: QueryTypes.SELECT },
  );
  const assessed = rows.flatMap((row) => (row.assessmentId ? [row.assessmentId] : []));
  const bars =
    assessed.length === 0
      ? []
      : await database().query<{
          assessmentId: string;
          measureIndex: number;
          wrong: number;
          untimely: number;
        }>(
          "SELECT assessment_id AS assessmentId, measure_index AS measureIndex, wrong, untimely FROM assessment_bars WHERE assessment_id IN (:assessed) ORDER BY measure_index",
          { replacements: { assessed }, type: QueryTypes.SELECT },
        );
  const byAssessment = new Map<string, QueueItem["bars"]>();
  for (const { assessmentId, wrong, untimely } of bars)
    byAssessment.set(assessmentId, [...(byAssessment.get(assessmentId) ?? []), { wrong, untimely }]);
  return rows
    .sort((a, b) => badness(b) - badness(a) || a.playerName.localeCompare(b.playerName))
    .map((row) => ({
      takeId: row.takeId,
      playerName: row.playerName,
      instrumentName: instrumentById(row.instrumentId).name,
      lineTitle: row.lineTitle,
      lineNumber: row.lineNumber,
      remark: remark(row),
      needsEar: row.status !== "assessed" && row.state !== "waiting",
      bars: byAssessment.get(row.assessmentId ?? "") ?? [],
    }));
}

/** What the bench could not judge comes first, then by notes wrong, then by notes uneven; what is still being heard last. */
function badness(row: {
  state: string;
  status: string | null;
  total: number | null;
  clean: number | null;
  wrong: number | null;
}): number {
  if (row.status === "assessed") return row.wrong! + (row.total! - row.clean! - row.wrong!) / 1000;
  return row.state === "waiting" ? -1 : 1e6;
}

function remark(row: {
  state: string;
  status: string | null;
  total: number | null;
  clean: number | null;
  wrong: number | null;
}): string {
  if (row.state === "unreadable") return "cannot be read";
  if (row.state === "waiting") return "being listened to";
  if (row.status !== "assessed")
    return (
      { "no-match": "not this line", "too-quiet": "almost silent", "no-music": "no playing heard" }[
        row.status!
      ] ?? ""
    );
  if (row.total === 0) return "by ear";
  if (row.wrong) return `${row.wrong} wrong`;
  const uneven = row.total! - row.clean!;
  return uneven ? `${uneven} uneven` : "clean";
}

/** One take with everything needed to hear, see and mark it. */
export async function takeDetail(actor: Actor, takeId: string): Promise<TakeDetail> {
  const { bandId } = director(actor);
  const take = found(await Take.findOne({ where: { id: takeId, bandId } }), "take");
  const task = found(await Task.findByPk(take.taskId), "task");
  const assignment = found(await Assignment.findByPk(task.assignmentId), "assignment");
  const revision = found(await LineRevision.findByPk(assignment.revisionId), "line");
  const line = found(await Line.findByPk(revision.lineId), "line");
  const who = found(await Player.findByPk(take.playerId), "player");
  const instrument = instrumentById(task.instrumentId);
  const { score } = partOf(revision.score, instrument, who.stage, task.partId);
  const summaries = await takeSummaries({ taskId: task.id });
  const own = found(
    summaries.find((each) => each.id === takeId),
    "take",
  );
  const place = summaries.indexOf(own);
  return {
    id: take.id,
    playerName: who.name,
    instrumentName: instrument.name,
    lineTitle: line.title,
    lineNumber: line.number,
    page: line.page,
    goalBpm: assignment.goalBpm,
    takeNumber: summaries.length - place,
    takeCount: summaries.length,
    seconds: Number(take.seconds),
    state: take.state,
    problem: take.problem,
    peaks: take.peaks ?? [],
    svg: await engravePart(withTempo(score, null), "medium"),
    score,
    assessment: own.assessment,
    review: own.review,
    earlier: summaries.slice(place + 1).map((each) => ({ id: each.id, recordedAt: each.recordedAt })),
    section: await sectionBars(bandId, revision.id, score.parts[0].measures.length),
  };
}

/** Where takes of this line went wrong, by instrument and bar, over the whole band. */
async function sectionBars(
  bandId: string,
  revisionId: string,
  measures: number,
): Promise<TakeDetail["section"]> {
  const rows = await database().query<{
    instrumentId: string;
    measureIndex: number;
    wrong: number;
    takes: number;
  }>(
    `SELECT t.instrument_id AS instrumentId, b.measure_index AS measureIndex, SUM(b.wrong > 0) AS wrong, COUNT(*) AS takes
     FROM assignments a JOIN tasks t ON t.assignment_id = a.id JOIN takes k ON k.task_id = t.id
     JOIN assessments s ON s.take_id = k.id AND s.status = 'assessed' JOIN assessment_bars b ON b.assessment_id = s.id
     WHERE a.band_id = ? AND a.revision_id = ? GROUP BY t.instrument_id, b.measure_index`,
    { replacements: [bandId, revisionId], type: QueryTypes.SELECT },
  );
  const instruments = [...new Set(rows.map((row) => row.instrumentId))];
  return instruments.map((id) => ({
    instrument: instrumentById(id).name,
    bars: Array.from({ length: measures }, (_, index) => {
      const row = rows.find((each) => each.instrumentId === id && each.measureIndex === index);
      return { wrong: Number(row?.wrong ?? 0), takes: Number(row?.takes ?? 0) };
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
  const queue = await listenQueue(actor);
  const place = queue.findIndex((item) => item.takeId === takeId);
  const next = queue[place + 1]?.takeId ?? queue.find((item) => item.takeId !== takeId)?.takeId ?? null;
  await database().transaction(async (transaction) => {
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
    await audit(who, `review-${input.decision}`, takeId, transaction);
  });
  return { next };
}

/** Takes the director's word on a take back: the take waits again, as it did before. */
export async function takeBackReview(actor: Actor, takeId: string): Promise<void> {
  const who = director(actor);
  const take = found(await Take.findOne({ where: { id: takeId, bandId: who.bandId } }), "take");
  await database().transaction(async (transaction) => {
    await Mark.destroy({ where: { takeId }, transaction });
    const undone = await Review.destroy({ where: { takeId }, transaction });
    if (undone === 0) return;
    await Task.update({ state: "sent" }, { where: { id: take.taskId }, transaction });
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
  const media = found(await Media.findByPk(take.canonicalId ?? take.originalId), "recording");
  return { storeKey: media.storeKey, contentType: media.contentType, bytes: Number(media.bytes) };
}
