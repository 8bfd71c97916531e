import { describe, expect, it } from "vitest";
import { recordTake, steadyHabits } from "../../demo/players";
import { assess, assessTaps } from "../../src/core/listen";
import { judgeRound } from "../../src/core/practice";
import { proposeMarks } from "../../src/core/progress";
import { timeline } from "../../src/core/score";
import { line, partFor } from "../support/music";

const rhythm = (music: string) => partFor(line(music, { fifths: 0, bpm: 100 }), "snare").part;
const even = (count: number, apartSec: number) => Array.from({ length: count }, (_, i) => 1 + i * apartSec);
const QUARTERS = rhythm("x:1 x:1 x:1 x:1 | x:1 x:1 x:1 x:1");

describe("strokes that go on behind the end", () => {
  const heard = (tapsSec: number[]) => {
    const { take, notes, extras } = assessTaps(QUARTERS, tapsSec, { bpm: 100 });
    return { status: take.status, right: notes.filter(({ verdict }) => verdict === "ok").length, extras };
  };

  it.each([9, 10, 12, 100])("are too many: %i instead of eight", (count) => {
    const { status, right, extras } = heard(even(count, 0.6));
    expect([status, right, extras.length]).toEqual(["assessed", 8, count - 8]);
    expect(extras[0]!.onset).toBeCloseTo(1 + 8 * 0.6, 2);
  });

  it("keep a round from being clean, and are said", () => {
    const judged = judgeRound(assessTaps(QUARTERS, even(11, 0.6), { bpm: 100 }));
    expect(judged).toMatchObject({ outcome: "nearly", clean: 8, tooMany: 3 });
    expect(judgeRound(assessTaps(QUARTERS, even(8, 0.6), { bpm: 100 })).outcome).toBe("clean");
    expect(proposeMarks(assessTaps(QUARTERS, even(16, 0.6).slice(0, 12), { bpm: 100 })).notes).toBe(2);
  });

  it("are the bars again when they are just those", () => {
    const { extras, breaks } = assessTaps(QUARTERS, even(16, 0.6), { bpm: 100 });
    expect(extras).toEqual([]);
    expect(breaks).toMatchObject([{ kind: "restart", measure: "1", repeatedFrom: "2" }]);
  });

  it("are nobody's strokes when they come later, or out of the beat", () => {
    const eight = even(8, 0.6);
    expect(heard([...eight, eight.at(-1)! + 2, eight.at(-1)! + 2.6]).extras).toEqual([]);
    expect(heard([...eight, eight.at(-1)! + 0.35]).extras).toEqual([]);
  });

  it("are told of a recording from two on: one may be the device put down", () => {
    const { pcm, played } = recordTake(QUARTERS, "snare", 100, steadyHabits, { noise: 0.002, echo: 0.1 }, 4);
    const at = (sec: number) => Math.round(sec * pcm.sampleRate);
    const from = at(played[6]!.atSec - 0.02);
    const stroke = pcm.samples.slice(from, from + at(0.3));
    const withStrokes = (count: number) => {
      const samples = new Float32Array(pcm.samples.length + at(3));
      samples.set(pcm.samples);
      for (let i = 1; i <= count; i++) samples.set(stroke, at(played[7]!.atSec - 0.02 + 0.6 * i));
      return assess(QUARTERS, { ...pcm, samples }, { bpm: 100, mode: "rhythm" });
    };
    expect(withStrokes(1).extras).toEqual([]);
    const three = withStrokes(3);
    expect(three.extras).toHaveLength(3);
    expect(three.notes.every(({ verdict }) => verdict === "ok")).toBe(true);
  });

  it("say that the end was not reached, rather than the beginning missed", () => {
    const six = assessTaps(QUARTERS, even(6, 0.6), { bpm: 100 });
    expect(six.notes.map(({ verdict }) => verdict)).toEqual([...Array(6).fill("ok"), "missed", "missed"]);
  });
});

describe("strokes that are no rhythm", () => {
  it.each([8, 9, 40, 100])("%i at three times the tempo that was asked for", (count) => {
    expect(assessTaps(QUARTERS, even(count, 0.2), { bpm: 100 }).take.status).toBe("no-match");
  });

  it("as fast as a key can be hammered", () => {
    const mixed = rhythm("x:1 x:1/2 x:1/2 x:2 | x:1 x:1 x:2");
    expect(assessTaps(mixed, even(7000, 0.1), { bpm: 100 }).take.status).toBe("no-match");
  });

  it("more than anybody plays, against a line that nobody is given", () => {
    const bar = Array(8).fill("x:1/2").join(" ");
    const long = rhythm(Array(600).fill(bar).join(" | "));
    expect(assessTaps(long, even(7000, 0.1), { bpm: 100 }).take.status).toBe("no-match");
  });
});

it("a long rhythm of which one stroke in thirty is left out is that rhythm", () => {
  const bars = Array.from({ length: 64 }, (_, i) =>
    i % 3 ? "x:1 x:1/2 x:1/2 x:1 x:1" : "x:1/2 x:1/2 x:1 x:1/2 x:1/2 x:1",
  );
  const long = rhythm(bars.join(" | "));
  const { notes } = timeline(long, { bpm: 100 });
  const left = notes.filter((_, i) => i % 30 !== 17);
  const { take, notes: heard } = assessTaps(
    long,
    left.map(({ onsetSec }) => onsetSec),
    { bpm: 100 },
  );
  expect(take.status).toBe("assessed");
  expect(heard.filter(({ verdict }) => verdict === "missed").map(({ index }) => index % 30)).toEqual(
    Array(notes.length - left.length).fill(17),
  );
});
