import type { ListenAnswer, ListenRequest } from "../client/first-answer";
import { assess } from "../core/listen";

/** The same engine as the server's, on the player's own device: a first answer while the take is being sent. */
self.onmessage = ({ data: { id, score, pcm, options } }: MessageEvent<ListenRequest>) => {
  const answer = (said: ListenAnswer) => self.postMessage(said);
  try {
    answer({ id, assessment: assess(score, pcm, options) });
  } catch (error) {
    answer({ id, problem: (error as Error).message });
  }
};
