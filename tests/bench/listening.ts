import { type Habits, type Performance, recordTake, steadyHabits } from "../../demo/players";
import { engraveShorthand, LINES, SNARE_LINE } from "../../src/core/book";
import { assess } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { derivePart, type Score, timeline } from "../../src/core/score";
import { median, quantile, type Row } from "./statistics";

const INSTRUMENTS = [
  "flute",
  "oboe",
  "clarinet",
  "clarinet-bass",
  "sax-alto",
  "sax-tenor",
  "sax-bari",
  "trumpet",
  "horn",
  "trombone",
  "euphonium",
  "tuba",
  "bells",
  "snare",
];
const TAKES = 6;
/** A player who slips often in every way the player model knows. */
const SLIPPING: Habits = {
  ...steadyHabits,
  tempo: 0.9,
  driftPercent: 4,
  tuningCents: 12,
  wander: 10,
  unsteady: 0.02,
  ignoresSignature: 0.15,
  semitoneOff: 0.04,
  wrongPartial: 0.04,
  misses: 0.04,
  doubles: 0.02,
  cracks: 0.04,
  clips: 0.04,
};
const ROOM = { noise: 0.005, echo: 0.3 };

interface Tally {
  hits: number;
  falseAlarms: number;
  overlooked: number;
  right: number;
  onsetErrors: number[];
}

/**
 * Wrong or missed notes found, by instrument, on simulated players: a smoke test, since they share our picture of a
 * beginner. Worst first.
 */
export function benchListening(): Row[] {
  const scored = INSTRUMENTS.map((id) => ({ id, tally: tallyOf(id) }));
  const f1 = ({ hits, falseAlarms, overlooked }: Tally) =>
    (2 * hits) / Math.max(1, 2 * hits + falseAlarms + overlooked);
  return scored
    .sort((a, b) => f1(a.tally) - f1(b.tally))
    .map(
      ({ id, tally }): Row => [
        `errors found, ${instrumentById(id).name}`,
        `F1 ${f1(tally).toFixed(3)} of ${tally.hits + tally.overlooked} errors`,
        `${((100 * tally.falseAlarms) / Math.max(1, tally.right)).toFixed(2)} false alarms in 100 right notes`,
        `attack off by ${(1000 * median(tally.onsetErrors)).toFixed(0)} ms, p95 ${(1000 * quantile(tally.onsetErrors, 0.95)).toFixed(0)} ms`,
      ],
    );
}

function tallyOf(id: string): Tally {
  const tally: Tally = { hits: 0, falseAlarms: 0, overlooked: 0, right: 0, onsetErrors: [] };
  const lines = id === "snare" ? [SNARE_LINE] : LINES;
  for (let take = 0; take < TAKES; take++) {
    const line = lines[take % lines.length]!;
    const part = derivePart(engraveShorthand(line), instrumentById(id), "widening").score;
    add(tally, part, recordTake(part, id, line.bpm, SLIPPING, ROOM, 100 + take), id, line.bpm);
  }
  return tally;
}

function add(tally: Tally, part: Score, performance: Performance, instrumentId: string, bpm: number): void {
  const result = assess(part, performance.pcm, { bpm, instrumentId });
  const wrong = new Set(["key-signature", "semitone", "partial"]);
  timeline(part).notes.forEach((_, index) => {
    const played = performance.played.find((note) => note.index === index);
    const error = !played || wrong.has(played.mistake ?? "");
    const found = result.notes[index]?.verdict !== "ok";
    if (error && found) tally.hits++;
    else if (error) tally.overlooked++;
    else if (found) tally.falseAlarms++;
    if (!error) tally.right++;
    const onset = result.notes[index]?.onset;
    if (played && !error && !played.legato && onset != null)
      tally.onsetErrors.push(Math.abs(onset - played.atSec));
  });
}

/** A player who ignores the key, stops and begins again: still this line. And the same player on another line: not this one. */
const STRUGGLING: Habits = {
  ...SLIPPING,
  tempo: 0.75,
  ignoresSignature: 0.5,
  misses: 0.08,
  unsteady: 0.035,
  restartsAfter: 9,
};

/** Whether hard takes are still known for what they are: the line asked for, or another one. */
export function benchStatus(): Row[] {
  const known = { right: 0, other: 0, all: 0 };
  const unknown: string[] = [];
  for (const [place, id] of INSTRUMENTS.filter((each) => each !== "snare").entries()) {
    for (const [take, line] of LINES.entries()) {
      if ((take + place) % 3 !== 0) continue;
      const instrument = instrumentById(id);
      const part = derivePart(engraveShorthand(line), instrument, "widening").score;
      const other = derivePart(
        engraveShorthand(LINES[(take + 5) % LINES.length]!),
        instrument,
        "widening",
      ).score;
      const { pcm } = recordTake(part, id, line.bpm, STRUGGLING, ROOM, 900 + 31 * place + take);
      const options = { bpm: line.bpm, instrumentId: id };
      known.all++;
      const status = assess(part, pcm, options).take.status;
      if (status === "assessed") known.right++;
      else unknown.push(`${id} ${line.number}`);
      if (assess(other, pcm, options).take.status === "no-match") known.other++;
    }
  }
  return [
    [
      "struggling player known as playing the line",
      `${known.right} of ${known.all}`,
      unknown.slice(0, 6).join(", ") || "–",
      "–",
    ],
    ["the same take against another line: no match", `${known.other} of ${known.all}`, "–", "–"],
  ];
}
