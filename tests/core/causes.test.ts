import { describe, expect, it } from "vitest";
import { type Habits, recordTake, steadyHabits } from "../../demo/players";
import { assess } from "../../src/core/listen";
import { type CauseKind, causesOf, goodThingOf, overruled } from "../../src/core/progress";
import { readAbc } from "../../src/core/score";
import { findings } from "../../src/ui/wording";
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
  const missed = { verdict: "missed", onset: null, timing: null, length: null } as const;
  it("is whole bars where nothing in them was played, and single notes where something was", () => {
    const bars = causesOf(spotless(part, { 4: missed, 5: missed, 6: missed, 7: missed }), part);
    expect(bars.map(({ kind, places }) => [kind, places.map(({ measure }) => measure).join()])).toEqual([
      ["bars-left-out", "2,2,3,3"],
    ]);
    const notes = causesOf(spotless(part, { 5: missed, 6: missed, 7: missed }), part);
    expect(notes.map(({ kind }) => kind)).toEqual(["missed", "missed"]);
    // A director whose ear says otherwise takes all of it back at once.
    const heard = overruled(spotless(part, { 4: missed, 5: missed, 6: missed, 7: missed }), part, [
      { about: "cause", causeId: bars[0]!.id },
    ]);
    expect(causesOf(heard!, part)).toEqual([]);
  });
  it("is a repeat that was not taken", () => {
    const { part: repeated } = partFor(
      readAbc("X:1\nT:Round\nM:4/4\nL:1/4\nK:F\n|: F G A F | A2 F2 :| c2 A2 | F4 |]").score,
      "flute",
    );
    const second = Object.fromEntries([6, 7, 8, 9, 10, 11].map((index) => [index, missed]));
    const [cause, ...more] = causesOf(spotless(repeated, second), repeated);
    expect(more).toEqual([]);
    expect(cause).toMatchObject({ kind: "repeat-left-out" });
    expect(cause!.places).toHaveLength(6);
  });
  it("says from which bar on a beat runs away, or from the first on", () => {
    const { part: long } = partFor(
      line(Array.from({ length: 8 }, () => "Bb4:1 C5:1 D5:1 C5:1").join(" | ")),
      "trumpet",
    );
    const from = (faster: (index: number) => number) => {
      let at = 0;
      const onsets = Object.fromEntries(
        Array.from({ length: 32 }, (_, index) => {
          const onset = at;
          at += 0.75 / faster(index);
          return [index, { onset }];
        }),
      );
      const take = spotless(long, onsets);
      take.take.driftPercent = 15;
      return causesOf(take, long)[0]!.places[0]!.measure;
    };
    expect(from((index) => (index < 16 ? 1 : 1.15))).toBe("5");
    expect(from((index) => 1 + (0.15 * Math.max(0, index - 20)) / 8)).toBe("6");
    expect(from((index) => (index < 2 ? 1 : 1.15))).toBe("1");
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

/** Eight bars, no two alike, and all of them as a part. */
const bars = [
  "Bb4:1 C5:1 D5:1 Eb5:1",
  "F5:2 D5:2",
  "C5:1 D5:1 Eb5:1 C5:1",
  "D5:2 Bb4:2",
  "F5:1 F5:1 G5:1 F5:1",
  "Eb5:2 D5:2",
  "C5:1 C5:1 D5:1 C5:1",
  "Bb4:4",
];
const whole = partFor(line(bars.join(" | ")), "clarinet").part;

describe("bars that were left out of a sound", () => {
  const without = (from: number, to: number) => {
    const played = bars.filter((_, i) => i + 1 < from || i + 1 > to).join(" | ");
    const { pcm } = recordTake(
      partFor(line(played), "clarinet").part,
      "clarinet",
      88,
      steadyHabits,
      { noise: 0.003, echo: 0.2 },
      3,
    );
    return causesOf(assess(whole, pcm, { bpm: 88, instrumentId: "clarinet" }), whole);
  };

  it.each([
    [3, 4],
    [1, 2],
    [4, 5],
  ])("are told as bars %d to %d, and nothing else", (from, to) => {
    const causes = without(from, to);
    expect(causes.map(({ kind }) => kind)).toEqual(["bars-left-out"]);
    expect(causes[0]!.places[0]!.measure).toBe(String(from));
    expect(causes[0]!.places.at(-1)!.measure).toBe(String(to));
  });

  it("make no neighbour early, and nothing that sounded before is taken for a note of theirs", () => {
    for (const bar of [2, 6]) {
      const causes = without(bar, bar);
      expect(causes.map(({ kind }) => kind)).toEqual(["missed", "missed"]);
      expect(causes.flatMap(({ places }) => places.map(({ measure }) => measure))).toEqual(
        [bar, bar].map(String),
      );
    }
  });
});

describe("bars that are played twice", () => {
  const heard = (order: readonly number[], pauseSec = 0) => {
    const played = partFor(line(order.map((bar) => bars[bar - 1]!).join(" | ")), "clarinet").part;
    const { pcm } = recordTake(played, "clarinet", 88, steadyHabits, { noise: 0.003, echo: 0.1 }, 3);
    // A pause before the fifth bar that is played, somewhere after the count-in.
    const at = Math.round((0.9 + (16 * 60) / 88) * pcm.sampleRate);
    const pause = new Float32Array(Math.round(pauseSec * pcm.sampleRate));
    const samples = Float32Array.from([...pcm.samples.slice(0, at), ...pause, ...pcm.samples.slice(at)]);
    return assess(whole, { ...pcm, samples }, { bpm: 88, instrumentId: "clarinet" });
  };

  it.each([
    [[1, 2, 3, 4, 1, 2, 3, 4, 5, 6, 7, 8], ["1", "2", "3", "4"], "Bars 1 to 4 were played twice"],
    [[1, 2, 3, 4, 3, 4, 5, 6, 7, 8], ["3", "4"], "Bars 3 and 4 were played twice"],
  ])("are a repeat too many where the beat goes on: %j", (order, twice, told) => {
    const causes = causesOf(heard(order), whole);
    expect(causes.map(({ kind }) => kind)).toEqual(["repeat-too-many"]);
    expect(causes[0]!.places.map(({ measure }) => measure)).toEqual(twice);
    expect(findings(heard(order), whole)[0]!.sentence).toContain(told);
  });

  it("are begun again where there was a stop", () => {
    const take = heard([1, 2, 3, 4, 1, 2, 3, 4, 5, 6, 7, 8], 1.2);
    expect(causesOf(take, whole).map(({ kind }) => kind)).toEqual(["restart"]);
  });

  it("a director's word about it takes it away", () => {
    const take = heard([1, 2, 3, 4, 3, 4, 5, 6, 7, 8]);
    const words = [{ about: "cause" as const, causeId: causesOf(take, whole)[0]!.id }];
    expect(causesOf(overruled(take, whole, words)!, whole)).toEqual([]);
  });
});

describe("what goes wrong in a sound", () => {
  // A long line: every error has room for several places.
  const { part: own, instrument } = partFor(
    line(
      "Bb4:1 Ab4:1 C5:1 Ab4:1 | Eb5:1 C5:1 Ab4:1 C5:1 | Bb4:2 C5:2 | Ab4:1 C5:1 Bb4:1 Eb5:1 | C5:1 Ab4:1 Bb4:1 C5:1 | Eb5:4",
      { fifths: -3 },
    ),
    "trumpet",
    "widening",
  );
  const ERRORS: Record<string, [habits: Partial<Habits>, kinds: CauseKind[]]> = {
    "the key signature ignored": [{ ignoresSignature: 1 }, ["key-signature"]],
    "other notes": [{ semitoneOff: 0.2 }, ["semitone"]],
    "notes left out": [{ misses: 0.15 }, ["missed"]],
    "notes struck twice": [{ doubles: 0.25 }, ["doubled"]],
    "notes cut short": [{ clips: 0.25 }, ["short"]],
    "a beat that runs away": [{ driftPercent: 18 }, ["rushing"]],
    "a pause": [{ hesitatesAt: 9 }, ["hesitation"]],
    "an early stop": [{ stopsAfter: 13 }, ["stopped-early"]],
  };
  const heard = (habits: Partial<Habits>) => {
    const { pcm } = recordTake(
      own,
      instrument.id,
      104,
      { ...steadyHabits, ...habits },
      { noise: 0.002, echo: 0.1 },
      5,
    );
    return causesOf(assess(own, pcm, { bpm: 104, instrumentId: instrument.id }), own).map(({ kind }) => kind);
  };
  it.each(Object.entries(ERRORS))("%s is told first", (_, [habits, kinds]) => {
    expect(kinds).toContain(heard(habits)[0]);
  });
  const names = Object.keys(ERRORS);
  const pairs = names.flatMap((a, i) => names.slice(i + 1).map((b) => [a, b] as const));
  it.each(pairs)("%s and %s are both among the first three", (a, b) => {
    const first = heard({ ...ERRORS[a]![0], ...ERRORS[b]![0] }).slice(0, 3);
    expect(
      first.some((kind) => ERRORS[a]![1].includes(kind)),
      String(first),
    ).toBe(true);
    expect(
      first.some((kind) => ERRORS[b]![1].includes(kind)),
      String(first),
    ).toBe(true);
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
