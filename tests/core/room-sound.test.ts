import { describe, expect, it } from "vitest";
import { makeMixer, plainSounds, renderPlan } from "../../src/core/playalong";
import { readBars, roomPlan } from "../../src/core/room";
import type { Score } from "../../src/core/score";
import { attacks, run } from "../support/mixing";
import { line } from "../support/music";

const BPM = 97;
type Settings = Parameters<typeof roomPlan>[1];

const bank = plainSounds();
const settings: Settings = {
  bpm: BPM,
  stretches: [],
  way: "play",
  countBars: 1,
  subdivisions: 1,
  firstNote: "none",
};
const tune = line("F4:1 | Bb4:1 C5:1 D5:1 C5:1 | Bb4:2 C5:2 | D5:1 C5:1 Bb4:1 C5:1 | Bb4:4");

/** First frames of everything that is struck, as beats of the tempo. */
function struck(score: Score, about: Partial<Settings>, sampleRate = 48000): number[] {
  const { plan } = roomPlan(score, { ...settings, ...about });
  const mix = { count: true, click: true, reference: false };
  return attacks(renderPlan(plan, { mix, bank, sampleRate }), sampleRate).map(
    (frame) => (frame * BPM) / 60 / sampleRate,
  );
}

/** Whether every beat is struck within three frames of where arithmetic puts it: a sound begins with silence. */
function expectOn(found: readonly number[], beats: readonly number[], sampleRate = 48000): void {
  expect(found.map((beat) => Math.round(100 * beat) / 100)).toEqual(beats);
  const frames = (60 * sampleRate) / BPM;
  found.forEach((beat, i) => {
    expect(Math.abs(beat - beats[i]!) * frames).toBeLessThanOrEqual(3);
  });
}
const beats = (from: number, to: number, step = 1) =>
  Array.from({ length: Math.round((to - from) / step) }, (_, i) => from + i * step);

// Worked by hand: the line has a pickup of one beat and four bars of four.
describe("what the room hears, on its sample", () => {
  it("counts a pickup in: three counts, then a click a beat to the end", () => {
    expectOn(struck(tune, {}), beats(0, 3 + 1 + 16));
  });

  it("counts two bars less the pickup", () => {
    expectOn(struck(tune, { countBars: 2 }), beats(0, 7 + 1 + 16));
  });

  it("gives the first note for three beats and rests one before it counts", () => {
    expectOn(struck(tune, { firstNote: "three-one" }), [0, ...beats(4, 4 + 3 + 1 + 16)]);
  });

  it("clicks the halves of the beats between", () => {
    const found = struck(tune, { subdivisions: 2 });
    expectOn(
      found.filter((beat) => beat >= 2.9),
      beats(3, 3 + 1 + 16, 0.5),
    );
  });

  it("joins two spots without a gap: bars 1 and 3 are eight beats after a bar of count-off", () => {
    const read = readBars(
      "1, 3",
      tune.parts[0].measures.map(({ number }) => number),
    );
    if (!("stretches" in read)) throw new Error("These bars are there");
    expectOn(struck(tune, { stretches: read.stretches }), beats(0, 4 + 8));
  });

  it("does not drift in an hour of going round and round", () => {
    const sampleRate = 8000;
    const { plan, loopFromSec } = roomPlan(tune, { ...settings, firstNote: "two" });
    const mixer = makeMixer(plan, {
      mix: { count: true, click: true, reference: false },
      bank,
      sampleRate,
      loopFromSec,
    });
    const found = attacks(run(mixer, 3600 * sampleRate, 8000), sampleRate);
    // Three beats for the first note, then rounds of three counts, a pickup and sixteen beats.
    found.slice(1).forEach((frame, i) => {
      expect(Math.abs(frame - ((3 + i) * 60 * sampleRate) / BPM)).toBeLessThanOrEqual(3);
    });
    expect(found).toHaveLength(1 + Math.ceil((3600 * BPM) / 60) - 3);
  }, 60_000);
});
