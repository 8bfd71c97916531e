import { describe, expect, it } from "vitest";
import { recordTake, steadyHabits } from "../../demo/players";
import { synthesise } from "../../demo/synth";
import { assess, assessAttempts } from "../../src/core/listen";
import { line, partFor } from "../support/music";

const { part } = partFor(
  line("Bb4:1 C5:1 D5:2 | Eb5:1 D5:1 Eb5:1 C5:1 | D5:2 C5:1 Bb4:1 | Bb4:4"),
  "trumpet",
);
const options = { bpm: 96, instrumentId: "trumpet" };
const ROOM = { noise: 0.002, echo: 0.15 };
const once = recordTake(part, "trumpet", 96, { ...steadyHabits, unsteady: 0.004 }, ROOM, 3).played;
const first = once[0]!.atSec;
const lengthSec = once.at(-1)!.atSec + once.at(-1)!.lengthSec - first;

/** Attempts at seconds of a recording, each with some notes a semitone off or only its first notes. */
function recorded(attempts: readonly { atSec: number; wrong?: readonly number[]; notes?: number }[]) {
  const played = attempts.flatMap(({ atSec, wrong = [], notes = once.length }) =>
    once.slice(0, notes).map((note, i) => ({
      ...note,
      atSec: note.atSec - first + atSec,
      midi: wrong.includes(i) ? note.midi! + 1 : note.midi,
    })),
  );
  return synthesise(played, "trumpet", played.at(-1)!.atSec + 3, ROOM, 5);
}
const wrongIn = ({ notes }: ReturnType<typeof assess>) =>
  notes.flatMap(({ verdict }, i) => (verdict === "ok" ? [] : [i]));

describe("several attempts in one recording", () => {
  const second = 1 + lengthSec + 4;

  it("are told apart, and the best of them is judged, its times in the recording", () => {
    const pcm = recorded([
      { atSec: 1, wrong: [2, 5, 8] },
      { atSec: second, wrong: [5] },
    ]);
    const found = assessAttempts(part, pcm, options);
    expect(found.attempts!.map(({ judged }) => judged)).toEqual([false, true]);
    expect(found.attempts![0]!.fromSec).toBeCloseTo(1, 0);
    expect(found.attempts![1]!.fromSec).toBeCloseTo(second, 0);
    expect(found.attempts![0]!.share).toBeLessThan(found.attempts![1]!.share);
    expect(wrongIn(found)).toEqual([5]);
    expect(found.notes[0]!.onset!).toBeCloseTo(second, 0);
    expect(found.breaks).toEqual([]);
  });

  it("are judged by the last where the band says so, and the best where the first is better", () => {
    const pcm = recorded([{ atSec: 1 }, { atSec: second, wrong: [2, 5] }]);
    expect(wrongIn(assessAttempts(part, pcm, options))).toEqual([]);
    expect(wrongIn(assessAttempts(part, pcm, options, "last"))).toEqual([2, 5]);
  });

  it("are one where the other is a false start, another pause or no attempt of this line", () => {
    for (const pcm of [
      recorded([{ atSec: 1 }]),
      // Two notes, quiet, then all of it: a restart, as the engine tells it.
      recorded([{ atSec: 1, notes: 2 }, { atSec: 6 }]),
      // A pause of a second in the middle is a hesitation.
      recorded([{ atSec: 1 }, { atSec: 1 + lengthSec + 1, notes: 2 }]),
    ]) {
      const found = assessAttempts(part, pcm, options);
      expect(found.attempts).toBeUndefined();
      expect(found).toEqual(assess(part, pcm, options));
    }
  });
});
