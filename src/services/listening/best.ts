import { groupBy } from "../../core/lists";
import { tooSlow } from "../../core/practice";
import { compareTakes, type TakeRank } from "../../core/progress";
import type { QueueRow, TakeOutcome } from "../../data";

/** How a take came out, from what is stored of it. */
export function rankOf({
  state,
  status,
  total,
  clean,
  wrong,
  tempoBpm,
  lowestBpm,
}: TakeOutcome & Pick<QueueRow, "state">): TakeRank {
  if (state === "waiting") return { kind: "waiting" };
  if (state !== "assessed" || status !== "assessed") return { kind: "ear" };
  if (!total) return { kind: "by-ear" };
  return {
    kind: "counted",
    notes: total,
    wrong: wrong!,
    uneven: total - clean! - wrong!,
    slow: tooSlow(tempoBpm, lowestBpm),
  };
}

/** The best take of each task by the rule of `compareTakes`, one row a task. */
export function bestTakes<R extends TakeOutcome & Pick<QueueRow, "state" | "taskId" | "createdAt">>(
  rows: readonly R[],
): R[] {
  const ranked = (row: R) => ({ rank: rankOf(row), at: new Date(row.createdAt).getTime() });
  return [...groupBy(rows, (row) => row.taskId).values()].map((takes) =>
    takes.reduce((best, each) => (compareTakes(ranked(each), ranked(best)) < 0 ? each : best)),
  );
}

/** The bench could not judge it: silent, unreadable, not heard, or another piece. */
export function needsEar(row: TakeOutcome & Pick<QueueRow, "state">): boolean {
  return rankOf(row).kind === "ear";
}
