import { midiToHz } from "../music";
import type { PlayAlong, PlayAlongEvent } from "./events";

export interface Mix {
  count: boolean;
  click: boolean;
  reference: boolean;
  /** Colour of the reference; "plain" when left out. */
  sound?: ReferenceSound;
}

/** Harmonics of the reference tone by loudness: plain enough to tune to, rich enough for small speakers. */
const HARMONICS = {
  plain: [1, 0.45, 0.22, 0.1, 0.05],
  flute: [1, 0.25, 0.06],
  reed: [1, 0.12, 0.55, 0.1, 0.3, 0.08, 0.15],
  brass: [0.7, 1, 0.8, 0.55, 0.35, 0.2, 0.12],
  bell: [1, 0, 0, 0.35],
} as const;
export type ReferenceSound = keyof typeof HARMONICS;
/** A struck sound dies away by itself, per second. */
const BELL_DECAY = 2.5;

const CLICK_SEC = 0.04;
const RELEASE_SEC = 0.06;
/** Renders a play-along to mono PCM; every event starts on its exact sample. */
export function renderPlayAlong(plan: PlayAlong, mix: Mix, sampleRate: number): Float32Array<ArrayBuffer> {
  const samples = new Float32Array(Math.ceil((plan.totalSec + 0.5) * sampleRate));
  for (const event of plan.events) {
    const from = Math.round(event.atSec * sampleRate);
    if (event.kind === "cue" || event.silent) continue;
    if (event.kind === "note" || event.kind === "start") {
      if (!mix.reference && event.kind === "note") continue;
      if (event.midi === undefined) knock(samples, from, sampleRate);
      else tone(samples, from, event, sampleRate, mix.sound ?? "plain");
    } else if (event.kind === "count" ? mix.count : mix.click) click(samples, from, event, sampleRate);
  }
  return samples;
}

function click(samples: Float32Array, from: number, event: PlayAlongEvent, rate: number) {
  const hz = event.accent ? 1760 : 1320;
  const gain = { count: 0.5, click: 0.35 }[event.kind as string] ?? 0.15;
  for (let i = 0; i < CLICK_SEC * rate && from + i < samples.length; i++)
    samples[from + i]! += gain * Math.sin((2 * Math.PI * hz * i) / rate) * Math.exp((-i / rate) * 120);
}

/** An unpitched note: a short wooden knock. */
function knock(samples: Float32Array, from: number, rate: number) {
  for (let i = 0; i < 0.08 * rate && from + i < samples.length; i++) {
    const t = i / rate;
    samples[from + i]! +=
      0.4 * (Math.sin(2 * Math.PI * 640 * t) + 0.6 * Math.sin(2 * Math.PI * 1010 * t)) * Math.exp(-t * 60);
  }
}

function tone(
  samples: Float32Array,
  from: number,
  event: PlayAlongEvent,
  rate: number,
  sound: ReferenceSound,
) {
  const harmonics = HARMONICS[sound];
  const hz = midiToHz(event.midi!);
  const hold = Math.max(0.05, event.durationSec! * 0.94 - RELEASE_SEC);
  for (let i = 0; i < (hold + RELEASE_SEC) * rate && from + i < samples.length; i++) {
    const t = i / rate;
    const envelope =
      Math.min(1, t / 0.02) *
      (t < hold ? 1 : 1 - (t - hold) / RELEASE_SEC) *
      (sound === "bell" ? Math.exp(-t * BELL_DECAY) : 0.75 + 0.25 * Math.exp(-t * 3));
    let value = 0;
    for (let k = 0; k < harmonics.length && hz * (k + 1) < rate * 0.45; k++)
      value += harmonics[k]! * Math.sin(2 * Math.PI * hz * (k + 1) * t);
    samples[from + i]! += 0.16 * envelope * value;
  }
}
