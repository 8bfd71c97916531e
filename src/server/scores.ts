import { join } from "node:path";
import { type PartUse, type ReadChoices, type Score, ScoreReadError, type ScoreReading } from "../core/score";
import type { StoredOutline } from "../data";
import { config } from "./config";
import { type ThreadPool, threadPool } from "./threads";

/** What a director has chosen before a file is stored. */
export interface SortedFile {
  chords?: ReadChoices["chords"];
  /** By part id. */
  uses?: [string, PartUse][];
}

/** What the thread is asked: a file from outside, a score of ours, or stored notes whose outline is missing. */
export type ScoreRequest =
  | { kind: "read"; bytes: Uint8Array; sorted?: SortedFile }
  | { kind: "draft"; bytes: Uint8Array }
  | { kind: "prove"; score: Score }
  | { kind: "outlines"; texts: { id: string; text: string }[] };

export type ScoreAnswer =
  | { kind: "read"; reading: ScoreReading; outline: StoredOutline }
  | { kind: "draft"; reading: ScoreReading }
  | { kind: "prove"; outline: StoredOutline }
  | { kind: "outlines"; outlines: { id: string; outline: StoredOutline }[] }
  /** One sentence for the person who sent it. */
  | { kind: "refused"; reason: string };

/** A line takes milliseconds, the longest accepted band piece some seconds. */
const LONGEST_MS = 20_000;
const MEMORY_MB = 768;
const THREADS = 2;

let pool: ThreadPool<ScoreRequest, ScoreAnswer> | undefined;

async function ask<K extends ScoreRequest["kind"]>(
  request: Extract<ScoreRequest, { kind: K }>,
): Promise<Extract<ScoreAnswer, { kind: K }>> {
  pool ??= threadPool(join(config().distFolder, "score-thread.mjs"), {
    size: THREADS,
    longestMs: LONGEST_MS,
    memoryMb: MEMORY_MB,
  });
  const answer = await pool.run(request, request.kind === "outlines");
  if (answer.kind === "refused") throw new ScoreReadError(answer.reason);
  return answer as Extract<ScoreAnswer, { kind: K }>;
}

/**
 * Reads a file from outside and computes once what pages compute of it.
 * @throws ScoreReadError with the place and the reason; OverrunError when it takes too long or too much memory
 */
export async function readScoreFile(
  bytes: Uint8Array,
  sorted: SortedFile = {},
): Promise<ScoreReading & { outline: StoredOutline }> {
  const { reading, outline } = await ask({ kind: "read", bytes, sorted });
  return { ...reading, outline };
}

/** Reads what is still being typed: checked, not proved. @throws as `readScoreFile` */
export async function readDraft(bytes: Uint8Array): Promise<ScoreReading> {
  return (await ask({ kind: "draft", bytes })).reading;
}

/** Computes once what pages compute of a score. @throws as `readScoreFile` */
export async function proveScore(score: Score): Promise<StoredOutline> {
  return (await ask({ kind: "prove", score })).outline;
}

/** Outlines of stored scores; one that cannot be computed says why, and the others are there. */
export async function outlinesOf(
  texts: { id: string; text: string }[],
): Promise<{ id: string; outline: StoredOutline }[]> {
  return (await ask({ kind: "outlines", texts })).outlines;
}
