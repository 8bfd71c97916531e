import type { LiveFrame } from "../core/listen";
import { alive } from "./activity";
import { keptLatency } from "./latency";
import { audioContext, outputDelaySec, type Recording, record } from "./sound";

/** Frames handed over at once: 12 ms at 44.1 kHz, so that a picture follows the sound. */
const BLOCK = 512;

/** The next sound for the reader; `cameFrame` is the frame of the audio clock after its last sample. */
export interface LiveRequest {
  block: Float32Array;
  rate: number;
  a4Hz: number;
  atSec: number;
  cameFrame: number;
}
export interface LiveAnswer {
  frame: LiveFrame;
  atSec: number;
  cameFrame: number;
}

export interface Live {
  recording: Recording;
  stop(): void;
}

/**
 * Listens to the microphone and tells what is heard, some 80 times a second.
 * @param heard  the frame, its second since the beginning, and how long ago its last sample came in, ms: what a picture lags.
 *   Where this device was measured by its loopback, the way through the microphone is in it.
 * @throws Error with a sentence when there is no microphone
 */
export async function listenLive(
  a4Hz: number,
  heard: (frame: LiveFrame, atSec: number, lagMs: number) => void,
): Promise<Live> {
  const context = await audioContext();
  const reader = new Worker(new URL("../workers/live.worker.ts", import.meta.url), { type: "module" });
  // The loopback of this device is out and in again; the way out is known to the browser.
  const { roundTripSec } = keptLatency();
  const inwardMs = roundTripSec === null ? 0 : 1000 * Math.max(0, roundTripSec - outputDelaySec(context));
  let frames = 0;
  reader.onmessage = ({ data: { frame, atSec, cameFrame } }: MessageEvent<LiveAnswer>) => {
    const lagMs = 1000 * (context.currentTime - cameFrame / context.sampleRate);
    heard(frame, atSec, Math.max(0, lagMs) + inwardMs);
  };
  try {
    const recording = await record({
      blockFrames: BLOCK,
      heard: (block, rate, fromFrame) => {
        alive();
        frames += block.length;
        const request: LiveRequest = {
          block,
          rate,
          a4Hz,
          atSec: frames / rate,
          cameFrame: fromFrame + block.length,
        };
        reader.postMessage(request);
      },
    });
    const stop = () => {
      recording.cancel();
      reader.terminate();
    };
    return { recording, stop };
  } catch (error) {
    reader.terminate();
    throw error;
  }
}
