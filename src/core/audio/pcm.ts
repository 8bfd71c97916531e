import { makeHalver, makeResampler } from "./stream";

/** Mono sound: samples between -1 and 1. */
export interface Pcm {
  samples: Float32Array;
  sampleRate: number;
}

/** Averages channels of equal length into one. */
export function mixToMono(channels: readonly Float32Array[]): Float32Array {
  const [first, ...others] = channels;
  if (!first) return new Float32Array(0);
  if (others.length === 0) return first;
  const mono = new Float32Array(first.length);
  for (const channel of channels)
    for (let i = 0; i < mono.length; i++) mono[i]! += channel[i]! / channels.length;
  return mono;
}

/**
 * Converts to another sample rate, see `makeResampler`.
 */
export function resample(pcm: Pcm, targetRate: number): Pcm {
  if (pcm.sampleRate === targetRate) return pcm;
  return { samples: makeResampler(pcm.sampleRate, targetRate)(pcm.samples, true), sampleRate: targetRate };
}

/** Half the sample rate, see `makeHalver`. */
export function halveRate({ samples, sampleRate }: Pcm): Pcm {
  return { samples: makeHalver()(samples, true), sampleRate: sampleRate / 2 };
}

/**
 * Loudness outline for drawing: the highest absolute sample of each of `count` equal stretches, 0 to 1.
 * @example
 * peaks(Float32Array.from([0, 0.5, -0.25, 1]), 2) // => [0.5, 1]
 */
export function peaks(samples: Float32Array, count: number): number[] {
  const outline = new Array<number>(count).fill(0);
  const stretch = samples.length / count;
  for (let i = 0; i < count; i++) {
    let top = 0;
    for (
      let n = Math.floor(i * stretch), end = Math.min(samples.length, Math.floor((i + 1) * stretch));
      n < end;
      n++
    )
      top = Math.max(top, Math.abs(samples[n]!));
    outline[i] = Math.round(Math.min(1, top) * 1000) / 1000;
  }
  return outline;
}
