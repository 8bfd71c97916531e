import { bell } from "../../demo/random";
import { synthesise } from "../../demo/synth";
import { type Assessment, assess, assessTaps } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { seededRandom } from "../../src/core/rhythm";
import { derivePart, type Timeline, timeline } from "../../src/core/score";
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
  "one long note cut by half": (onsets, quarterSec, random) => {
    const long = onsets.findIndex((at, i) => i > 4 && at - onsets[i - 1]! > 1.6 * quarterSec);
    return stretch((_, __, note) => (note === long ? 0.5 : 1))(onsets, quarterSec, random);
  },
  "random gaps": other(1, (_, random) => 0.2 + 0.7 * random()),
  "random gaps, half as many more": other(1.5, (_, random) => 0.15 + 0.5 * random()),
  "random halves, quarters and eighths": other(
    1,
    (quarterSec, random) => quarterSec * [0.5, 1, 2][Math.floor(3 * random())]!,
  ),
};

/** The ways that are tried with pitches too. */
const WITH_PITCHES = [
  "right, 15 ms of spread",
  "right, 50 ms of spread",
  "running away by 30 %",
  "long notes cut short by 30 %",
  "four notes dragged by half",
  "one long note cut by half",
];
const PLAYERS = ["clarinet", "trumpet", "flute"];
const LINES_WITH_PITCHES = 8;

/** What was said of the time of some takes. */
class Said {
  private sum = { takes: 0, known: 0, silent: 0, notes: 0, words: 0, right: 0, planned: 0, uneven: 0 };

  add({ take, notes, extras }: Assessment, planned: ReadonlySet<number>): void {
    const { sum } = this;
    sum.takes++;
    if (take.status !== "assessed") return;
    const called = notes.filter(({ timing }) => timing === "early" || timing === "late");
    const missed = notes.filter(({ verdict }) => verdict === "missed");
    sum.known++;
    sum.silent += Number(called.length + missed.length + extras.length === 0);
    sum.uneven += Number(take.flags.includes("uneven"));
    sum.notes += notes.length;
    sum.words += called.length;
    sum.right += called.filter(({ index }) => planned.has(index)).length;
    sum.planned += planned.size;
  }

  row(name: string): Row {
    const { takes, known, silent, notes, words, right, planned, uneven } = this.sum;
    return [
      name,
      `${known} of ${takes} takes known, ${silent} without a word`,
      `${words} of ${notes} early or late; uneven ${uneven} takes`,
      planned === 0 ? "–" : `${right} words right, ${right} of ${planned} faults told`,
    ];
  }
}

/** Strokes against a rhythm, and notes against a line: whether they are known as it, and what is said of their time. */
export async function benchStrokes(): Promise<Row[]> {
  return [
    ...Object.entries(WAYS).map(([name, way]) => tappedRow(name, way)),
    ...WITH_PITCHES.map((name) => playedRow(name, WAYS[name]!)),
    ...spokenRows(),
  ];
}

const struck = (way: Way, { notes, totalSec, totalQuarters }: Timeline, random: () => number) =>
  way(
    notes.map(({ onsetSec }) => onsetSec),
    totalSec / totalQuarters,
    random,
  );

function tappedRow(name: string, way: Way): Row {
  const random = seededRandom(name.length);
  const said = new Said();
  for (let seed = 1; seed <= LINES; seed++) {
    const { score, bpm } = randomLine(5000 + 7 * seed);
    const line = timeline(score, { bpm });
    const { onsets, planned } = struck(way, line, random);
    said.add(assessTaps(score, onsets, { bpm }), planned);
  }
  return said.row(`strokes, ${name}`);
}

/** Simulated players in a small room: their attacks are plain. */
function playedRow(name: string, way: Way): Row {
  const random = seededRandom(name.length);
  const said = new Said();
  for (const id of PLAYERS)
    for (let seed = 1; seed <= LINES_WITH_PITCHES; seed++) {
      const { score, bpm } = randomLine(7000 + 13 * seed);
      const part = derivePart(score, instrumentById(id), "widening").score;
      const line = timeline(part, { bpm });
      const { onsets, planned } = struck(way, line, random);
      const played = line.notes.map(({ midi, durationSec }, i) => ({
        atSec: 0.5 + onsets[i]!,
        lengthSec: 0.85 * Math.min(durationSec, (onsets[i + 1] ?? Infinity) - onsets[i]!),
        midi,
        loudness: 0.7,
      }));
      const pcm = synthesise(played, id, onsets.at(-1)! + 4, { noise: 0.003, echo: 0.3 }, seed);
      said.add(assess(part, pcm, { bpm, instrumentId: id }), planned);
    }
  return said.row(`notes, ${name}`);
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
