import type { StandTask } from "../../services/practice/wire";

/** "goal 80 bpm, counts from 72 on · 5 times this week, 3 minutes each". */
export function tempoAndTimes({ goalBpm, lowestBpm, timesPerWeek, minutes }: StandTask): string {
  const tempo = `goal ${goalBpm} bpm${lowestBpm === null ? "" : `, counts from ${lowestBpm} on`}`;
  const times = timesPerWeek === 1 ? "once this week" : `${timesPerWeek} times this week`;
  return `${tempo} · ${times}${minutes === null ? "" : `, ${minutes} ${minutes === 1 ? "minute" : "minutes"} each`}`;
}
