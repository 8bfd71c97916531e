import { LIVE_FRAME, type LiveFrame, makeLiveReader } from "../core/listen";
import { alive } from "./activity";
import { audioContext, type Recording, record } from "./sound";

/** Frames handed over at once: 12 ms at 44.1 kHz, so that a picture follows the sound. */
const BLOCK = 512;

export interface Live {
  recording: Recording;
  stop(): void;
}

/**
 * Listens to the microphone and tells what is heard, some 80 times a second.
 * @param heard  the frame, its second since the beginning, and how long ago its last sample came in, ms: what a picture lags
 * @throws Error with a sentence when there is no microphone
 */
export async function listenLive(
  a4Hz: number,
  heard: (frame: LiveFrame, atSec: number, lagMs: number) => void,
): Promise<Live> {
  const context = await audioContext();
  let ring = new Float32Array(0);
  let read: ReturnType<typeof makeLiveReader> | null = null;
  let frames = 0;
  const recording = await record(
    (block, rate, cameFrame) => {
      read ??= makeLiveReader(rate, a4Hz);
      const joined = new Float32Array(Math.min(LIVE_FRAME, ring.length + block.length));
      const kept = joined.length - block.length;
      joined.set(ring.subarray(ring.length - kept));
      joined.set(block, kept);
      ring = joined;
      frames += block.length;
      if (ring.length < LIVE_FRAME) return;
      alive();
      const lagMs = 1000 * (context.currentTime - (cameFrame + block.length) / rate);
      heard(read(ring, 0), frames / rate, Math.max(0, lagMs));
    },
    { blockFrames: BLOCK },
  );
  return { recording, stop: recording.cancel };
}
