import type { LiveAnswer, LiveRequest } from "../client/live";
import { LIVE_FRAME, makeLiveReader } from "../core/listen";

let read: ReturnType<typeof makeLiveReader> | null = null;
let latest = new Float32Array(0);

/** Reads pitch, level and brightness of the newest sound beside the page, so that drawing never waits for it. */
self.onmessage = ({ data: { block, rate, a4Hz, atSec, cameFrame } }: MessageEvent<LiveRequest>) => {
  read ??= makeLiveReader(rate, a4Hz);
  const joined = new Float32Array(Math.min(LIVE_FRAME, latest.length + block.length));
  const kept = joined.length - block.length;
  joined.set(latest.subarray(latest.length - kept));
  joined.set(block, kept);
  latest = joined;
  if (latest.length === LIVE_FRAME)
    self.postMessage({ frame: read(latest, 0), atSec, cameFrame } satisfies LiveAnswer);
};
