import type { Transaction } from "sequelize";
import type { ThingKind } from "../../core/progress";
import { run, select } from "./select";

interface PlayerThing {
  playerId: string;
  instrumentId: string;
  kind: ThingKind;
  thing: string;
}
export type TaughtRow = PlayerThing & { on: string; said: string; teachingId: string };
export type ShownRow = PlayerThing & { cleanTakes: number; acceptedTakes: number; lastOn: string };
export type AwayRow = PlayerThing & { on: string };
export interface ExemptRow {
  playerId: string;
  instrumentId: string;
  writtenMidi: number;
}

export interface KnowledgeRows {
  taught: TaughtRow[];
  shown: ShownRow[];
  away: AwayRow[];
  exempt: ExemptRow[];
}

/** Everything that says what players of a band know beyond their stage; of one player where named. */
export async function knowledgeRows(bandId: string, playerId: string | null = null): Promise<KnowledgeRows> {
  const one = playerId === null ? "" : "AND x.player_id = :playerId";
  const ids = { bandId, playerId };
  const [taught, shown, away, exempt] = await Promise.all([
    select<TaughtRow>(
      `SELECT x.player_id AS playerId, x.instrument_id AS instrumentId, x.kind, x.thing, CAST(t.taught_on AS CHAR) AS \`on\`,
         t.said, t.id AS teachingId
       FROM teachings t JOIN taught x ON x.teaching_id = t.id
       WHERE t.band_id = :bandId AND t.removed_at IS NULL ${one} ORDER BY t.taught_on, t.id`,
      ids,
    ),
    select<ShownRow>(
      `SELECT x.player_id AS playerId, x.instrument_id AS instrumentId, x.kind, x.thing, x.clean_takes AS cleanTakes,
         x.accepted_takes AS acceptedTakes, CAST(x.last_on AS CHAR) AS lastOn FROM shown x WHERE x.band_id = :bandId ${one}`,
      ids,
    ),
    select<AwayRow>(
      `SELECT x.player_id AS playerId, x.instrument_id AS instrumentId, x.kind, x.thing, CAST(x.on_date AS CHAR) AS \`on\`
       FROM taken_away x WHERE x.band_id = :bandId ${one}`,
      ids,
    ),
    select<ExemptRow>(
      `SELECT x.player_id AS playerId, x.instrument_id AS instrumentId, x.written_midi AS writtenMidi
       FROM exemptions x WHERE x.band_id = :bandId ${one}`,
      ids,
    ),
  ]);
  return { taught, shown, away, exempt };
}

/** Adds up anew what the takes of a player show: after a take was heard, reviewed, or heard again. */
export async function addUpShown(bandId: string, playerId: string, transaction?: Transaction): Promise<void> {
  await run("DELETE FROM shown WHERE player_id = :playerId", { playerId }, transaction);
  await run(
    `INSERT INTO shown (player_id, band_id, instrument_id, kind, thing, clean_takes, accepted_takes, last_on)
     SELECT e.player_id, e.band_id, e.instrument_id, e.kind, e.thing, COUNT(*), COALESCE(SUM(r.decision = 'accepted'), 0),
       DATE(MAX(k.recorded_at))
     FROM take_evidence e JOIN takes k ON k.id = e.take_id LEFT JOIN reviews r ON r.take_id = e.take_id
     WHERE e.player_id = :playerId AND e.band_id = :bandId AND e.right_times > 0 AND e.wrong_times = 0
     GROUP BY e.player_id, e.band_id, e.instrument_id, e.kind, e.thing`,
    { bandId, playerId },
    transaction,
  );
}

export interface TeachingRow {
  id: string;
  lineId: string | null;
  groupName: string | null;
  said: string;
  taughtOn: string;
  players: number;
}

/** What was taught in a band, the newest first; of one line, or to one player, where named. */
export async function teachingsOf(
  bandId: string,
  about: { lineId?: string; playerId?: string },
): Promise<TeachingRow[]> {
  const rows = await select<TeachingRow>(
    `SELECT t.id, t.line_id AS lineId, g.name AS groupName, t.said, CAST(t.taught_on AS CHAR) AS taughtOn,
       (SELECT COUNT(DISTINCT x.player_id) FROM taught x WHERE x.teaching_id = t.id) AS players
     FROM teachings t LEFT JOIN band_groups g ON g.id = t.group_id
     WHERE t.band_id = :bandId AND t.removed_at IS NULL ${about.lineId ? "AND t.line_id = :lineId" : ""}
       ${about.playerId ? "AND EXISTS (SELECT 1 FROM taught x WHERE x.teaching_id = t.id AND x.player_id = :playerId)" : ""}
     ORDER BY t.taught_on DESC, t.id DESC LIMIT 200`,
    { bandId, ...about },
  );
  return rows.map((row) => ({ ...row, players: Number(row.players) }));
}
