import { describe, expect, it } from "vitest";
import { recordTake, steadyHabits } from "../../demo/players";
import { bookScore, LINES } from "../../src/core/book";
import { likeliest, readFileName } from "../../src/core/inbox";
import { assess } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { derivePart } from "../../src/core/score";
import { line, partFor } from "../support/music";
import { spotless } from "../support/verdicts";

const players = [
  { id: "ines", name: "Ines Haldorsen" },
  { id: "inga", name: "Inga Haldorsen" },
  { id: "tom", name: "Tomasz Brælund" },
  { id: "noor", name: "Noor Castellane" },
  { id: "jo", name: "Jonty Skeldane" },
  { id: "mina", name: "Мина Островска" },
];
const lines = [
  { id: "26", number: 26, title: "Net Menders" },
  { id: "2", number: 2, title: "Long Pier" },
  { id: "harbour", number: null, title: "Harbour at Dusk" },
];
const read = (path: string) => {
  const { playerId, lineId } = readFileName(path, players, lines);
  return [playerId, lineId];
};

describe("whose recording a file is", () => {
  it.each([
    ["Ines Haldorsen No 26.m4a", "ines", "26"],
    ["26_haldorsen_ines.wav", "ines", "26"],
    ["TomaszBraelund26.mp3", "tom", "26"],
    ["Noor Castelane net menders.ogg", "noor", "26"],
    ["noor-line2-take26.flac", "noor", "2"],
    ["2026-11-26 jonty harbour at dusk.webm", "jo", "harbour"],
    ["Jonty Skeldane/Voice 0012.m4a", "jo", null],
    ["No 26/Мина Островска.wav", "mina", "26"],
    // Two of one family: the family name alone names nobody.
    ["haldorsen 26.m4a", null, "26"],
    ["New Recording 7.m4a", null, null],
    ["IMG_2204.mov", null, null],
    ["", null, null],
  ])("%s", (path, playerId, lineId) => {
    expect(read(path)).toEqual([playerId, lineId]);
  });
});

describe("which line a recording is of", () => {
  const { part } = partFor(line("Bb4:1 C5:1 D5:1 Eb5:1 | F5:4"), "trumpet");
  const asked = (wrong: number) =>
    spotless(
      part,
      Object.fromEntries(
        Array.from({ length: wrong }, (_, i) => [i, { verdict: "wrong-pitch" as const, playedMidi: 40 }]),
      ),
    );
  it("is none where nothing was found, and not sure where two are near", () => {
    const other = { ...asked(0), take: { ...asked(0).take, status: "no-match" as const } };
    expect(likeliest([])).toBeNull();
    expect(likeliest([{ key: "a", assessment: other }])).toBeNull();
    expect(
      likeliest([
        { key: "a", assessment: asked(0) },
        { key: "b", assessment: asked(1) },
      ]),
    ).toMatchObject({
      key: "a",
      sure: true,
    });
    expect(
      likeliest([
        { key: "a", assessment: asked(0) },
        { key: "b", assessment: asked(0) },
      ]),
    ).toMatchObject({
      sure: false,
    });
    expect(likeliest([{ key: "a", assessment: asked(3) }])).toMatchObject({ sure: false });
  });
  it("is found among the lines of a week, whoever plays it, slips and all", () => {
    const week = LINES.filter(({ number }) => [18, 22, 26].includes(number));
    const instrument = instrumentById("trumpet");
    const parts = week.map(({ number }, i) => ({
      number,
      bpm: week[i]!.bpm,
      part: derivePart(bookScore(week[i]!), instrument, "small-tunes").score,
    }));
    for (const [i, { number, part: own, bpm }] of parts.entries()) {
      const habits = { ...steadyHabits, tempo: 0.85, misses: 0.05, semitoneOff: 0.05 };
      const { pcm } = recordTake(own, "trumpet", bpm, habits, { noise: 0.003, echo: 0.2 }, i + 1);
      const heard = parts.map((each) => ({
        key: each.number,
        assessment: assess(each.part, pcm, { bpm: each.bpm, instrumentId: "trumpet" }),
      }));
      expect(likeliest(heard)).toMatchObject({ key: number, sure: true });
    }
  });
});
