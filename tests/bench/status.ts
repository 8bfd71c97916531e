import { type AssessOptions, assess } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { seededRandom } from "../../src/core/rhythm";
import { derivePart, type Score } from "../../src/core/score";
import { roomNoise, spoken, withPlayAlong } from "../support/conditions";
import { CAREFUL, perform } from "../support/performer";
import { randomLine } from "../support/random-line";
import { RATE } from "../support/sounds";
import { SOURCES } from "./hearing";
import type { Row } from "./statistics";

const TEXTS = [
  "One, two, ready, go.",
  "Hello teacher, I could not practise this week because my clarinet is broken and my dog was ill, so I will send it tomorrow.",
  "La la la la laa, la la la laa",
  "Okay, so, um, this is line twenty three. Mum, can you please be quiet? I am recording. No, not now. Okay. Never mind, I will do it again later.",
  "ha ha ha ha ha ha ha",
];
const VOICES = ["en+f2", "en+m3", "en+f4", "en+m7"];
const INSTRUMENTS = ["flute", "clarinet", "trumpet", "trombone", "tuba", "bells", "snare", undefined];
const LINES_EACH = 6;
const SEC = 12;

/** How often each status was given, by what the sound was. */
class Statuses {
  private readonly counts = new Map<string, Map<string, number>>();

  add(what: string, status: string): void {
    const own = this.counts.get(what) ?? new Map<string, number>();
    this.counts.set(what, own.set(status, (own.get(status) ?? 0) + 1));
  }

  rows(): Row[] {
    return [...this.counts].map(([what, counts]) => [
      `status: ${what}`,
      [...counts].map(([status, times]) => `${status} ${times}`).join(", "),
      "–",
      "–",
    ]);
  }
}

/** What no player played, or played of another piece: talk, noise, hum, silence. */
export async function benchNoLine(): Promise<Row[]> {
  const statuses = new Statuses();
  let turn = 0;
  for (const id of INSTRUMENTS) {
    for (let line = 1; line <= LINES_EACH; line++) {
      turn++;
      const { part, options } = partOf(900 + turn, id);
      const random = seededRandom(turn);
      const against = id === "snare" ? "a rhythm" : "a melody";
      const status = (samples: Float32Array) =>
        assess(part, { samples, sampleRate: RATE }, options).take.status;
      for (const voice of VOICES)
        statuses.add(
          `talk against ${against}`,
          status(spoken(TEXTS[(turn + voice.length + line) % TEXTS.length]!, voice)),
        );
      statuses.add("noise", status(roomNoise(RATE * SEC, random).map((each) => 0.05 * each)));
      statuses.add("mains hum", status(hum(random)));
      statuses.add(
        "silence",
        status(Float32Array.from({ length: 8 * RATE }, () => 0.0003 * (random() - 0.5))),
      );
    }
  }
  for (const source of SOURCES.filter((each) => !each.heldOut)) {
    const bank = await source.load();
    const instrument = instrumentById(source.instrument);
    for (let seed = 1; seed <= LINES_EACH; seed++) {
      const own = partOf(700 + seed, source.instrument);
      const other = partOf(800 + 3 * seed, source.instrument);
      const { pcm } = perform(own.part, bank, own.options.bpm!, instrument, { ...CAREFUL, seed });
      statuses.add("another piece", assess(other.part, pcm, other.options).take.status);
      statuses.add(
        "the piece, its instrument not named",
        assess(own.part, pcm, { bpm: own.options.bpm! }).take.status,
      );
    }
  }
  return statuses.rows();
}

/** How loud a reference has to be before it is named, dB against the player; "none" is a take without one. */
export async function benchReference(): Promise<Row[]> {
  const named = new Map<string, [flagged: number, all: number]>();
  for (const source of SOURCES.filter(
    (each) => !each.heldOut && !["bells", "xylophone"].includes(each.instrument),
  )) {
    const bank = await source.load();
    const instrument = instrumentById(source.instrument);
    for (let seed = 1; seed <= 4; seed++) {
      const { part, options } = partOf(600 + seed, source.instrument);
      const take = perform(part, bank, options.bpm!, instrument, {
        ...CAREFUL,
        seed,
        wrong: 0.08,
        missed: 0.06,
      });
      const scene = { take, part, instrument, bank, askedBpm: options.bpm!, seed };
      for (const level of [null, -26, -18, -12, -6, 0]) {
        const pcm = level === null ? take.pcm : withPlayAlong(take.pcm, scene, level);
        const flagged = assess(part, pcm, options).take.flags.includes("reference-bleed");
        const name = level === null ? "none" : `${level} dB`;
        const [times, all] = named.get(name) ?? [0, 0];
        named.set(name, [times + Number(flagged), all + 1]);
      }
    }
  }
  return [...named].map(([name, [times, all]]) => [
    `reference ${name}: named`,
    `${times} of ${all}`,
    "–",
    "–",
  ]);
}

function partOf(seed: number, id: string | undefined): { part: Score; options: AssessOptions } {
  const { score, bpm } = randomLine(seed);
  const pitched = id === undefined || id === "snare" ? "clarinet" : id;
  return {
    part: derivePart(score, instrumentById(pitched), "widening").score,
    options: id === "snare" ? { bpm, mode: "rhythm" } : { bpm, ...(id ? { instrumentId: id } : {}) },
  };
}

function hum(random: () => number): Float32Array {
  const partial = (hz: number, i: number) => Math.sin((2 * Math.PI * hz * i) / RATE);
  return Float32Array.from(
    { length: SEC * RATE },
    (_, i) =>
      0.1 * partial(50, i) + 0.05 * partial(100, i) + 0.03 * partial(150, i) + 0.002 * (random() - 0.5),
  );
}
