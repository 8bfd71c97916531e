import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { acceptScore, agreedPart, cutBars, type Score, timeline } from "../../src/core/score";
import { CORPUS } from "../support/corpus";
import { line } from "../support/music";

const events = (score: Score) => score.parts[0].measures.flatMap((measure) => measure.events);

describe("some bars of a line", () => {
  const tune = line("[: Bb4:1 C5:1 D5:2~ | D5:2 Eb5:2( | F5:2 Eb5:2) :] | Bb4:4", { fifths: -3 });

  it("keep their ids, and key, metre and tempo in force stand at their head", () => {
    const cut = cutBars(tune, 1, 2);
    expect(events(cut).map(({ id }) => id)).toEqual(
      tune.parts[0].measures.slice(1, 3).flatMap((measure) => measure.events.map(({ id }) => id)),
    );
    const [first] = cut.parts[0].measures;
    expect(first).toMatchObject({ key: { fifths: -3 }, time: { beats: 4, beatType: 4 } });
    expect(first!.tempo!.bpm).toBe(80);
    expect(cut.parts[0].measures.map(({ number }) => number)).toEqual(["2", "3"]);
  });

  it("lose the ends of ties and slurs whose other end is cut off, and every repeat", () => {
    const [first] = events(cutBars(tune, 1, 1));
    expect(first!.tieStop).toBeUndefined();
    expect(events(cutBars(tune, 1, 1)).some((event) => event.slurStart !== undefined)).toBe(false);
    expect(events(cutBars(tune, 1, 2)).some((event) => event.slurStart !== undefined)).toBe(true);
    expect(timeline(cutBars(tune, 0, 2)).measures).toHaveLength(3);
    expect(events(cutBars(tune, 0, 0)).at(-1)!.tieStart).toBeUndefined();
  });

  it("are the line itself when they are all of it, and none that it does not have", () => {
    expect(cutBars(tune, 0, 3)).toBe(tune);
    for (const [from, to] of [
      [-1, 1],
      [2, 1],
      [0, 4],
      [0.5, 1],
    ])
      expect(() => cutBars(tune, from!, to!)).toThrow(RangeError);
  });

  it.each(CORPUS)("of any line pass the gate of what can be stored: $title", ({ score }) => {
    const last = score.parts[0].measures.length - 1;
    fc.assert(
      fc.property(fc.nat(last), fc.nat(last), (a, b) => {
        const cut = cutBars(score, Math.min(a, b), Math.max(a, b));
        if (events(cut).every((event) => event.kind === "rest")) return;
        expect(() => acceptScore(cut)).not.toThrow();
        expect(timeline(cut).notes.length).toBeLessThanOrEqual(timeline(score).notes.length);
      }),
      { numRuns: 12 },
    );
  });
});

describe("the part a player reads by agreement", () => {
  const named = (...parts: [string, string[]?][]): Score => {
    const score = line("Bb4:4");
    const made = parts.map(([name, forInstruments], i) => ({
      ...score.parts[0],
      id: `P${i + 1}`,
      name,
      ...(forInstruments ? { forInstruments } : {}),
    }));
    return { ...score, parts: made as Score["parts"] };
  };

  it("is told by its name, in the words that books use", () => {
    const score = named(["Concert pitch"], ["2nd"], ["Bass line"], ["Easier"]);
    expect(
      (["first", "second", "bass", "easy"] as const).map((voice) => agreedPart(score, "flute", voice)),
    ).toEqual([null, "P2", "P3", "P4"]);
    expect(agreedPart(score, "flute", null)).toBeNull();
  });

  it("gives way to a part that is written for the instrument", () => {
    expect(agreedPart(named(["First"], ["Second"], ["Low", ["tuba"]]), "tuba", "second")).toBeNull();
    expect(agreedPart(named(["First"], ["Second"], ["Low", ["tuba"]]), "flute", "second")).toBe("P2");
  });
});
