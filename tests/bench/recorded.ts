import { engraveShorthand, LINES } from "../../demo/lines";
import { assess } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { derivePart, timeline } from "../../src/core/score";
import { type Bank, CONDITIONS, loadBank, type Playing, perform } from "../support/recorded";
import { median, quantile, type Row } from "./statistics";

/** Recorded notes by instrument. The held-out ones are looked at only as a whole, never to set a number in the engine. */
const BANKS: { bank: string; instrument: string; heldOut: boolean }[] = [
  { bank: "flute", instrument: "flute", heldOut: false },
  { bank: "clarinet", instrument: "clarinet", heldOut: false },
  { bank: "trumpet", instrument: "trumpet", heldOut: false },
  { bank: "trombone", instrument: "trombone", heldOut: false },
  { bank: "xylophone", instrument: "xylophone", heldOut: false },
  { bank: "saxophone", instrument: "sax-alto", heldOut: true },
  { bank: "french-horn", instrument: "horn", heldOut: true },
  { bank: "bassoon", instrument: "bassoon", heldOut: true },
  { bank: "tuba", instrument: "tuba", heldOut: false },
];
const PLAYED = [2, 7, 9, 11];
const PLAYING: Playing = { bpm: 0, wrong: 0.08, missed: 0.06, unsteadySec: 0.012, seed: 1 };

interface Tally {
  hits: number;
  falseAlarms: number;
  overlooked: number;
  right: number;
  extras: number;
  onsets: number[];
  statuses: number;
  takes: number;
}
const empty = (): Tally => ({
  hits: 0,
  falseAlarms: 0,
  overlooked: 0,
  right: 0,
  extras: 0,
  onsets: [],
  statuses: 0,
  takes: 0,
});

/**
 * Errors found in performances of recorded notes, by instrument and by condition, worst first. Other sounds than the
 * simulated players make, other faults than they have; still our own idea of how a line goes wrong.
 */
export async function benchRecorded(only?: RegExp): Promise<Row[]> {
  const byInstrument = new Map<string, Tally>();
  const byCondition = new Map<string, Tally>();
  for (const { bank: name, instrument: id, heldOut } of BANKS) {
    const bank = await loadBank(name);
    const label = `${instrumentById(id).name}${heldOut ? ", held out" : ""}`;
    for (const [condition, change] of Object.entries(CONDITIONS)) {
      if (only && !only.test(`${label} ${condition}`)) continue;
      const tally = (byInstrument.get(label) ?? byInstrument.set(label, empty()).get(label))!;
      const other = (byCondition.get(condition) ?? byCondition.set(condition, empty()).get(condition))!;
      for (const [take, place] of PLAYED.entries()) {
        const counted = playOne(bank, id, place, { ...PLAYING, seed: 50 + take }, change);
        for (const each of [tally, other]) merge(each, counted);
      }
    }
  }
  return [...rows("recorded notes", byInstrument), ...rows("condition", byCondition)];
}

function playOne(
  bank: Bank,
  id: string,
  place: number,
  playing: Playing,
  change: (typeof CONDITIONS)[string],
): Tally {
  const line = LINES[place]!;
  const part = derivePart(engraveShorthand(line), instrumentById(id), "widening").score;
  const bpm = line.bpm * 0.92;
  const take = perform(part, bank, { ...playing, bpm });
  const result = assess(part, change(take, bank, bpm), { bpm: line.bpm, instrumentId: id });
  if (process.env.TELL)
    console.error(
      id,
      line.number,
      JSON.stringify(result.take),
      JSON.stringify(result.breaks),
      result.extras.length,
    );
  const tally = {
    ...empty(),
    takes: 1,
    statuses: Number(result.take.status === "assessed"),
    extras: result.extras.length,
  };
  for (const [index] of timeline(part).notes.entries()) {
    const truth = take.played.find((note) => note.index === index);
    const error = !truth || truth.mistake !== null;
    const note = result.notes[index];
    const found = note !== undefined && note.verdict !== "ok";
    if (error && found) tally.hits++;
    else if (error) tally.overlooked++;
    else if (found) tally.falseAlarms++;
    if (!error) tally.right++;
    if (truth && !error && note?.onset != null) tally.onsets.push(Math.abs(note.onset - truth.atSec));
    if (process.env.TELL && error !== found)
      console.error(
        id,
        line.number,
        index,
        note?.measure,
        note?.beat,
        error ? `overlooked ${truth ? "wrong" : "missed"}` : "false alarm",
        note?.verdict,
        note?.kind,
        note?.playedMidi,
        note?.onset,
        truth?.atSec,
      );
  }
  return tally;
}

function merge(into: Tally, from: Tally): void {
  for (const name of ["hits", "falseAlarms", "overlooked", "right", "extras", "statuses", "takes"] as const)
    into[name] += from[name];
  into.onsets.push(...from.onsets);
}

function rows(what: string, tallies: Map<string, Tally>): Row[] {
  const f1 = ({ hits, falseAlarms, overlooked }: Tally) =>
    (2 * hits) / Math.max(1, 2 * hits + falseAlarms + overlooked);
  return [...tallies]
    .sort(([, a], [, b]) => f1(a) - f1(b))
    .map(
      ([name, tally]): Row => [
        `${what}: ${name}`,
        `F1 ${f1(tally).toFixed(3)} of ${tally.hits + tally.overlooked}`,
        `${((100 * tally.falseAlarms) / Math.max(1, tally.right)).toFixed(2)} false alarms in 100, ${tally.extras} extras`,
        `attack ${(1000 * median(tally.onsets)).toFixed(0)} / p95 ${(1000 * quantile(tally.onsets, 0.95)).toFixed(0)} ms; known ${tally.statuses} of ${tally.takes}`,
      ],
    );
}
