import { select } from "./select";

export interface UploadUse {
  playerUploads: number;
  bandUploads: number;
  bandBytes: number;
}

/** Announced and not yet complete, of a player and of the whole band. */
export async function uploadsUnderWay(bandId: string, playerId: string): Promise<UploadUse> {
  const [row] = await select<Record<keyof UploadUse, number | string | null>>(
    `SELECT SUM(player_id = :playerId) AS playerUploads,
       COUNT(*) AS bandUploads, SUM(bytes) AS bandBytes FROM uploads WHERE band_id = :bandId`,
    { bandId, playerId },
  );
  const number = (value: number | string | null | undefined) => Number(value ?? 0);
  return {
    playerUploads: number(row?.playerUploads),
    bandUploads: number(row?.bandUploads),
    bandBytes: number(row?.bandBytes),
  };
}

/** Takes of a task, and of its player over everything, that arrived in the last 24 hours. */
export async function takesOfLastDay(
  playerId: string,
  taskId: string,
): Promise<{ ofTask: number; ofPlayer: number }> {
  const [row] = await select<{ ofTask: number | null; ofPlayer: number | null }>(
    `SELECT SUM(task_id = :taskId) AS ofTask, COUNT(*) AS ofPlayer FROM takes
     WHERE player_id = :playerId AND created_at > UTC_TIMESTAMP(3) - INTERVAL 1 DAY`,
    { playerId, taskId },
  );
  return { ofTask: Number(row?.ofTask ?? 0), ofPlayer: Number(row?.ofPlayer ?? 0) };
}
