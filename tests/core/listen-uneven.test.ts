import { describe, expect, it } from "vitest";
import { recordTake, steadyHabits } from "../../demo/players";
import { bell } from "../../demo/random";
import { synthesise } from "../../demo/synth";
import { assess, assessTaps } from "../../src/core/listen";
import { causesOf, goodThingOf, isClean } from "../../src/core/progress";
import { seededRandom } from "../../src/core/rhythm";
import { timeline } from "../../src/core/score";
import { line, partFor } from "../support/music";

// A rhythm is right by its time alone. In time with a beat of one's own is in time; in time with no beat at all is not.
const BARS = [
  "x:1 x:1/2 x:1/2 x:2 | x:1/2 x:1/2 x:1 x:1 x:1 | x:2 x:1 x:1/2 x:1/2",
  "x:1 x:1 x:2 | x:1/2 x:1/2 x:1/2 x:1/2 x:2 | x:1 x:1/2 x:1/2 x:1 x:1 | x:4",
].join(" | ");
const { part } = partFor(line(BARS, { bpm: 92 }), "snare");
const strokes = timeline(part, { bpm: 92 }).notes;
const QUARTER = 60 / 92;
const lengths = strokes.map((note, i) => (strokes[i + 1]?.onsetSec ?? 0) - note.onsetSec);

const tapped = (onsets: readonly number[]) => assessTaps(part, onsets, { bpm: 92 });
/** The rhythm, every gap made longer or shorter. */
function stretched(gapAfter: (i: number, sec: number) => number): number[] {
  let at = 0;
  return strokes.map((_, i) => {
    const own = at;
    at += gapAfter(i, lengths[i]!);
    return own;
  });
}
const called = ({ notes }: ReturnType<typeof tapped>) =>
  notes.flatMap(({ timing, index }) =>
    timing === "early" || timing === "late" ? [`${index} ${timing}`] : [],
  );

describe("strokes at random", () => {
  const SEEDS = Array.from({ length: 24 }, (_, i) => i + 1);
  const answers = SEEDS.map((seed) => {
    const random = seededRandom(seed);
    return tapped(stretched(() => 0.2 + 0.7 * random()));
  });

  it("are mostly not this rhythm", () => {
    expect(answers.filter(({ take }) => take.status === "no-match").length).toBeGreaterThan(SEEDS.length / 2);
  });

  it("are never right and in time", () => {
    const known = answers.filter(({ take }) => take.status === "assessed");
    for (const { notes } of known)
      expect(notes.filter((note) => !isClean(note)).length).toBeGreaterThan(notes.length / 4);
  });

  it("are not this rhythm when there are half as many more of them", () => {
    const random = seededRandom(9);
    let at = 0;
    const more = Array.from(
      { length: Math.round(1.5 * strokes.length) },
      () => (at += 0.15 + 0.5 * random()),
    );
    expect(tapped(more).take.status).toBe("no-match");
  });
});

describe("a gap that is held too long or too short", () => {
  it("is told where long notes are cut short again and again, at the strokes behind them", () => {
    const long = (sec: number) => sec > 1.5 * QUARTER;
    const answer = tapped(stretched((_, sec) => (long(sec) ? 0.7 * sec : sec)));
    const behind = strokes.flatMap(({ index }, i) =>
      i > 0 && long(lengths[i - 1]!) ? [`${index} early`] : [],
    );
    expect(called(answer)).toEqual(behind);
  });

  it("is told where a pair of eighths is dragged, and nowhere else", () => {
    const pair = strokes.findIndex((_, i) => i > 4 && lengths[i]! + lengths[i + 1]! < 1.2 * QUARTER);
    const answer = tapped(stretched((i, sec) => (i === pair || i === pair + 1 ? 1.6 * sec : sec)));
    expect(called(answer)).toEqual([`${pair + 1} late`, `${pair + 2} late`]);
  });

  it("is not told behind a fermata", () => {
    const { part: held } = partFor(
      line("x:1 x:1 x:1 x:1^ | x:1 x:1 x:2 | x:1 x:1 x:2", { bpm: 92 }),
      "snare",
    );
    const onsets = timeline(held, { bpm: 92 }).notes.map(({ onsetSec }, i) => onsetSec + (i > 3 ? 0.3 : 0));
    expect(called(assessTaps(held, onsets, { bpm: 92 }))).toEqual([]);
  });

  it("is told once where one stroke is out of its place", () => {
    const onsets = strokes.map(({ onsetSec }, i) => onsetSec + (i === 9 ? 0.13 : 0));
    expect(called(tapped(onsets))).toEqual(["9 late"]);
  });
});

