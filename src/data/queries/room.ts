import type { Transaction } from "sequelize";
import { run, select } from "./select";

/** How far a lesson's state, commands and log have come. */
export interface RoomMarks {
  id: string;
  stateVersion: number;
  told: number;
  noted: number;
}

/** Marks of the lessons that somebody watches. */
export function marksOfRooms(ids: readonly string[]): Promise<RoomMarks[]> {
  return select("SELECT id, state_version AS stateVersion, told, noted FROM rooms WHERE id IN (:ids)", {
    ids,
  });
}

/**
 * Takes the next number for a command of a lesson and holds the lesson until the transaction ends, so that numbers come in the order
 * in which they can be seen.
 * @returns the number; null where the lesson is closed
 */
export async function nextTold(roomId: string, transaction: Transaction): Promise<number | null> {
  const touched = await run(
    "UPDATE rooms SET told = told + 1 WHERE id = :roomId AND closed_at IS NULL",
    { roomId },
    transaction,
  );
  if (touched === 0) return null;
  const [row] = await select<{ told: number }>(
    "SELECT told FROM rooms WHERE id = :roomId",
    { roomId },
    transaction,
  );
  return row!.told;
}

/** Holds a lesson and raises the number by which its log is known to have grown. */
export async function raiseNoted(roomId: string, transaction: Transaction): Promise<void> {
  await run("UPDATE rooms SET noted = noted + 1 WHERE id = :roomId", { roomId }, transaction);
}

/** A wall that was alone for an hour is ahead by less than this; a larger number would end the lesson for every other wall. */
const MOST_AHEAD = 100_000;

/** Keeps what the wall shows, unless it is older than what is kept. @returns whether it was kept */
export async function keepRoomState(
  roomId: string,
  state: object,
  version: number,
  heard: number,
): Promise<boolean> {
  return (
    (await run(
      `UPDATE rooms SET state = :state, state_version = :version, heard = GREATEST(heard, LEAST(told, :heard))
       WHERE id = :roomId AND closed_at IS NULL AND state_version < :version AND :version <= state_version + :most`,
      { roomId, state: JSON.stringify(state), version, heard, most: MOST_AHEAD },
    )) > 0
  );
}

/** Devices whose leave has run out go; commands of lessons long over too. @returns how many rows went */
export async function sweepRooms(): Promise<number> {
  return (
    (await run("DELETE FROM room_remotes WHERE expires_at < UTC_TIMESTAMP(3)")) +
    (await run(
      "DELETE c FROM room_commands c JOIN rooms r ON r.id = c.room_id WHERE r.begun_at < UTC_TIMESTAMP(3) - INTERVAL 2 DAY",
    ))
  );
}

/** Who holds a device's leave that has not run out or been shut. */
export async function ownerOfRemote(
  tokenHash: string,
): Promise<
  { bandId: string; roomId: string | null; passId: string | null; name: string | null } | undefined
> {
  const [row] = await select<{
    bandId: string;
    roomId: string | null;
    passId: string | null;
    name: string | null;
  }>(
    `SELECT m.band_id AS bandId, m.room_id AS roomId, m.pass_id AS passId, p.name
     FROM room_remotes m LEFT JOIN room_passes p ON p.id = m.pass_id
     WHERE m.token_hash = :tokenHash AND m.expires_at > UTC_TIMESTAMP(3)
       AND (m.pass_id IS NULL OR p.shut_at IS NULL)`,
    { tokenHash },
  );
  return row;
}

/** What was noted in class about a line: bars, sections and words, the newest first. */
export function notedOfLine(
  bandId: string,
  lineId: string,
  most: number,
): Promise<{ date: string; groupName: string; note: string | object; at: Date }[]> {
  return select(
    `SELECT r.date, g.name AS groupName, e.note, e.at FROM room_entries e JOIN rooms r ON r.id = e.room_id
       JOIN band_groups g ON g.id = r.group_id
     WHERE e.band_id = :bandId AND e.line_id = :lineId AND e.undone = 0 ORDER BY e.at DESC LIMIT :most`,
    { bandId, lineId, most },
  );
}

/** Lessons that a player may do alone at home, of the groups the player is in, from a day on. */
export function lessonsAtHome(
  playerId: string,
  from: string,
): Promise<{ id: string; date: string; groupName: string }[]> {
  return select(
    `SELECT r.id, r.date, g.name AS groupName FROM rooms r JOIN band_groups g ON g.id = r.group_id
       JOIN group_members m ON m.group_id = r.group_id AND m.player_id = :playerId AND m.to_date IS NULL
     WHERE r.at_home = 1 AND r.date >= :from ORDER BY r.date LIMIT 5`,
    { playerId, from },
  );
}
