import { engraveShorthand, LINES } from "../../demo/lines";
import { INSTRUMENTS } from "../../src/core/music";
import {
  demandsAtGlance,
  derivePart,
  glanceAt,
  knownAtStage,
  readMusicXml,
  writeMusicXml,
} from "../../src/core/score";
import { median, type Row } from "./statistics";

const RUNS = 5;

/** Reading, deriving and searching the shelf, in memory. */
export function benchShelf(): Row[] {
  const scores = LINES.map(engraveShorthand);
  const files = scores.map((score) => new TextEncoder().encode(writeMusicXml(score)));
  const pitched = INSTRUMENTS.filter((instrument) => instrument.ranges);
  const known = pitched
    .slice(0, 13)
    .map((instrument) => ({ instrument, set: knownAtStage(instrument, "small-tunes") }));
  const many = (count: number, run: (index: number) => void) => () => {
    for (let i = 0; i < count; i++) run(i % LINES.length);
  };
  return [
    row(
      "read 500 MusicXML lines",
      many(500, (i) => readMusicXml(files[i]!)),
    ),
    row(`derive one line for ${pitched.length} instruments`, () => {
      for (const instrument of pitched) derivePart(scores[7]!, instrument, "small-tunes");
    }),
    row(
      "what is new in 2,000 lines for 13 instruments",
      many(2000, (i) => {
        const glance = glanceAt(scores[i]!);
        for (const { instrument, set } of known) demandsAtGlance(glance, instrument, "small-tunes", set);
      }),
    ),
  ];
}

function row(name: string, run: () => void): Row {
  run();
  const times = Array.from({ length: RUNS }, () => {
    const start = performance.now();
    run();
    return performance.now() - start;
  });
  return [
    name,
    `${median(times).toFixed(0)} ms`,
    `${Math.min(...times).toFixed(0)} to ${Math.max(...times).toFixed(0)}`,
    "–",
  ];
}
