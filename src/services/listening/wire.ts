import type { Assessment } from "../../core/listen";
import type { Terms } from "../../core/practice";
import type { Criterion } from "../../core/progress";
import type { Score } from "../../core/score";
import type { TakeState } from "../../data";
import type { TakeSummary } from "../practice/wire";

export interface QueueItem {
  takeId: string;
  taskId: string;
  playerName: string;
  instrumentName: string;
  lineTitle: string;
  lineNumber: number | null;
  /** Opened by the player's own choice; read at sight. */
  chosen: boolean;
  sight: boolean;
  remark: string;
  needsEar: boolean;
  /** Per bar of the line: notes wrong or untimely. */
  bars: { wrong: number; untimely: number }[];
}

export interface TakeDetail {
  id: string;
  taskId: string;
  playerName: string;
  instrumentName: string;
  lineTitle: string;
  lineNumber: number | null;
  page: number | null;
  goalBpm: number;
  /** The slowest tempo that counts; any when null. */
  lowestBpm: number | null;
  /** It counts as a playing test. */
  test: boolean;
  /** What is marked and how much each counts; everything alike when null. */
  marked: Terms["criteria"];
  takeNumber: number;
  takeCount: number;
  seconds: number;
  state: TakeState;
  problem: string | null;
  peaks: number[];
  svg: string;
  score: Score;
  assessment: Assessment | null;
  /** What counts as in tune at the stage of the task. */
  inTuneCents: number;
  /** It is accepted after it was heard, or one of its findings was met. */
  hearFirst: boolean;
  /** The band's words for what is marked. */
  criteria: Record<Criterion, string>;
  review: TakeSummary["review"];
  /** Every take of this task, oldest first, this one among them. */
  takes: { id: string; recordedAt: string; remark: string; decision: "accepted" | "again" | null }[];
  section: { instrument: string; bars: { wrong: number; takes: number }[] }[];
}
