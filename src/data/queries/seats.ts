import type { Transaction } from "sequelize";
import type { Seat } from "../../core/ready";
import { select } from "./select";

export interface NamedSeat extends Seat {
  playerName: string;
}

const SEATS = `SELECT p.id AS playerId, p.name AS playerName, i.instrument_id AS instrumentId, i.variant, p.stage
  FROM players p JOIN player_instruments i ON i.player_id = p.id AND i.to_date IS NULL`;

/** Who sits in the band with which instruments. */
export function seatsOfBand(bandId: string): Promise<NamedSeat[]> {
  return select(`${SEATS} WHERE p.band_id = :bandId ORDER BY p.id, i.from_date, i.instrument_id`, { bandId });
}

/** Who sits in a group with which instruments, by name. */
export function seatsOfGroup(groupId: string, transaction?: Transaction): Promise<NamedSeat[]> {
  return select(
    `${SEATS} JOIN group_members m ON m.player_id = p.id WHERE m.group_id = :groupId
     ORDER BY p.name, p.id, i.from_date, i.instrument_id`,
    { groupId },
    transaction,
  );
}

/** A kind of players with how many there are, and the groups that all of them are in. */
export interface SeatKind {
  instrumentId: string;
  stage: Seat["stage"];
  variant: string | null;
  groupIds: string[];
  players: number;
}

export async function seatKindsOfBand(bandId: string): Promise<SeatKind[]> {
  const rows = await select<Omit<SeatKind, "groupIds"> & { groupIds: string | null }>(
    `SELECT x.instrumentId, x.stage, x.variant, x.groupIds, COUNT(*) AS players FROM (
       SELECT i.instrument_id AS instrumentId, p.stage, i.variant,
         (SELECT GROUP_CONCAT(m.group_id ORDER BY m.group_id) FROM group_members m WHERE m.player_id = p.id) AS groupIds
       FROM players p JOIN player_instruments i ON i.player_id = p.id AND i.to_date IS NULL WHERE p.band_id = :bandId) x
     GROUP BY x.instrumentId, x.stage, x.variant, x.groupIds`,
    { bandId },
  );
  return rows.map((row) => ({
    ...row,
    players: Number(row.players),
    groupIds: row.groupIds?.split(",") ?? [],
  }));
}

export interface OverviewRow {
  id: string;
  name: string;
  stage: Seat["stage"];
  hasCard: boolean;
  instruments: string[];
  /** Build by instrument id, where it is not the usual one. */
  builds: Record<string, string>;
  groups: string[];
}

/** Everybody in the band with instruments, builds and groups by name. */
export async function playersOfBand(bandId: string): Promise<OverviewRow[]> {
  const rows = await select<{
    id: string;
    name: string;
    stage: Seat["stage"];
    hasCard: number;
    instruments: string | null;
    builds: string | null;
    bandGroups: string | null;
  }>(
    `SELECT p.id, p.name, p.stage, p.secret_hash IS NOT NULL AS hasCard, i.instruments, i.builds, g.bandGroups
     FROM players p
     LEFT JOIN (SELECT player_id, GROUP_CONCAT(instrument_id ORDER BY from_date) AS instruments,
         GROUP_CONCAT(IF(variant IS NULL, NULL, CONCAT(instrument_id, '=', variant))) AS builds
       FROM player_instruments WHERE band_id = :bandId AND to_date IS NULL GROUP BY player_id) i ON i.player_id = p.id
     LEFT JOIN (SELECT m.player_id, GROUP_CONCAT(b.name ORDER BY b.place SEPARATOR '\n') AS bandGroups
       FROM group_members m JOIN band_groups b ON b.id = m.group_id WHERE m.band_id = :bandId GROUP BY m.player_id) g ON g.player_id = p.id
     WHERE p.band_id = :bandId ORDER BY p.name, p.id`,
    { bandId },
  );
  const list = (text: string | null, between: string) => (text ?? "").split(between).filter(Boolean);
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    stage: row.stage,
    hasCard: Boolean(row.hasCard),
    instruments: list(row.instruments, ","),
    builds: Object.fromEntries(list(row.builds, ",").map((each) => each.split("="))),
    groups: list(row.bandGroups, "\n"),
  }));
}
