import type { Transaction } from "sequelize";
import type { StripKind } from "../../core/plan";
import type { OnlyFor } from "../models";
import { readJson, run, select } from "./select";
import { AT_SIGHT } from "./takes";

/**
 * Raises the version of a band's plan and says what it is now. The row stays locked until the transaction ends: two saves at
 * once come one after the other.
 */
export async function raisePlan(bandId: string, transaction: Transaction): Promise<number> {
  await run(
    `INSERT INTO band_states (band_id, plan_version) VALUES (:bandId, 1) ON DUPLICATE KEY UPDATE plan_version = plan_version + 1`,
    { bandId },
    transaction,
  );
  return (await planVersions(bandId, transaction)).plan;
}

/** The same for the calendar. */
export async function raiseCalendar(bandId: string, transaction: Transaction): Promise<number> {
  await run(
    `INSERT INTO band_states (band_id, calendar_version) VALUES (:bandId, 1)
     ON DUPLICATE KEY UPDATE calendar_version = calendar_version + 1`,
    { bandId },
    transaction,
  );
  return (await planVersions(bandId, transaction)).calendar;
}

/**
 * Runs work that nobody else does for the band at the same time, in whatever process. Work of its own transactions may be
 * done in it.
 *
 * @returns undefined, with nothing done, while somebody else is at it
 */
export async function aloneWithPlan<T>(
  bandId: string,
  transaction: Transaction,
  work: () => Promise<T>,
): Promise<T | undefined> {
  const lock = { name: `plan/${bandId}` };
  const [held] = await select<{ held: number | null }>(
    "SELECT GET_LOCK(:name, 0) AS held",
    lock,
    transaction,
  );
  if (held?.held !== 1) return undefined;
  try {
    return await work();
  } finally {
    await select("SELECT RELEASE_LOCK(:name)", lock, transaction);
  }
}

export async function planVersions(
  bandId: string,
  transaction?: Transaction,
): Promise<{ plan: number; calendar: number }> {
  const [row] = await select<{ plan: number; calendar: number }>(
    "SELECT plan_version AS plan, calendar_version AS calendar FROM band_states WHERE band_id = :bandId",
    { bandId },
    transaction,
  );
  return row ?? { plan: 0, calendar: 0 };
}

/** A day on which a group met a line: it was taught, or a task of it was due. */
export interface LineMet {
  lineId: string;
  groupId: string;
  on: string;
}

/** Every such day up to one, in order. */
export function linesMet(bandId: string, upTo: string): Promise<LineMet[]> {
  return select<LineMet>(
    `SELECT line_id AS lineId, group_id AS groupId, CAST(taught_on AS CHAR) AS \`on\` FROM teachings
       WHERE band_id = :bandId AND line_id IS NOT NULL AND group_id IS NOT NULL AND removed_at IS NULL AND taught_on <= :upTo
     UNION
     SELECT r.line_id, a.group_id, CAST(a.due_date AS CHAR) FROM assignments a JOIN line_revisions r ON r.id = a.revision_id
       JOIN \`lines\` l ON l.id = r.line_id AND l.kind = 'line'
       WHERE a.band_id = :bandId AND a.withdrawn_at IS NULL AND a.chosen_by IS NULL AND a.due_date <= :upTo
     ORDER BY 3, 1, 2`,
    { bandId, upTo },
  );
}

/** How one player's takes of a line came out. */
export interface LineTakes {
  lineId: string;
  playerId: string;
  instrumentId: string;
  takes: number;
  /** Share of clean notes of the best take. */
  clean: number;
  tempoBpm: number | null;
  goalBpm: number;
}

/** What was learned from takes speaks of lines that were given to be learned: nothing that was opened by own choice or read at sight. */
const GIVEN_TO_LEARN = `a.chosen_by IS NULL AND NOT ${AT_SIGHT}`;

