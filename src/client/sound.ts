import { type HeardBlock, joinBlocks, makeResampler, mixToMono, type Pcm, readWav } from "../core/audio";
import type { Gap } from "../core/listen";
import {
  type Bank,
  type Mix,
  type MixerSettings,
  type MixerState,
  makeMixer,
  type PlayAlong,
} from "../core/playalong";

/** Takes are kept at this rate, Hz, whatever the device runs at. */
export const KEPT_RATE = 44100;

let shared: AudioContext | undefined;

/** The page's one audio clock; made on the first tap, as browsers ask. */
export async function audioContext(): Promise<AudioContext> {
  shared ??= new AudioContext();
  if (shared.state === "suspended") await shared.resume();
  return shared;
}

export interface Playing {
  /** Second of the plan that sounds at the loudspeaker now, by the audio clock. */
  planSec(): number;
  /** Second of the audio clock at which the plan's second 0 began; null until the first sample is out. */
  begunAt(): number | null;
  /** Heard within a tenth of a second, faded. */
  setMix(mix: Mix): void;
  /** Heard within a tenth of a second; pitch stays. @param speed share of the plan's tempo */
  setSpeed(speed: number): void;
  stop(): void;
  ended: Promise<void>;
}

export type PlayOptions = Pick<MixerSettings, "band" | "spoken" | "loopFromSec" | "speed">;

/** Frames in one block, and how many are mixed ahead: enough for a page in the background, whose timers run once a second. */
const BLOCK = 2048;
const AHEAD_SEC = 1.6;
/** Blocks that are about to sound are not changed any more. */
const SAFE_BLOCKS = 2;

/**
 * Plays a plan by the audio clock: blocks are mixed ahead and played back to back on the audio thread, so that timers only
 * feed it and never say when something sounds.
 */
export async function playPlan(
  plan: PlayAlong,
  mix: Mix,
  bank: Bank,
  options: PlayOptions = {},
): Promise<Playing> {
  const context = await audioContext();
  const rate = context.sampleRate;
  const workletUrl = (await import("../workers/player.worklet.js?url&no-inline")).default;
  await context.audioWorklet.addModule(workletUrl);
  const node = new AudioWorkletNode(context, "player", { numberOfInputs: 0, outputChannelCount: [1] });
  const mixer = makeMixer(plan, { mix, bank, sampleRate: rate, ...options });
  // The mixer as it stood before each block, until that block has sounded; and where the plan was then.
  const saved: { frame: number; state: MixerState; planSec: number }[] = [];
  let mixedFrames = 0;
  let heard = { played: 0, begunAt: null as number | null, missed: 0 };
  let finish: () => void;
  const ended = new Promise<void>((resolve) => {
    finish = resolve;
  });
  let stopped = false;

  const feed = () => {
    while (!stopped && !mixer.done() && mixedFrames < heard.played + AHEAD_SEC * rate) {
      saved.push({ frame: mixedFrames, state: mixer.save(), planSec: mixer.planSec() });
      const block = new Float32Array(BLOCK);
      mixer.render(block);
      mixedFrames += BLOCK;
      node.port.postMessage({ block, last: mixer.done() }, [block.buffer]);
    }
  };
  const stop = () => {
    stopped = true;
    clearInterval(timer);
    node.port.postMessage({ keepUntil: 0, last: true });
    node.disconnect();
    // A port that is left open keeps everything that was mixed.
    node.port.onmessage = null;
    node.port.close();
    finish();
  };
  node.port.onmessage = ({ data }: MessageEvent<typeof heard>) => {
    heard = data;
    while (saved.length > 1 && saved[1]!.frame <= heard.played - rate) saved.shift();
    if (mixer.done() && heard.played >= mixedFrames) stop();
  };
  const change = (apply: () => void) => {
    const at = saved.find(({ frame }) => frame >= heard.played + SAFE_BLOCKS * BLOCK);
    if (at) {
      mixer.restore(at.state);
      saved.splice(saved.indexOf(at));
      mixedFrames = at.frame;
      node.port.postMessage({ keepUntil: at.frame });
    }
    apply();
    feed();
  };
  const soundedFrames = () => {
    if (heard.begunAt === null) return 0;
    return Math.max(0, (context.currentTime - outputDelaySec(context)) * rate - heard.begunAt - heard.missed);
  };
  const timer = setInterval(feed, 100);
  feed();
  node.connect(context.destination);
  return {
    planSec: () => {
      const frames = soundedFrames();
      const block = saved.findLast(({ frame }) => frame <= frames) ?? saved[0];
      if (!block) return plan.totalSec;
      const next = saved[saved.indexOf(block) + 1];
      const speed =
        next && next.planSec > block.planSec
          ? ((next.planSec - block.planSec) * rate) / BLOCK
          : block.state.speed;
      return block.planSec + ((frames - block.frame) / rate) * speed;
    },
    begunAt: () => (heard.begunAt === null ? null : heard.begunAt / rate),
    setMix: (now) => change(() => mixer.setMix(now)),
    setSpeed: (speed) => change(() => mixer.setSpeed(speed)),
    stop,
    ended,
  };
}

