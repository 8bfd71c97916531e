import { instrumentById } from "../../core/music";
import { type Purpose, type Score, withTempo } from "../../core/score";
import {
  Assignment,
  Band,
  LineRevision,
  PlayerInstrument,
  type StandRow,
  Task,
  tasksOfPlayer,
} from "../../data";
import type { EngravingWidth } from "../../server/engrave";
import { type Actor, found, type PlayerActor, player } from "../actor";
import { dayLabel, today } from "../calendar";
import { countingPicture, countingSystems } from "../counting";
import { takeSummaries } from "../listening";
import { ownFingerings, partOf, viewOfPart, withPencil } from "../parts";
import { pencilOf, recordingsOf } from "../shelf";
import type { StandTask, StandView, TaskDetail } from "./wire";

export { BeginUpload } from "./schema";
export { beginUpload, completeUpload, hearAgain, putChunk, QUOTAS, sweepUploads } from "./uploads";
export { CHUNK_BYTES } from "./wire";

/** A player's tasks: what is asked again first, then open ones by due date, then what is done. */
export async function stand(actor: Actor): Promise<StandView> {
  const who = player(actor);
  const [band, rows] = await Promise.all([Band.findByPk(who.bandId), tasksOfPlayer(who.playerId)]);
  const { timeZone, name } = found(band, "band");
  const tasks = rows.map((row) => standTask(row, today(timeZone)));
  const urgency = { again: 0, open: 1, sent: 2, accepted: 3 };
  tasks.sort((a, b) => urgency[a.state] - urgency[b.state] || a.dueDate.localeCompare(b.dueDate));
  return { playerName: who.name, bandName: name, tasks };
}

function standTask({ instrumentId, ...row }: StandRow, now: string): StandTask {
  return {
    ...row,
    instrumentName: instrumentById(instrumentId).name,
    dueLabel: dayLabel(row.dueDate),
    overdue: row.dueDate < now,
  };
}

/** One task with the part to play from and everything sent so far. */
export async function taskDetail(actor: Actor, taskId: string, width: EngravingWidth): Promise<TaskDetail> {
  const who = player(actor);
  const task = await ownTask(who, taskId);
  const band = found(await Band.findByPk(who.bandId), "band");
  const [row] = await tasksOfPlayer(who.playerId, task.id);
  const view = standTask(found(row, "task"), today(band.timeZone));
  const assignment = found(await Assignment.findByPk(task.assignmentId), "task");
  const revision = found(await LineRevision.findByPk(assignment.revisionId), "line");
  const asked = withTempo(revision.score, assignment.goalBpm);
  // The part as it was made when the task was given; fingerings are those of the band and of the instrument in hand today.
  const { instrumentId, partId, stage, octaveShift: octave } = task;
  const played = await PlayerInstrument.findOne({
    where: { playerId: who.playerId, instrumentId, toDate: null },
  });
  const instrument = instrumentById(instrumentId);
  const made = partOf(asked, instrument, stage, { partId, octave });
  const part = await viewOfPart(made, instrument, stage, width, {
    variant: played ? played.variant : task.variant,
    own: await ownFingerings(who.bandId, instrumentId),
  });
  const pencil = await pencilOf(who, revision.lineId, instrumentId);
  const { purpose } = revision.score;
  const counting = purpose?.kind === "counting" ? await countingOf(who, purpose, asked, width) : null;
  return {
    ...view,
    instrumentId,
    lineId: revision.lineId,
    catalogued: revision.score.catalogued ?? false,
    part: { ...part, svg: withPencil(counting?.svg ?? part.svg, pencil) },
    counting: counting && { forms: counting.forms, system: counting.system },
    score: made.score,
    pencil,
    recordings: await recordingsOf(who, revision.lineId),
    tolerances: {
      pitchToleranceCents: band.pitchToleranceCents,
      timingToleranceMs: band.timingToleranceMs,
      a4Hz: Number(band.a4Hz),
    },
    history: await takeSummaries({ taskId: task.id }),
  };
}

/** What a counting page needs beside its notes: its bars by name, the system it is counted in, and that written under it. */
async function countingOf(
  who: PlayerActor,
  { forms, system }: Extract<Purpose, { kind: "counting" }>,
  score: Score,
  width: EngravingWidth,
): Promise<NonNullable<TaskDetail["counting"]> & { svg: string }> {
  const { systems, chosen } = await countingSystems(who);
  const used = systems.find((each) => each.id === (system ?? chosen)) ?? systems[0]!;
  return { forms, system: used, svg: await countingPicture(who.bandId, score, width, system) };
}

async function ownTask(who: PlayerActor, taskId: string): Promise<Task> {
  return found(
    await Task.findOne({ where: { id: taskId, playerId: who.playerId, bandId: who.bandId } }),
    "task",
  );
}