/** Takes since an instant, by line and player. */
export async function lineTakes(bandId: string, since: Date): Promise<LineTakes[]> {
  const rows = await select<LineTakes>(
    `SELECT r.line_id AS lineId, t.player_id AS playerId, t.instrument_id AS instrumentId, COUNT(*) AS takes,
       MAX(s.notes_clean / s.notes_total) AS clean, MAX(s.tempo_bpm) AS tempoBpm, MAX(a.goal_bpm) AS goalBpm
     FROM takes k JOIN tasks t ON t.id = k.task_id JOIN assignments a ON a.id = t.assignment_id
     JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id AND l.kind = 'line'
     JOIN current_assessments s ON s.take_id = k.id AND s.status = 'assessed' AND s.notes_total > 0
     WHERE k.band_id = :bandId AND k.created_at >= :since AND ${GIVEN_TO_LEARN}
     GROUP BY r.line_id, t.player_id, t.instrument_id ORDER BY r.line_id, t.player_id`,
    { bandId, since },
  );
  return rows.map((row) => ({
    ...row,
    takes: Number(row.takes),
    clean: Number(row.clean),
    tempoBpm: row.tempoBpm === null ? null : Number(row.tempoBpm),
    goalBpm: Number(row.goalBpm),
  }));
}

/** Where takes of lines went wrong, by player and bar. */
export interface BarTakes {
  lineId: string;
  playerId: string;
  instrumentId: string;
  measureIndex: number;
  wrong: number;
  takes: number;
}

export async function barTakes(bandId: string, since: Date): Promise<BarTakes[]> {
  const rows = await select<BarTakes>(
    `SELECT r.line_id AS lineId, t.player_id AS playerId, t.instrument_id AS instrumentId, b.measure_index AS measureIndex,
       SUM(b.wrong > 0) AS wrong, COUNT(*) AS takes
     FROM takes k JOIN tasks t ON t.id = k.task_id JOIN assignments a ON a.id = t.assignment_id
     JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id AND l.kind = 'line'
     JOIN current_assessments s ON s.take_id = k.id AND s.status = 'assessed' JOIN assessment_bars b ON b.assessment_id = s.id
     WHERE k.band_id = :bandId AND k.created_at >= :since AND ${GIVEN_TO_LEARN}
     GROUP BY r.line_id, t.player_id, t.instrument_id, b.measure_index`,
    { bandId, since },
  );
  return rows.map((row) => ({ ...row, wrong: Number(row.wrong), takes: Number(row.takes) }));
}

/** Days on which routines and counting pages were done by a group: strips of class and home that lie behind. */
export function stripsBehind(
  bandId: string,
  upTo: string,
): Promise<{ refId: string; groupId: string; on: string }[]> {
  return select(
    `SELECT ref_id AS refId, group_id AS groupId, CAST(date AS CHAR) AS \`on\` FROM strips
     WHERE band_id = :bandId AND removed_at IS NULL AND ref_id IS NOT NULL AND kind IN ('routine', 'counting') AND date <= :upTo
     ORDER BY date`,
    { bandId, upTo },
  );
}

/** What was given, as it is called, by assignment. */
export async function givenTitles(assignmentIds: readonly string[]): Promise<Map<string, string>> {
  if (assignmentIds.length === 0) return new Map();
  const rows = await select<{ id: string; number: number | null; title: string }>(
    `SELECT a.id, l.number, l.title FROM assignments a JOIN line_revisions r ON r.id = a.revision_id
     JOIN \`lines\` l ON l.id = r.line_id WHERE a.id IN (:assignmentIds)`,
    { assignmentIds },
  );
  return new Map(
    rows.map(({ id, number, title }) => [id, number === null ? title : `No. ${number} · ${title}`]),
  );
}

/** A line that is due within some days, with whom it is for. */
export interface DueLine {
  assignmentId: string;
  groupId: string;
  onlyFor: OnlyFor | null;
  lineId: string;
  title: string;
  number: number | null;
  timesPerWeek: number;
  dueDate: string;
  note: string;
  firstBar: number | null;
  lastBar: number | null;
  /** To be read at sight. */
  sight: boolean;
}

