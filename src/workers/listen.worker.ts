import type { ListenAnswer, ListenRequest } from "../client/first-answer";
import { assessAttempts, followTake, listenToSinging, type TakeFollower } from "../core/listen";
import { timeline } from "../core/score";

/** Takes that are being recorded, by id. */
const followed = new Map<number, TakeFollower>();

/** The same engine as the server's, on the player's own device: a first answer while the take is being sent. */
self.onmessage = ({ data: request }: MessageEvent<ListenRequest>) => {
  const { id } = request;
  const answer = (said: Omit<ListenAnswer, "id">) => self.postMessage({ id, ...said } satisfies ListenAnswer);
  try {
    switch (request.kind) {
      case "assess":
        return answer({ assessment: assessAttempts(request.score, request.pcm, request.options) });
      case "sing": {
        const { score, pcm, bpm, lineAtSec, a4Hz } = request;
        return answer({ sung: listenToSinging(pcm, timeline(score, { bpm }), lineAtSec, a4Hz) });
      }
      case "follow":
        return void followed.set(id, followTake(request.score, request.sampleRate, request.options));
      case "block":
        return followed.get(id)?.add(request.block);
      case "end": {
        const take = followed.get(id);
        followed.delete(id);
        return answer({ assessment: take?.end(request.gaps) ?? null });
      }
      case "forget":
        return void followed.delete(id);
    }
  } catch (error) {
    followed.delete(id);
    // What cannot be followed is heard as a whole at its end.
    if (request.kind === "assess" || request.kind === "sing") answer({ problem: (error as Error).message });
    else if (request.kind === "end") answer({ assessment: null });
  }
};
