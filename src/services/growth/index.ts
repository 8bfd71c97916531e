import { INSTRUMENTS, instrumentById } from "../../core/music";
import { Band, type GrowthTakeRow, takesOfBand, tasksOfBand } from "../../data";
import { type Actor, director, found } from "../actor";
import type { GrowthCell, GrowthView } from "./schema";

/** Players by lines: where each task stands and how clean the best take was. Best take counts, redo is free. */
export async function growthView(actor: Actor): Promise<GrowthView> {
  const { bandId } = director(actor);
  const [ownBand, tasks, takes] = await Promise.all([
    Band.findByPk(bandId),
    tasksOfBand(bandId),
    takesOfBand(bandId),
  ]);
  const band = found(ownBand, "band");
  const takesOf = new Map<string, GrowthTakeRow[]>();
  for (const take of takes) {
    const own = takesOf.get(take.taskId);
    if (own) own.push(take);
    else takesOf.set(take.taskId, [take]);
  }

  const lines = [
    ...new Map(
      tasks.map((task) => [task.lineId, { id: task.lineId, title: task.title, number: task.number }]),
    ).values(),
  ].sort((a, b) => (a.number ?? 999) - (b.number ?? 999));
  const columnOf = new Map(lines.map((line, index) => [line.id, index]));
  const players = new Map<string, GrowthView["players"][number]>();
  for (const task of tasks) {
    const row = players.get(task.playerId) ?? {
      id: task.playerId,
      name: task.name,
      instrument: instrumentById(task.instrumentId).name,
      cells: lines.map(() => null),
      accepted: 0,
      asked: 0,
    };
    row.cells[columnOf.get(task.lineId)!] = cellOf(task.state, takesOf.get(task.taskId) ?? []);
    row.asked++;
    if (task.state === "accepted") row.accepted++;
    players.set(task.playerId, row);
  }
  return {
    bandName: band.name,
    lines,
    players: [...players.values()].sort(
      (a, b) => scorePlace(a.instrument) - scorePlace(b.instrument) || a.name.localeCompare(b.name),
    ),
  };
}

/** Where an instrument stands in a score, from the top. */
function scorePlace(name: string): number {
  return INSTRUMENTS.findIndex((instrument) => instrument.name === name);
}

function cellOf(state: GrowthCell["state"], takes: GrowthTakeRow[]): GrowthCell {
  const shares = takes.flatMap((take) =>
    take.status === "assessed" && take.total ? [(100 * take.clean!) / take.total] : [],
  );
  const best = shares.length > 0 ? Math.max(...shares) : null;
  const mark = takes.findLast((take) => take.mark !== null)?.mark ?? null;
  return {
    state,
    cleanPercent: best === null ? null : Math.round(best),
    mark: mark === null ? null : Math.round(Number(mark) * 10) / 10,
    takes: takes.length,
    gain: shares.length > 1 ? Math.round(best! - shares[0]!) : null,
  };
}
