import { describe, expect, it } from "vitest";
import { causesOf, goodThingOf } from "../../src/core/progress";
import { line, partFor } from "../support/music";
import { spotless } from "../support/verdicts";

// Trumpet in concert A flat reads B flat: the B stands three times in it.
const { part } = partFor(
  line("Ab4:1 Bb4:1 C5:1 Ab4:1 | Ab4:2 Bb4:2 | C5:2 Bb4:2 | Ab4:4", { fifths: -4 }),
  "trumpet",
  "widening",
);
const natural = { verdict: "wrong-pitch", kind: "key-signature", playedMidi: 69 } as const;

describe("what went wrong in a take", () => {
  it("is one cause with all its places, however often it happened", () => {
    const take = spotless(part, { 0: natural, 3: natural, 4: natural, 8: natural });
    const [first, ...more] = causesOf(take, part);
    expect(more).toEqual([]);
    expect(first).toMatchObject({ kind: "key-signature", outOf: 4, written: { letter: "B", alter: -1 } });
    expect(first!.places.map(({ measure }) => measure)).toEqual(["1", "1", "2", "4"]);
  });
  it("is one drift, not one early note after another", () => {
    const early = Object.fromEntries(Array.from({ length: 8 }, (_, i) => [i, { timing: "early" as const }]));
    const drifting = spotless(part, early, {
      take: { status: "assessed", tempoBpm: 88, driftPercent: 18, tuningCents: 0, flags: [] },
    });
    expect(causesOf(drifting, part).map(({ kind }) => kind)).toEqual(["rushing"]);
  });
  it("begins with what stops the music, and tells nothing of what lies behind an early stop", () => {
    const missed = { verdict: "missed", onset: null, timing: null, length: null } as const;
    const take = spotless(
      part,
      { 1: { length: "short" }, 6: missed, 7: missed, 8: missed },
      { breaks: [{ kind: "stopped-early", atSec: 8, seconds: 0, measure: "3" }] },
    );
    expect(causesOf(take, part).map(({ kind, places }) => [kind, places.length])).toEqual([
      ["stopped-early", 1],
      ["short", 1],
    ]);
  });
  it("keeps different wrong notes apart and counts strokes too many", () => {
    const take = spotless(
      part,
      {
        0: { verdict: "wrong-pitch", kind: "other", playedMidi: 72 },
        1: { verdict: "wrong-pitch", kind: "other", playedMidi: 60 },
      },
      {
        extras: [
          { onset: 1, midi: 70 },
          { onset: 2, midi: 70 },
        ],
      },
    );
    const causes = causesOf(take, part);
    expect(causes.filter(({ kind }) => kind === "other")).toHaveLength(2);
    expect(causes.find(({ kind }) => kind === "extra")!.places).toHaveLength(2);
  });
});

describe("what went well in a take", () => {
  it("is said of what was measured only", () => {
    expect(goodThingOf(spotless(part))).toEqual({ kind: "all-notes", notes: 9 });
    expect(goodThingOf(spotless(part, { 0: natural }))).toEqual({ kind: "steady" });
    const uneven = Object.fromEntries([0, 1, 2].map((i) => [i, { timing: "late" as const }]));
    expect(goodThingOf(spotless(part, { ...uneven, 8: natural }))).toEqual({
      kind: "bars",
      from: "2",
      to: "3",
    });
    const silent = spotless(
      part,
      {},
      {
        take: { status: "too-quiet", tempoBpm: null, driftPercent: null, tuningCents: null, flags: [] },
      },
    );
    expect(goodThingOf(silent)).toBeNull();
    const nothing = Object.fromEntries(
      Array.from({ length: 9 }, (_, i) => [i, { verdict: "missed" as const, timing: null }]),
    );
    expect(goodThingOf(spotless(part, nothing))).toBeNull();
  });
});
