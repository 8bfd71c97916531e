import type { Pcm } from "../core/audio";
import type { Assessment, AssessOptions } from "../core/listen";
import type { Score } from "../core/score";

let worker: Worker | undefined;

/** Assesses a take in the background of this page. @throws Error with a sentence when it cannot */
export function firstAnswer(score: Score, pcm: Pcm, options: AssessOptions): Promise<Assessment> {
  worker ??= new Worker(new URL("../workers/listen.worker.ts", import.meta.url), { type: "module" });
  const engine = worker;
  return new Promise((resolve, reject) => {
    engine.onmessage = ({ data }: MessageEvent<{ assessment?: Assessment; problem?: string }>) =>
      data.assessment ? resolve(data.assessment) : reject(new Error(data.problem));
    engine.onerror = () => reject(new Error("The listening worker could not start."));
    engine.postMessage({ score, pcm, options });
  });
}