describe("a note with a pitch", () => {
  const { part: tune } = partFor(
    line("Bb4:1 C5:1 D5:1 Eb5:1 | F5:1 Eb5:1 D5:2 | C5:1 D5:1 Eb5:2 | C5:1 F5:1 D5:1 C5:1 | Bb4:4", {
      bpm: 92,
    }),
    "trumpet",
  );
  const notes = timeline(tune, { bpm: 92 }).notes;
  const heard = (gapBefore: (i: number, sec: number) => number) => {
    let at = 0.5;
    const played = notes.map(({ midi, onsetSec, durationSec }, i) => {
      at += i === 0 ? 0 : gapBefore(i, onsetSec - notes[i - 1]!.onsetSec);
      return { atSec: at, lengthSec: 0.4 * Math.min(durationSec, 1), midi, loudness: 0.7 };
    });
    const pcm = synthesise(played, "trumpet", at + 3, { noise: 0.002, echo: 0.2 }, 3);
    return called(assess(tune, pcm, { bpm: 92, instrumentId: "trumpet" }));
  };
  const behindHalf = 7;

  it("that comes a beat too soon, and goes on from there, is told once", () => {
    expect(notes[behindHalf]!.onsetQuarters - notes[behindHalf - 1]!.onsetQuarters).toBe(2);
    expect(heard((i, sec) => (i === behindHalf ? sec / 2 : sec))).toEqual([`${behindHalf} early`]);
  });

  it("is in time on a beat that runs away", () => {
    expect(heard((i, sec) => sec * (1 - (0.25 * i) / notes.length))).toEqual([]);
  });
});

describe("a bar of four strokes", () => {
  const { part: bar } = partFor(line("x:1 x:1/2 x:1/2 x:2", { bpm: 80 }), "snare");
  const words = (onsets: readonly number[]) => called(assessTaps(bar, onsets, { bpm: 80 }));

  it("is not in time when it is clapped evenly", () => {
    expect(words([0, 0.6, 1.2, 1.8])).not.toEqual([]);
  });

  it("is in time at a tempo of one's own, give or take what nobody hears", () => {
    expect(words([0, 0.9, 1.35, 1.8])).toEqual([]);
    expect(words([0, 0.78, 1.09, 1.5])).toEqual([]);
  });
});

describe("a beat of one's own", () => {
  it.each([1, 2, 3, 4])("may wander, and says nothing of single strokes (%i)", (seed) => {
    const random = seededRandom(seed);
    const wandering = stretched((_, sec) => sec + 0.02 * bell(random));
    expect(called(tapped(wandering))).toEqual([]);
  });

  it("may run away, which is told as that", () => {
    const answer = tapped(stretched((i, sec) => sec * (1 - (0.3 * i) / strokes.length)));
    expect(called(answer)).toEqual([]);
    expect(causesOf(answer, part).map(({ kind }) => kind)).toEqual(["rushing"]);
  });
});

describe("a rhythm that is not even", () => {
  const random = seededRandom(21);
  const shaken = strokes.map(({ onsetSec }) => onsetSec + 0.36 * (random() - 0.5));
  const answer = tapped(shaken);

  it("is told as one thing, is not clean, and is not praised for its strokes", () => {
    expect(answer.take.flags).toEqual(["uneven"]);
    expect(answer.notes.filter((note) => !isClean(note)).length).toBeGreaterThan(strokes.length / 4);
    expect(causesOf(answer, part).map(({ kind }) => kind)).toContain("uneven");
    expect(causesOf(answer, part).map(({ kind }) => kind)).not.toContain("late");
    expect(goodThingOf(answer)?.kind).not.toBe("all-notes");
  });

  it("is told of right pitches too", () => {
    const { part: tune } = partFor(
      line("Bb4:1 C5:1 D5:1 Eb5:1 | F5:1 D5:1 Bb4:1 F5:1 | Eb5:1 C5:1 D5:1 Bb4:1 | C5:1 D5:1 Bb4:2", {
        bpm: 92,
      }),
      "trumpet",
    );
    const gap = seededRandom(5);
    let at = 0.5;
    const played = timeline(tune).notes.map(({ midi }) => {
      const own = { atSec: at, lengthSec: 0.3, midi, loudness: 0.7 };
      at += 0.4 + 0.75 * gap();
      return own;
    });
    const pcm = synthesise(played, "trumpet", at + 1, { noise: 0.002, echo: 0.1 }, 3);
    const heard = assess(tune, pcm, { bpm: 92, instrumentId: "trumpet" });
    expect(heard.notes.map(({ verdict }) => verdict)).toEqual(played.map(() => "ok"));
    expect(heard.take.flags).toEqual(["uneven"]);
    const even = recordTake(tune, "trumpet", 92, steadyHabits, { noise: 0.002, echo: 0.1 }, 3);
    expect(assess(tune, even.pcm, { bpm: 92, instrumentId: "trumpet" }).take.flags).toEqual([]);
  });
});
