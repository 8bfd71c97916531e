import { mixToMono, type Pcm, readWav, resample } from "../core/audio";
import { type Mix, type PlayAlong, renderPlayAlong } from "../core/playalong";

/** Takes are kept at this rate, whatever the device runs at. */
const KEPT_RATE = 44100;

let shared: AudioContext | undefined;

/** The page's one audio clock; made on the first tap, as browsers ask. */
async function audioContext(): Promise<AudioContext> {
  shared ??= new AudioContext();
  if (shared.state === "suspended") await shared.resume();
  return shared;
}

export interface Playing {
  /** Time on the audio clock when the first sample sounds. */
  startsAt: number;
  stop(): void;
  ended: Promise<void>;
}

/**
 * Plays a whole play-along as one rendered buffer: every event on its exact sample.
 * @param loopFromSec  when given, comes back to this second at the end, without a gap, until it is stopped
 */
export async function playPlan(plan: PlayAlong, mix: Mix, loopFromSec?: number): Promise<Playing> {
  const context = await audioContext();
  const samples = renderPlayAlong(plan, mix, context.sampleRate);
  const buffer = context.createBuffer(1, samples.length, context.sampleRate);
  buffer.copyToChannel(samples, 0);
  const source = context.createBufferSource();
  source.buffer = buffer;
  source.connect(context.destination);
  if (loopFromSec !== undefined) {
    source.loop = true;
    source.loopStart = loopFromSec;
    source.loopEnd = plan.totalSec;
  }
  const startsAt = context.currentTime + 0.08;
  const ended = new Promise<void>((resolve) => {
    source.onended = () => resolve();
  });
  source.start(startsAt);
  return { startsAt, ended, stop: () => source.stop() };
}

/** Seconds that a playing buffer has sounded at the loudspeaker, by the audio clock. */
export function soundedSec(playing: Playing): number {
  return shared ? shared.currentTime - (shared.outputLatency || 0) - playing.startsAt : 0;
}

/** Decodes a take to mono PCM, for assessing it on the device. Needs no tap, unlike playing. */
export async function decodeInBrowser(sound: Blob): Promise<Pcm> {
  const bytes = await sound.arrayBuffer();
  if (sound.type === "audio/wav") return readWav(new Uint8Array(bytes));
  const buffer = await new OfflineAudioContext(1, 1, KEPT_RATE).decodeAudioData(bytes);
  const channels = Array.from({ length: buffer.numberOfChannels }, (_, channel) =>
    buffer.getChannelData(channel),
  );
  return { samples: mixToMono(channels), sampleRate: buffer.sampleRate };
}

/** Raw microphone sound as it comes: no echo cancelling, noise suppression or gain control. */
export interface Recording {
  /** Level of the last moment, 0 to 1, for a meter. */
  level(): number;
  seconds(): number;
  stop(): Promise<Pcm>;
  cancel(): void;
}

export async function record(): Promise<Recording> {
  const context = await audioContext();
  let stream: MediaStream;
  try {
    stream = await navigator.mediaDevices.getUserMedia({
      audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false },
    });
  } catch (error) {
    const denied = (error as DOMException).name === "NotAllowedError";
    throw new Error(
      denied
        ? "The microphone is switched off for this page. Allow it in the browser's address bar, or send a file instead."
        : "No microphone was found. Plug one in, or send a file instead.",
    );
  }
  const workletUrl = (await import("../workers/capture.worklet.js?url&no-inline")).default;
  await context.audioWorklet.addModule(workletUrl);
  const source = context.createMediaStreamSource(stream);
  const capture = new AudioWorkletNode(context, "capture", { numberOfOutputs: 0 });
  const chunks: Float32Array[] = [];
  let length = 0;
  let level = 0;
  capture.port.onmessage = ({ data }: MessageEvent<Float32Array>) => {
    chunks.push(data);
    length += data.length;
    level = data.reduce((top, sample) => Math.max(top, Math.abs(sample)), 0);
  };
  source.connect(capture);
  const close = () => {
    source.disconnect();
    capture.port.onmessage = null;
    for (const track of stream.getTracks()) track.stop();
  };
  return {
    level: () => level,
    seconds: () => length / context.sampleRate,
    cancel: close,
    stop: async () => {
      close();
      const samples = new Float32Array(length);
      let at = 0;
      for (const chunk of chunks) {
        samples.set(chunk, at);
        at += chunk.length;
      }
      return resample({ samples, sampleRate: context.sampleRate }, KEPT_RATE);
    },
  };
}
