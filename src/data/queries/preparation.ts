import type { Routine as RoutineContent } from "../../core/warmup";
import type { DrillContent } from "../models";
import { readJson, select } from "./select";

export interface RoutineRow {
  id: string;
  title: string;
  number: number;
  content: RoutineContent;
  changed: Date;
}

/** Own routines by name with their newest version, the removed ones left out. */
export async function routinesOfBand(bandId: string): Promise<RoutineRow[]> {
  const rows = await select<Omit<RoutineRow, "content"> & { content: RoutineContent | string }>(
    `SELECT r.id, r.title, v.number, v.content, v.created_at AS changed FROM routines r
     JOIN routine_revisions v ON v.routine_id = r.id AND v.number = (SELECT MAX(x.number) FROM routine_revisions x WHERE x.routine_id = r.id)
     WHERE r.band_id = :bandId AND r.removed_at IS NULL ORDER BY r.title, r.id LIMIT 500`,
    { bandId },
  );
  return rows.map((row) => ({ ...row, content: readJson(row.content), changed: new Date(row.changed) }));
}

export interface DrillRow {
  id: string;
  title: string;
  content: DrillContent;
  course: string | null;
}

/** Counting pages by name with their newest version, those of courses in the order of their days. */
export async function drillsOfBand(bandId: string): Promise<DrillRow[]> {
  const rows = await select<Omit<DrillRow, "content"> & { content: DrillContent | string }>(
    `SELECT d.id, d.title, v.content, c.title AS course FROM drills d
     JOIN drill_revisions v ON v.drill_id = d.id AND v.number = (SELECT MAX(x.number) FROM drill_revisions x WHERE x.drill_id = d.id)
     LEFT JOIN courses c ON c.id = d.course_id
     WHERE d.band_id = :bandId AND d.removed_at IS NULL ORDER BY c.title IS NOT NULL, c.title, d.course_day, d.title LIMIT 500`,
    { bandId },
  );
  return rows.map((row) => ({ ...row, content: readJson(row.content) }));
}
