import { select } from "./select";

export interface DirectorRow {
  userId: string;
  name: string;
  email: string;
  mayHear: boolean;
}

/** Who directs the band, the longest first. */
export async function directorsOfBand(bandId: string): Promise<DirectorRow[]> {
  const rows = await select<Omit<DirectorRow, "mayHear"> & { mayHear: number }>(
    `SELECT m.user_id AS userId, u.name, u.email, m.may_hear AS mayHear
     FROM memberships m JOIN users u ON u.id = m.user_id WHERE m.band_id = :bandId AND m.left_at IS NULL
     ORDER BY u.created_at, u.id`,
    { bandId },
  );
  return rows.map((row) => ({ ...row, mayHear: Boolean(row.mayHear) }));
}
