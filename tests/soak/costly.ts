import { resolve } from "node:path";
import { recordTake, steadyHabits } from "../../demo/players";
import { writeWav } from "../../src/core/audio";
import type { Mode } from "../../src/core/listen";
import { seededRandom } from "../../src/core/rhythm";
import type { Score } from "../../src/core/score";
import { threadPool } from "../../src/server/threads";
import type { AssessAnswer, AssessRequest } from "../../src/services/listening";
import { line, partFor } from "../support/music";

/** The longest take that is heard, or less for a first look. */
const SECONDS = Number(process.env.SECONDS ?? 900);
const RATE = Number(process.env.RATE ?? 44_100);
/** As the worker has it: what takes longer or more is given up. */
const LIMITS = { size: 1, longestMs: Number(process.env.LONGEST_MS ?? 120_000), memoryMb: 1024 };
/** Resident memory is looked at so often, ms. */
const LOOK_MS = 100;

const random = seededRandom(5);
const noise = () => 2 * random() - 1;
const filled = (value: (i: number, sec: number) => number) =>
  new Float32Array(SECONDS * RATE).map((_, i) => value(i, i / RATE));
const tone = (midi: number, sec: number) =>
  0.3 * Math.sin(2 * Math.PI * 440 * 2 ** ((midi - 69) / 12) * sec) +
  0.15 * Math.sin(4 * Math.PI * 440 * 2 ** ((midi - 69) / 12) * sec);
/** Every so many seconds another pitch from a list drawn once. */
const steps = Array.from({ length: 40_000 }, () => 50 + Math.floor(random() * 24));
/** Sound for so much of every period. */
const beaten = (periodSec: number, share: number, sec: number) =>
  sec % periodSec < share * periodSec ? 1 : 0;

/** Sounds that make as much work as possible: sounds and pauses, attacks, pitches, attempts without number. */
const SOUNDS: [name: string, make: (part: Score) => Float32Array][] = [
  ["noise", () => filled(noise)],
  ["bursts of noise, ten a second", () => filled((_, sec) => beaten(0.1, 0.4, sec) * noise())],
  ["clicks, forty a second", () => filled((_, sec) => (sec % 0.025 < 1.5 / RATE ? 1 : 0))],
  [
    "another pitch eight times a second",
    () => filled((_, sec) => tone(steps[Math.floor(sec * 8)]!, sec) * beaten(0.125, 0.8, sec)),
  ],
  ["another pitch thirty times a second", () => filled((_, sec) => tone(steps[Math.floor(sec * 30)]!, sec))],
  [
    "one tone, throbbing twelve times a second",
    () => filled((_, sec) => tone(58, sec) * (1 + Math.sin(75 * sec))),
  ],
  ["a siren", () => filled((_, sec) => Math.sin(400 * sec + 300 * Math.sin(3 * sec)))],
  ["a second of sound, three of quiet", () => filled((_, sec) => tone(60, sec) * beaten(4, 0.3, sec))],
  [
    "the line again and again",
    (part) => {
      const { pcm } = recordTake(part, "clarinet", 100, steadyHabits, { noise: 0.003, echo: 0.2 }, 3);
      const gap = 3 * pcm.sampleRate;
      return filled(
        (_, sec) => pcm.samples[Math.floor((sec * pcm.sampleRate) % (pcm.samples.length + gap))] ?? 0,
      );
    },
  ],
  [
    "the line again and again without a pause",
    (part) => {
      const { pcm } = recordTake(part, "clarinet", 100, steadyHabits, { noise: 0.003, echo: 0.2 }, 3);
      return filled((_, sec) => pcm.samples[Math.floor((sec * pcm.sampleRate) % pcm.samples.length)]!);
    },
  ],
];

const EIGHTHS = "Bb4:1/2 C5:1/2 D5:1/2 Eb5:1/2 F5:1/2 Eb5:1/2 D5:1/2 C5:1/2";
const barsOf = (bar: string, count: number) => Array.from({ length: count }, () => bar).join(" | ");
const part = (music: string, instrumentId = "clarinet") =>
  partFor(line(music, { bpm: 100 }), instrumentId).part;
const LINES: [name: string, score: Score, instrumentId: string, mode: Mode | undefined][] = [
  ["four bars", part("Bb4:1 C5:1 D5:2 | Eb5:1 D5:1 C5:2 | Bb4:4"), "clarinet", undefined],
  ["64 bars of eighths", part(barsOf(EIGHTHS, 64)), "clarinet", undefined],
  ["600 bars of eighths", part(barsOf(EIGHTHS, 600)), "clarinet", undefined],
  ["64 bars, bells", part(barsOf(EIGHTHS, 64), "bells"), "bells", undefined],
  ["64 bars, rhythm", part(barsOf(EIGHTHS, 64)), "clarinet", "rhythm"],
  ["600 bars, rhythm", part(barsOf(EIGHTHS, 600)), "clarinet", "rhythm"],
];

async function main(): Promise<void> {
  console.log(`${SECONDS} s of sound at ${RATE} Hz\n`);
  console.log("| line | sound | answer | seconds | memory |\n| --- | --- | --- | --- | --- |");
  for (const [soundName, make] of SOUNDS.filter(([name]) => name.includes(process.env.ONLY ?? "")))
    for (const [lineName, score, instrumentId, mode] of LINES.filter(([name]) =>
      name.includes(process.env.LINE ?? ""),
    )) {
      const bytes = writeWav({ samples: make(score), sampleRate: RATE });
      const pool = threadPool<AssessRequest, AssessAnswer>(resolve("dist/assess-thread.mjs"), LIMITS);
      const before = process.memoryUsage().rss;
      let most = before;
      const looking = setInterval(() => {
        most = Math.max(most, process.memoryUsage().rss);
      }, LOOK_MS);
      const start = performance.now();
      const answer = await pool
        .run({ bytes, part: score, options: { instrumentId, ...(mode ? { mode } : {}) }, attempts: "best" })
        .then(
          (each) => (each.readable ? each.assessment.take.status : each.problem),
          (error: Error) => error.message,
        );
      const seconds = (performance.now() - start) / 1000;
      clearInterval(looking);
      await pool.close();
      console.log(
        `| ${lineName} | ${soundName} | ${answer} | ${seconds.toFixed(1)} | ${((most - before) / 1e6).toFixed(0)} MB |`,
      );
    }
}

await main();
