import { describe, expect, it } from "vitest";
import { recordTake, steadyHabits } from "../../demo/players";
import { assess, gapSeconds, silentGaps } from "../../src/core/listen";
import { line, partFor } from "../support/music";

const { part } = partFor(line("Bb4:1 C5:1 D5:1 Eb5:1 | F5:1 Eb5:1 D5:1 C5:1 | Bb4:4"), "trumpet");

describe("what a device left out of a recording", () => {
  const { pcm } = recordTake(part, "trumpet", 80, steadyHabits, { noise: 0.003, echo: 0.2 }, 5);
  const whole = assess(part, pcm, { instrumentId: "trumpet" });
  const [from, to] = [whole.notes[3]!.onset! - 0.05, whole.notes[4]!.offset! + 0.05];
  const cut = {
    ...pcm,
    samples: pcm.samples.map((sample, i) =>
      i >= from * pcm.sampleRate && i < to * pcm.sampleRate ? 0 : sample,
    ),
  };

  it("is a missed note when nobody knows of it, and nothing against the player when its place is told", () => {
    expect(whole.notes.every((note) => note.verdict === "ok")).toBe(true);
    const blind = assess(part, cut, { instrumentId: "trumpet" });
    expect(blind.notes.filter((note) => note.verdict === "missed").length).toBeGreaterThan(0);
    const told = assess(part, cut, { instrumentId: "trumpet", gaps: [{ fromSec: from, toSec: to }] });
    expect(told.notes.every((note) => note.verdict === "ok")).toBe(true);
    const forgiven = told.notes
      .filter((note) => note.flags.includes("not-recorded"))
      .map((note) => note.index);
    expect(forgiven).toEqual(expect.arrayContaining([3, 4]));
    // At most the neighbours lost an end or a beginning too.
    expect(forgiven.every((index) => index >= 2 && index <= 5)).toBe(true);
    for (const note of told.notes.filter((each) => each.flags.includes("not-recorded")))
      expect(note.confidence).toBeLessThan(0.2);
  });

  it("is no note too many and no pause where the sound comes back", () => {
    const held = partFor(line("Bb4:4 | C5:4 | D5:4 | Bb4:4"), "trumpet").part;
    const long = recordTake(held, "trumpet", 80, steadyHabits, { noise: 0.003, echo: 0.2 }, 5).pcm;
    const seam = { fromSec: 5.2, toSec: 5.5 };
    const samples = long.samples.map((sample, i) =>
      i >= seam.fromSec * long.sampleRate && i < seam.toSec * long.sampleRate ? 0 : sample,
    );
    const heard = (gaps: { fromSec: number; toSec: number }[]) =>
      assess(held, { ...long, samples }, { instrumentId: "trumpet", gaps });
    expect(heard([]).extras).toHaveLength(1);
    expect(heard([seam]).extras).toEqual([]);
    expect(heard([seam]).notes.every(({ verdict }) => verdict === "ok")).toBe(true);
  });

  it("is believed only where there is nothing in the recording", () => {
    const gap = { fromSec: from, toSec: to };
    expect(silentGaps(cut, [gap])).toEqual([gap]);
    expect(silentGaps(pcm, [gap, { fromSec: 0, toSec: 99 }])).toEqual([]);
    // A recorder writes the silence it puts in its place: behind the end nothing was left out, what stands there was not played.
    const endSec = cut.samples.length / cut.sampleRate;
    expect(silentGaps(cut, [{ fromSec: endSec + 1, toSec: endSec + 20 }])).toEqual([]);
    expect(silentGaps(cut, [{ fromSec: from, toSec: endSec + 20 }])).toEqual([]);
  });

  it("counts every moment of gaps once, up to the end of the recording", () => {
    const gaps = [
      { fromSec: 8, toSec: 30 },
      { fromSec: 1, toSec: 2 },
      { fromSec: 1.5, toSec: 3 },
      { fromSec: 40, toSec: 50 },
    ];
    expect(gapSeconds(gaps, 10)).toBe(4);
    expect(gapSeconds([], 10)).toBe(0);
  });

  it("changes nothing elsewhere", () => {
    const elsewhere = assess(part, pcm, { instrumentId: "trumpet", gaps: [{ fromSec: 0, toSec: 0.01 }] });
    expect(elsewhere.notes).toEqual(whole.notes);
  });
});

describe("what a device left out of a long tone", () => {
  const held = partFor(line("Bb4:4 | r:4 | F5:4"), "trumpet").part;
  const { pcm } = recordTake(held, "trumpet", 48, steadyHabits, { noise: 0.002, echo: 0.1 }, 9);
  const judged = (samples: Float32Array, gaps: { fromSec: number; toSec: number }[] = []) =>
    assess(held, { ...pcm, samples }, { mode: "longtone", instrumentId: "trumpet", gaps });
  const whole = judged(pcm.samples);

  for (const seconds of [0.06, 0.4])
    it(`is no end and no wavering when its place is told: ${seconds} s`, () => {
      const fromSec = whole.tones![0]!.onset + 1.6;
      const gap = { fromSec, toSec: fromSec + seconds };
      const cut = pcm.samples.map((sample, i) =>
        i >= gap.fromSec * pcm.sampleRate && i < gap.toSec * pcm.sampleRate ? 0 : sample,
      );
      const blind = judged(cut);
      const told = judged(cut, [gap]);
      expect(told.tones).toHaveLength(whole.tones!.length);
      expect(told.tones![0]!.seconds).toBeCloseTo(whole.tones![0]!.seconds, 1);
      expect(told.tones![0]!.levelSdDb).toBeLessThan(whole.tones![0]!.levelSdDb + 0.3);
      expect(told.tones![0]!.pitchSdCents).toBeLessThan(whole.tones![0]!.pitchSdCents + 2);
      expect(told.notes.map((note) => note.length)).toEqual(whole.notes.map((note) => note.length));
      expect(blind.tones).not.toEqual(told.tones);
    });
});

describe("another A than 440 Hz", () => {
  it("is what cents are told from, in every mode", () => {
    const sharp = 1200 * Math.log2(445 / 440);
    const { pcm } = recordTake(
      part,
      "trumpet",
      80,
      { ...steadyHabits, tuningCents: sharp },
      { noise: 0.002, echo: 0.1 },
      6,
    );
    const tuning = (a4Hz: number) => assess(part, pcm, { instrumentId: "trumpet", a4Hz }).take.tuningCents!;
    expect(tuning(440)).toBeCloseTo(sharp, -1);
    expect(Math.abs(tuning(445))).toBeLessThan(6);

    const held = partFor(line("Bb4:4 | r:4 | F5:4"), "trumpet").part;
    const tones = recordTake(
      held,
      "trumpet",
      60,
      { ...steadyHabits, tuningCents: sharp },
      { noise: 0.002, echo: 0.1 },
      7,
    );
    const cents = (a4Hz: number) =>
      assess(held, tones.pcm, { mode: "longtone", instrumentId: "trumpet", a4Hz }).notes[0]!.cents!;
    expect(cents(440) - cents(445)).toBeCloseTo(sharp, 0);

    const catalogued = { ...part, catalogued: true as const };
    const byEar = (a4Hz: number) =>
      assess(catalogued, pcm, { instrumentId: "trumpet", a4Hz }).take.tuningCents!;
    expect(byEar(440) - byEar(445)).toBeCloseTo(sharp, 0);
  });
});
