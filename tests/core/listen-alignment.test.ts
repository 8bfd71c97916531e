import { describe, expect, it } from "vitest";
import { align } from "../../src/core/listen/align";
import { alignmentCosts, gapCost } from "../../src/core/listen/align-costs";
import { ownBeat } from "../../src/core/listen/beat";
import type { Heard } from "../../src/core/listen/heard";
import { splitAtHesitations } from "../../src/core/listen/runs";
import type { Segment } from "../../src/core/listen/segments";
import { timeline } from "../../src/core/score";
import { heardAs } from "../support/heard";
import { line } from "../support/music";

const BPM = 60;
const { notes } = timeline(
  line("Bb4:1 C5:1 D5:1 Eb5:1 | F5:1 Eb5:1 D5:1 C5:1 | D5:1 F5:1 G5:1 F5:1 | Bb4:4", { bpm: BPM }),
);

/** A clear sound of a note of the line, half a second in. */
function sound(onsetSec: number, midi: number, lastsSec = 0.8): Segment {
  return {
    onsetSec,
    offsetSec: onsetSec + lastsSec,
    midi,
    spread: 0.03,
    glide: 0,
    peakDb: -12,
    attackDb: 20,
    dipDb: 15,
    gapSec: 0.15,
    clarity: 0.98,
    rivals: [],
    seams: [],
  };
}
const plain = (slower = 1) => notes.map((note) => sound(0.5 + slower * note.onsetSec, note.midi!));
const path = (segments: readonly Segment[]) =>
  align(notes, segments, 60 / BPM).matches.map(({ note, segment }) => [note, segment]);

describe("the alignment", () => {
  it.each([0.7, 1, 1.5])("hears every sound as its note at %f times the length", (slower) => {
    const found = align(notes, plain(slower), 60 / BPM);
    expect(found.matches.map(({ note, segment }) => note - segment)).toEqual(notes.map(() => 0));
    expect(found.secPerQuarter).toBeCloseTo((slower * 60) / BPM, 1);
  });

  it("leaves out a note that was not played and a sound that was not written", () => {
    const segments = plain().filter((_, i) => i !== 5);
    segments.splice(9, 0, sound(9.95, 61, 0.3));
    const matched = path(segments);
    expect(matched.map(([note]) => note)).toEqual([0, 1, 2, 3, 4, 6, 7, 8, 9, 10, 11, 12]);
    expect(matched.some(([, segment]) => segment === 9)).toBe(false);
  });

  it("hears the beginning of a line, half of it wrong and with other sounds between, rather than none of it", () => {
    const begun = plain().slice(0, 9);
    for (const wrong of [1, 3, 6]) begun[wrong]!.midi! += 3;
    const other = [0, 1, 2, 4, 5, 7].map((i) => sound(begun[i]!.onsetSec + 0.5, 61, 0.3));
    const segments = [...begun, ...other].sort((a, b) => a.onsetSec - b.onsetSec);
    const matched = path(segments);
    const right = [0, 2, 4, 5, 7, 8].map((note) => [note, segments.indexOf(begun[note]!)]);
    expect(matched).toEqual(expect.arrayContaining(right));
  });

  it("jumps back where the line is begun again", () => {
    const first = plain().slice(0, 7);
    const again = plain().map((each) => sound(each.onsetSec + 9, each.midi!));
    again[0]!.gapSec = 1.8;
    const { matches } = align(notes, [...first, ...again], 60 / BPM);
    expect(matches.filter(({ jump }) => jump).map(({ note, segment }) => [note, segment])).toEqual([[0, 7]]);
    expect(matches).toHaveLength(7 + notes.length);
  });

  it("prices a wrong pitch above the right one, and another octave between", () => {
    const costs = alignmentCosts(
      notes.slice(0, 1),
      [70, 71, 82, 75].map((midi, i) => sound(i, midi)),
    );
    const [right, semitone, octave, other] = [...costs.pitch[0]!] as [number, number, number, number];
    expect(right).toBeLessThan(0);
    expect(semitone).toBeLessThan(octave);
    expect(octave).toBeLessThan(other);
  });

  it("takes what is soft or glides for somebody else's: it costs little to leave it over", () => {
    const voice = { ...sound(1, 70), peakDb: -24, spread: 0.4 };
    const { leftOver } = alignmentCosts(notes, [sound(0, 70), sound(2, 75), voice]);
    expect(leftOver[3]! - leftOver[2]!).toBeLessThan(0.5 * (leftOver[2]! - leftOver[1]!));
  });

  it("lets a gap be a little off for nothing, and never asks more than a cap", () => {
    expect(gapCost(1.04, 1)).toBe(0);
    expect(gapCost(1.1, 1)).toBe(0);
    expect(gapCost(1.4, 1)).toBeGreaterThan(gapCost(1.2, 1));
    expect(gapCost(30, 1)).toBe(gapCost(300, 1));
    expect(gapCost(0, 1)).toBe(gapCost(300, 1));
  });
});

