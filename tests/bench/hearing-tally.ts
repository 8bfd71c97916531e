import { timeline } from "../../src/core/score";
import type { Outcome } from "./outcome";
import { median, quantile } from "./statistics";

/** Nearer to the player's own beat a note is in time, further away it is plainly not, ms. */
const IN_TIME_MS = 50;
const OUT_OF_TIME_MS = 100;

/** What came of some takes, counted. */
export class Tally {
  takes = 0;
  assessed = 0;
  hits = 0;
  falseAlarms = 0;
  overlooked = 0;
  right = 0;
  kinds = [0, 0];
  extras = [0, 0, 0];
  /** ms, and cents. */
  onsets: number[] = [];
  slurredOnsets: number[] = [];
  cents: number[] = [];
  tempo: number[] = [];
  timing = [0, 0, 0];
  lengths = [0, 0, 0];
  connections = [0, 0, 0];
  squeaks = [0, 0, 0];
  cracks = [0, 0, 0];
  breaks = [0, 0, 0];
  ms = 0;
  soundSec = 0;
  calibration: Believed[] = [];

  add(outcome: Outcome, tell?: (text: string) => void): void {
    const { result, take, part, delaySec } = outcome;
    this.takes++;
    this.ms += outcome.ms;
    this.soundSec += outcome.soundSec;
    if (result.take.status === "assessed") this.assessed++;
    else tell?.(`status ${result.take.status}`);
    const truths = new Map(take.played.map((each) => [each.index, each]));
    for (const note of timeline(part).notes) {
      const truth = truths.get(note.index);
      const said = result.notes[note.index];
      const error = !truth || truth.wrong !== null;
      const found = said !== undefined && said.verdict !== "ok";
      if (said) {
        const should = !truth ? "missed" : truth.wrong ? "wrong-pitch" : "ok";
        this.calibration.push({
          confidence: said.confidence,
          right: said.verdict === should,
          verdict: said.verdict,
        });
      }
      if (error && found) {
        this.hits++;
        if (truth && said?.verdict === "wrong-pitch") this.kinds[said.kind === truth.wrong ? 0 : 1]!++;
      } else if (error) this.overlooked++;
      else if (found) this.falseAlarms++;
      if (!error) this.right++;
      if (error !== found && result.take.status === "assessed")
        tell?.(
          `${error ? `overlooked ${truth ? `${truth.wrong} ${truth.midi.toFixed(1)}` : "missed"}` : "false alarm"} #${note.index} bar ${note.measure}:${note.beat} ${note.midi} ${note.slurred ? "slurred" : ""} said ${said?.verdict} ${said?.playedMidi ?? ""} conf ${said?.confidence} at ${said?.onset ?? "-"} truth ${truth ? (truth.atSec + delaySec).toFixed(2) : "-"} ${truth?.flags.join() ?? ""}`,
        );
      if (!truth || error || !said || said.verdict !== "ok" || said.onset === null) continue;
      const off = 1000 * (said.onset - truth.atSec - delaySec);
      (truth.slurred ? this.slurredOnsets : this.onsets).push(Math.abs(off));
      this.cents.push(Math.abs(said.cents! - 100 * (truth.midi - note.midi!)));
      const offBeat = Math.abs(truth.offBeatMs);
      // Who says of a note that is neither in time nor plainly out of it that it is out is neither right nor wrong.
      if (offBeat < IN_TIME_MS || offBeat > OUT_OF_TIME_MS)
        count(this.timing, offBeat > OUT_OF_TIME_MS, said.timing !== "ok" && said.timing !== null);
      count(this.lengths, truth.length !== "ok", said.length !== "ok" && said.length !== null);
      if (note.slurred)
        count(
          this.connections,
          truth.flags.some((flag) => flag === "re-tongued-slur" || flag === "breath-in-slur"),
          said.flags.some((flag) => flag === "re-tongued-slur" || flag === "breath-in-slur"),
        );
      count(this.cracks, truth.flags.includes("cracked-attack"), said.flags.includes("cracked-attack"));
      count(this.squeaks, truth.flags.includes("squeak"), said.flags.includes("squeak"));
    }
    if (result.take.status !== "assessed") return;
    const wanted = take.extras.map((extra) => extra.atSec + delaySec);
    for (const extra of result.extras) {
      const at = wanted.findIndex((each) => Math.abs(each - extra.onset) < 0.15);
      if (at >= 0) {
        wanted.splice(at, 1);
        this.extras[0]!++;
      } else {
        this.extras[1]!++;
        tell?.(`extra at ${extra.onset} ${extra.midi}`);
      }
    }
    this.extras[2]! += wanted.length;
    this.tempo.push(Math.abs(result.take.tempoBpm! / take.bpm - 1) * 100);
    for (const kind of ["hesitation", "restart", "stopped-early"] as const) {
      const truth = take.breaks.some((each) => each.kind === kind);
      const said = result.breaks.some((each) => each.kind === kind);
      count(this.breaks, truth, said);
      if (truth !== said) tell?.(`${truth ? "overlooked" : "invented"} ${kind}`);
    }
  }

