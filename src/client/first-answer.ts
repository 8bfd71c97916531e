import type { Pcm } from "../core/audio";
import type { Assessment, AssessOptions, Gap, Sung } from "../core/listen";
import type { Score } from "../core/score";

/** What the listening worker is asked; a take that is followed has one id from its first block to its end. */
export type ListenRequest = { id: number } & (
  | { kind: "assess"; score: Score; pcm: Pcm; options: AssessOptions }
  | { kind: "sing"; score: Score; pcm: Pcm; bpm: number; lineAtSec: number; a4Hz: number }
  | { kind: "follow"; score: Score; sampleRate: number; options: AssessOptions }
  | { kind: "block"; block: Float32Array }
  | { kind: "end"; gaps: Gap[] }
  | { kind: "forget" }
);
export interface ListenAnswer {
  id: number;
  /** Null where a take that was followed has to be heard anew. */
  assessment?: Assessment | null;
  sung?: Sung;
  problem?: string;
}

interface Turn {
  resolve: (answer: ListenAnswer) => void;
  reject: (error: Error) => void;
}

const waiting = new Map<number, Turn>();
let worker: Worker | undefined;
let asked = 0;

/** Assesses a take in the background of this page. @throws Error with a sentence when it cannot */
export async function firstAnswer(score: Score, pcm: Pcm, options: AssessOptions): Promise<Assessment> {
  return (await answerTo({ id: ++asked, kind: "assess", score, pcm, options })).assessment!;
}

/** Listens to singing in the background of this page, see `listenToSinging`. @throws Error with a sentence when it cannot */
export async function hearSinging(
  score: Score,
  pcm: Pcm,
  about: { bpm: number; lineAtSec: number; a4Hz: number },
): Promise<Sung> {
  return (await answerTo({ id: ++asked, kind: "sing", score, pcm, ...about })).sung!;
}

/** A take that is heard in the background while it is recorded. */
export interface Following {
  /** The next sound; the block may be used on. */
  add(block: Float32Array): void;
  /** @returns null where the take has to be heard anew as a whole */
  end(gaps: Gap[]): Promise<Assessment | null>;
  /** Nobody wants an answer. */
  forget(): void;
}

/**
 * Hears a take while it is recorded, so that its answer comes right after the stop.
 * @param sampleRate  of the blocks, Hz
 */
export function followSound(score: Score, sampleRate: number, options: AssessOptions): Following {
  const id = ++asked;
  const engine = engineOf();
  engine.postMessage({ id, kind: "follow", score, sampleRate, options } satisfies ListenRequest);
  return {
    add: (block) => engine.postMessage({ id, kind: "block", block } satisfies ListenRequest),
    end: (gaps) =>
      answerTo({ id, kind: "end", gaps }).then(
        ({ assessment }) => assessment ?? null,
        () => null,
      ),
    forget: () => engine.postMessage({ id, kind: "forget" } satisfies ListenRequest),
  };
}

function answerTo(request: ListenRequest): Promise<ListenAnswer> {
  return new Promise((resolve, reject) => {
    waiting.set(request.id, { resolve, reject });
    engineOf().postMessage(request);
  });
}

function engineOf(): Worker {
  worker ??= startWorker();
  return worker;
}

function startWorker(): Worker {
  const engine = new Worker(new URL("../workers/listen.worker.ts", import.meta.url), { type: "module" });
  engine.onmessage = ({ data }: MessageEvent<ListenAnswer>) => {
    const turn = waiting.get(data.id);
    waiting.delete(data.id);
    if (data.problem === undefined) turn?.resolve(data);
    else turn?.reject(new Error(data.problem));
  };
  engine.onerror = () => {
    for (const turn of waiting.values()) turn.reject(new Error("The listening worker could not start."));
    waiting.clear();
    worker = undefined;
  };
  return engine;
}
