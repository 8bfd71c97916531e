import { describe, expect, it } from "vitest";
import { engraveShorthand, LINES, SNARE_LINE } from "../../src/core/book";
import { INSTRUMENTS, pitchName, type Stage } from "../../src/core/music";
import {
  demandsAtGlance,
  derivePart,
  glanceAt,
  knownAtStage,
  newIn,
  vocabularyOf,
} from "../../src/core/score";

describe("a line at a glance", () => {
  const stages: Stage[] = ["five-notes", "small-tunes", "widening"];

  // The quick way must never disagree with the part that is engraved.
  it.each(
    LINES.map((line) => [line.title, line] as const),
  )("says of %s what every instrument's derived part says", (_, book) => {
    const line = engraveShorthand(book);
    const glance = glanceAt(line);
    for (const instrument of INSTRUMENTS.filter((each) => each.ranges)) {
      for (const stage of stages) {
        const known = knownAtStage(instrument, stage);
        const part = derivePart(line, instrument, stage);
        const fresh = newIn(vocabularyOf(part.score), known);
        const quick = demandsAtGlance(glance, instrument, stage, known);
        const place = `${instrument.id} ${stage}`;
        expect([place, [...quick.newNotes].sort()]).toEqual([
          place,
          fresh.notes.map((pitch) => pitchName(pitch, false)).sort(),
        ]);
        expect([place, quick.newRhythms]).toEqual([place, fresh.rhythms]);
        expect([place, quick.inRange]).toEqual([place, part.outOfRange.length === 0]);
      }
    }
  });

  it("asks nothing but rhythm of a drum, and of everybody on a drummer's page", () => {
    const snare = INSTRUMENTS.find((instrument) => instrument.id === "snare")!;
    const glance = glanceAt(engraveShorthand(SNARE_LINE));
    expect(glance.unpitched).toBe(true);
    expect(demandsAtGlance(glance, snare, "five-notes", knownAtStage(snare, "five-notes"))).toMatchObject({
      newNotes: [],
      inRange: true,
      crossesBreak: false,
    });
  });
});
