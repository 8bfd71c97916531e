import { type BookLine, engraveShorthand } from "../../src/core/book";
import { type Instrument, instrumentById, type Stage } from "../../src/core/music";
import { derivePart, type Score } from "../../src/core/score";

/** A concert line from the shorthand, four-four in concert B♭ unless told otherwise. */
export function line(music: string, about: Partial<BookLine> = {}): Score {
  return engraveShorthand({
    number: 1,
    page: 1,
    title: "Test line",
    introduces: "",
    composer: "Test",
    fifths: -2,
    metre: [4, 4],
    bpm: 80,
    music,
    ...about,
  });
}

export function partFor(
  score: Score,
  instrumentId: string,
  stage: Stage = "widening",
): { part: Score; instrument: Instrument } {
  const instrument = instrumentById(instrumentId);
  return { part: derivePart(score, instrument, stage).score, instrument };
}
