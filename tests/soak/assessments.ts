import { spawn } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { recordTake, steadyHabits } from "../../demo/players";
import { writeMusicXml } from "../../src/core/score";
import { median, quantile } from "../bench/statistics";
import { encodeWith, FORMATS } from "../support/formats";
import { line, partFor } from "../support/music";

/** Assessments in all, and how many at once. */
const RUNS = Number(process.env.RUNS ?? 2000);
const AT_ONCE = 2;
/** A process that is still there so long after its answer does not end. */
const ENDS_WITHIN_MS = 20_000;
/** What has not answered by then has not answered. */
const ANSWERS_WITHIN_MS = 60_000;

interface Outcome {
  format: string;
  answered: boolean;
  ended: boolean;
  code: number | null;
  /** From the answer to the end, and in all. */
  endMs: number;
  wholeMs: number;
}

/** What the threads of a process wait in, for one that does not end. */
function waitingIn(pid: number): string {
  const threads = readdirSync(`/proc/${pid}/task`).map((thread) => {
    const read = (name: string) => readFileSync(`/proc/${pid}/task/${thread}/${name}`, "utf8").trim();
    return `${read("comm")}: ${read("wchan")}`;
  });
  return threads.join("; ");
}

function assessOnce(format: string, score: string, audio: string): Promise<Outcome> {
  return new Promise((resolve) => {
    const start = performance.now();
    const child = spawn(process.execPath, [
      "dist/ulu.mjs",
      "assess",
      "--score",
      score,
      "--audio",
      audio,
      "--json",
    ]);
    let printed = "";
    let answeredAt: number | null = null;
    let patience = setTimeout(() => child.kill("SIGKILL"), ANSWERS_WITHIN_MS);
    let ended = true;
    child.stdout.on("data", (data) => {
      printed += data;
      if (!printed.endsWith("}\n")) return;
      answeredAt = performance.now();
      clearTimeout(patience);
      patience = setTimeout(() => {
        ended = false;
        console.log(`Process ${child.pid} (${format}) does not end: ${waitingIn(child.pid!)}`);
        child.kill("SIGKILL");
      }, ENDS_WITHIN_MS);
    });
    child.on("exit", (code) => {
      clearTimeout(patience);
      const now = performance.now();
      const answered = answeredAt !== null && JSON.parse(printed).take.status === "assessed";
      resolve({ format, answered, ended, code, endMs: now - (answeredAt ?? now), wholeMs: now - start });
    });
  });
}

async function main(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "ulu-soak-assess-"));
  try {
    const { part } = partFor(line("Bb4:1 C5:1 D5:2 | Eb5:1 D5:1 C5:2 | Bb4:4", { bpm: 100 }), "clarinet");
    const { pcm } = recordTake(part, "clarinet", 100, steadyHabits, { noise: 0.003, echo: 0.2 }, 3);
    const score = join(folder, "line.musicxml");
    writeFileSync(score, writeMusicXml(part));
    const takes = Object.keys(FORMATS).map((format): [format: string, file: string] => {
      const file = join(folder, `take.${format}`);
      writeFileSync(file, encodeWith(pcm, format));
      return [format, file];
    });
    const outcomes: Outcome[] = [];
    let next = 0;
    const workOff = async () => {
      while (next < RUNS) {
        const [format, file] = takes[next++ % takes.length]!;
        outcomes.push(await assessOnce(format, score, file));
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, workOff));
    console.log(
      "| format | assessments | answered | ended by themselves | answer to end, median / p99 / worst | in all, median |",
    );
    console.log("|---|---|---|---|---|---|");
    for (const [format] of takes) {
      const own = outcomes.filter((each) => each.format === format);
      const ends = own.map(({ endMs }) => endMs);
      const whole = own.map(({ wholeMs }) => wholeMs);
      console.log(
        `| ${format} | ${own.length} | ${own.filter(({ answered }) => answered).length} | ${own.filter(({ ended, code }) => ended && code === 0).length} | ${median(ends).toFixed(0)} / ${quantile(ends, 0.99).toFixed(0)} / ${Math.max(...ends).toFixed(0)} ms | ${median(whole).toFixed(0)} ms |`,
      );
    }
  } finally {
    rmSync(folder, { recursive: true });
  }
}

await main();
