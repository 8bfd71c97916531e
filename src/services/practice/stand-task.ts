import { instrumentById } from "../../core/music";
import { heapOf } from "../../core/practice";
import type { StandRow } from "../../data";
import { dayLabel } from "../calendar";
import { termsOf } from "../giving";
import type { weekOf } from "./log";
import type { StandTask } from "./wire";

/**
 * A task as it lies on the stand.
 * @param now      local day
 * @param numbers  printed numbers of the bars, by revision
 */
export function standTask(
  {
    instrumentId,
    revisionId,
    firstBar,
    lastBar,
    opensOn,
    terms: own,
    lineId: _line,
    bookId: _book,
    ...row
  }: StandRow,
  now: string,
  numbers: ReadonlyMap<string, string[]>,
  week: Awaited<ReturnType<typeof weekOf>>,
): StandTask {
  const printed = (index: number) => numbers.get(revisionId)?.[index] ?? String(index + 1);
  const named = (from: number, to: number) =>
    from === to ? `bar ${printed(from)}` : `bars ${printed(from)} to ${printed(to)}`;
  const { lowestBpm, minutes, test, extra, record, sight } = termsOf({ terms: own });
  const task = {
    ...row,
    bars: firstBar === null ? null : named(firstBar, lastBar!),
    instrumentName: instrumentById(instrumentId).name,
    dueLabel: dayLabel(row.dueDate),
    overdue: row.dueDate < now,
    practisedOn: week.practisedOn(row.id, minutes),
    opened: opensOn === null || opensOn <= now,
    opensLabel: opensOn !== null && opensOn > now ? dayLabel(opensOn) : null,
    lowestBpm,
    minutes,
    test,
    extra,
    sight,
    record: record.kind,
    recordBars: record.kind === "bars" ? named(record.firstBar, record.lastBar) : null,
  };
  return { ...task, heap: heapOf(task, now) };
}

/** Bars are named where some are asked for, or recorded apart. */
export const speaksOfBars = ({ firstBar, terms }: StandRow) =>
  firstBar !== null || termsOf({ terms }).record.kind === "bars";
