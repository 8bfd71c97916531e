import type { RoomEntry } from "../../core/room";
import { RoomEntryRow } from "../../data";

/** So many taps fit into one lesson's log. */
export const MOST_OF_A_LESSON = 2_000;

/** The taps of a lesson, undone ones among them, in the order they were noted. */
export async function entriesOf(roomId: string): Promise<RoomEntry[]> {
  const rows = await RoomEntryRow.findAll({
    where: { roomId },
    order: [
      ["at", "ASC"],
      ["id", "ASC"],
    ],
    limit: MOST_OF_A_LESSON,
  });
  return rows.map(({ id, at, blockId, note, undone }) => ({
    id,
    atMs: at.getTime(),
    blockId,
    note,
    undone: Boolean(undone),
  }));
}
