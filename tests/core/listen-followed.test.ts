import { describe, expect, it } from "vitest";
import type { Pcm } from "../../src/core/audio";
import { assess } from "../../src/core/listen";
import { timeline } from "../../src/core/score";
import { line, partFor } from "../support/music";

const RATE = 22_050;
const BPM = 84;
const { part } = partFor(
  line("Bb4:1 Bb4:1/2 Bb4:1/2 Bb4:1 Bb4:1 | Bb4:1/2 Bb4:1/2 Bb4:1 Bb4:2 | Bb4:1 Bb4:1 Bb4:1/2 Bb4:1/2 Bb4:1"),
  "clarinet",
);
const { notes, totalSec, measures } = timeline(part, { bpm: BPM });

/** Noise of one band, dying away within some hundredths of a second: a clap is bright, a hand on a table is dark. */
function stroke(into: Float32Array, atSec: number, hz: number, gain: number): void {
  let seed = Math.round(1000 * atSec) + hz;
  let [one, two] = [0, 0];
  const turn = 2 * Math.cos((2 * Math.PI * hz) / RATE);
  for (let i = 0; i < 0.12 * RATE; i++) {
    seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648;
    const noise = seed / 1_073_741_824 - 1;
    // A resonance: the next value from the two before.
    const next = noise + 0.97 * turn * one - 0.94 * two;
    [one, two] = [next, one];
    into[Math.round(atSec * RATE) + i]! += gain * next * Math.exp(-i / (0.02 * RATE)) * 0.1;
  }
}

/** Claps of the line, some left out; beats counted on a darker sound, between the strokes too. */
function played(leftOut: readonly number[], counted: boolean): Pcm {
  const samples = new Float32Array(Math.ceil((totalSec + 2) * RATE));
  for (const note of notes) if (!leftOut.includes(note.index)) stroke(samples, 1 + note.onsetSec, 3200, 1);
  if (counted)
    for (const bar of measures)
      for (let beat = 0; beat < 4; beat++)
        stroke(samples, 1 + bar.onsetSec + beat * bar.secPerQuarter - 0.09, 600, 0.7);
  return { samples, sampleRate: RATE };
}
const heard = (pcm: Pcm) => assess(part, pcm, { bpm: BPM, mode: "rhythm" });
const missedOf = ({ notes: said }: ReturnType<typeof heard>) =>
  said.filter(({ verdict }) => verdict === "missed").map(({ index }) => index);

describe("strokes beside which another sound goes on", () => {
  it("are followed alone: what counts the beat is no stroke too many", () => {
    const answer = heard(played([], true));
    expect(answer.take.status).toBe("assessed");
    expect(missedOf(answer)).toEqual([]);
    expect(answer.extras).toEqual([]);
    expect(answer.take.tempoBpm).toBeCloseTo(BPM, 0);
  });

  it("are missed where only the other sound was heard, or that is told as hardly sure", () => {
    for (const index of [3, 7, 9]) {
      const said = heard(played([index], true)).notes;
      const own = said[index]!;
      expect(own.verdict === "missed" || own.confidence < 0.85, String(index)).toBe(true);
      const others = said.filter((note) => note.index !== index);
      expect(
        others.every(({ verdict }) => verdict === "ok"),
        String(index),
      ).toBe(true);
    }
  });

  it("are all the player's where there is one sound", () => {
    const answer = heard(played([4], false));
    expect(missedOf(answer)).toEqual([4]);
    const samples = played([], false);
    stroke(samples.samples, 1 + notes[2]!.onsetSec + 0.18, 3200, 1);
    expect(heard(samples).extras).toHaveLength(1);
  });
});
