import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium } from "@playwright/test";
import { ASSIGNMENTS, DEMO, PLAYERS } from "../../demo/band";
import { recordTake, steadyHabits } from "../../demo/players";
import playwrightConfig from "../../playwright.config";
import { writeWav } from "../../src/core/audio";
import { bookScore, LINES } from "../../src/core/book";
import { likeliest } from "../../src/core/inbox";
import { assess } from "../../src/core/listen";
import { instrumentById } from "../../src/core/music";
import { seededRandom } from "../../src/core/rhythm";
import { derivePart } from "../../src/core/score";
import type { BringTask } from "../../src/services/listening/wire";
import type { Row } from "./statistics";

/** Beginners as they are: a few wrong notes, an uneven beat, a room. */
const habits = (random: () => number) => ({ ...steadyHabits, unsteady: 0.02 + 0.03 * random() });
const room = (random: () => number) => ({ noise: 0.004, echo: 0.3 * random() });

/** Every line that the demo band has on its stands, on every instrument of it, heard against all of them. */
export function benchContent(): Row[] {
  const lines = [...new Set(ASSIGNMENTS.map(({ line }) => line))]
    .map((number) => LINES.find((line) => line.number === number)!)
    .filter(Boolean);
  const instruments = [...new Set(PLAYERS.flatMap(({ instruments: own }) => own))].filter(
    (id) => instrumentById(id).ranges !== null,
  );
  const random = seededRandom(16);
  const count = { right: 0, sure: 0, wrong: 0, wrongSure: 0, none: 0 };
  const all = lines.length * instruments.length;
  for (const instrumentId of instruments) {
    const parts = lines.map((line) => ({
      line,
      score: derivePart(bookScore(line), instrumentById(instrumentId), "small-tunes").score,
    }));
    for (const { line, score } of parts) {
      const { pcm } = recordTake(
        score,
        instrumentId,
        line.bpm,
        habits(random),
        room(random),
        all + line.number,
      );
      const likely = likeliest(
        parts.map((each) => ({
          key: each.line.number,
          assessment: assess(each.score, pcm, { bpm: each.line.bpm, instrumentId }),
        })),
      );
      if (!likely) count.none++;
      else if (likely.key === line.number) {
        count.right++;
        if (likely.sure) count.sure++;
      } else {
        count.wrong++;
        if (likely.sure) count.wrongSure++;
      }
    }
  }
  const percent = (of: number) => `${((100 * of) / all).toFixed(1)} %`;
  return [
    [
      `which line a recording is of, ${lines.length} lines on ${instruments.length} instruments, ${all} recordings`,
      `${percent(count.right)} right, ${percent(count.sure)} without asking`,
      `${count.wrong} another line, ${count.wrongSure} of them without asking; ${count.none} none`,
      "aim 98 % right, no other line without asking",
    ],
  ];
}

const FILES = 200;

/** A folder of 200 recordings of which the names say only the player: found by sound on all cores, then brought in. */
export async function benchFolder(base: string): Promise<Row[]> {
  const browser = await chromium.launch(playwrightConfig.use!.launchOptions);
  const folder = mkdtempSync(join(tmpdir(), "ulu-folder-"));
  try {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    await context.request.post(`${base}/api/sign-in/director`, {
      headers: { Origin: base },
      data: { email: DEMO.email, password: DEMO.password },
    });
    const [response] = await Promise.all([
      page.waitForResponse((each) => each.url().endsWith("/listen/folder")),
      page.goto(`${base}/listen/folder`, { waitUntil: "networkidle" }),
    ]);
    if (!response.ok()) throw new Error(`The page of the folder answered ${response.status()}`);
    const islands = await page.evaluate(() =>
      [...document.querySelectorAll("astro-island")].map(
        (island) => JSON.parse(island.getAttribute("props") ?? "null") as unknown,
      ),
    );
    const files = filesFor(tasksIn(islands), folder);
    let seconds = 0;
    for (const { seconds: own } of files) seconds += own;
    const from = performance.now();
    await page.getByLabel("Choose recordings").setInputFiles(files.map(({ path }) => path));
    await page.waitForFunction(
      () =>
        !/looked at/.test(document.querySelector("[data-testid=folder-state]")?.textContent ?? "looked at"),
      null,
      { timeout: 1_800_000 },
    );
    const looked = (performance.now() - from) / 1000;
    const asked = await page.getByTestId("folder-state").innerText();
    const sent = performance.now();
    await page.getByRole("button", { name: /^Bring in/ }).click();
    await page.waitForFunction(
      () =>
        /brought in/.test(document.querySelector("[data-testid=folder-state]")?.textContent ?? "") &&
        !document.querySelector("progress"),
      null,
      { timeout: 1_800_000 },
    );
    const brought = (performance.now() - sent) / 1000;
    return [
      [
        `folder of ${FILES} recordings (${(seconds / 60).toFixed(0)} min of sound), line by sound, on all cores`,
        `${looked.toFixed(0)} s to the table, ${(seconds / looked).toFixed(1)} times as fast as it sounds`,
        asked || "none asks",
        "",
      ],
      [
        `bringing them in`,
        `${brought.toFixed(0)} s`,
        (await page.getByTestId("folder-state").innerText()).replaceAll("·", ","),
        "",
      ],
    ];
  } finally {
    rmSync(folder, { recursive: true, force: true });
    await browser.close();
  }
}

/** The tasks that the page was drawn with. */
function tasksIn(props: unknown): BringTask[] {
  const found: BringTask[] = [];
  const walk = (value: unknown): void => {
    if (Array.isArray(value)) for (const each of value) walk(each);
    if (typeof value !== "object" || value === null) return;
    if ("taskId" in value && "playerName" in value) {
      const plain = Object.fromEntries(
        Object.entries(value).map(([name, each]) => [name, Array.isArray(each) ? each[1] : each]),
      );
      found.push(plain as unknown as BringTask);
    }
    for (const each of Object.values(value)) walk(each);
  };
  walk(props);
  return found;
}

/** Recordings of what players have to do, named by their player and a number that says nothing. */
function filesFor(tasks: readonly BringTask[], folder: string): { path: string; seconds: number }[] {
  const random = seededRandom(200);
  const usable = tasks.flatMap((task) => {
    const line = LINES.find(({ number }) => number === task.lineNumber);
    return line && instrumentById(task.instrumentId).ranges ? [{ task, line }] : [];
  });
  return Array.from({ length: FILES }, (_, i) => {
    const { task, line } = usable[i % usable.length]!;
    const part = derivePart(bookScore(line), instrumentById(task.instrumentId), "small-tunes").score;
    const { pcm } = recordTake(part, task.instrumentId, line.bpm, habits(random), room(random), i);
    const path = join(
      folder,
      `${task.playerName} phone ${String.fromCharCode(97 + (i % 26))}${"x".repeat(1 + Math.floor(i / 26))}.wav`,
    );
    writeFileSync(path, writeWav(pcm));
    return { path, seconds: pcm.samples.length / pcm.sampleRate };
  });
}