  get f1(): number {
    return f1([this.hits, this.falseAlarms, this.overlooked]);
  }

  /** Cells of the table: errors, right notes, times and pitches, everything else. */
  cells(): [string, string, string] {
    const rate = (counts: readonly number[]) => {
      const [hits, wrong] = counts as [number, number];
      const said = hits + wrong;
      const precise = said === 0 ? "nothing said" : `${(hits / said).toFixed(2)} of ${said} said right`;
      return `${f1(counts).toFixed(2)} of ${counts[0]! + counts[2]!} (${precise})`;
    };
    return [
      `F1 ${this.f1.toFixed(3)} of ${this.hits + this.overlooked}; ${this.assessed} of ${this.takes} takes known`,
      `${((100 * this.falseAlarms) / Math.max(1, this.right)).toFixed(2)} false alarms in 100; ${this.extras[1]} extras invented, ${this.extras[2]} overlooked; kind right ${this.kinds[0]} of ${this.kinds[0]! + this.kinds[1]!}`,
      `attack ${median(this.onsets).toFixed(0)} / p95 ${quantile(this.onsets, 0.95).toFixed(0)} ms, ${share(this.onsets, 50)} within 50; slur ${median(this.slurredOnsets).toFixed(0)} / ${quantile(this.slurredOnsets, 0.95).toFixed(0)} ms; ${median(this.cents).toFixed(1)} / ${quantile(this.cents, 0.95).toFixed(1)} cents; tempo ${median(this.tempo).toFixed(1)} / ${quantile(this.tempo, 0.95).toFixed(1)} %; F1 of time ${rate(this.timing)}, length ${rate(this.lengths)}, joints ${rate(this.connections)}, cracks ${rate(this.cracks)}, squeaks ${rate(this.squeaks)}, breaks ${rate(this.breaks)}; ${((1000 * this.soundSec) / this.ms).toFixed(0)} x real time`,
    ];
  }

  reliability(verdict: string): string {
    return reliability(this.calibration, verdict);
  }
}

/** A verdict, how sure it was said to be, and whether it was right. */
export interface Believed {
  verdict: string;
  confidence: number;
  right: boolean;
}

/** Share of verdicts that were right, by the confidence they were given. */
export function reliability(believed: readonly Believed[], verdict: string): string {
  const edges = [0, 0.5, 0.8, 0.9, 0.95, 0.98, 0.99, 1.01];
  return edges
    .slice(1)
    .flatMap((to, i) => {
      const inside = believed.filter(
        (each) => each.verdict === verdict && each.confidence >= edges[i]! && each.confidence < to,
      );
      if (inside.length === 0) return [];
      const said = inside.reduce((sum, each) => sum + each.confidence, 0) / inside.length;
      return [
        `said ${said.toFixed(2)}: ${(inside.filter((each) => each.right).length / inside.length).toFixed(3)} of ${inside.length}`,
      ];
    })
    .join(", ");
}

function count(into: number[], truth: boolean, said: boolean): void {
  if (truth && said) into[0]!++;
  else if (said) into[1]!++;
  else if (truth) into[2]!++;
}

/** Of hits, false ones and overlooked ones. */
export function f1(counts: readonly number[]): number {
  const [hits, wrong, overlooked] = counts as [number, number, number];
  return (2 * hits) / Math.max(1, 2 * hits + wrong + overlooked);
}

function share(values: readonly number[], limit: number): string {
  return `${((100 * values.filter((each) => each <= limit).length) / Math.max(1, values.length)).toFixed(1)}%`;
}
