import { once } from "node:events";
import { resolve } from "node:path";
import { Worker } from "node:worker_threads";
import { engraveShorthand, LINES } from "../../src/core/book";
import { INSTRUMENTS } from "../../src/core/music";
import {
  demandsAtGlance,
  derivePart,
  entryOf,
  glanceAt,
  knownAtStage,
  pressKey,
  readMusicXml,
  scoreOfEntry,
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
  const sixteenBars = "bagf"
    .repeat(16)
    .split("")
    .reduce(pressKey, entryOf({ ...scores[0]!, title: "Typed" }));
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
    row("type one more note into a line of 16 bars", () => {
      scoreOfEntry(pressKey(sixteenBars, "a"));
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

/** Engraving in the server's worker thread: the first part of a fresh thread, then every instrument's. */
export async function benchEngraving(): Promise<Row[]> {
  const worker = new Worker(resolve("dist/engrave-thread.mjs"));
  const score = engraveShorthand(LINES[7]!);
  const engrave = async (musicXml: string) => {
    const start = performance.now();
    const answered = once(worker, "message");
    worker.postMessage({ musicXml, width: "wide" });
    await answered;
    return performance.now() - start;
  };
  const cold = await engrave(writeMusicXml(score));
  const times: number[] = [];
  for (const instrument of INSTRUMENTS)
    times.push(await engrave(writeMusicXml(derivePart(score, instrument, "small-tunes").score)));
  await worker.terminate();
  return [
    [
      "engrave a part in the worker",
      `${median(times).toFixed(0)} ms`,
      `${Math.min(...times).toFixed(0)} to ${Math.max(...times).toFixed(0)}, the first ${cold.toFixed(0)}`,
      "–",
    ],
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
    `${shortMs(median(times))} ms`,
    `${shortMs(Math.min(...times))} to ${shortMs(Math.max(...times))}`,
    "–",
  ];
}

/** Whole milliseconds, tenths below ten. */
function shortMs(value: number): string {
  return value < 10 ? value.toFixed(1) : value.toFixed(0);
}
