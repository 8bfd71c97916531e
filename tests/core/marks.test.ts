import { describe, expect, it } from "vitest";
import { type PlayedNote, synthesise } from "../../demo/synth";
import { assess } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { playAlong } from "../../src/core/playalong";
import { causesOf, evidenceOf, overruled } from "../../src/core/progress";
import { timeline } from "../../src/core/score";
import { line, partFor } from "../support/music";

const { part } = partFor(
  line(
    "Bb4:1> C5:1 D5:1> C5:1 | Bb4:1. C5:1. D5:1. C5:1. | D5:1> C5:1 Bb4:1> C5:1 | D5:1. C5:1. D5:1. C5:1. | D5:2 C5:2 | Bb4:4",
  ),
  "trumpet",
);
const { notes } = timeline(part, { bpm: 80 });
const has = (i: number, sign: "accent" | "staccato") => notes[i]!.articulations?.includes(sign) ?? false;

interface Way {
  /** How much louder accented notes are, times. */
  accents?: number;
  /** Share of their length that staccato notes are held, and how much slower they go. */
  held?: number;
  slower?: number;
}

/** What the bench hears of a take in a small room. */
function heard({ accents = 1.7, held = 0.5, slower = 0 }: Way) {
  let later = 0;
  const played = notes.map((note): PlayedNote => {
    const atSec = 0.6 + note.onsetSec + later;
    const staccato = has(note.index, "staccato");
    if (staccato) later += slower * note.durationSec;
    return {
      atSec,
      lengthSec: note.durationSec * (staccato ? held : 0.92),
      midi: note.midi!,
      loudness: 0.5 * (has(note.index, "accent") ? accents : 1),
      legato: false,
    };
  });
  const room = { noise: 0.002, echo: 0.15 };
  return assess(part, synthesise(played, "trumpet", 22 + later, room, 4), {
    bpm: 80,
    instrumentId: "trumpet",
  });
}
const kinds = (way: Way) => causesOf(heard(way), part).map(({ kind }) => kind);

describe("signs over notes", () => {
  it("are no fault where they are played as common practice has it", () => {
    const take = heard({});
    expect(causesOf(take, part)).toEqual([]);
    expect(take.marks!.accents).toMatchObject({ notes: 4, audible: true });
    // 4.6 dB, and what a louder tone has in brightness.
    expect(take.marks!.accents!.louderDb).toBeGreaterThan(4);
    expect(take.marks!.accents!.louderDb).toBeLessThan(6.5);
    expect(take.marks!.staccato!.lengthRatio).toBeLessThan(0.65);
  });

  it("accents that do not stand out are told once, with all their places", () => {
    const [cause, ...more] = causesOf(heard({ accents: 1 }), part);
    expect(more).toEqual([]);
    expect(cause).toMatchObject({ kind: "accents" });
    expect(cause!.places.map(({ measure, beat }) => `${measure}:${beat}`)).toEqual([
      "1:1",
      "1:3",
      "3:1",
      "3:3",
    ]);
  });

  it("nothing is said of accents that stand out a little", () => {
    const take = heard({ accents: 1.18 });
    expect(take.marks!.accents!.audible).toBeNull();
    expect(causesOf(take, part)).toEqual([]);
  });

  it("staccato that is held is too long, and short is not slow", () => {
    expect(kinds({ held: 0.92 })).toEqual(["not-short"]);
    expect(kinds({ slower: 0.12 })).toEqual(["staccato-slower"]);
  });

  it("a director's word takes each of them away", () => {
    const take = heard({ accents: 1, slower: 0.12 });
    const found = causesOf(take, part);
    expect(found.map(({ kind }) => kind).sort()).toEqual(["accents", "staccato-slower"]);
    const without = (causeId: string) =>
      causesOf(overruled(take, part, [{ about: "cause", causeId }])!, part);
    expect(without(found[0]!.id)).toEqual([found[1]]);
    expect(without(found[1]!.id)).toEqual([found[0]]);
  });

  it("show what a player knows of them", () => {
    const shown = (way: Way) =>
      evidenceOf(part, instrumentById("trumpet"), heard(way)).filter(({ thing }) =>
        /accent|staccato/.test(thing),
      );
    expect(shown({})).toEqual([
      { kind: "sign", thing: "staccato", right: 8, wrong: 0 },
      { kind: "sign", thing: "accent", right: 1, wrong: 0 },
    ]);
    expect(shown({ accents: 1, held: 0.92 })).toEqual([
      { kind: "sign", thing: "staccato", right: 0, wrong: 8 },
      { kind: "sign", thing: "accent", right: 0, wrong: 1 },
    ]);
  });

  it("a dot under a slur parts the notes and makes none of them short", () => {
    const slurred = timeline(line("Bb4:1(. C5:1. D5:1). C5:1. | Bb4:4"), { bpm: 60 }).notes;
    expect(slurred.map(({ articulations }) => articulations?.includes("staccato") ?? false)).toEqual([
      false,
      false,
      false,
      true,
      false,
    ]);
  });

  it("are in the play-along: short at half length, accents above the others", () => {
    const sounding = playAlong(timeline(part, { bpm: 60 })).events.filter(({ kind }) => kind === "note");
    expect(sounding.slice(0, 6).map(({ durationSec, beside }) => [durationSec, beside ?? false])).toEqual([
      [1, false],
      [1, true],
      [1, false],
      [1, true],
      [0.5, true],
      [0.5, true],
    ]);
    const plain = playAlong(timeline(line("Bb4:1 C5:1 D5:2"), { bpm: 60 })).events;
    expect(plain.some(({ beside }) => beside)).toBe(false);
  });
});