describe("the player's own beat", () => {
  const RUN = { pass: 0, part: 0 };
  const points = (at: (i: number) => number, run = RUN, from = 0) =>
    Array.from({ length: 16 }, (_, i) => ({ quarters: from + i, sec: at(from + i), run }));

  it("is not moved by one note that is late", () => {
    const beat = ownBeat(
      points((i) => i * 0.7 + (i === 8 ? 0.2 : 0)),
      1,
    );
    expect(beat.timeAt(8, RUN, 8)).toBeCloseTo(5.6, 2);
    expect(beat.secPerQuarter).toBeCloseTo(0.7, 2);
  });

  it("follows a player who rushes", () => {
    const beat = ownBeat(
      points((i) => i * 0.8 - 0.008 * i * i),
      1,
    );
    expect(beat.rateAt(1, RUN)).toBeGreaterThan(beat.rateAt(14, RUN) * 1.2);
    expect(beat.driftPercent).toBeGreaterThan(10);
  });

  it("draws no line from one run to another", () => {
    const later = { pass: 0, part: 1 };
    const beat = ownBeat([...points((i) => i * 0.7), ...points((i) => i * 0.7 + 5, later, 16)], 1);
    expect(beat.timeAt(15, RUN)).toBeCloseTo(10.5, 2);
    expect(beat.timeAt(16, later)).toBeCloseTo(16.2, 2);
  });
});

describe("a pause", () => {
  const heard = (at: (i: number) => number): Heard[] => {
    const run = { pass: 0, part: 0 };
    return notes.map((note, i) => {
      const onsetSec = at(i);
      const segment = sound(onsetSec, note.midi!);
      return heardAs(note, { segment, run, onsetSec, offsetSec: segment.offsetSec });
    });
  };

  it("begins a new run, and is told once with its bar", () => {
    const { heard: split, hesitations } = splitAtHesitations(
      heard((i) => i + (i >= 6 ? 1.3 : 0)),
      notes,
      1,
    );
    expect(hesitations).toEqual([
      { kind: "hesitation", atSec: 6, seconds: expect.closeTo(1.3, 3), measure: notes[6]!.measure },
    ]);
    expect(split[5]!.run).toBe(split[0]!.run);
    expect(split[6]!.run).toBe(split[12]!.run);
    expect(split[6]!.run).not.toBe(split[5]!.run);
  });

  it.each([
    ["the sound goes on into it and something else may have been played", 6.9, 6, 0],
    ["the note before it is held on until the next", 7.3, 7.3, 1],
  ])("where %s, begins a new run too", (_what, offsetSec, segmentEndSec, told) => {
    const all = heard((i) => i + (i >= 6 ? 1.3 : 0));
    all[5] = { ...all[5]!, offsetSec, segment: { ...all[5]!.segment, offsetSec: segmentEndSec } };
    const { heard: split, hesitations } = splitAtHesitations(all, notes, 1);
    expect(hesitations).toHaveLength(told);
    expect(split[6]!.run).not.toBe(split[5]!.run);
  });

  it("is none where a note is a little late", () => {
    const { heard: split, hesitations } = splitAtHesitations(
      heard((i) => i + (i >= 6 ? 0.3 : 0)),
      notes,
      1,
    );
    expect(hesitations).toEqual([]);
    expect(new Set(split.map((each) => each!.run)).size).toBe(1);
  });
});
