import { parentPort } from "node:worker_threads";
import { AudioReadError, peaks } from "../core/audio";
import { assessAttempts, silentGaps } from "../core/listen";
import { decodeSound } from "../server/decode";
import { encodeFlac } from "../server/flac";
import type { AssessAnswer, AssessRequest } from "../services/listening";

const PEAKS = 600;

parentPort!.on("message", async (request: AssessRequest) => {
  try {
    parentPort!.postMessage({ answer: await work(request) });
  } catch (error) {
    parentPort!.postMessage({ problem: (error as Error).message });
  }
});

async function work({ bytes, part, options, attempts }: AssessRequest): Promise<AssessAnswer> {
  try {
    const pcm = await decodeSound(bytes);
    const seconds = pcm.samples.length / pcm.sampleRate;
    const gaps = silentGaps(pcm, options.gaps ?? []);
    return {
      readable: true,
      assessment: assessAttempts(part, pcm, { ...options, gaps }, attempts),
      seconds,
      peaks: peaks(pcm.samples, PEAKS),
      flac: await encodeFlac(pcm),
    };
  } catch (error) {
    if (error instanceof AudioReadError) return { readable: false, problem: error.message };
    throw error;
  }
}
