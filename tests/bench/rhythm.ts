import { bell } from "../../demo/random";
import { assess } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { seededRandom } from "../../src/core/rhythm";
import { derivePart, type Timeline, timeline } from "../../src/core/score";
import { CONDITIONS, spoken } from "../support/conditions";
import type { PlayedTake } from "../support/performer";
import { randomLine } from "../support/random-line";
import { audibleAttack, RATE, renderBank, rootMeanSquare, type SingleNote } from "../support/sounds";
import { type Believed, f1, reliability } from "./hearing-tally";
import { median, quantile, type Row } from "./statistics";

const HEARD_IN = [
  "clean",
  "a hall (0.7 s)",
  "noise 10 dB below",
  "a click bleeding in",
  "a phone line (8 kHz)",
  "Opus 24 kb/s",
];
const LINES_EACH = 5;
/** General MIDI percussion by number. */
const DRUMS = { snare: 38, claps: 39, stick: 37, "wood block": 76 };

/** Rhythms struck, clapped and counted aloud on one syllable: strokes left out found, by sound and condition. */
export async function benchRhythm(): Promise<Row[]> {
  const drums = renderBank("small", 0, [37, 77], true);
  const sounds: [string, SingleNote][] = [
    ...Object.entries(DRUMS).map(([name, number]): [string, SingleNote] => [
      name,
      drums.reduce((best, each) =>
        Math.abs(each.midi - number) < Math.abs(best.midi - number) ? each : best,
      ),
    ]),
    ["counting, higher voice", syllable("en+f3")],
    ["counting, lower voice", syllable("en+m3")],
  ];
  const rows: Row[] = [];
  const clap = sounds[1]![1];
  const believed: Believed[] = [];
  for (const condition of HEARD_IN)
    rows.push(await struck("claps, counted aloud", clap, condition, believed, true));
  for (const [name, sound] of sounds)
    for (const condition of HEARD_IN) rows.push(await struck(name, sound, condition, believed));
  for (const verdict of ["ok", "missed"])
    rows.push([
      `rhythm, confidence of "${verdict}"`,
      reliability(believed, verdict),
      "share that was right",
      "–",
    ]);
  return rows;
}

const NUMBERS = ["one", "two", "three", "four"];

/** "One, two, three": a number on every beat, as loud as the strokes less 4 dB. */
function countAloud(samples: Float32Array, line: Timeline, seed: number): void {
  const voice = ["en+f3", "en+m3", "en+f2"][seed % 3]!;
  const words = NUMBERS.map((word) => spoken(word, voice));
  for (const bar of line.measures) {
    const beats = Math.round(bar.durationQuarters / bar.beatQuarters);
    for (let beat = 0; beat < beats; beat++) {
      const word = words[beat % words.length]!;
      const gain = 0.063 / rootMeanSquare(word);
      const at = 1 + bar.onsetSec + beat * bar.beatQuarters * bar.secPerQuarter;
      const from = Math.round((at - audibleAttack(word, RATE)) * RATE);
      for (let i = 0; i < word.length && from + i < samples.length; i++)
        if (from + i >= 0) samples[from + i]! += gain * word[i]!;
    }
  }
}

function syllable(voice: string): SingleNote {
  const samples = spoken("ta", voice);
  return { midi: 60, samples, attackSec: audibleAttack(samples, RATE), rms: rootMeanSquare(samples) };
}

/**
 * @param believed  is handed every verdict
 * @param counted  somebody counts the beats aloud meanwhile, nearly as loud as the strokes
 */
async function struck(
  name: string,
  sound: SingleNote,
  condition: string,
  believed: Believed[],
  counted = false,
): Promise<Row> {
  const counts = { hits: 0, falseAlarms: 0, overlooked: 0, right: 0, extras: 0, known: 0 };
  const late: number[] = [];
  for (let seed = 1; seed <= LINES_EACH; seed++) {
    const { score, bpm } = randomLine(seed + 40);
    const instrument = instrumentById("clarinet");
    const part = derivePart(score, instrument, "widening").score;
    const random = seededRandom(seed * 31 + name.length);
    const played = bpm * (0.8 + 0.4 * random());
    const line = timeline(part, { bpm: played });
    const samples = new Float32Array(Math.round((line.totalSec + 4) * RATE));
    const attacks = new Map<number, number>();
    for (const note of line.notes) {
      if (random() < 0.06) continue;
      const at = 1 + note.onsetSec + 0.012 * bell(random);
      const from = Math.round((at - sound.attackSec) * RATE);
      const gain = (0.1 / sound.rms) * 10 ** (bell(random) / 10);
      for (let i = 0; i < sound.samples.length && i < RATE / 2; i++)
        if (from + i < samples.length) samples[from + i]! += gain * sound.samples[i]!;
      attacks.set(note.index, at);
    }
    if (counted) countAloud(samples, line, seed);
    const take: PlayedTake = {
      pcm: { samples, sampleRate: RATE },
      played: [],
      extras: [],
      breaks: [],
      bpm: played,
    };
    const { pcm } = await CONDITIONS[condition]!({
      take,
      part,
      instrument,
      bank: [sound],
      askedBpm: bpm,
      seed,
    });
    const result = assess(part, pcm, { bpm, mode: "rhythm" });
    counts.known += Number(result.take.status === "assessed");
    counts.extras += result.extras.length;
    for (const note of line.notes) {
      const at = attacks.get(note.index);
      const said = result.notes[note.index];
      const found = said?.verdict !== "ok";
      if (said)
        believed.push({
          verdict: said.verdict,
          confidence: said.confidence,
          right: found === (at === undefined),
        });
      if (at === undefined && found) counts.hits++;
      else if (at === undefined) counts.overlooked++;
      else if (found) counts.falseAlarms++;
      if (at !== undefined) counts.right++;
      if (at !== undefined && said?.onset != null) late.push(1000 * Math.abs(said.onset - at));
    }
  }
  return [
    `rhythm, ${name}, ${condition}`,
    `F1 ${f1([counts.hits, counts.falseAlarms, counts.overlooked]).toFixed(3)} of ${counts.hits + counts.overlooked}; ${counts.known} of ${LINES_EACH} takes known`,
    `${((100 * counts.falseAlarms) / Math.max(1, counts.right)).toFixed(2)} false alarms in 100; ${counts.extras} extras`,
    `attack ${median(late).toFixed(0)} / p95 ${quantile(late, 0.95).toFixed(0)} ms`,
  ];
}
