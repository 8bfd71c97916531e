import { describe, expect, it } from "vitest";
import { recordTake, steadyHabits } from "../../demo/players";
import { mixToMono } from "../../src/core/audio";
import { assess, type Mode } from "../../src/core/listen";
import { seededRandom } from "../../src/core/rhythm";
import { line, partFor } from "../support/music";

const RATE = 44_100;
const { part } = partFor(line("Bb4:1 C5:1 D5:2 | D5:1 C5:1 Bb4:2"), "clarinet");
const random = seededRandom(11);
const of = (sec: number, value: (i: number) => number) =>
  Float32Array.from({ length: Math.round(sec * RATE) }, (_, i) => value(i));
const noise = () => 2 * random() - 1;

const SOUNDS: [name: string, samples: Float32Array][] = [
  ["nothing at all", new Float32Array(0)],
  ["one sample", Float32Array.of(1)],
  ["a hundred samples", of(100 / RATE, noise)],
  ["no numbers", of(2, () => Number.NaN)],
  ["infinities", of(2, (i) => (i % 2 ? Number.POSITIVE_INFINITY : Number.NEGATIVE_INFINITY))],
  ["a constant", of(3, () => 0.7)],
  ["full noise", of(5, noise)],
  ["a square wave", of(5, (i) => (Math.floor((i * 466) / RATE) % 2 ? 1 : -1))],
  ["clicks", of(5, (i) => (i % 22_050 === 0 ? 1 : 0))],
  ["huge values", of(2, () => 1e30 * noise())],
  ["the smallest values", of(2, () => 1e-38 * noise())],
  [
    "a sweep",
    of(6, (i) =>
      Math.sin((((2 * Math.PI * 60 * RATE) / 4 / 6) * (Math.exp((6 * i) / RATE / 1.2) - 1)) / RATE),
    ),
  ],
];

describe("any sound gets a clear status", () => {
  it.each(SOUNDS)("%s", (_name, samples) => {
    for (const mode of ["melody", "rhythm", "longtone"] satisfies Mode[])
      for (const instrumentId of ["clarinet", "bells", "tuba", undefined]) {
        const { take, notes } = assess(
          part,
          { samples, sampleRate: RATE },
          { mode, ...(instrumentId ? { instrumentId } : {}) },
        );
        expect(["assessed", "no-match", "too-quiet", "no-music"]).toContain(take.status);
        if (take.status !== "assessed") expect(notes).toEqual([]);
        expect(JSON.stringify(notes)).not.toMatch(/NaN|Infinity/);
      }
  });

  it("a quarter of an hour of noise, and no second more", () => {
    const slow = 8000;
    const long = { samples: Float32Array.from({ length: 900 * slow }, noise), sampleRate: slow };
    expect(assess(part, long, { instrumentId: "clarinet" }).take.status).toBe("no-music");
    expect(() => assess(part, { ...long, samples: new Float32Array(901 * slow) })).toThrow(
      /longer than 15 minutes/,
    );
  });
});

describe("a take with something wrong in the recording itself", () => {
  const { pcm, played } = recordTake(part, "clarinet", 90, steadyHabits, { noise: 0.003, echo: 0.1 }, 5);
  const verdicts = (samples: Float32Array) =>
    assess(part, { samples, sampleRate: pcm.sampleRate }, { bpm: 90, instrumentId: "clarinet" }).notes.map(
      (note) => note.verdict,
    );

  it.each([
    ["one channel of two is dead", mixToMono([pcm.samples, new Float32Array(pcm.samples.length)])],
    ["a constant offset", pcm.samples.map((each) => each + 0.4)],
    ["a few values that are no numbers", pcm.samples.map((each, i) => (i % 9973 === 0 ? Number.NaN : each))],
    ["the wrong polarity", pcm.samples.map((each) => -each)],
  ])("is judged all the same: %s", (_name, samples) => {
    expect(played.length).toBe(6);
    expect(verdicts(samples)).toEqual(Array(6).fill("ok"));
  });
});
