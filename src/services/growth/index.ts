import { QueryTypes } from "sequelize";
import { INSTRUMENTS, instrumentById } from "../../core/music";
import { Band } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found } from "../actor";
import type { GrowthCell, GrowthView } from "./schema";

/** Players by lines: where each task stands and how clean the best take was. Best take counts, redo is free. */
export async function growthView(actor: Actor): Promise<GrowthView> {
  const { bandId } = director(actor);
  const band = found(await Band.findByPk(bandId), "band");
  const tasks = await database().query<{
    taskId: string;
    playerId: string;
    name: string;
    instrumentId: string;
    state: GrowthCell["state"];
    lineId: string;
    title: string;
    number: number | null;
  }>(
    `SELECT t.id AS taskId, p.id AS playerId, p.name, t.instrument_id AS instrumentId, t.state, l.id AS lineId, l.title, l.number
     FROM tasks t JOIN players p ON p.id = t.player_id JOIN assignments a ON a.id = t.assignment_id AND a.withdrawn_at IS NULL
     JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id
     WHERE t.band_id = ? ORDER BY t.id`,
    { replacements: [bandId], type: QueryTypes.SELECT },
  );
  const takes = await database().query<{
    taskId: string;
    total: number | null;
    clean: number | null;
    mark: number | null;
  }>(
    `SELECT k.task_id AS taskId, s.notes_total AS total, s.notes_clean AS clean, (SELECT AVG(m.score) FROM marks m WHERE m.take_id = k.id) AS mark
     FROM takes k LEFT JOIN assessments s ON s.take_id = k.id AND s.status = 'assessed'
     WHERE k.band_id = ? ORDER BY k.created_at, k.id`,
    { replacements: [bandId], type: QueryTypes.SELECT },
  );
  const takesOf = new Map<string, typeof takes>();
  for (const take of takes) takesOf.set(take.taskId, [...(takesOf.get(take.taskId) ?? []), take]);

  const lines = [
    ...new Map(
      tasks.map((task) => [task.lineId, { id: task.lineId, title: task.title, number: task.number }]),
    ).values(),
  ].sort((a, b) => (a.number ?? 999) - (b.number ?? 999));
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
    row.cells[lines.findIndex((line) => line.id === task.lineId)] = cellOf(
      task.state,
      takesOf.get(task.taskId) ?? [],
    );
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

function cellOf(
  state: GrowthCell["state"],
  takes: { total: number | null; clean: number | null; mark: number | null }[],
): GrowthCell {
  const shares = takes.flatMap((take) => (take.total ? [(100 * take.clean!) / take.total] : []));
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
