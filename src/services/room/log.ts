import type { z } from "zod";
import type { RoomNote } from "../../core/room";
import { notedOfLine, Player, RoomEntryRow, raiseNoted, StripRow } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, ServiceError } from "../actor";
import { dayLabel } from "../calendar";
import { MOST_OF_A_LESSON } from "./entries";
import { roomFor } from "./rooms";
import type { NoteRoom } from "./schema";
import type { NotedInClass } from "./wire";

/**
 * Keeps taps of the log. What came before is there once however often it is sent; undone stays undone.
 * @throws ServiceError for players who are not the band's, or for entries of another lesson
 */
export async function noteRoom(
  actor: Actor,
  roomId: string,
  { entries }: z.output<typeof NoteRoom>,
): Promise<{ kept: number }> {
  const room = await roomFor(actor, roomId);
  const players = [
    ...new Set(entries.flatMap(({ note }) => (note.kind === "absent" ? [note.playerId] : []))),
  ];
  if ((await Player.count({ where: { id: players, bandId: room.bandId } })) < players.length)
    throw new ServiceError("not-found", "This player is not in the band.");
  const strips = await StripRow.findAll({
    where: {
      bandId: room.bandId,
      id: [...new Set(entries.flatMap(({ blockId }) => blockId?.slice(0, 36) ?? []))],
    },
    attributes: ["id", "kind", "refId"],
  });
  const lineOf = new Map(
    strips.map(({ id, kind, refId }) => [id, kind === "line" || kind === "test" ? refId : null]),
  );
  await database().transaction(async (transaction) => {
    // The lesson is held: the count and the taps of two devices come one after the other.
    await raiseNoted(roomId, transaction);
    const ids = entries.map(({ id }) => id);
    const there = await RoomEntryRow.findAll({ where: { id: ids }, transaction });
    if (there.some((row) => row.roomId !== roomId))
      throw new ServiceError("not-found", "This entry belongs to another lesson.");
    if ((await RoomEntryRow.count({ where: { roomId }, transaction })) + entries.length > MOST_OF_A_LESSON)
      throw new ServiceError("quota", "The log of this lesson is full.");
    const known = new Map(there.map((row) => [row.id, row]));
    for (const { id, atMs, blockId, note, undone } of entries) {
      const row = known.get(id);
      if (row) {
        if (undone && !row.undone) await row.update({ undone }, { transaction });
        continue;
      }
      const lineId = blockId ? (lineOf.get(blockId.slice(0, 36)) ?? null) : null;
      const made = await RoomEntryRow.create(
        {
          id,
          roomId,
          bandId: room.bandId,
          at: new Date(atMs),
          blockId,
          lineId,
          note: note as RoomNote,
          undone,
        },
        { transaction },
      );
      known.set(id, made);
    }
  });
  return { kept: entries.length };
}

/** What was noted in class about a line, for the desk that hears its takes. */
export async function notedInClass(actor: Actor, lineId: string): Promise<NotedInClass[]> {
  const { bandId } = director(actor);
  const rows = await notedOfLine(bandId, lineId, 12);
  return rows.map(({ date, groupName, note }) => ({
    label: dayLabel(String(date).slice(0, 10)),
    groupName,
    note: (typeof note === "string" ? JSON.parse(note) : note) as RoomNote,
  }));
}
