import { select } from "./select";

/** Lines of which takes were assessed since a moment, the most takes first. */
export async function linesHeardSince(
  bandId: string,
  since: Date,
): Promise<
  {
    lineId: string;
    title: string;
    number: number | null;
    revisionId: string;
    goalBpm: number;
    takes: number;
  }[]
> {
  const rows = await select<Awaited<ReturnType<typeof linesHeardSince>>[number]>(
    `SELECT l.id AS lineId, l.title, l.number, MAX(r.id) AS revisionId, MAX(a.goal_bpm) AS goalBpm, COUNT(*) AS takes
     FROM takes k JOIN current_assessments s ON s.take_id = k.id AND s.status = 'assessed' JOIN tasks t ON t.id = k.task_id
     JOIN assignments a ON a.id = t.assignment_id JOIN line_revisions r ON r.id = a.revision_id JOIN \`lines\` l ON l.id = r.line_id
     WHERE k.band_id = :bandId AND k.created_at >= :since GROUP BY l.id ORDER BY takes DESC, l.number, l.title LIMIT 60`,
    { bandId, since },
  );
  return rows.map((row) => ({ ...row, takes: Number(row.takes) }));
}

/** In how many takes of a line each kind of error was found, by instrument, and how many takes there are. */
export async function lineCauses(
  bandId: string,
  revisionId: string,
): Promise<{ instrumentId: string; kind: string | null; takes: number; inAll: number }[]> {
  const rows = await select<Awaited<ReturnType<typeof lineCauses>>[number]>(
    `SELECT t.instrument_id AS instrumentId, x.kind, COUNT(DISTINCT s.take_id) AS takes, n.inAll
     FROM assignments a JOIN tasks t ON t.assignment_id = a.id JOIN takes k ON k.task_id = t.id
     JOIN current_assessments s ON s.take_id = k.id AND s.status = 'assessed' LEFT JOIN assessment_causes x ON x.assessment_id = s.id
     JOIN (SELECT t2.instrument_id, COUNT(*) AS inAll FROM assignments a2 JOIN tasks t2 ON t2.assignment_id = a2.id JOIN takes k2 ON k2.task_id = t2.id
       JOIN current_assessments s2 ON s2.take_id = k2.id AND s2.status = 'assessed'
       WHERE a2.band_id = :bandId AND a2.revision_id = :revisionId GROUP BY t2.instrument_id) n ON n.instrument_id = t.instrument_id
     WHERE a.band_id = :bandId AND a.revision_id = :revisionId GROUP BY t.instrument_id, x.kind ORDER BY takes DESC, x.kind`,
    { bandId, revisionId },
  );
  return rows.map((row) => ({ ...row, takes: Number(row.takes), inAll: Number(row.inAll) }));
}

/** Newest takes of a line in which a bar went wrong, a player once, by instrument and bar. */
export async function takesWrongByBar(
  bandId: string,
  revisionId: string,
  most: number,
): Promise<{ instrumentId: string; measureIndex: number; takeId: string; playerName: string }[]> {
  return select(
    `SELECT instrumentId, measureIndex, takeId, playerName FROM (
       SELECT t.instrument_id AS instrumentId, b.measure_index AS measureIndex, k.id AS takeId, COALESCE(NULLIF(p.called_name, ''), p.name) AS playerName,
         ROW_NUMBER() OVER (PARTITION BY t.instrument_id, b.measure_index ORDER BY k.created_at DESC, k.id DESC) AS place
       FROM assignments a JOIN tasks t ON t.assignment_id = a.id JOIN players p ON p.id = t.player_id
       JOIN takes k ON k.id = (SELECT k2.id FROM takes k2 WHERE k2.task_id = t.id ORDER BY k2.created_at DESC, k2.id DESC LIMIT 1)
       JOIN current_assessments s ON s.take_id = k.id AND s.status = 'assessed' JOIN assessment_bars b ON b.assessment_id = s.id AND b.wrong > 0
       WHERE a.band_id = :bandId AND a.revision_id = :revisionId) e WHERE place <= ${most} ORDER BY instrumentId, measureIndex, place`,
    { bandId, revisionId },
  );
}

/** In how many takes of the band each kind of error was found, by week of the calendar, and how many takes there were. */
export async function causesByWeek(
  bandId: string,
  since: Date,
): Promise<{ week: string; kind: string | null; takes: number; inAll: number }[]> {
  const rows = await select<Awaited<ReturnType<typeof causesByWeek>>[number]>(
    `SELECT w.week, x.kind, COUNT(DISTINCT w.takeId) AS takes, MAX(w.inAll) AS inAll
     FROM (SELECT k.id AS takeId, s.id AS assessmentId, CAST(DATE(k.recorded_at) - INTERVAL WEEKDAY(k.recorded_at) DAY AS CHAR) AS week,
         COUNT(*) OVER (PARTITION BY DATE(k.recorded_at) - INTERVAL WEEKDAY(k.recorded_at) DAY) AS inAll
       FROM takes k JOIN current_assessments s ON s.take_id = k.id AND s.status = 'assessed' WHERE k.band_id = :bandId AND k.recorded_at >= :since) w
     LEFT JOIN assessment_causes x ON x.assessment_id = w.assessmentId GROUP BY w.week, x.kind ORDER BY w.week`,
    { bandId, since },
  );
  return rows.map((row) => ({ ...row, takes: Number(row.takes), inAll: Number(row.inAll) }));
}

/** How often each kind of finding was told in takes that a director heard, and how often it was not so, by instrument. */
export async function engineRecord(
  bandId: string,
): Promise<{ kind: string; instrumentId: string; told: number; overruled: number }[]> {
  const rows = await select<Awaited<ReturnType<typeof engineRecord>>[number]>(
    `SELECT kind, instrumentId, SUM(told) AS told, SUM(overruled) AS overruled FROM (
       SELECT x.kind, t.instrument_id AS instrumentId, COUNT(*) AS told, 0 AS overruled
       FROM reviews v JOIN current_assessments s ON s.take_id = v.take_id JOIN assessment_causes x ON x.assessment_id = s.id
       JOIN takes k ON k.id = v.take_id JOIN tasks t ON t.id = k.task_id WHERE v.band_id = :bandId AND v.unheard = 0 AND x.kind <> 'heard-wrong'
       GROUP BY x.kind, t.instrument_id
       UNION ALL
       SELECT o.told_kind, t.instrument_id, COUNT(*), COUNT(*) FROM overrules o JOIN takes k ON k.id = o.take_id JOIN tasks t ON t.id = k.task_id
       WHERE o.band_id = :bandId AND JSON_VALUE(o.word, '$.about') = 'cause' GROUP BY o.told_kind, t.instrument_id) r
     GROUP BY kind, instrumentId ORDER BY kind, instrumentId`,
    { bandId },
  );
  return rows.map((row) => ({ ...row, told: Number(row.told), overruled: Number(row.overruled) }));
}
