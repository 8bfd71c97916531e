import { bell } from "../../demo/random";
import { assess, assessTaps } from "../../src/core/listen";
import { seededRandom } from "../../src/core/rhythm";
import { timeline } from "../../src/core/score";
import { spoken } from "../support/conditions";
import { randomLine } from "../support/random-line";
import { RATE } from "../support/sounds";
import type { Row } from "./statistics";

const LINES = 40;
/** Sentences and counting, of which only the latter may be a rhythm. */
const SAID = {
  sentences: [
    "Please could you tell my sister to stop playing the piano because I want to record my homework now and I cannot hear anything at all.",
    "Hello teacher, I could not practise this week because my clarinet is broken and my dog was ill, so I will send it tomorrow.",
  ],
  "counting in words": [
    "One two three four one two three four one two three four one two three four",
    "Ta ta ti ti ta, ta ta ti ti ta, ta ti ti ta ta, ti ti ti ti ta",
  ],
};
const VOICES = ["en+f2", "en+m3", "en+m7", "en+f5"];

interface Struck {
  onsets: number[];
  /** Notes before which the gap is off by plan. */
  planned: ReadonlySet<number>;
}
type Way = (onsets: readonly number[], quarterSec: number, random: () => number) => Struck;

const NONE: ReadonlySet<number> = new Set();
const jitter =
  (sec: number): Way =>
  (onsets, _, random) => ({ onsets: onsets.map((at) => at + sec * bell(random)), planned: NONE });

/** Every gap made longer or shorter; what is off by a tenth of a second and more is planned. */
const stretch =
  (times: (gapQuarters: number, share: number, note: number) => number): Way =>
  (onsets, quarterSec, random) => {
    const planned = new Set<number>();
    let at = 0;
    const struck = onsets.map((onset, i) => {
      const gap = i === 0 ? 0 : onset - onsets[i - 1]!;
      const factor = times(gap / quarterSec, i / onsets.length, i);
      if (Math.abs(gap * (factor - 1)) > 0.1) planned.add(i);
      at += gap * factor;
      return at + 0.015 * bell(random);
    });
    return { onsets: struck, planned };
  };

/** Strokes that have nothing to do with the rhythm. */
const other =
  (count: number, gap: (quarterSec: number, random: () => number) => number): Way =>
  (onsets, quarterSec, random) => {
    let at = 0;
    return {
      onsets: Array.from(
        { length: Math.round(count * onsets.length) },
        () => (at += gap(quarterSec, random)),
      ),
      planned: NONE,
    };
  };

const WAYS: Record<string, Way> = {
  "right, 15 ms of spread": jitter(0.015),
  "right, 30 ms of spread": jitter(0.03),
  "right, 50 ms of spread": jitter(0.05),
  "right, 80 ms of spread": jitter(0.08),
  "running away by 30 %": (onsets, quarterSec, random) => ({
    ...stretch((_, share) => 1 - 0.3 * share)(onsets, quarterSec, random),
    planned: NONE,
  }),
  "long notes cut short by 30 %": stretch((gap) => (gap > 1.2 ? 0.7 : 1)),
  "short notes dragged by 35 %": stretch((gap) => (gap < 0.8 ? 1.35 : 1)),
  "four notes dragged by half": stretch((_, __, note) => (note > 3 && note < 8 ? 1.5 : 1)),
  "random gaps": other(1, (_, random) => 0.2 + 0.7 * random()),
  "random gaps, half as many more": other(1.5, (_, random) => 0.15 + 0.5 * random()),
  "random halves, quarters and eighths": other(
    1,
    (quarterSec, random) => quarterSec * [0.5, 1, 2][Math.floor(3 * random())]!,
  ),
};

/** Strokes against a rhythm: whether they are known as it, and what is said of their time. */
export async function benchStrokes(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const [name, way] of Object.entries(WAYS)) {
    const random = seededRandom(name.length);
    const sum = { known: 0, silent: 0, notes: 0, words: 0, rightWords: 0, planned: 0, found: 0, uneven: 0 };
    for (let seed = 1; seed <= LINES; seed++) {
      const { score, bpm } = randomLine(5000 + 7 * seed);
      const line = timeline(score, { bpm });
      const { onsets, planned } = way(
        line.notes.map(({ onsetSec }) => onsetSec),
        line.totalSec / line.totalQuarters,
        random,
      );
      const { take, notes, extras } = assessTaps(score, onsets, { bpm });
      if (take.status !== "assessed") continue;
      const called = notes.filter(({ timing }) => timing === "early" || timing === "late");
      const missed = notes.filter(({ verdict }) => verdict === "missed");
      const right = called.filter(({ index }) => planned.has(index)).length;
      sum.known++;
      sum.silent += Number(called.length + missed.length + extras.length === 0);
      sum.uneven += Number(take.flags.includes("uneven"));
      sum.notes += notes.length;
      sum.words += called.length;
      sum.rightWords += right;
      sum.planned += planned.size;
      sum.found += right;
    }
    rows.push([
      `strokes, ${name}`,
      `${sum.known} of ${LINES} takes known, ${sum.silent} without a word`,
      `${sum.words} of ${sum.notes} strokes early or late; uneven ${sum.uneven} takes`,
      sum.planned === 0 ? "–" : `${sum.rightWords} words right, ${sum.found} of ${sum.planned} faults told`,
    ]);
  }
  return [...rows, ...spokenRows()];
}

function spokenRows(): Row[] {
  return Object.entries(SAID).map(([what, texts]): Row => {
    let [known, all, right] = [0, 0, 0];
    for (let seed = 1; seed <= 5; seed++) {
      const { score, bpm } = randomLine(3000 + 17 * seed);
      for (const text of texts)
        for (const voice of VOICES) {
          const pcm = { samples: spoken(text, voice), sampleRate: RATE };
          const { take, notes } = assess(score, pcm, { bpm, mode: "rhythm" });
          all++;
          if (take.status !== "assessed") continue;
          known++;
          right += Number(notes.every(({ verdict, timing }) => verdict === "ok" && timing === "ok"));
        }
    }
    return [`strokes, ${what}`, `${known} of ${all} takes known`, `${right} of them right and in time`, "–"];
  });
}
