import { describe, expect, it } from "vitest";
import { instrumentNamed } from "../../src/core/music";
import { forNamedInstruments, type PartUse, type Score, withUses } from "../../src/core/score";
import { line } from "../support/music";

describe("names that programs give to parts", () => {
  // As common notation programs write them; common practice, no published source.
  it.each([
    ["Bb Clarinet 1", "clarinet"],
    ["Clarinet in B♭", "clarinet"],
    ["Clarinet in Eb", "clarinet-eb"],
    ["Bass Clarinet", "clarinet-bass"],
    ["Trumpet in Bb", "trumpet"],
    ["B♭ Cornet 2", "trumpet"],
    ["F Horn", "horn"],
    ["Horn in F 1", "horn"],
    ["French Horn", "horn"],
    ["Alto Saxophone 2", "sax-alto"],
    ["Tenor Sax", "sax-tenor"],
    ["Baritone Saxophone", "sax-bari"],
    ["Baritone (T.C.)", "euphonium-treble"],
    ["Euphonium", "euphonium"],
    ["Bass Trombone", "trombone"],
    ["Mallet Percussion", "bells"],
    ["Glockenspiel", "bells"],
    ["Percussion 1", "snare"],
    ["Bass Drum", "bass-drum"],
    ["Crash Cymbals", "accessories"],
    ["Double Bass", "string-bass"],
    ["Querflöte", "flute"],
  ])("%s is the %s", (name, id) => {
    expect(instrumentNamed(name)?.id).toBe(id);
  });

  it.each([
    "English Horn",
    "Cor anglais",
    "Tenor Horn",
    "Tubular Bells",
    "Piano",
    "First",
  ])("%s is none of ours", (name) => {
    expect(instrumentNamed(name)).toBeUndefined();
  });
});

describe("a full score", () => {
  const score = (): Score => {
    const names = ["Flute", "Bb Clarinet 1", "Bb Clarinet 2", "Tuba", "Piano"];
    const [first, ...others] = names.map((name, i) => ({
      ...line("Bb4:4").parts[0],
      id: `P${i + 1}`,
      name,
    }));
    return { title: "Full", parts: [first!, ...others] };
  };

  it("gives each instrument its first part; the second is there to choose", () => {
    const named = forNamedInstruments(score());
    expect(named.parts.map((part) => part.forInstruments?.join() ?? "-")).toEqual([
      "-",
      "clarinet",
      "-",
      "tuba",
      "-",
    ]);
  });

  it("is sorted by the director: line first, parts out, instruments corrected", () => {
    const uses = new Map<string, PartUse>([
      ["P1", "part"],
      ["P2", "line"],
      ["P4", { instrumentId: "sax-bari" }],
      ["P5", "leave"],
    ]);
    const sorted = withUses(forNamedInstruments(score()), uses);
    expect(sorted.parts.map((part) => [part.name, part.forInstruments?.join() ?? "-"])).toEqual([
      ["Bb Clarinet 1", "-"],
      ["Flute", "-"],
      ["Bb Clarinet 2", "-"],
      ["Tuba", "sax-bari"],
    ]);
  });

  it("keeps one line at least, and one at most", () => {
    const all = (use: PartUse) => new Map(score().parts.map((part) => [part.id, use]));
    expect(() => withUses(score(), all("leave"))).toThrow("no part is left to read");
    expect(() => withUses(score(), all("line"))).toThrow("only one part can be the line");
  });
});
