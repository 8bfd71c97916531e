import { describe, expect, it } from "vitest";
import { engraveShorthand, LINES, SNARE_LINE } from "../../src/core/book";
import {
  INSTRUMENTS,
  instrumentById,
  pitchId,
  pitchName,
  pitchToMidi,
  type Stage,
} from "../../src/core/music";
import { concertPart, derivePart, forDrumsOnly, vocabularyOf } from "../../src/core/score";

/** Concert range of each line, lowest and highest, from the plan of the book. */
const RANGES: Record<string, [numbers: number[], range: string]> = {
  "one note each": [[1, 2, 3], "D5 F5"],
  "three notes": [[4], "D5 F5"],
  "five notes": [[5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16], "Bb4 F5"],
  "G above": [[17, 18, 20, 21], "Bb4 G5"],
  "A below": [[22, 23, 24, 25, 29, 30], "A4 G5"],
  "A flat": [[26, 27, 28, 31], "Bb4 Ab5"],
  "G below": [[32, 33], "G4 G5"],
  accidentals: [[34], "A4 G5"],
  "key of F": [[35], "C5 A5"],
  chorale: [[36], "Bb4 F5"],
};
const lines = LINES.map((book) => ({ book, score: engraveShorthand(book) }));
const midi = (name: string) =>
  pitchToMidi({ letter: name[0] as "A", alter: name.includes("b") ? -1 : 0, octave: Number(name.at(-1)) });

describe("the demo book", () => {
  it("has thirty-six lines with pages, in order", () => {
    const all = [...LINES, SNARE_LINE].sort((a, b) => a.number - b.number);
    expect(all.map(({ number }) => number)).toEqual(Array.from({ length: 36 }, (_, i) => i + 1));
    expect(all.map(({ page }) => page)).toEqual([...all.map(({ page }) => page)].sort((a, b) => a - b));
    expect(forDrumsOnly(engraveShorthand(SNARE_LINE))).toBe(true);
  });

  it("keeps to the range that each line teaches", () => {
    for (const [numbers, range] of Object.values(RANGES))
      for (const number of numbers) {
        const { score } = lines.find(({ book }) => book.number === number)!;
        const [low, high] = range.split(" ").map(midi) as [number, number];
        for (const pitch of vocabularyOf(concertPart(score)).notes) {
          expect(pitchToMidi(pitch), `${number}: ${pitchName(pitch)}`).toBeGreaterThanOrEqual(low);
          expect(pitchToMidi(pitch), `${number}: ${pitchName(pitch)}`).toBeLessThanOrEqual(high);
        }
      }
  });

  it("fits every beginner's range at its stage, in the octave that was learned", () => {
    for (const { book, score } of lines) {
      const stage: Stage = book.number <= 16 ? "five-notes" : book.number <= 31 ? "small-tunes" : "widening";
      for (const instrument of INSTRUMENTS.filter((each) => each.ranges)) {
        const parts = [
          score,
          ...(book.parts ?? []).map((part) => engraveShorthand({ ...book, music: part.music })),
        ];
        // What is written for some instruments is asked of those only.
        const own = book.parts?.findIndex((part) => part.instruments?.includes(instrument.id)) ?? -1;
        const asked =
          own >= 0 ? [parts[own + 1]!] : parts.filter((_, i) => i === 0 || !book.parts![i - 1]!.instruments);
        for (const part of asked)
          expect([
            book.number,
            instrument.id,
            derivePart(part, instrument, stage).outOfRange.map(pitchId),
          ]).toEqual([book.number, instrument.id, []]);
      }
    }
  });

  it("brings one or two new things a line", () => {
    const met = new Set<string>();
    for (const { book, score } of lines) {
      const { notes, rhythms, signs } = vocabularyOf(concertPart(score));
      const used = [
        ...notes.map((pitch) => pitchName(pitch, false)),
        ...rhythms.filter((each) => each !== "4/4"),
        // A key is a thing of its own in the first line that is about it; dynamics come as one thing.
        ...signs
          .filter((each) => !each.startsWith("key"))
          .map((each) => (["p", "mf", "f"].includes(each) ? "dynamics" : each)),
      ];
      const fresh = new Set(used.filter((each) => !met.has(each)));
      for (const each of fresh) met.add(each);
      // The first line of all brings a note, a value and its rest; accent and staccato, halves and their rests come in pairs.
      expect([book.number, fresh.size <= 3], [...fresh].join(", ")).toEqual([book.number, true]);
    }
  });

  it("takes the clarinet over the break in its own line and not before", () => {
    const clarinet = instrumentById("clarinet");
    for (const { book, score } of lines) {
      const own = book.parts?.find((part) => part.instruments?.includes("clarinet"));
      // In its own line the director keeps the clarinets up, as the demo does.
      const octave = book.number === 33 ? -1 : null;
      const line = own ? engraveShorthand({ ...book, music: own.music }) : score;
      const part = derivePart(line, clarinet, "widening", { octave });
      const highest = Math.max(...vocabularyOf(part.score).notes.map(pitchToMidi));
      if (book.number === 33) expect(pitchId(vocabularyOf(part.score).notes.at(-1)!)).toBe("E5");
      else expect([book.number, highest <= midi("Bb4")]).toEqual([book.number, true]);
    }
  });
});
