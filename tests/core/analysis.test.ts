import { describe, expect, it } from "vitest";
import { engraveShorthand, LINES, SNARE_LINE } from "../../src/core/book";
import { instrumentById, pitchName, type Stage } from "../../src/core/music";
import {
  breathPlaces,
  compareBars,
  derivePart,
  difficultyOf,
  formOf,
  knownAtStage,
  newIn,
  type Score,
  snagsOf,
  timeline,
  vocabularyOf,
} from "../../src/core/score";
import { snagReason } from "../../src/ui/wording";
import { line } from "../support/music";

const book = (number: number) => engraveShorthand(LINES.find((each) => each.number === number)!);
const partOf = (score: Score, id: string, stage: Stage = "widening") =>
  derivePart(score, instrumentById(id), stage).score;
/** A part written as it stands, for an instrument that reads concert pitch. */
const snags = (score: Score, id: string, stage: Stage = "widening", bpm?: number) =>
  snagsOf(partOf(score, id, stage), instrumentById(id), stage, { bpm }).map(
    (snag) => `${snag.measure}: ${snag.kind}: ${snagReason(snag)}`,
  );

describe("vocabulary", () => {
  it("names every note, rhythm and sign once", () => {
    const used = vocabularyOf(partOf(book(23), "clarinet"));
    expect(used.notes.map((pitch) => pitchName(pitch, false))).toEqual(["B", "C", "D", "E", "F", "G", "A"]);
    expect(used.rhythms.sort()).toEqual(["3/4", "dotted half", "quarter"]);
    expect(used.signs.sort()).toEqual(["breath mark"]);
  });

  it("reads repeats, endings, jumps, pickups, slurs, rests and the key of the instrument, not of the line", () => {
    expect(vocabularyOf(book(28)).signs).toEqual(
      expect.arrayContaining(["repeat", "endings", "key of E♭ major"]),
    );
    expect(vocabularyOf(book(31)).signs).toEqual(expect.arrayContaining(["D.C.", "Fine"]));
    expect(vocabularyOf(book(24)).rhythms).toEqual(expect.arrayContaining(["pickup", "half", "3/4"]));
    expect(vocabularyOf(book(21)).signs).toContain("slur");
    expect(vocabularyOf(partOf(book(21), "clarinet")).signs.filter((sign) => sign.startsWith("key"))).toEqual(
      [],
    );
    expect(vocabularyOf(partOf(book(21), "sax-alto")).signs).toContain("key of G major");
    expect(vocabularyOf(engraveShorthand(SNARE_LINE)).notes).toEqual([]);
  });

  it("finds what is new for an instrument at a stage: notes in its own writing, rhythms and signs", () => {
    const clarinet = instrumentById("clarinet");
    const part = partOf(line("Bb4:1 C5:1/2 D5:1/2 G5:2("), "clarinet", "small-tunes");
    const fresh = (stage: Stage) => newIn(vocabularyOf(part), knownAtStage(clarinet, stage));
    expect(fresh("small-tunes").notes.map((pitch) => pitchName(pitch))).toEqual(["A4"]);
    expect(fresh("small-tunes").rhythms).toEqual(["eighth"]);
    expect(fresh("small-tunes").signs).toEqual(["slur"]);
    expect(fresh("five-notes").notes).toHaveLength(4);
    expect(fresh("widening")).toMatchObject({ notes: [], rhythms: [], signs: [] });
  });
});

