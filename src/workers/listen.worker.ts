import type { Pcm } from "../core/audio";
import { type AssessOptions, assess } from "../core/listen";
import type { Score } from "../core/score";

/** The same engine as the server's, on the player's own device: a first answer while the take is being sent. */
self.onmessage = ({ data }: MessageEvent<{ score: Score; pcm: Pcm; options: AssessOptions }>) => {
  try {
    self.postMessage({ assessment: assess(data.score, data.pcm, data.options) });
  } catch (error) {
    self.postMessage({ problem: (error as Error).message });
  }
};
