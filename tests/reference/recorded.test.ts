import { describe, expect, it } from "vitest";
import { engraveShorthand, LINES } from "../../src/core/book";
import { assess } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { derivePart, timeline } from "../../src/core/score";
import { withPlayAlong } from "../support/conditions";
import { CAREFUL, type Playing, perform } from "../support/performer";
import { randomLine } from "../support/random-line";
import { loadBank } from "../support/sounds";

const ROUGH: Playing = { ...CAREFUL, wrong: 0.08, missed: 0.06 };

// Lines played with recorded notes of real instruments (registry packages tonejs-instrument-*-mp3, samples CC-BY 3.0):
// sounds that waver, begin softly and die away, which simulated players do not. Worst cases of the bench, kept from returning.
describe("a line played with recorded notes", () => {
  it.each<[string, string, string, number, Partial<Playing>]>([
    ["trombone", "trombone", "long notes that waver", 2, {}],
    ["tuba", "tuba", "low notes whose single periods look like dips", 7, {}],
    ["clarinet", "clarinet", "soft beginnings", 7, {}],
    ["french-horn", "horn", "a held-out instrument", 9, {}],
    ["trombone", "trombone", "no silence anywhere", 10, { legato: true, gapSec: 0.02 }],
    ["flute", "flute", "vibrato, 30 cents sharp", 9, { vibratoCents: 25, wanderCents: 12, tuningCents: 30 }],
    ["xylophone", "xylophone", "bars that ring into one another", 11, {}],
  ])("of the %s (%s): %s", async (bankName, instrumentId, _why, place, habits) => {
    const line = LINES[place]!;
    const instrument = instrumentById(instrumentId);
    const part = derivePart(engraveShorthand(line), instrument, "widening").score;
    const take = perform(part, await loadBank(bankName), line.bpm, instrument, {
      ...ROUGH,
      ...habits,
      tempo: 0.92,
      seed: 50 + place,
    });
    const result = assess(part, take.pcm, { bpm: line.bpm, instrumentId });
    const truth = timeline(part).notes.map((_, index) => {
      const note = take.played.find((each) => each.index === index);
      return note ? (note.wrong ? "wrong-pitch" : "ok") : "missed";
    });
    expect(truth).toContain("ok");
    expect(result.notes.map((note) => note.verdict)).toEqual(truth);
    expect(Math.abs(result.take.tempoBpm! / take.bpm - 1)).toBeLessThan(0.02);
    expect(result.extras.length).toBeLessThanOrEqual(2);
    for (const note of take.played.filter((each) => !each.wrong)) {
      const onset = result.notes[note.index]!.onset!;
      expect(Math.abs(onset - note.atSec)).toBeLessThan(0.25);
    }
  });

  it("with a restart: what the second pass leaves out is missed, though the first had it", async () => {
    const instrument = instrumentById("trumpet");
    const { score, bpm } = randomLine(604);
    const part = derivePart(score, instrument, "widening").score;
    const take = perform(part, await loadBank("trumpet"), bpm, instrument, {
      ...CAREFUL,
      missed: 0.25,
      restartAfter: 12,
      seed: 7,
    });
    const result = assess(part, take.pcm, { bpm, instrumentId: "trumpet" });
    const missed = result.notes.filter((note) => note.verdict === "missed").map((note) => note.index);
    const truth = timeline(part).notes.map((note) => note.index);
    expect(missed).toEqual(truth.filter((index) => !take.played.some((note) => note.index === index)));
    expect(missed.some((index) => index < 12)).toBe(true);
    expect(result.breaks.map((each) => each.kind)).toContain("restart");
  });

  it("beside a reference: a faint one changes nothing, a loud one is named", async () => {
    const instrument = instrumentById("trumpet");
    const bank = await loadBank("trumpet");
    const { score, bpm } = randomLine(602);
    const part = derivePart(score, instrument, "widening").score;
    const take = perform(part, bank, bpm, instrument, { ...CAREFUL, seed: 2, wrong: 0.2, missed: 0.06 });
    const scene = { take, part, instrument, bank, askedBpm: bpm, seed: 2 };
    const options = { bpm, instrumentId: "trumpet" };
    const alone = assess(part, take.pcm, options);
    const faint = assess(part, withPlayAlong(take.pcm, scene, -26), options);
    expect(faint.notes.map((note) => note.verdict)).toEqual(alone.notes.map((note) => note.verdict));
    expect(alone.take.flags).toEqual([]);
    expect(assess(part, withPlayAlong(take.pcm, scene, -8), options).take.flags).toEqual(["reference-bleed"]);
  });
});