export async function linesDue(bandId: string, from: string, to: string): Promise<DueLine[]> {
  const rows = await select<Omit<DueLine, "onlyFor"> & { onlyFor: OnlyFor | string | null }>(
    `SELECT a.id AS assignmentId, a.group_id AS groupId, a.only_for AS onlyFor, l.id AS lineId,
       l.title, l.number, a.times_per_week AS timesPerWeek, CAST(a.due_date AS CHAR) AS dueDate, a.note,
       a.first_bar AS firstBar, a.last_bar AS lastBar, ${AT_SIGHT} AS sight
     FROM assignments a JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id AND l.kind = 'line'
     WHERE a.band_id = :bandId AND a.withdrawn_at IS NULL AND a.chosen_by IS NULL AND a.due_date BETWEEN :from AND :to ORDER BY a.due_date, a.id LIMIT 200`,
    { bandId, from, to },
  );
  return rows.map((row) => ({
    ...row,
    sight: Boolean(row.sight),
    onlyFor: row.onlyFor === null ? null : readJson(row.onlyFor),
  }));
}

/** Something of the ribbon that is on the stands without a task of its own. */
export interface StandStripRow {
  stripId: string;
  date: string;
  kind: StripKind;
  title: string;
  minutes: number;
  note: string;
  handoutId: string | null;
  /** A sheet or recording there is, or an address. */
  mediaId: string | null;
  address: string | null;
  done: boolean;
}

/** Whether a strip s on the stands is for the player: of a group, and of everybody, an instrument or the player alone. */
const FOR_PLAYER = `s.at_home AND s.given_at IS NOT NULL AND s.removed_at IS NULL
     AND EXISTS (SELECT 1 FROM group_members m WHERE m.group_id = s.group_id AND m.player_id = :playerId AND m.to_date IS NULL)
     AND (s.player_id IS NULL OR s.player_id = :playerId)
     AND (s.instrument_id IS NULL OR EXISTS (SELECT 1 FROM player_instruments i
       WHERE i.player_id = :playerId AND i.instrument_id = s.instrument_id AND i.to_date IS NULL))`;

/** What stands on a player's days beside tasks, in order. */
export async function stripsOnStand(playerId: string, from: string, to: string): Promise<StandStripRow[]> {
  const rows = await select<StandStripRow>(
    `SELECT s.id AS stripId, CAST(s.date AS CHAR) AS date, s.kind, s.title, s.minutes, s.note, h.id AS handoutId,
       h.media_id AS mediaId, h.address, t.strip_id IS NOT NULL AS done
     FROM strips s LEFT JOIN handouts h ON h.id = s.ref_id
     LEFT JOIN strip_ticks t ON t.strip_id = s.id AND t.player_id = :playerId
     WHERE s.band_id = (SELECT band_id FROM players WHERE id = :playerId) AND s.date BETWEEN :from AND :to AND ${FOR_PLAYER}
     ORDER BY s.date, s.place, s.id LIMIT 200`,
    { playerId, from, to },
  );
  return rows.map((row) => ({ ...row, done: Boolean(row.done) }));
}

/** Whether a strip is on a player's stand. */
export async function stripIsFor(playerId: string, stripId: string): Promise<boolean> {
  const rows = await select(`SELECT s.id FROM strips s WHERE s.id = :stripId AND ${FOR_PLAYER}`, {
    playerId,
    stripId,
  });
  return rows.length > 0;
}

/** Whether a sheet or recording is on a player's stand, or was. */
export async function handoutOnStand(playerId: string, handoutId: string): Promise<boolean> {
  const rows = await select(
    `SELECT s.id FROM strips s WHERE s.ref_id = :handoutId AND ${FOR_PLAYER} LIMIT 1`,
    {
      playerId,
      handoutId,
    },
  );
  return rows.length > 0;
}

/** How many players ticked off each strip of some days. */
export async function ticksOf(bandId: string, from: string, to: string): Promise<Map<string, number>> {
  const rows = await select<{ stripId: string; ticks: number }>(
    `SELECT t.strip_id AS stripId, COUNT(*) AS ticks FROM strips s JOIN strip_ticks t ON t.strip_id = s.id
     WHERE s.band_id = :bandId AND s.date BETWEEN :from AND :to GROUP BY t.strip_id`,
    { bandId, from, to },
  );
  return new Map(rows.map(({ stripId, ticks }) => [stripId, Number(ticks)]));
}
