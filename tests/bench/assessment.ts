import FFT from "fft.js";
import { recordTake, steadyHabits } from "../../demo/players";
import { engraveShorthand } from "../../src/core/book";
import { assess, followTake } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { derivePart } from "../../src/core/score";
import { median, type Row } from "./statistics";

const RUNS = 7;
/** Samples that the recorder hands over at a time. */
const BLOCK = 4096;
const INSTRUMENTS = ["clarinet", "tuba", "bells"];

/**
 * How many times faster than real time a take of about 60 s is assessed on one core, decoding left out; and how long its answer takes after
 * the stop where it was followed while it was recorded.
 */
export function benchAssessment(): Row[] {
  const bars = Array.from({ length: 20 }, (_, i) =>
    i % 2 ? "Bb4:1 C5:1 D5:2" : "F5:1/2 Eb5:1/2 D5:1 C5:1 D5:1",
  );
  const line = engraveShorthand({
    number: 1,
    page: 1,
    title: "Bench",
    introduces: "",
    composer: "",
    fifths: -2,
    metre: [4, 4],
    bpm: 80,
    music: bars.join(" | "),
  });
  return INSTRUMENTS.flatMap((id): Row[] => {
    const part = derivePart(line, instrumentById(id), "widening").score;
    const { pcm } = recordTake(part, id, 80, steadyHabits, { noise: 0.004, echo: 0.3 }, 4);
    const seconds = pcm.samples.length / pcm.sampleRate;
    assess(part, pcm, { bpm: 80, instrumentId: id });
    const speeds: number[] = [];
    const kernels: number[] = [];
    const waits: number[] = [];
    for (let run = 0; run < RUNS; run++) {
      const kernel = timed(fftKernel);
      const spent = timed(() => assess(part, pcm, { bpm: 80, instrumentId: id }));
      speeds.push(seconds / spent);
      kernels.push(spent / kernel);
      const follower = followTake(part, pcm.sampleRate, { bpm: 80, instrumentId: id });
      for (let at = 0; at < pcm.samples.length; at += BLOCK)
        follower.add(pcm.samples.subarray(at, at + BLOCK));
      waits.push(1000 * timed(() => follower.end()));
    }
    const [low, high] = [Math.min(...speeds), Math.max(...speeds)];
    const what = `${Math.round(seconds)} s of ${instrumentById(id).name}`;
    return [
      [
        `assess ${what}`,
        `${median(speeds).toFixed(0)} x real time`,
        `${low.toFixed(0)} to ${high.toFixed(0)}`,
        `${median(kernels).toFixed(1)} x the FFT kernel`,
      ],
      [
        `the answer after the stop, ${what} that were followed`,
        `${median(waits).toFixed(0)} ms`,
        `${Math.min(...waits).toFixed(0)} to ${Math.max(...waits).toFixed(0)} ms`,
        "–",
      ],
    ];
  });
}

/** The fixed piece of work beside which assessment is timed: 2000 real transforms of 2048 samples. */
export function fftKernel(): void {
  const fft = new FFT(2048);
  const input = Float64Array.from({ length: 2048 }, (_, i) => Math.sin(i * 0.37));
  const output = new Float64Array(4096);
  for (let i = 0; i < 2000; i++) fft.realTransform(output, input);
}

/** Seconds that a call takes. */
export function timed(run: () => void): number {
  const start = performance.now();
  run();
  return (performance.now() - start) / 1000;
}
