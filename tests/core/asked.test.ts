import { describe, expect, it } from "vitest";
import { type PlayedNote, synthesise } from "../../demo/synth";
import { assess } from "../../src/core/listen";
import { MOST_RUNGS, PLAIN_TERMS, rungsOf, tooSlow, within } from "../../src/core/practice";
import {
  type Dynamic,
  type HowAsked,
  type Score,
  type Style,
  scoreAsked,
  timeline,
  writeMusicXml,
} from "../../src/core/score";
import { line, partFor } from "../support/music";

const PLAIN: HowAsked = { bars: null, withoutRepeats: false, styles: [] };
const tune = line("[: Bb4:1 C5:1 D5:2 | Eb5:2 D5:2 :] | F5:2 Eb5:2 | D5:4", { bpm: 80 });
const words = (score: Score) => score.parts[0].measures.map((measure) => measure.words ?? "");

describe("a line as it is asked for", () => {
  it("is played once through where repeats are left out, and keeps them written", () => {
    const asked = scoreAsked(tune, { ...PLAIN, withoutRepeats: true });
    expect(timeline(tune).measures.map(({ number }) => number)).toEqual(["1", "2", "1", "2", "3", "4"]);
    expect(timeline(asked).measures.map(({ number }) => number)).toEqual(["1", "2", "3", "4"]);
    expect(asked.parts[0].measures[1]!.repeatEnd).toBeDefined();
    // What is asked for in a call goes before what the score says.
    expect(timeline(asked, { withoutRepeats: false }).measures).toHaveLength(6);
  });

  it("has a style over its bars, written once where it begins, the later one where two overlap", () => {
    const asked = scoreAsked(tune, {
      ...PLAIN,
      styles: [
        { firstBar: 0, lastBar: 2, style: "smooth" },
        { firstBar: 2, lastBar: 3, style: "short" },
      ],
    });
    expect(words(asked)).toEqual(["smooth, no gaps", "", "short", ""]);
    const styles = new Map(timeline(asked).notes.map(({ measureIndex, style }) => [measureIndex, style]));
    expect([...styles.values()]).toEqual(["smooth", "smooth", "short", "short"]);
    expect(writeMusicXml(asked)).toContain("smooth, no gaps");
  });

  it("counts styles from the bars of the whole line where some are cut out", () => {
    const asked = scoreAsked(tune, {
      ...PLAIN,
      bars: [2, 3],
      styles: [{ firstBar: 1, lastBar: 2, style: "tapered" }],
    });
    expect(asked.parts[0].measures.map(({ style }) => style)).toEqual(["tapered", undefined]);
  });

  it("has the dynamics that were asked for, over printed ones, and begins unmarked at mf", () => {
    const events = (score: Score) => score.parts[0].measures.flatMap((measure) => measure.events);
    const dynamicsOf = (score: Score) => events(score).map(({ dynamic }) => dynamic ?? "");
    const at = (i: number, dynamic: Dynamic) => ({ eventId: events(tune)[i]!.id, dynamic });
    expect(dynamicsOf(scoreAsked(tune, { ...PLAIN, dynamics: [at(3, "p"), at(5, "f")] }))).toEqual([
      "mf",
      "",
      "",
      "p",
      "",
      "f",
      "",
      "",
    ]);
    // Over what is printed; what was printed before it stays the level it is heard against.
    const printed = scoreAsked(tune, { ...PLAIN, dynamics: [at(0, "f"), at(3, "mf")] });
    expect(dynamicsOf(scoreAsked(printed, { ...PLAIN, dynamics: [at(3, "pp")] })).slice(0, 4)).toEqual([
      "f",
      "",
      "",
      "pp",
    ]);
    // Before the bars that were cut out there is nothing to hear.
    expect(dynamicsOf(scoreAsked(tune, { ...PLAIN, bars: [2, 3], dynamics: [at(3, "p")] }))).toEqual([
      "",
      "",
      "",
    ]);
  });

  it.each([
    ["softer", 0.25, true],
    ["as loud as before", 0.7, false],
  ])("is judged by them: %s where p was asked", (_what, after, audible) => {
    const long = line("Bb4:1 C5:1 D5:1 C5:1 | Bb4:1 C5:1 D5:2 | D5:1 C5:1 Bb4:1 C5:1 | D5:2 Bb4:2", {
      bpm: 80,
    });
    const { part } = partFor(long, "clarinet");
    const there = part.parts[0].measures[2]!.events[0]!.id;
    const asked = scoreAsked(part, { ...PLAIN, dynamics: [{ eventId: there, dynamic: "p" }] });
    const notes = timeline(asked, { bpm: 80 }).notes.map(
      ({ onsetSec, durationSec, midi, measureIndex }): PlayedNote => ({
        atSec: 0.6 + onsetSec,
        lengthSec: 0.9 * durationSec,
        midi,
        loudness: measureIndex < 2 ? 0.7 : after,
      }),
    );
    const pcm = synthesise(notes, "clarinet", notes.at(-1)!.atSec + 2, { noise: 0.002, echo: 0.1 }, 5);
    const options = { bpm: 80, instrumentId: "clarinet" };
    expect(assess(asked, pcm, options).dynamics).toMatchObject([
      { measure: "3", from: "mf", to: "p", audible },
    ]);
    expect(assess(part, pcm, options).dynamics).toEqual([]);
  });

  it("is the line itself where nothing is asked", () => {
    expect(scoreAsked(tune, PLAIN)).toBe(tune);
  });
});