describe("same and different bars", () => {
  it("tells the same, the same rhythm and the new apart, and points to the first", () => {
    const bars = compareBars(
      line("Bb4:1 C5:1 D5:2 | C5:1 D5:1 Eb5:2 | Bb4:1 C5:1 D5:2 | D5:2 Bb4:1 C5:1 | Bb4:4"),
    );
    expect(bars.map((bar) => [bar.number, bar.relation, bar.like])).toEqual([
      ["1", "new", null],
      ["2", "same rhythm", "1"],
      ["3", "same", "1"],
      ["4", "new", null],
      ["5", "new", null],
    ]);
  });

  it("takes a slur or tie for another bar, and a dynamic for the same", () => {
    const bars = compareBars(line("Bb4:1 C5:1 D5:2 | Bb4:1( C5:1) D5:2 | p= Bb4:1 C5:1 D5:2"));
    expect(bars.map((bar) => bar.relation)).toEqual(["new", "new", "same"]);
  });

  it("hears the form in phrases", () => {
    expect(
      formOf(
        line(
          "Bb4:4 | C5:4 | D5:4 | C5:4 | Bb4:4 | C5:4 | D5:4 | C5:4 | F5:4 | F5:4 | G5:4 | F5:4 | Bb4:4 | C5:4 | D5:4 | C5:4",
        ),
      ),
    ).toEqual({ letters: ["A", "A", "B", "A"], phraseBars: 4 });
    expect(formOf(line("Bb4:4 | C5:4 | D5:4 | C5:4 | Bb4:4 | C5:4 | D5:4 | Bb4:4"))!.letters).toEqual([
      "A",
      "A'",
    ]);
    expect(formOf(line("Bb4:4 | C5:4 | Eb5:4 | F5:4"))).toEqual({ letters: ["A", "B"], phraseBars: 2 });
    expect(formOf(line("Bb4:4 | C5:4 | Eb5:4"))).toBeNull();
  });
});

describe("snags", () => {
  // Common practice, no published source.
  it("clarinet: crossing the break, the worse from a throat note", () => {
    const up = line("F5:1 A5:1 Bb5:2 | C5:4", { fifths: -2 });
    up.overrides = { clarinet: { octave: -1 } };
    const part = partOf(up, "clarinet", "widening");
    const found = snagsOf(part, instrumentById("clarinet"), "widening").filter(
      (snag) => snag.kind === "break",
    );
    expect(found.map((snag) => [snagReason(snag), snag.weight])).toEqual([
      ["G to B crosses the break from a throat note: have the right hand down before", 3],
      ["C to D crosses the break", 2],
    ]);
  });

  it("saxophone: C to D in the middle", () => {
    expect(snags(line("Eb5:2 F5:2"), "sax-alto", "small-tunes")).toEqual([
      "1: many-fingers: C to D moves 6 fingers at once",
    ]);
  });

  it("trombone: first to sixth position, and nothing for a neighbour", () => {
    expect(snags(line("Bb4:2 C5:2 | D5:2 Eb5:2"), "trombone", "five-notes")).toEqual([
      "1: long-slide: B♭ to C: 1st to 6th position",
    ]);
  });

  it("brass: leaps over partials, slurred ones worst; euphonium and trombone alike", () => {
    const leap = line("Bb4:2( F5:2) | Bb4:4");
    const found = (id: string) =>
      snagsOf(partOf(leap, id), instrumentById(id), "widening").filter(
        (snag) => snag.kind === "partial-leap",
      );
    expect(found("trumpet")).toEqual([]);
    const wide = line("Bb4:2( Bb5:2) | Bb4:4");
    const widest = snagsOf(partOf(wide, "trumpet"), instrumentById("trumpet"), "widening").filter(
      (snag) => snag.kind === "partial-leap",
    );
    expect([widest[0]!.weight, snagReason(widest[0]!)]).toEqual([
      3,
      "C to C leaps over a partial, slurred: hear it first",
    ]);
  });

  it("horn: counts the partials a player uses, by the horn in hand", () => {
    const leaps = (music: string, variant: string) =>
      snagsOf(partOf(line(music, { fifths: -2 }), "horn"), instrumentById("horn"), "widening", { variant })
        .filter((snag) => snag.kind === "partial-leap")
        .map((snag) => snag.kind === "partial-leap" && `${snag.from}-${snag.to}: ${snag.skipped}`);
    // Written G to A on the F side is the 6th to the 8th partial with 1-2: the 7th between them is played by nobody.
    expect(leaps("C5:2 D5:2", "single-f")).toEqual([]);
    expect(leaps("C5:2 D5:2", "double")).toEqual([]);
    // Written F4 to C5 on the F side: open C5 is the 8th, E4 and G4 lie open between.
    expect(leaps("Bb4:2 F5:2", "single-f")).toEqual(["F-C: 1"]);
    // On the B♭ side C5 is the 6th partial, A4 the 5th lies between.
    expect(leaps("Bb4:2 F5:2", "single-b-flat")).toEqual(["F-C: 1"]);
  });

  it("horn: close neighbours make a fourth a leap", () => {
    const horn = snagsOf(partOf(line("Bb4:2 Eb5:2"), "horn"), instrumentById("horn"), "widening");
    expect(horn.map((snag) => snag.kind)).toContain("partial-leap");
  });

  it("an accidental against the key, in the instrument's own name", () => {
    expect(snags(book(34), "clarinet").filter((snag) => snag.includes("accidental"))).toEqual([
      "2: accidental: B, against the habit of the key",
      "3: accidental: F♯, against the habit of the key",
      "5: accidental: F♯, against the habit of the key",
      "7: accidental: B, against the habit of the key",
    ]);
  });

  it("quick notes on one pitch, at a quick tempo only", () => {
    const quick = line("Bb4:1/2 Bb4:1/2 Bb4:1/2 Bb4:1/2 Bb4:1/2 Bb4:1/2 Bb4:1");
    expect(snags(quick, "euphonium", "five-notes", 80)).toEqual([]);
    expect(snags(quick, "euphonium", "five-notes", 160)).toEqual([
      "1: fast-tonguing: 7 quick notes on one pitch: light tongue, air that does not stop",
    ]);
  });

  it("a note the stage does not have yet, and low notes that need air", () => {
    expect(
      snags(line("Bb4:2 Bb5:2"), "flute", "five-notes").filter((snag) => snag.includes("out-of-range")),
    ).toHaveLength(1);
    const low = snagsOf(line("Db4:4"), instrumentById("flute"), "widening");
    expect(low.map(snagReason)).toContain("low D♭: warm, slow air and every key closed");
  });

  it("are named once where a bar is repeated, and point at noteheads of the part", () => {
    const part = partOf(line("[: Bb4:2 C5:2 :]"), "trombone", "five-notes");
    const found = snagsOf(part, instrumentById("trombone"), "five-notes");
    expect(found).toHaveLength(1);
    const ids = part.parts[0].measures.flatMap((measure) => measure.events.map((event) => event.id));
    expect([found[0]!.fromEventId, found[0]!.toEventId]).toEqual([ids[0], ids[1]]);
  });
});

