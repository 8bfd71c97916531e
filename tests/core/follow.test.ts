import { describe, expect, it } from "vitest";
import { recordTake, steadyHabits } from "../../demo/players";
import { makeHalver, makeResampler, type Pcm, resample, type Stage } from "../../src/core/audio";
import { type AssessOptions, assess, extractFeatures, followTake } from "../../src/core/listen";
import { followFeatures } from "../../src/core/listen/features";
import type { Score } from "../../src/core/score";
import { line, partFor } from "../support/music";

const tune = line("Bb4:1 C5:1 D5:2 | Eb5:1 D5:1 C5:2 | F5:1 Eb5:1 D5:1 C5:1 | D5:2 Bb4:2", { bpm: 88 });
/** Blocks as devices make them, one that is no whole number of anything, and all at once. */
const BLOCKS = [128, 4096, 10_007];

function take(instrumentId: string) {
  const { part } = partFor(tune, instrumentId);
  const { pcm } = recordTake(part, instrumentId, 88, steadyHabits, { noise: 0.003, echo: 0.2 }, 5);
  return { part, pcm };
}

function* blocksOf(samples: Float32Array, size: number) {
  for (let from = 0; from < samples.length; from += size) yield samples.subarray(from, from + size);
}

function followed(score: Score, pcm: Pcm, options: AssessOptions, size: number) {
  const follower = followTake(score, pcm.sampleRate, options);
  for (const block of blocksOf(pcm.samples, size)) follower.add(block);
  return follower.end();
}

describe("a take that is heard while it is recorded", () => {
  it.each(BLOCKS)("has the same features, in blocks of %i samples", (size) => {
    const { pcm } = take("horn");
    const reach = { lowest: 40, highest: 90, expected: [58, 60, 62, 63, 65] };
    const follower = followFeatures(pcm.sampleRate, reach);
    for (const block of blocksOf(pcm.samples, size)) follower.add(block);
    expect(follower.end()).toEqual(extractFeatures(pcm, reach));
  });

  it.each(["clarinet", "tuba", "bells"])("is answered as the whole is, on the %s", (instrumentId) => {
    const { part, pcm } = take(instrumentId);
    const options = { bpm: 88, instrumentId };
    expect(followed(part, pcm, options, 4096)).toEqual(assess(part, pcm, options));
  });

  it("is answered as the whole is where nobody said what plays, where it is clapped, and where it is another piece", () => {
    const { part, pcm } = take("bells");
    expect(followed(part, pcm, { bpm: 88 }, 4096)).toEqual(assess(part, pcm, { bpm: 88 }));
    const rhythm = { bpm: 88, mode: "rhythm" as const };
    expect(followed(part, pcm, rhythm, 4096)).toEqual(assess(part, pcm, rhythm));
    const other = partFor(line("Bb3:4 | Bb3:4 | Bb3:4", { bpm: 60 }), "tuba").part;
    expect(followed(other, pcm, { bpm: 60 }, 4096)).toEqual(assess(other, pcm, { bpm: 60 }));
  });

  it("forgives what the device left out, which is known at the end only", () => {
    const { part, pcm } = take("trumpet");
    const gaps = [{ fromSec: 2, toSec: 3.4 }];
    const holed = pcm.samples.slice().fill(0, 2 * pcm.sampleRate, 3.4 * pcm.sampleRate);
    const follower = followTake(part, pcm.sampleRate, { bpm: 88, instrumentId: "trumpet" });
    for (const block of blocksOf(holed, 4096)) follower.add(block);
    const answer = follower.end(gaps)!;
    expect(answer.notes.some(({ flags }) => flags.includes("not-recorded"))).toBe(true);
    expect(answer).toEqual(
      assess(part, { ...pcm, samples: holed }, { bpm: 88, instrumentId: "trumpet", gaps }),
    );
  });

  it("takes a constant offset off, and says so where the offset moved on the way", () => {
    const { part, pcm } = take("flute");
    const options = { bpm: 88, instrumentId: "flute" };
    const shifted = { ...pcm, samples: pcm.samples.map((each) => each + 0.02) };
    const answer = followed(part, shifted, options, 4096)!;
    expect(answer.notes.map(({ verdict }) => verdict)).toEqual(
      assess(part, pcm, options).notes.map(({ verdict }) => verdict),
    );
    const moved = { ...pcm, samples: pcm.samples.map((each, i) => each + (i < pcm.sampleRate ? 0 : 0.05)) };
    expect(followed(part, moved, options, 4096)).toBeNull();
  });
});

describe("a change of rate block by block", () => {
  const whole = take("flute").pcm;
  const pcm = { ...whole, samples: whole.samples.subarray(30_000, 52_345) };
  const inBlocks = (stage: Stage, size: number) => {
    const parts = [...blocksOf(pcm.samples, size)].map((block) => stage(block, false));
    parts.push(stage(new Float32Array(0), true));
    return Float32Array.from(parts.flatMap((part) => [...part]));
  };
  it.each(BLOCKS)("is that of the whole, in blocks of %i", (size) => {
    expect(inBlocks(makeResampler(pcm.sampleRate, 48_000), size)).toEqual(resample(pcm, 48_000).samples);
    expect(inBlocks(makeResampler(pcm.sampleRate, 22_050), size)).toEqual(resample(pcm, 22_050).samples);
    expect(inBlocks(makeHalver(), size)).toEqual(makeHalver()(pcm.samples, true));
  });
  it("gives as many samples as the shorter or longer time asks for", () => {
    expect(resample({ samples: new Float32Array(0), sampleRate: 44_100 }, 22_050).samples).toHaveLength(0);
    expect(resample({ samples: new Float32Array(441), sampleRate: 44_100 }, 48_000).samples).toHaveLength(
      480 - 1,
    );
  });
});
