import { groupBy } from "../../core/lists";
import { instrumentById } from "../../core/music";
import { type CauseKind, distrustedKinds } from "../../core/progress";
import {
  Band,
  barsOfAssessments,
  claimTask,
  type DeskRow,
  engineRecord,
  heardTakes,
  type QueueRow,
  queueFacets,
  queuePage,
  reviewsHeldBack,
  type TakeOutcome,
  Task,
} from "../../data";
import { type Actor, director, found } from "../actor";
import { dayLabel, today } from "../calendar";
import { decidedBy } from "../settings";
import { needsEar, rankOf } from "./best";
import { AskQueue } from "./schema";
import type { HeardItem, QueueChoices, QueueItem, QueuePage } from "./wire";

/** So many are listed at once. */
const A_PAGE = 60;
/** A take that is open on a desk is kept for its director so long, seconds; the desk renews it. */
const CLAIM_SECONDS = 120;

/** A page of the tasks that wait, each by its best take, in the asked order. */
export async function listenQueue(actor: Actor, ask: AskQueue = AskQueue.parse({})): Promise<QueuePage> {
  const { bandId, userId } = director(actor);
  const { group, instrument, line, ...asked } = ask;
  const { rows, total, needEar } = await queuePage(bandId, userId, {
    ...asked,
    groupId: group,
    instrumentId: instrument,
    lineId: line,
    most: A_PAGE,
  });
  const bars = groupBy(
    await barsOfAssessments(rows.flatMap((row) => row.assessmentId ?? [])),
    (bar) => bar.assessmentId,
  );
  return {
    items: rows.map((row) =>
      itemOf(
        row,
        (bars.get(row.assessmentId ?? "") ?? []).map(({ wrong, untimely }) => ({ wrong, untimely })),
      ),
    ),
    total,
    needEar,
  };
}

function itemOf(row: DeskRow, bars: QueueItem["bars"]): QueueItem {
  return {
    takeId: row.takeId,
    taskId: row.taskId,
    playerName: row.playerName,
    instrumentName: instrumentById(row.instrumentId).name,
    lineTitle: row.lineTitle,
    lineNumber: row.lineNumber,
    chosen: row.chosen,
    sight: row.sight,
    asked: row.asked,
    dueLabel: dayLabel(row.dueDate),
    claimedBy: row.claimedBy,
    remark: causesRemark(row),
    needsEar: needsEar(row),
    bars,
  };
}

/** What the queue can be narrowed to, with how many wait of each; and the answers that wait to be released. */
export async function queueChoices(actor: Actor): Promise<QueueChoices> {
  const { bandId } = director(actor);
  const [facets, held, record, { release, trustPercent }] = await Promise.all([
    queueFacets(bandId),
    reviewsHeldBack(bandId),
    engineRecord(bandId),
    decidedBy(bandId),
  ]);
  type Facet = (typeof facets)[number];
  const counted = (id: (facet: Facet) => string, name: (facet: Facet) => string) =>
    [...groupBy(facets, id)].map(([key, own]) => ({
      id: key,
      name: name(own[0]!),
      tasks: own.reduce((sum, { tasks }) => sum + tasks, 0),
    }));
  return {
    groups: counted(
      ({ groupId }) => groupId,
      ({ groupName }) => groupName,
    ),
    instruments: counted(
      ({ instrumentId }) => instrumentId,
      ({ instrumentId }) => instrumentById(instrumentId).name,
    ),
    lines: counted(
      ({ lineId }) => lineId,
      ({ lineNumber, lineTitle }) => (lineNumber ? `No. ${lineNumber} ${lineTitle}` : lineTitle),
    ),
    // What was held back before the band decided otherwise still waits.
    heldBack: release === "together" || held > 0 ? held : null,
    distrusted: distrustedKinds(record, trustPercent / 100) as CauseKind[],
  };
}

/** Takes on which a word was said, the newest first: to be opened and marked again. */
export async function heardQueue(actor: Actor, after: number): Promise<HeardItem[]> {
  const { bandId } = director(actor);
  const { timeZone } = found(await Band.findByPk(bandId, { attributes: ["timeZone"] }), "band");
  const rows = await heardTakes(bandId, after, A_PAGE);
  return rows.map((row) => ({
    takeId: row.takeId,
    taskId: row.taskId,
    playerName: row.playerName,
    instrumentName: instrumentById(row.instrumentId).name,
    lineTitle: row.lineTitle,
    lineNumber: row.lineNumber,
    decision: row.decision,
    released: row.released,
    heardLabel: dayLabel(today(timeZone, new Date(row.reviewedAt).getTime())),
    remark: takeRemark(row),
  }));
}

/** Keeps the task of a take for this director while it is open. @returns who else hears it just now */
export async function claim(actor: Actor, taskId: string): Promise<{ by: string | null }> {
  const { bandId, userId } = director(actor);
  found(await Task.findOne({ where: { id: taskId, bandId }, attributes: ["id"] }), "task");
  return { by: await claimTask(bandId, taskId, userId, CLAIM_SECONDS) };
}

/** As `takeRemark`, with causes counted instead of notes where they are known. */
function causesRemark(row: DeskRow): string {
  const rank = rankOf(row);
  if (rank.kind !== "counted" || row.causes === 0) return takeRemark(row);
  const causes = row.causes === 1 ? "1 finding" : `${row.causes} findings`;
  return rank.slow ? `too slow, ${causes}` : causes;
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
