import { describe, expect, it } from "vitest";
import { recordTake, steadyHabits } from "../../demo/players";
import { assess } from "../../src/core/listen";
import { seededRandom } from "../../src/core/rhythm";
import { line, partFor } from "../support/music";

// A bar is heard by the peaks of its stroke; a syllable has so many that one of them is any note.
const RATE = 22_050;
const SYLLABLE = { everySec: 0.3, lastsSec: 0.2, fadesSec: 0.08, fromPartial: 3, topHz: 3500 };
const music = "Bb4:1 C5:1 D5:1 Eb5:1 | F5:1 Eb5:1 D5:1 C5:1 | Bb4:1 D5:1 C5:1 Eb5:1 | D5:1 C5:1 Bb4:2";
const { part } = partFor(line(music, { bpm: 100 }), "bells");
const OPTIONS = { bpm: 100, instrumentId: "bells" };

/** A low voice: every syllable on a pitch of its own, its partials about as high up to the bells'. */
function syllables(count: number, seed: number): Float32Array {
  const random = seededRandom(seed);
  const { everySec, lastsSec, fadesSec, fromPartial, topHz } = SYLLABLE;
  const samples = new Float32Array(Math.round((1 + count * everySec) * RATE));
  for (let i = 0; i < samples.length; i++) samples[i] = 1e-4 * (random() - 0.5);
  for (let k = 0; k < count; k++) {
    const hz = 95 + 45 * random();
    const from = Math.round((0.5 + everySec * k) * RATE);
    for (let i = 0; i < lastsSec * RATE; i++)
      for (let partial = fromPartial; partial * hz < topHz; partial++)
        samples[from + i]! +=
          0.02 * Math.exp(-i / (fadesSec * RATE)) * Math.sin((2 * Math.PI * partial * hz * i) / RATE);
  }
  return samples;
}

describe("talk, where bells were to be played", () => {
  it.each([1, 2, 3])("is no playing (voice %i)", (seed) => {
    const answer = assess(part, { samples: syllables(24, seed), sampleRate: RATE }, OPTIONS);
    expect(answer.take.status).toBe("no-music");
  });

  it("does not keep bells from being heard", () => {
    const { pcm } = recordTake(part, "bells", 100, steadyHabits, { noise: 0.003, echo: 0.3 }, 4);
    const answer = assess(part, pcm, OPTIONS);
    expect(answer.notes.filter(({ verdict }) => verdict === "ok").length).toBeGreaterThanOrEqual(14);
  });
});