describe("breath", () => {
  const bars =
    "Bb4:1 C5:1 D5:1 Eb5:1 | F5:2 D5:2 | Eb5:1 D5:1 C5:1 D5:1 | C5:4 | Bb4:1 C5:1 D5:1 Eb5:1 | F5:4";
  const breaths = (music: string, bpm: number, stage: Stage = "small-tunes") =>
    snagsOf(partOf(line(music), "trumpet", stage), instrumentById("trumpet"), stage, { bpm })
      .filter((snag) => snag.kind === "long-breath")
      .map((snag) => [snagReason(snag), snag.weight]);

  it("is a snag where a phrase lasts longer than it, at this tempo", () => {
    // 24 quarters at 60 are 24 seconds; a breath lasts 8 at this stage. At 200 they take 7.2.
    expect(breaths(bars, 60)).toEqual([["24 s without a rest: breathe 2 times on the way", 1]]);
    expect(breaths(bars, 200)).toEqual([]);
    // A player who holds a tone for 25 seconds needs none.
    const strong = snagsOf(partOf(line(bars), "trumpet"), instrumentById("trumpet"), "widening", {
      bpm: 60,
      breathSec: 25,
    });
    expect(strong.filter((snag) => snag.kind === "long-breath")).toEqual([]);
  });

  it("weighs most where everything is slurred: four whole notes on one breath", () => {
    expect(breaths("Bb4:4( | C5:4 | D5:4 | Eb5:4)", 72)).toEqual([
      ["13 s without a rest: longer than a breath of 8 s, and all slurred", 3],
    ]);
  });

  it("is nothing to those who don't blow", () => {
    const found = snagsOf(partOf(line(bars), "bells"), instrumentById("bells"), "small-tunes", { bpm: 40 });
    expect(found.filter((snag) => snag.kind === "long-breath")).toEqual([]);
  });

  it("is proposed at the ends of phrases, never inside a slur", () => {
    const tune = line(bars);
    const after = (score: Score, bpm: number) =>
      breathPlaces(timeline(score, { bpm }), 8).map(
        (id) => `bar ${score.parts[0].measures.find((m) => m.events.some((e) => e.id === id))!.number}`,
      );
    // Eight seconds at 60 are two bars: by hand after bars 2 and 4, where the long notes end.
    expect(after(tune, 60)).toEqual(["bar 2", "bar 4"]);
    // With bars 2 to 3 slurred together the first breath moves before the slur.
    const slurred = line(bars.replace("F5:2 D5:2 | Eb5:1", "F5:2( D5:2 | Eb5:1)"));
    for (const id of breathPlaces(timeline(slurred, { bpm: 60 }), 8)) {
      const at = slurred.parts[0].measures.flatMap((m) => m.events).findIndex((event) => event.id === id);
      const [from, to] = [4, 6];
      expect(at < from || at >= to).toBe(true);
    }
  });
});

