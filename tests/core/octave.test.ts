import { describe, expect, it } from "vitest";
import {
  chooseOctave,
  INSTRUMENTS,
  instrumentById,
  parsePitch,
  pitchId,
  pitchToMidi,
  type Stage,
  stageRange,
} from "../../src/core/music";
import { derivePart, timeline } from "../../src/core/score";
import { buildBlock, type Family, slurPairs, USUAL, usualBlock } from "../../src/core/warmup";
import { line } from "../support/music";
import { KEYS, MELODY_INSTRUMENTS, octaveTable, STAGES, scaleCell } from "../support/octaves";

/**
 * Written note of concert B♭ where the five notes are learned. Common practice, no published source; typed from the plan of
 * the demo book.
 */
const HOME: Record<string, string> = {
  piccolo: "Bb4",
  flute: "Bb4",
  oboe: "Bb4",
  bassoon: "Bb2",
  "clarinet-eb": "G3",
  clarinet: "C4",
  "clarinet-alto": "G3",
  "clarinet-bass": "C4",
  "sax-soprano": "C5",
  "sax-alto": "G4",
  "sax-tenor": "C5",
  "sax-bari": "G4",
  trumpet: "C4",
  flugelhorn: "C4",
  horn: "F4",
  trombone: "Bb2",
  euphonium: "Bb2",
  "euphonium-treble": "C4",
  tuba: "Bb1",
  "string-bass": "Bb2",
  "bass-guitar": "Bb2",
  bells: "Bb4",
  xylophone: "Bb4",
  vibraphone: "Bb4",
  marimba: "Bb4",
};

describe("the octave of the five notes", () => {
  it("is known for every instrument with a melody", () => {
    expect(Object.keys(HOME).sort()).toEqual(MELODY_INSTRUMENTS.map(({ id }) => id).sort());
  });

  it.each(Object.entries(HOME))("begins on its own B♭ and stays there at every stage (%s)", (id, home) => {
    const tune = line("Bb4:1 C5:1 D5:1 Eb5:1 | F5:1 D5:1 Bb4:2");
    for (const stage of STAGES) {
      const part = derivePart(tune, instrumentById(id), stage);
      const first = part.score.parts[0].measures[0]!.events[0]!.pitch!;
      expect([stage, pitchId(first), part.outOfRange]).toEqual([stage, home, []]);
      // One step up or down in the second term flips nothing.
      const wider = derivePart(line("A4:1 Bb4:1 F5:1 G5:1 | D5:4"), instrumentById(id), stage);
      const second = wider.score.parts[0].measures[0]!.events[1]!.pitch!;
      expect([stage, pitchId(second)]).toEqual([stage, home]);
    }
  });

  it("follows what a player knows where that is more than the stage says", () => {
    const phrase = ["G4", "A4", "B4", "C5"].map((name) => pitchToMidi(parsePitch(name)));
    const ask = (known: string[]) =>
      chooseOctave(phrase, {
        instrument: instrumentById("flute"),
        stage: "widening",
        known: new Set(known.map((name) => pitchToMidi(parsePitch(name)))),
      });
    expect(ask(["G4", "A4", "B4", "C5"])).toBe(0);
    expect(ask(["G5", "A5", "B5", "C6"])).toBe(1);
  });

  it("keeps a tune on learned notes although one lies beyond the stage, and says so", () => {
    const part = derivePart(line("Bb4:1 C5:1 D5:1 A5:1 | Bb4:4"), instrumentById("horn"), "small-tunes");
    expect(part.score.parts[0].measures[0]!.events.map((event) => pitchId(event.pitch!))).toEqual([
      "F4",
      "G4",
      "A4",
      "E5",
    ]);
    expect(part.outOfRange.map(pitchId)).toEqual(["E5"]);
  });
});

