import type { Transaction } from "sequelize";
import type { Seat } from "../../core/ready";
import type { PlayerPart } from "../models";
import { run, select } from "./select";

export interface NamedSeat extends Seat {
  playerName: string;
  /** Which part of a line the player reads where it has several. */
  part: PlayerPart | null;
}

/** Those who are in the band today, with the instruments they hold today; a new instrument may have a stage of its own. */
const SEATS = `SELECT p.id AS playerId, COALESCE(NULLIF(p.called_name, ''), p.name) AS playerName,
    i.instrument_id AS instrumentId, i.variant, COALESCE(i.stage, p.stage) AS stage, p.part
  FROM players p JOIN player_instruments i ON i.player_id = p.id AND i.to_date IS NULL`;

/** Who is in which groups today. */
export function membersOfBand(bandId: string): Promise<{ playerId: string; groupId: string }[]> {
  return select(
    `SELECT m.player_id AS playerId, m.group_id AS groupId FROM group_members m JOIN band_groups b ON b.id = m.group_id
     WHERE m.band_id = :bandId AND m.to_date IS NULL AND b.archived_at IS NULL ORDER BY m.group_id`,
    { bandId },
  );
}

/** Who sits in the band with which instruments. */
export function seatsOfBand(bandId: string, transaction?: Transaction): Promise<NamedSeat[]> {
  return select(
    `${SEATS} WHERE p.band_id = :bandId AND p.left_on IS NULL ORDER BY p.id, i.from_date, i.instrument_id`,
    { bandId },
    transaction,
  );
}

/** Who sits in a group with which instruments, by name. */
export function seatsOfGroup(groupId: string, transaction?: Transaction): Promise<NamedSeat[]> {
  return select(
    `${SEATS} JOIN group_members m ON m.player_id = p.id AND m.to_date IS NULL
     WHERE m.group_id = :groupId AND p.left_on IS NULL ORDER BY p.name, p.id, i.from_date, i.instrument_id`,
    { groupId },
    transaction,
  );
}

export interface OverviewRow {
  id: string;
  name: string;
  calledName: string;
  stage: Seat["stage"];
  part: PlayerPart | null;
  kit: string;
  joinedOn: string;
  leftOn: string | null;
  hasCard: boolean;
  /** Instruments held today, the longest held first. */
  instruments: string[];
  /** Build by instrument id, where it is not the usual one. */
  builds: Record<string, string>;
  /** Stage by instrument id, where it is not the player's. */
  stages: Record<string, Seat["stage"]>;
  groupIds: string[];
}

/** Everybody who is or was in the band, with instruments, builds and groups of today. */
export async function playersOfBand(bandId: string, transaction?: Transaction): Promise<OverviewRow[]> {
  const rows = await select<
    Omit<OverviewRow, "hasCard" | "instruments" | "builds" | "stages" | "groupIds"> & {
      hasCard: number;
      instruments: string | null;
      builds: string | null;
      stages: string | null;
      groupIds: string | null;
    }
  >(
    `SELECT p.id, p.name, p.called_name AS calledName, p.stage, p.part, p.kit, CAST(p.joined_on AS CHAR) AS joinedOn,
       CAST(p.left_on AS CHAR) AS leftOn, p.secret_hash IS NOT NULL AS hasCard, i.instruments, i.builds, i.stages, g.groupIds
     FROM players p
     LEFT JOIN (SELECT player_id, GROUP_CONCAT(instrument_id ORDER BY from_date, instrument_id) AS instruments,
         GROUP_CONCAT(IF(variant IS NULL, NULL, CONCAT(instrument_id, '=', variant))) AS builds,
         GROUP_CONCAT(IF(stage IS NULL, NULL, CONCAT(instrument_id, '=', stage))) AS stages
       FROM player_instruments WHERE band_id = :bandId AND to_date IS NULL GROUP BY player_id) i ON i.player_id = p.id
     LEFT JOIN (SELECT m.player_id, GROUP_CONCAT(m.group_id ORDER BY b.place, b.id) AS groupIds
       FROM group_members m JOIN band_groups b ON b.id = m.group_id AND b.archived_at IS NULL
       WHERE m.band_id = :bandId AND m.to_date IS NULL GROUP BY m.player_id) g ON g.player_id = p.id
     WHERE p.band_id = :bandId ORDER BY p.name, p.id`,
    { bandId },
    transaction,
  );
  const list = (text: string | null) => (text ?? "").split(",").filter(Boolean);
  const pairs = (text: string | null) => Object.fromEntries(list(text).map((each) => each.split("=")));
  return rows.map((row) => ({
    ...row,
    hasCard: Boolean(row.hasCard),
    instruments: list(row.instruments),
    builds: pairs(row.builds),
    stages: pairs(row.stages),
    groupIds: list(row.groupIds),
  }));
}

/**
 * Raises the version of a band: people, or what they know, are about to change. The row stays locked until the transaction
 * ends, so that one such change comes after another; called first in its transaction, it can never wait in a circle.
 */
export async function touchBand(bandId: string, transaction: Transaction): Promise<void> {
  await run(
    `INSERT INTO band_states (band_id, version) VALUES (:bandId, 1) ON DUPLICATE KEY UPDATE version = version + 1`,
    { bandId },
    transaction,
  );
}

/** The version that `touchBand` raises, with the band's zone; undefined where there is no such band. */
export async function bandState(bandId: string): Promise<{ version: number; timeZone: string } | undefined> {
  const [row] = await select<{ version: number | null; timeZone: string }>(
    `SELECT s.version, b.time_zone AS timeZone FROM bands b LEFT JOIN band_states s ON s.band_id = b.id WHERE b.id = :bandId`,
    { bandId },
  );
  return row && { version: row.version ?? 0, timeZone: row.timeZone };
}

/** The instruments a player holds today. */
export function seatsOfPlayer(playerId: string): Promise<NamedSeat[]> {
  return select(
    `${SEATS} WHERE p.id = :playerId AND p.left_on IS NULL ORDER BY i.from_date, i.instrument_id`,
    { playerId },
  );
}