describe("difficulty", () => {
  const hard = (score: Score, id = "clarinet", bpm?: number) =>
    difficultyOf(partOf(score, id), instrumentById(id), "widening", { bpm }).total;

  it("rises through the book", () => {
    const totals = [4, 10, 20, 31].map((number) => hard(book(number)));
    expect(totals).toEqual([...totals].sort((a, b) => a - b));
    expect(totals[0]).toBeLessThan(2);
  });

  it("is the sum of its parts", () => {
    for (const each of LINES) {
      const { total, parts } = difficultyOf(
        partOf(engraveShorthand(each), "horn"),
        instrumentById("horn"),
        "widening",
      );
      expect(total).toBeCloseTo(0.3 + Object.values(parts).reduce((sum, value) => sum + value, 0), 1);
    }
  });

  it("never falls when the same line is played faster", () => {
    for (const id of ["flute", "clarinet", "trombone", "horn"]) {
      const totals = [60, 80, 100, 130, 160].map((bpm) => hard(book(31), id, bpm));
      expect(totals).toEqual([...totals].sort((a, b) => a - b));
    }
  });

  it("never falls with an accidental, a wider compass, a harder rhythm or a crossing more", () => {
    const plain = hard(line("Bb4:1 C5:1 D5:2 | Eb5:1 D5:1 C5:2 | D5:2 C5:2 | Bb4:4"));
    expect(hard(line("Bb4:1 C5:1 D5:2 | E5:1 D5:1 C5:2 | D5:2 C5:2 | Bb4:4"))).toBeGreaterThan(plain);
    expect(hard(line("Bb4:1 C5:1 D5:2 | Eb5:1 D5:1 C5:2 | D5:2 Bb5:2 | Bb4:4"))).toBeGreaterThan(plain);
    expect(hard(line("Bb4:1 C5:1 D5:2 | Eb5:1/2 D5:1/2 D5:1 C5:2 | D5:2 C5:2 | Bb4:4"))).toBeGreaterThan(
      plain,
    );
    expect(hard(line("Bb4:1 C5:1 D5:2 | Eb5:3/2 D5:1/2 C5:2 | D5:2 C5:2 | Bb4:4"))).toBeGreaterThan(plain);
  });

  it("is not the same for every instrument on one line: the saxophone's C to D makes it harder than for a trumpet", () => {
    const change = line("Eb5:1 F5:1 Eb5:1 F5:1 | Eb5:2 F5:2");
    expect(hard(change, "sax-alto")).toBeGreaterThan(hard(change, "trumpet"));
    expect(hard(book(27), "sax-alto")).toBeGreaterThan(hard(book(27), "trumpet"));
  });
});
