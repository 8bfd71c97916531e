import { z } from "zod";
import type { Assessment } from "../../core/listen";
import type { Score } from "../../core/score";
import type { TakeSummary } from "../practice/schema";

export const CRITERIA = ["notes", "rhythm", "tone", "articulation", "dynamics"] as const;
export type Criterion = (typeof CRITERIA)[number];

const score = z.number().int().min(1).max(4);
export const ReviewTake = z.object({
  decision: z.enum(["accepted", "again"], { error: "Accept the take or ask for another." }),
  comment: z.string().trim().max(1000, "A comment has at most 1000 letters.").default(""),
  marks: z.object({ notes: score, rhythm: score, tone: score, articulation: score, dynamics: score }).partial(),
});

export interface QueueItem {
  takeId: string;
  playerName: string;
  instrumentName: string;
  lineTitle: string;
  lineNumber: number | null;
  remark: string;
  needsEar: boolean;
  /** Per bar of the line: notes wrong or untimely. */
  bars: { wrong: number; untimely: number }[];
}

export interface TakeDetail {
  id: string;
  playerName: string;
  instrumentName: string;
  lineTitle: string;
  lineNumber: number | null;
  page: number | null;
  goalBpm: number;
  takeNumber: number;
  takeCount: number;
  seconds: number;
  state: "waiting" | "assessed" | "unreadable";
  problem: string | null;
  peaks: number[];
  svg: string;
  score: Score;
  assessment: Assessment | null;
  review: TakeSummary["review"];
  earlier: { id: string; recordedAt: string }[];
  section: { instrument: string; bars: { wrong: number; takes: number }[] }[];
}
