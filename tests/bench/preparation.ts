import { INSTRUMENTS } from "../../src/core/music";
import { renderPlan } from "../../src/core/playalong";
import { formsOf } from "../../src/core/rhythm";
import { buildBlock, clockOf, fitToBudget, routinePlan, TEMPLATES } from "../../src/core/warmup";
import { shippedBank } from "../support/bank";
import { fftKernel, timed } from "./assessment";
import { median, type Row } from "./statistics";

const RUNS = 7;
const RATE = 44100;
const PLAYERS = [...INSTRUMENTS, INSTRUMENTS[1]!].map((instrument) => ({
  instrument,
  stage: "widening" as const,
}));

/** Warm-ups, counting and sound: what a director waits for. */
export async function benchPreparation(): Promise<Row[]> {
  const routine = TEMPLATES.at(-1)!.routine;
  const bank = await shippedBank();
  // Two routines after one another: more than ten minutes.
  const long = {
    ...routine,
    blocks: [...routine.blocks, ...routine.blocks.map((block) => ({ ...block, id: `${block.id}x` }))],
  };
  const minutes = clockOf(long).totalSec / 60;
  const plan = routinePlan(long, { instrument: INSTRUMENTS[5]!, stage: "widening" });
  const mix = { count: true, click: true, reference: true, sound: "clarinet" };
  const kernel = median(times(3, fftKernel));
  const render = times(3, () => renderPlan(plan, { mix, bank, sampleRate: RATE }));
  const realTime = (ms: number) => (60_000 * minutes) / ms;
  return [
    row(
      "generate the routine of the widening stage for 30 players (aim 100 ms)",
      times(RUNS, () => {
        for (const block of routine.blocks) {
          const build = buildBlock(block, routine.pieceBpm);
          for (const player of PLAYERS) build(player);
        }
      }),
      kernel,
    ),
    row(
      "fit that routine into five minutes, with the clock after each step",
      times(RUNS, () => {
        fitToBudget({ ...routine, budgetSec: 300 });
      }),
      kernel,
    ),
    row(
      "walk all 32,768 bars of 4/4 on the sixteenth grid without rests",
      times(RUNS, () => {
        let count = 0;
        for (const _ of formsOf({ metre: { beats: 4, beatType: 4 }, slotsPerBeat: 4, rests: false })) count++;
        if (count !== 32768) throw new Error(`${count} bars`);
      }),
      kernel,
    ),
    row(
      "walk all 3,524,577 of them with rests, none kept",
      times(1, () => {
        let count = 0;
        for (const _ of formsOf({ metre: { beats: 4, beatType: 4 }, slotsPerBeat: 4, rests: true })) count++;
        if (count !== 3_524_577) throw new Error(`${count} bars`);
      }),
      kernel,
    ),
    [
      `render ${minutes.toFixed(1)} minutes of play-along at 44.1 kHz (aim 50 x real time)`,
      `${Math.round(realTime(median(render)))} x real time`,
      `${Math.round(realTime(Math.max(...render)))} to ${Math.round(realTime(Math.min(...render)))}`,
      `${(median(render) / kernel).toFixed(1)} x the FFT kernel`,
    ],
  ];
}

function times(runs: number, act: () => void): number[] {
  return Array.from({ length: runs }, () => 1000 * timed(act));
}

function row(what: string, ms: number[], kernel: number): Row {
  const format = (value: number) => (value < 10 ? value.toFixed(1) : String(Math.round(value)));
  return [
    what,
    `${format(median(ms))} ms`,
    ms.length > 1 ? `${format(Math.min(...ms))} to ${format(Math.max(...ms))}` : "one run",
    `${(median(ms) / kernel).toFixed(2)} x the FFT kernel`,
  ];
}