describe("length against a style", () => {
  const plain = line("Bb4:1 C5:1 D5:1 Eb5:1 | D5:1 C5:1 Bb4:2 | C5:1 D5:1 Eb5:1 D5:1 | C5:2 Bb4:2", {
    bpm: 80,
  });

  /** Plays each note so long, as a share of what is written. */
  function lengths(style: Style | null, share: number, instrumentId = "clarinet") {
    const asked = style
      ? scoreAsked(plain, { ...PLAIN, styles: [{ firstBar: 0, lastBar: 3, style }] })
      : plain;
    const { part } = partFor(asked, instrumentId);
    const notes = timeline(part, { bpm: 80 }).notes.map(
      (note): PlayedNote => ({
        atSec: 0.6 + note.onsetSec,
        lengthSec: note.durationSec * share,
        midi: note.midi,
        loudness: 0.7,
        legato: false,
      }),
    );
    const pcm = synthesise(notes, instrumentId, notes.at(-1)!.atSec + 2, { noise: 0.002, echo: 0.1 }, 5);
    const result = assess(part, pcm, { bpm: 80, instrumentId });
    expect(result.notes.every(({ verdict }) => verdict === "ok")).toBe(true);
    const count = (length: string) => result.notes.filter((note) => note.length === length).length;
    return { short: count("short"), long: count("long"), notes: result.notes.length };
  }

  it("takes detached notes for right where short ones are asked, and held ones for long", () => {
    expect(lengths("short", 0.45)).toMatchObject({ short: 0, long: 0 });
    const held = lengths("short", 0.95);
    expect(held.long).toBeGreaterThan(0.8 * held.notes);
  });

  it("takes gaps for short where smooth is asked, and none where nothing is", () => {
    const gaps = lengths("smooth", 0.62);
    // The last note ends a phrase: it may be left.
    expect(gaps.short).toBeGreaterThanOrEqual(gaps.notes - 2);
    expect(lengths("smooth", 0.97)).toMatchObject({ short: 0 });
    expect(lengths(null, 0.62)).toMatchObject({ short: 0, long: 0 });
  });

  it("asks the ends to be held where they taper, and nothing of the other notes", () => {
    expect(lengths("tapered", 0.62)).toMatchObject({ short: 1 });
    expect(lengths("tapered", 0.97)).toMatchObject({ short: 0, long: 0 });
  });
});

describe("terms", () => {
  it("climb to the goal, whatever the step, in so many rungs at most", () => {
    expect(rungsOf({ fromBpm: 60, stepBpm: 5 }, 72)).toEqual([60, 65, 70, 72]);
    expect(rungsOf(null, 72)).toEqual([72]);
    expect(rungsOf({ fromBpm: 90, stepBpm: 5 }, 72)).toEqual([72]);
    const long = rungsOf({ fromBpm: 20, stepBpm: 1 }, 300);
    expect(long.length).toBeLessThanOrEqual(MOST_RUNGS + 1);
    expect([long[0], long.at(-1)]).toEqual([20, 300]);
  });

  it("hold a take against the lowest tempo with a neighbour mark to spare, and nothing unknown against anybody", () => {
    expect(tooSlow(72, 72)).toBe(false);
    expect(tooSlow(70, 72)).toBe(false);
    expect(tooSlow(68, 72)).toBe(true);
    expect(tooSlow(null, 72)).toBe(false);
    expect(tooSlow(30, null)).toBe(false);
  });

  it("stay within the bars that are asked for", () => {
    const terms = {
      ...PLAIN_TERMS,
      styles: [
        { firstBar: 0, lastBar: 3, style: "short" as const },
        { firstBar: 6, lastBar: 7, style: "smooth" as const },
      ],
      record: { kind: "bars" as const, firstBar: 0, lastBar: 7 },
    };
    expect(within(terms, [2, 4])).toMatchObject({
      styles: [{ firstBar: 2, lastBar: 3, style: "short" }],
      record: { firstBar: 2, lastBar: 4 },
    });
  });
});