/** What the browser knows of its own way to the loudspeaker. */
export function outputDelaySec(context: AudioContext): number {
  return context.outputLatency || context.baseLatency || 0;
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

/** Where the microphone is allowed again, in the words of this device. */
export function howToAllow(device: string): string {
  if (/iPhone|iPad/.test(device))
    return "Tap the letters beside the address, then Website Settings, Microphone, Allow.";
  if (/Android/.test(device)) return "Tap the sign before the address, then Permissions, Microphone, Allow.";
  if (/Firefox/.test(device))
    return "Click the crossed microphone before the address and take the block away.";
  if (/Safari/.test(device) && !/Chrome/.test(device))
    return "Choose Safari, Settings for This Website, Microphone, Allow.";
  return "Click the sign before the address and switch the microphone on.";
}

/** Raw microphone sound as it comes: no echo cancelling, noise suppression or gain control. */
export interface Recording {
  /** Level of the last moment, 0 to 1, for a meter. */
  level(): number;
  seconds(): number;
  /** Second of the audio clock at which the first sample came in; null before it has. */
  begunAt(): number | null;
  /**
   * The sound, and the stretches of it that the device left out: those are silence.
   * @param realTime  a take: sound that was lost while the audio clock stood still is silence too, so that what follows keeps
   *   its time. Left out, samples follow the audio clock, as what is compared with what was played by it must.
   * @returns `added` says that there is silence in it which was not in the blocks
   */
  stop(realTime?: boolean): Promise<{ pcm: Pcm; gaps: Gap[]; added: boolean }>;
  cancel(): void;
}

interface RecordOptions {
  /** Is handed every block as it comes, with the frame of the audio clock at which it begins. */
  heard?: (block: Float32Array, sampleRate: number, cameFrame: number) => void;
  /** Is handed the sound as it is kept, at KEPT_RATE, block by block; the last one at the stop. */
  kept?: (block: Float32Array) => void;
  /** Frames of a block: fewer for what is to be seen at once. */
  blockFrames?: number;
  /** The microphone went away while it was recorded from. */
  lost?: () => void;
}

export async function record({
  heard = () => undefined,
  kept = () => undefined,
  blockFrames = 4096,
  lost = () => undefined,
}: RecordOptions = {}): Promise<Recording> {
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
        ? `The microphone is switched off for this page. ${howToAllow(navigator.userAgent)} You can also send a file.`
        : "No microphone was found. Plug one in, or send a file instead.",
    );
  }
  const workletUrl = (await import("../workers/capture.worklet.js?url&no-inline")).default;
  await context.audioWorklet.addModule(workletUrl);
  for (const track of stream.getAudioTracks()) track.addEventListener("ended", () => lost(), { once: true });
  const source = context.createMediaStreamSource(stream);
  const capture = new AudioWorkletNode(context, "capture", {
    numberOfOutputs: 0,
    processorOptions: { blockFrames },
  });
  // Brought to the rate it is kept at while it comes, so that nothing is left to do at the stop.
  const toKept = makeResampler(context.sampleRate, KEPT_RATE);
  const blocks: (HeardBlock & { samples: Float32Array })[] = [];
  let length = 0;
  const keep = (samples: Float32Array) => {
    kept(samples);
    return samples;
  };
  let level = 0;
  let begunAt: number | null = null;
  const leftOut: { fromFrame: number; toFrame: number }[] = [];
  capture.port.onmessage = ({
    data,
  }: MessageEvent<
    { block: Float32Array; from: number; cameSec: number } | { gap: { fromFrame: number; toFrame: number } }
  >) => {
    if ("gap" in data) return void leftOut.push(data.gap);
    const { block, from, cameSec } = data;
    begunAt ??= from / context.sampleRate;
    heard(block, context.sampleRate, from);
    blocks.push({ samples: keep(toKept(block, false)), clockSec: from / context.sampleRate, cameSec });
    length += block.length;
    level = block.reduce((top, sample) => Math.max(top, Math.abs(sample)), 0);
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
    begunAt: () => begunAt,
    cancel: close,
    stop: async (realTime = false) => {
      close();
      const rest = keep(toKept(new Float32Array(0), true));
      const clocked = leftOut.map(({ fromFrame, toFrame }) => ({
        fromSec: fromFrame / context.sampleRate,
        toSec: toFrame / context.sampleRate,
      }));
      const { samples, gaps, added } = joinBlocks(blocks, rest, clocked, KEPT_RATE, realTime);
      return { pcm: { samples, sampleRate: KEPT_RATE }, gaps, added };
    },
  };
}
