import { describe, expect, it } from "vitest";
import { instrumentById, type Stage } from "../../src/core/music";
import { readinessOf } from "../../src/core/ready";
import { knownAtStage } from "../../src/core/score";
import { line } from "../support/music";

const tune = line("Bb4:1 C5:1 D5:2 | Eb5:1 D5:1 C5:2 | Bb4:4");

function seat(playerId: string, instrumentId: string, stage: Stage, variant: string | null = null) {
  return { playerId, instrumentId, stage, variant, known: KNOWN.get(`${instrumentId}/${stage}`)! };
}
const KNOWN = new Map(
  (["flute", "horn"] as const).flatMap((id) =>
    (["five-notes", "small-tunes"] as const).map((stage) => [
      `${id}/${stage}`,
      knownAtStage(instrumentById(id), stage),
    ]),
  ),
);

describe("how ready a band is for a line", () => {
  it("is one row an instrument and stage, whatever the horns are built like, in score order", () => {
    const rows = readinessOf(tune, [
      seat("a", "horn", "small-tunes", "double"),
      seat("b", "horn", "small-tunes"),
      seat("c", "flute", "small-tunes"),
      seat("d", "flute", "five-notes"),
    ]);
    expect(rows.map(({ instrumentId, stage, players }) => [instrumentId, stage, players])).toEqual([
      ["flute", "five-notes", 1],
      ["flute", "small-tunes", 1],
      ["horn", "small-tunes", 2],
    ]);
  });

  it("asks players apart who know different things at one stage", () => {
    const beginner = seat("a", "flute", "small-tunes");
    const more = { ...seat("b", "flute", "small-tunes"), known: KNOWN.get("flute/five-notes")! };
    expect(readinessOf(tune, [beginner, more]).map(({ players }) => players)).toEqual([1, 1]);
  });
});