describe("scales in every key at every stage", () => {
  const cells = MELODY_INSTRUMENTS.flatMap((instrument) =>
    STAGES.flatMap((stage) =>
      KEYS.flatMap((fifths) =>
        (["five-note", "major"] as const).map((pattern) => ({
          instrument,
          stage,
          fifths,
          pattern,
          cell: scaleCell(instrument, stage, fifths, pattern),
        })),
      ),
    ),
  );

  it("lie in the range of the stage, note for note", () => {
    for (const { instrument, stage, cell } of cells) {
      const range = stageRange(instrument, stage)!;
      for (const midi of cell.midis) {
        expect(midi).toBeGreaterThanOrEqual(pitchToMidi(range.low));
        expect(midi).toBeLessThanOrEqual(pitchToMidi(range.high));
      }
    }
  });

  it("keep the five notes of concert B♭ at home, whatever the stage", () => {
    for (const { instrument, fifths, cell } of cells.filter((each) => each.fifths === -2)) {
      const home = pitchToMidi(parsePitch(HOME[instrument.id]!));
      expect([instrument.id, fifths, cell.midis.slice(0, 5)]).toEqual([
        instrument.id,
        fifths,
        [0, 2, 4, 5, 7].map((step) => home + step),
      ]);
    }
  });

  it("use another octave only where fewer notes would be strange or out of reach", () => {
    // As a person would check it: where all notes fit in another octave too, not two more of them are learned there.
    const FIVE = ["Bb3", "C4", "D4", "Eb4", "F4"];
    const LATER = ["G4", "A3", "Ab4"];
    for (const { instrument, stage, cell } of cells.filter((each) => each.cell.cutShort === null)) {
      const home = pitchToMidi(parsePitch(HOME[instrument.id]!));
      const range = stageRange(instrument, stage)!;
      const learned = [...FIVE, ...(stage === "widening" ? LATER : [])].map(
        (name) => pitchToMidi(parsePitch(name)) - 58 + home,
      );
      const atHome = (midis: number[]) => midis.filter((midi) => learned.includes(midi)).length;
      const [low, high] = [pitchToMidi(range.low), pitchToMidi(range.high)];
      for (const by of [-12, 12]) {
        const moved = cell.midis.map((midi) => midi + by);
        if (moved.some((midi) => midi < low || midi > high)) continue;
        // A clarinet may give up learned notes for staying below the break.
        if (instrument.family === "clarinets" && Math.max(...moved) > 70) continue;
        expect(atHome(moved) - atHome(cell.midis), `${instrument.id} ${stage}`).toBeLessThanOrEqual(1);
      }
    }
  });

  it("never take a clarinet over the break before widening, nor then where the scale fits below", () => {
    const BREAK = pitchToMidi(parsePitch("Bb4"));
    for (const { stage, cell } of cells.filter((each) => each.instrument.family === "clarinets")) {
      const over = cell.midis.filter((midi) => midi > BREAK);
      if (stage !== "widening") expect(over).toEqual([]);
      else if (over.length > 0)
        expect(Math.min(...cell.midis) - 12).toBeLessThan(pitchToMidi(parsePitch("E3")));
    }
  });

  it("give the clarinet E♭ major below the break at widening", () => {
    // Concert E♭ is written F; worked out by hand: F3 to F4 lies wholly below B4.
    expect(scaleCell(instrumentById("clarinet"), "widening", -3, "major").names).toEqual([
      "F3",
      "G3",
      "A3",
      "B♭3",
      "C4",
      "D4",
      "E4",
      "F4",
    ]);
  });

  it("stand in the docs as the code gives them", async () => {
    await expect(octaveTable()).toMatchFileSnapshot("../../docs/octaves.md");
  });
});

describe("clarinets before widening", () => {
  const BREAK = pitchToMidi(parsePitch("Bb4"));
  const kinds = INSTRUMENTS.filter((each) => each.family === "clarinets");

  it.each(Object.keys(USUAL) as Family[])("stay below the break in %s", (family) => {
    for (const instrument of kinds)
      for (const stage of ["five-notes", "small-tunes"] as Stage[]) {
        const { score } = buildBlock(usualBlock(family, "b"))({ instrument, stage });
        for (const note of timeline(score).notes)
          if (note.written) expect(pitchToMidi(note.written)).toBeLessThanOrEqual(BREAK);
      }
  });

  it("slur with the fingers where the register key would take them over", () => {
    const [pair] = slurPairs(
      { ...USUAL.slurs, steps: 1 },
      { instrument: instrumentById("clarinet"), stage: "small-tunes" },
    );
    expect([pitchId(pair!.first), pitchId(pair!.second)]).toEqual(["G4", "C4"]);
  });
});
