import type { Transaction } from "sequelize";
import type { Assessment } from "../../core/listen";
import { NEIGHBOUR_TEMPO } from "../../core/practice";
import {
  causesOf,
  countBars,
  countClean,
  type Overrule,
  overruled,
  recordedNotes,
  withoutExempt,
} from "../../core/progress";
import { measureOfEvents, type Score } from "../../core/score";
import {
  AssessmentBar,
  AssessmentCause,
  type AssessmentRow,
  OverruleRow,
  rankTask,
  type Take,
} from "../../data";
import { keepEvidence } from "../knowledge";

/** What a take is counted by: the part as it was pinned, and the written notes that are not judged for this player. */
export interface CountedBy {
  part: Score;
  instrumentId: string;
  exempt: ReadonlySet<number>;
}

/** The director's words against the engine's about some takes. */
export async function overrulesOf(takeIds: readonly string[]): Promise<Map<string, Overrule[]>> {
  const rows =
    takeIds.length === 0
      ? []
      : await OverruleRow.findAll({ where: { takeId: takeIds }, order: ["at", "target"] });
  const words = new Map<string, Overrule[]>();
  for (const { takeId, word } of rows) words.set(takeId, [...(words.get(takeId) ?? []), word]);
  return words;
}

/** How many notes there are, clean and wrong: none where a director set aside what was heard, or the device left too much out. */
export function notesOf(assessment: Assessment, { part, exempt }: CountedBy, words: readonly Overrule[]) {
  const judged = overruled(withoutExempt(assessment, part, exempt), part, words);
  const count = countClean(recordedNotes(judged?.notes ?? []));
  return { judged, counts: { notesTotal: count.notes, notesClean: count.clean, notesWrong: count.wrong } };
}

/**
 * What is kept of an assessment for questions over many takes: its bars, its causes, what it shows of the player. It follows from
 * the assessment, which is never changed, and from the director's words.
 */
export async function keepCounted(
  take: Take,
  assessmentId: string,
  assessment: Assessment,
  by: CountedBy,
  words: readonly Overrule[],
  transaction: Transaction,
): Promise<void> {
  const { part, instrumentId, exempt } = by;
  const { judged } = notesOf(assessment, by, words);
  const own = { assessmentId, bandId: take.bandId };
  await AssessmentBar.bulkCreate(
    countBars(recordedNotes(judged?.notes ?? []), measureOfEvents(part)).map((bar) => ({
      ...own,
      ...bar,
      measureIndex: bar.measureIndex + (take.firstBar ?? 0),
    })),
    { transaction },
  );
  const causes = judged?.take.status === "assessed" ? causesOf(judged, part) : [];
  await AssessmentCause.bulkCreate(
    causes.map(({ id, kind, places }) => ({ ...own, causeId: id, kind, places: places.length })),
    { transaction },
  );
  await keepEvidence(take, instrumentId, part, judged ?? { ...assessment, notes: [] }, exempt, transaction);
}

/** Counts a take anew after a director's word against the engine. */
export async function countAnew(
  take: Take,
  row: AssessmentRow,
  by: CountedBy,
  words: readonly Overrule[],
  transaction: Transaction,
): Promise<void> {
  await row.update(notesOf(row.result, by, words).counts, { transaction });
  await AssessmentBar.destroy({ where: { assessmentId: row.id }, transaction });
  await AssessmentCause.destroy({ where: { assessmentId: row.id }, transaction });
  await keepCounted(take, row.id, row.result, by, words, transaction);
  await rankTask(take.taskId, NEIGHBOUR_TEMPO, transaction);
}
