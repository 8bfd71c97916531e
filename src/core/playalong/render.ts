import { midiToHz } from "../music";
import type { PlayAlong, PlayAlongEvent } from "./events";

export interface Mix {
  count: boolean;
  click: boolean;
  reference: boolean;
}

const CLICK_SEC = 0.04;
const RELEASE_SEC = 0.06;
/** Harmonics of the reference tone: plain enough to tune to, rich enough for small speakers. */
const HARMONICS = [1, 0.45, 0.22, 0.1, 0.05];

/** Renders a play-along to mono PCM; every event starts on its exact sample. */
export function renderPlayAlong(plan: PlayAlong, mix: Mix, sampleRate: number): Float32Array<ArrayBuffer> {
  const samples = new Float32Array(Math.ceil((plan.totalSec + 0.5) * sampleRate));
  for (const event of plan.events) {
    const from = Math.round(event.atSec * sampleRate);
    if (event.kind === "note") {
      if (mix.reference) (event.midi === undefined ? knock : tone)(samples, from, event, sampleRate);
    } else if (event.kind === "count" ? mix.count : mix.click) click(samples, from, event, sampleRate);
  }
  return samples;
}

function click(samples: Float32Array, from: number, event: PlayAlongEvent, rate: number) {
  const hz = event.accent ? 1760 : 1320;
  const gain = event.kind === "count" ? 0.5 : 0.35;
  for (let i = 0; i < CLICK_SEC * rate && from + i < samples.length; i++)
    samples[from + i]! += gain * Math.sin((2 * Math.PI * hz * i) / rate) * Math.exp((-i / rate) * 120);
}

/** An unpitched note: a short wooden knock. */
function knock(samples: Float32Array, from: number, _event: PlayAlongEvent, rate: number) {
  for (let i = 0; i < 0.08 * rate && from + i < samples.length; i++) {
    const t = i / rate;
    samples[from + i]! +=
      0.4 * (Math.sin(2 * Math.PI * 640 * t) + 0.6 * Math.sin(2 * Math.PI * 1010 * t)) * Math.exp(-t * 60);
  }
}

function tone(samples: Float32Array, from: number, event: PlayAlongEvent, rate: number) {
  const hz = midiToHz(event.midi!);
  const hold = Math.max(0.05, event.durationSec! * 0.94 - RELEASE_SEC);
  for (let i = 0; i < (hold + RELEASE_SEC) * rate && from + i < samples.length; i++) {
    const t = i / rate;
    const envelope =
      Math.min(1, t / 0.02) *
      (t < hold ? 1 : 1 - (t - hold) / RELEASE_SEC) *
      (0.75 + 0.25 * Math.exp(-t * 3));
    let value = 0;
    for (let k = 0; k < HARMONICS.length && hz * (k + 1) < rate * 0.45; k++)
      value += HARMONICS[k]! * Math.sin(2 * Math.PI * hz * (k + 1) * t);
    samples[from + i]! += 0.16 * envelope * value;
  }
}
