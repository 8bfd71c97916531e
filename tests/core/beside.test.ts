import { describe, expect, it } from "vitest";
import { type PlayedNote, synthesise } from "../../demo/synth";
import { assess } from "../../src/core/listen";
import { barAt, barTimes, besideAt, writtenBarTimes } from "../../src/core/practice";
import { timeline } from "../../src/core/score";
import { line, partFor } from "../support/music";

const { part } = partFor(
  line("Bb4:1 C5:1 D5:2 | Eb5:1 D5:1 Eb5:1 C5:1 | D5:2 C5:1 Bb4:1 | C5:1 D5:1 C5:2 | Bb4:4"),
  "clarinet",
);
const written = timeline(part, { bpm: 80 });

/** A take whose every bar has a tempo of its own; the truth is when each was made to begin. */
function takeAt(bpms: readonly number[], leadSec: number, seed: number, without: readonly number[] = []) {
  const truth = [leadSec];
  for (const [bar, bpm] of bpms.entries()) truth.push(truth[bar]! + (4 * 60) / bpm);
  const played = written.notes.flatMap((note, index): PlayedNote[] => {
    const bar = written.measures.findIndex(({ measureIndex }) => measureIndex === note.measureIndex);
    const from = written.measures[bar]!.onsetSec;
    const pace = 80 / bpms[bar]!;
    if (without.includes(index)) return [];
    return [
      {
        midi: note.midi!,
        atSec: truth[bar]! + (note.onsetSec - from) * pace,
        lengthSec: note.durationSec * pace * 0.92,
        loudness: 0.6,
      },
    ];
  });
  const pcm = synthesise(played, "clarinet", truth.at(-1)! + 1, { noise: 0.003, echo: 0.2 }, seed);
  return { truth, assessment: assess(part, pcm, { bpm: 80, instrumentId: "clarinet" }) };
}

describe("two takes side by side", () => {
  it.each([
    ["steady", [80, 80, 80, 80, 80], 0.7, []],
    ["running away", [76, 80, 85, 90, 96], 1.4, []],
    ["slower and back", [84, 72, 66, 76, 84], 0.4, []],
    ["with the first note of a bar left out", [80, 78, 82, 80, 80], 0.9, [7]],
  ] as const)("finds where each bar of a take begins: %s", (_, bpms, lead, without) => {
    const { truth, assessment } = takeAt(bpms, lead, 5, without);
    const found = barTimes(part, assessment)!;
    expect(found).toHaveLength(truth.length);
    // The end of the last long note is not heard by a following one, so it is reckoned by the tempo of the whole.
    const off = found.slice(0, -1).map((sec, bar) => Math.abs(sec - truth[bar]!));
    expect(Math.max(...off)).toBeLessThan(0.09);
  });

  it("lays every moment of the one on the same place of the other", () => {
    const one = takeAt([80, 72, 88, 80, 76], 0.5, 7);
    const other = takeAt([66, 90, 70, 84, 80], 2.1, 8);
    const [a, b] = [barTimes(part, one.assessment)!, barTimes(part, other.assessment)!];
    for (let bar = 0; bar < 4; bar++)
      for (const share of [0.1, 0.5, 0.9]) {
        const at = (truth: number[]) => truth[bar]! + share * (truth[bar + 1]! - truth[bar]!);
        const beside = besideAt(a, b, at(one.truth));
        expect(Math.abs(beside.sec - at(other.truth))).toBeLessThan(0.14);
        // The other's bar is long where its tempo was slow: it has to go faster then.
        expect(beside.rate).toBeCloseTo(
          (other.truth[bar + 1]! - other.truth[bar]!) / (one.truth[bar + 1]! - one.truth[bar]!),
          0,
        );
      }
  });

  it("goes exactly where the other is played as written", () => {
    const bars = writtenBarTimes(part, 80);
    expect(bars).toEqual([0, 3, 6, 9, 12, 15]);
    expect(besideAt([1, 3, 5, 7, 9, 11], bars, 4)).toEqual({ sec: 4.5, rate: 1.5 });
    // Before the first bar and after the last.
    expect(besideAt([1, 3, 5, 7, 9, 11], bars, 0).sec).toBe(-1.5);
    expect(besideAt([1, 3, 5, 7, 9, 11], bars, 12).sec).toBe(16.5);
    expect([0, 1, 2.9, 3, 10.9, 99].map((sec) => barAt([1, 3, 5, 7, 9, 11], sec))).toEqual([
      0, 0, 0, 1, 4, 4,
    ]);
  });

  it("has nothing to go by where nothing was found", () => {
    const { assessment } = takeAt([80, 80, 80, 80, 80], 0.5, 9);
    expect(barTimes(part, { ...assessment, notes: assessment.notes.slice(0, 1) })).toBeNull();
  });
});
