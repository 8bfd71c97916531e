import type { makeMixer } from "../../src/core/playalong";

/** First frames after a silence of a 24th of a second at which something sounds. */
export function attacks(samples: Float32Array, rate = 48000): number[] {
  const found: number[] = [];
  let quiet = rate;
  samples.forEach((sample, i) => {
    if (Math.abs(sample) < 1e-4) quiet++;
    else {
      if (quiet > rate / 24) found.push(i);
      quiet = 0;
    }
  });
  return found;
}

/** Everything the mixer plays in so many frames, block by block. */
export function run(mixer: ReturnType<typeof makeMixer>, frames: number, block = 512): Float32Array {
  const samples = new Float32Array(frames);
  for (let at = 0; at < frames; at += block) mixer.render(samples.subarray(at, Math.min(frames, at + block)));
  return samples;
}
