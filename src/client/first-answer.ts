import type { Pcm } from "../core/audio";
import type { Assessment, AssessOptions } from "../core/listen";
import type { Score } from "../core/score";

export interface ListenRequest {
  id: number;
  score: Score;
  pcm: Pcm;
  options: AssessOptions;
}
export interface ListenAnswer {
  id: number;
  assessment?: Assessment;
  problem?: string;
}

const waiting = new Map<
  number,
  { resolve: (assessment: Assessment) => void; reject: (error: Error) => void }
>();
let worker: Worker | undefined;
let asked = 0;

/** Assesses a take in the background of this page. @throws Error with a sentence when it cannot */
export function firstAnswer(score: Score, pcm: Pcm, options: AssessOptions): Promise<Assessment> {
  worker ??= startWorker();
  const engine = worker;
  const request: ListenRequest = { id: ++asked, score, pcm, options };
  return new Promise((resolve, reject) => {
    waiting.set(request.id, { resolve, reject });
    engine.postMessage(request);
  });
}

function startWorker(): Worker {
  const engine = new Worker(new URL("../workers/listen.worker.ts", import.meta.url), { type: "module" });
  engine.onmessage = ({ data }: MessageEvent<ListenAnswer>) => {
    const turn = waiting.get(data.id);
    waiting.delete(data.id);
    if (data.assessment) turn?.resolve(data.assessment);
    else turn?.reject(new Error(data.problem));
  };
  engine.onerror = () => {
    for (const turn of waiting.values()) turn.reject(new Error("The listening worker could not start."));
    waiting.clear();
    worker = undefined;
  };
  return engine;
}
