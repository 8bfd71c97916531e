import { describe, expect, it } from "vitest";
import { INSTRUMENTS, instrumentById, keyRow, pitchToMidi, stageRange } from "../../src/core/music";

describe("the key chart", () => {
  // Common practice, no published source: the chart on every band-room wall.
  it.each([
    [-2, "flute", "B♭ major", "B♭4"],
    [-2, "clarinet", "C major", "C4"],
    [-2, "trumpet", "C major", "C4"],
    [-2, "sax-alto", "G major", "G4"],
    [-2, "sax-bari", "G major", "G4"],
    [-2, "horn", "F major", "F4"],
    [-2, "trombone", "B♭ major", "B♭2"],
    [-2, "tuba", "B♭ major", "B♭1"],
    // Below the break, as in docs/octaves.md.
    [-3, "clarinet", "F major", "F3"],
    [-3, "sax-alto", "C major", "C5"],
    [-4, "clarinet", "B♭ major", "B♭3"],
    [-1, "sax-tenor", "G major", "G4"],
    [0, "horn", "G major", "G4"],
  ])("concert key of %i signs for %s is %s, from %s", (fifths, id, key, first) => {
    const row = keyRow(instrumentById(id), "small-tunes", fifths, "major");
    expect([row.key, row.first!.name]).toEqual([key, first]);
  });

  it("gives the scale by its written names, the fourth of A♭ is D♭", () => {
    expect(keyRow(instrumentById("flute"), "small-tunes", -4, "major").scale[3]).toBe("D♭");
    expect(keyRow(instrumentById("sax-alto"), "small-tunes", -2, "major").scale).toEqual([
      "G",
      "A",
      "B",
      "C",
      "D",
      "E",
      "F♯",
      "G",
    ]);
    expect(keyRow(instrumentById("flute"), "small-tunes", -2, "minor").scale).toEqual([
      "G",
      "A",
      "B♭",
      "C",
      "D",
      "E♭",
      "F",
      "G",
    ]);
  });

  it("has no key for drums, and sounds the same tonic for everybody in every key", () => {
    expect(keyRow(instrumentById("snare"), "small-tunes", -2, "major")).toMatchObject({
      key: "no key",
      scale: [],
      first: null,
    });
    for (const instrument of INSTRUMENTS.filter(({ ranges, drums }) => ranges && !drums))
      for (const fifths of [-6, -5, -4, -3, -2, -1, 0, 1, 2, 3, 4])
        for (const mode of ["major", "minor"] as const) {
          const { first } = keyRow(instrument, "widening", fifths, mode);
          const tonic = (((7 * fifths + (mode === "minor" ? 9 : 0)) % 12) + 12) % 12;
          expect([
            instrument.id,
            fifths,
            mode,
            (pitchToMidi(first!.pitch) + instrument.soundsBy.semitones + 120) % 12,
          ]).toEqual([instrument.id, fifths, mode, tonic]);
        }
  });

  it("begins within the stage's range in the keys of the first books", () => {
    for (const instrument of INSTRUMENTS.filter(({ ranges, drums }) => ranges && !drums))
      for (const fifths of [-2, -3]) {
        const { low, high } = stageRange(instrument, "small-tunes")!;
        const midi = pitchToMidi(keyRow(instrument, "small-tunes", fifths, "major").first!.pitch);
        expect([instrument.id, fifths, midi >= pitchToMidi(low) && midi <= pitchToMidi(high)]).toEqual([
          instrument.id,
          fifths,
          true,
        ]);
      }
  });
});
