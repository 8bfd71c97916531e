import { groupBy } from "../../core/lists";
import { instrumentById } from "../../core/music";
import { countingResult } from "../../core/progress";
import { scorePlace } from "../../core/ready";
import { Band, type GrowthTakeRow, type GrowthTaskRow, takesOfBand, tasksOfBand } from "../../data";
import { type Actor, director, found } from "../actor";
import { type Decided, settingsOf } from "../settings";
import { markOf } from "./player";
import type { GrowthCell, GrowthSight, GrowthTest, GrowthView } from "./schema";

export { playerPage } from "./player";

type Redo = Decided["redo"];

/** Players by lines: where each task stands and how clean the best take was. Best take counts, redo is free. */
export async function growthView(actor: Actor): Promise<GrowthView> {
  const { bandId } = director(actor);
  const [ownBand, tasks, takes] = await Promise.all([
    Band.findByPk(bandId),
    tasksOfBand(bandId),
    takesOfBand(bandId),
  ]);
  const band = found(ownBand, "band");
  const { redo } = settingsOf(band);
  const takesOf = groupBy(takes, (take) => take.taskId);
  // What was given to be learned stands in the table; what was read at sight, or chosen, is told apart.
  const learned = tasks.filter(({ chosen, sight }) => !chosen && !sight);
  const lines = [
    ...new Map(
      learned.map((task) => [task.lineId, { id: task.lineId, title: task.title, number: task.number }]),
    ).values(),
  ].sort((a, b) => (a.number ?? 999) - (b.number ?? 999));
  const columnOf = new Map(lines.map((line, index) => [line.id, index]));
  const players = [...groupBy(tasks, (task) => task.playerId).values()].sort(
    ([a], [b]) => scorePlace(a!.instrumentId) - scorePlace(b!.instrumentId) || a!.name.localeCompare(b!.name),
  );
  return {
    bandName: band.name,
    lines,
    players: players.map((own) => {
      const { playerId: id, name, instrumentId } = own[0]!;
      const asked = own.filter(({ chosen, sight }) => !chosen && !sight);
      const cells: GrowthView["players"][number]["cells"] = lines.map(() => null);
      for (const task of asked)
        cells[columnOf.get(task.lineId)!] = cellOf(task.state, takesOf.get(task.taskId) ?? [], redo);
      return {
        id,
        name,
        instrument: instrumentById(instrumentId).name,
        cells,
        accepted: asked.filter((task) => task.state === "accepted").length,
        asked: asked.length,
        chosen: own.filter(({ chosen, taskId }) => chosen && takesOf.has(taskId)).length,
      };
    }),
    tests: testsOf(tasks, takesOf, redo),
    sight: sightOf(tasks, takesOf),
  };
}

/** What was read at sight: one take each, told apart from what was practised. The newest first. */
function sightOf(tasks: GrowthTaskRow[], takesOf: Map<string, GrowthTakeRow[]>): GrowthSight[] {
  const read = tasks.filter(({ sight }) => sight);
  return [...groupBy(read, ({ assignmentId }) => assignmentId)].reverse().map(([assignmentId, all]) => ({
    assignmentId,
    name: nameOf(all[0]!),
    results: all
      .map((task) => {
        const take = takesOf.get(task.taskId)?.at(-1);
        const heard = take?.status === "assessed" && take.total;
        return {
          playerId: task.playerId,
          name: task.name,
          instrument: instrumentById(task.instrumentId).name,
          cleanPercent: heard ? Math.round((100 * take.clean!) / take.total!) : null,
          takeId: take?.takeId ?? null,
        };
      })
      .sort((a, b) => a.name.localeCompare(b.name)),
  }));
}

const nameOf = ({ title, number }: GrowthTaskRow) => (number === null ? title : `No. ${number} · ${title}`);

/** Playing tests: each player's marked take, that of a make-up where there is one; the better one where both were marked. */
function testsOf(tasks: GrowthTaskRow[], takesOf: Map<string, GrowthTakeRow[]>, redo: Redo): GrowthTest[] {
  const counted = tasks.filter(({ testId }) => testId !== null);
  return [...groupBy(counted, ({ testId }) => testId!)].reverse().map(([assignmentId, all]) => {
    return {
      assignmentId,
      name: nameOf(all[0]!),
      results: [...groupBy(all, ({ playerId }) => playerId).values()]
        .map((own) => ofPlayer(assignmentId, own, takesOf, redo))
        .sort((a, b) => a.name.localeCompare(b.name)),
    };
  });
}

function ofPlayer(
  testId: string,
  own: GrowthTaskRow[],
  takesOf: Map<string, GrowthTakeRow[]>,
  redo: Redo,
): GrowthTest["results"][number] {
  const tries = own.map((task) => {
    const takes = takesOf.get(task.taskId) ?? [];
    const counts = countingOf(takes, redo);
    return { task, mark: counts?.percent ?? null, takeId: counts?.takeId ?? takes.at(-1)?.takeId ?? null };
  });
  const best = tries.reduce((a, b) =>
    (b.mark ?? 0) > (a.mark ?? 0) || (a.takeId === null && b.takeId !== null) ? b : a,
  );
  const { playerId, name, instrumentId, state, assignmentId } = best.task;
  return {
    playerId,
    name,
    instrument: instrumentById(instrumentId).name,
    mark: best.mark,
    state,
    madeUp: assignmentId !== testId,
    takeId: best.takeId,
  };
}

/** The marked take that counts by the band's rule. */
function countingOf(takes: GrowthTakeRow[], redo: Redo): { takeId: string; percent: number } | null {
  const marked = takes.flatMap((take) => {
    const result = markOf(take);
    return result ? [{ takeId: take.takeId, percent: Math.round(result.percent) }] : [];
  });
  return countingResult(marked, redo);
}

function cellOf(state: GrowthCell["state"], takes: GrowthTakeRow[], redo: Redo): GrowthCell {
  const shares = takes.flatMap((take) =>
    take.status === "assessed" && take.total ? [(100 * take.clean!) / take.total] : [],
  );
  const best = shares.length > 0 ? Math.max(...shares) : null;
  return {
    state,
    cleanPercent: best === null ? null : Math.round(best),
    mark: countingOf(takes, redo)?.percent ?? null,
    takes: takes.length,
    gain: shares.length > 1 ? Math.round(best! - shares[0]!) : null,
  };
}
