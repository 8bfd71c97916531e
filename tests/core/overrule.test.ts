import { describe, expect, it } from "vitest";
// @ts-expect-error it brings no types
import untyped from "wilson-score-interval";
import type { Assessment } from "../../src/core/listen";
import { causesOf, distrustedKinds, overruled, shareOf } from "../../src/core/progress";
import { line, partFor } from "../support/music";
import { spotless } from "../support/verdicts";

const { part } = partFor(
  line("Bb4:1 C5:1 D5:1 Eb5:1 | F5:2 Eb5:2 | D5:1 C5:1 D5:1 C5:1 | Bb4:4"),
  "trumpet",
  "small-tunes",
);
/** The interval by a package of the registry. */
const wilson = untyped as (hits: number, of: number) => { left: number; right: number };
const missed = { verdict: "missed", onset: null, offset: null, timing: null, length: null } as const;

/** One fault of every kind that a take can show, each at another place. */
const everything: Assessment = spotless(
  part,
  {
    0: { verdict: "wrong-pitch", kind: "semitone", playedMidi: 59 },
    1: missed,
    2: { timing: "early", timingMs: -90 },
    3: { timing: "late", timingMs: 90 },
    4: { length: "short", lengthRatio: 0.3 },
    5: { length: "long", lengthRatio: 1.8 },
    6: { flags: ["cracked-attack"] },
    7: { flags: ["squeak"] },
    8: { flags: ["breath-in-slur"] },
    9: { flags: ["re-tongued-slur"] },
  },
  {
    extras: [
      { onset: 0.2, midi: null },
      { onset: 9.1, midi: 58 },
    ],
    breaks: [{ kind: "hesitation", atSec: 3, seconds: 1, measure: "2" }],
    dynamics: [{ measure: "3", from: "p", to: "f", changeDb: 0.4, audible: false }],
  },
);

describe("a director's word", () => {
  const causes = causesOf(everything, part);
  it("is tried on every kind there is in this take", () => {
    expect(causes.map(({ kind }) => kind).sort()).toEqual([
      "breath-in-slur",
      "cracked",
      "doubled",
      "dynamics",
      "early",
      "extra",
      "hesitation",
      "late",
      "long",
      "missed",
      "re-tongued-slur",
      "semitone",
      "short",
      "squeak",
    ]);
  });
  it.each(causes.map(({ id }) => id))("about %s takes that away and nothing else", (causeId) => {
    const left = causesOf(overruled(everything, part, [{ about: "cause", causeId }])!, part);
    expect(left.map(({ id }) => id).sort()).toEqual(
      causes
        .map(({ id }) => id)
        .filter((id) => id !== causeId)
        .sort(),
    );
  });
  it("about a drift leaves the notes as they are", () => {
    const drifting = { ...everything, take: { ...everything.take, driftPercent: 20 } };
    const kinds = (words: Parameters<typeof overruled>[2]) =>
      causesOf(overruled(drifting, part, words)!, part).map(({ kind }) => kind);
    expect(kinds([])).toContain("rushing");
    const calm = kinds([{ about: "cause", causeId: "rushing" }]);
    expect(calm).not.toContain("rushing");
    // What the drift had explained is told again.
    expect(calm).toContain("early");
  });
  it("about a note, about the take, and none at all", () => {
    expect(overruled(everything, part, [])).toBe(everything);
    const right = overruled(everything, part, [{ about: "note", noteIndex: 0, word: "right" }])!;
    expect(right.notes[0]).toMatchObject({ verdict: "ok", kind: null, playedMidi: 59 });
    const wrong = overruled(everything, part, [{ about: "note", noteIndex: 10, word: "wrong" }])!;
    expect(causesOf(wrong, part)[0]).toMatchObject({ kind: "hesitation" });
    expect(causesOf(wrong, part).some(({ kind }) => kind === "heard-wrong")).toBe(true);
    expect(overruled(everything, part, [{ about: "take" }])).toBeNull();
    // The engine's own word is never changed.
    expect(everything.notes[0]!.verdict).toBe("wrong-pitch");
  });
});

describe("how far the engine is believed", () => {
  it("keeps to the interval of a registry package for every small number of cases", () => {
    for (let of = 1; of <= 40; of++)
      for (let hits = 0; hits <= of; hits++) {
        const { low, high, share } = shareOf(hits, of);
        const { left, right } = wilson(hits, of);
        expect(low).toBeCloseTo(left, 4);
        expect(high).toBeCloseTo(right, 4);
        expect(share).toBeCloseTo(hits / of, 12);
      }
    expect(() => shareOf(1, 0)).toThrow(RangeError);
    expect(() => shareOf(3, 2)).toThrow(RangeError);
  });
  it("stops only where chance cannot explain it, over all instruments together", () => {
    const told = (kind: string, instrumentId: string, of: number, overruled: number) => ({
      kind,
      instrumentId,
      told: of,
      overruled,
    });
    expect(distrustedKinds([told("late", "horn", 2, 1)], 0.7)).toEqual([]);
    expect(distrustedKinds([told("late", "horn", 20, 11), told("late", "flute", 10, 5)], 0.7)).toEqual([
      "late",
    ]);
    expect(distrustedKinds([told("late", "horn", 30, 11)], 0.7)).toEqual([]);
    expect(distrustedKinds([told("late", "horn", 30, 30)], 0)).toEqual([]);
  });
});
