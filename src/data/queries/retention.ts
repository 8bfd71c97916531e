import { select } from "./select";

/** Sounds of takes that arrived before a moment and are still kept, the oldest first. */
export function soundsBefore(
  bandId: string,
  before: Date,
  most: number,
): Promise<{ mediaId: string; storeKey: string; takeId: string }[]> {
  return select(
    `SELECT m.id AS mediaId, m.store_key AS storeKey, k.id AS takeId
     FROM takes k JOIN media m ON m.id IN (k.original_id, k.canonical_id) AND m.erased_at IS NULL
     WHERE k.band_id = :bandId AND k.created_at < :before ORDER BY k.created_at LIMIT ${most}`,
    { bandId, before },
  );
}
