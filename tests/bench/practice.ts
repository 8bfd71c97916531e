import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Browser, Page } from "@playwright/test";
import { DEMO, PLAYERS } from "../../demo/band";
import { recordTake, steadyHabits } from "../../demo/players";
import { bookScore, LINES } from "../../src/core/book";
import { instrumentById } from "../../src/core/music";
import { derivePart } from "../../src/core/score";
import { browserWithMicrophone } from "../e2e/support";
import { median, type Row } from "./statistics";

/** A school laptop against this machine. */
const SLOWER = 4;
const TURNS = 5;
const LIVE_SEC = 10;
/** A frame that takes longer is felt, ms. */
const LONG_FRAME_MS = 50;

/** The practice room on a slow device: until the stand and a line can be used, the first answer, the live trace, bytes. */
export async function benchPractice(base: string): Promise<Row[]> {
  const folder = mkdtempSync(join(tmpdir(), "ulu-bench-mic-"));
  const line = LINES.find(({ number }) => number === 28)!;
  const part = derivePart(bookScore(line), instrumentById("clarinet"), "small-tunes").score;
  const { pcm } = recordTake(part, "clarinet", line.bpm, steadyHabits, { noise: 0.002, echo: 0.2 }, 4);
  const browser = await browserWithMicrophone(pcm, folder);
  try {
    return [
      ...(await opening(browser, base)),
      await firstAnswer(browser, base),
      await liveTrace(browser, base),
    ];
  } finally {
    await browser.close();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** A page of a signed-in student on a slowed processor. */
async function slowPage(browser: Browser, base: string, slower = SLOWER): Promise<Page> {
  const context = await browser.newContext({
    viewport: { width: 390, height: 844 },
    permissions: ["microphone"],
    serviceWorkers: "block",
  });
  const player = PLAYERS.find(({ words }) => words)!;
  await context.request.post(`${base}/api/sign-in/student`, {
    data: { classCode: DEMO.classCode, name: player.name, words: player.words },
    headers: { Origin: base },
  });
  const page = await context.newPage();
  const session = await context.newCDPSession(page);
  await session.send("Emulation.setCPUThrottlingRate", { rate: slower });
  return page;
}

async function opening(browser: Browser, base: string): Promise<Row[]> {
  const stand: number[] = [];
  const task: number[] = [];
  let bytes = 0;
  let taskBytes = 0;
  for (let turn = 0; turn < TURNS; turn++) {
    const page = await slowPage(browser, base);
    let sum = 0;
    page.on("response", async (response) => {
      sum += (await response.body().catch(() => Buffer.alloc(0))).length;
    });
    const began = performance.now();
    await page.goto(`${base}/stand`);
    await page.waitForFunction(() => !document.querySelector("astro-island[ssr]"));
    stand.push(performance.now() - began);
    bytes = sum;
    const opened = performance.now();
    await page.locator("article a.btn").first().click();
    await page.locator("g.note").first().waitFor();
    await page.getByTestId("main").waitFor();
    task.push(performance.now() - opened);
    taskBytes = sum - bytes;
    await page.context().close();
  }
  const seconds = (times: number[]) => `${(median(times) / 1000).toFixed(2)} s`;
  const worst = (times: number[]) => `worst of ${times.length} ${(Math.max(...times) / 1000).toFixed(2)} s`;
  return [
    [
      `My stand can be used, processor slowed ${SLOWER} times (aim 2 s)`,
      seconds(stand),
      worst(stand),
      `${Math.round(bytes / 1000)} kB, not compressed`,
    ],
    [
      `a line can be practised after it is chosen, slowed ${SLOWER} times (aim 2.5 s)`,
      seconds(task),
      worst(task),
      `${Math.round(taskBytes / 1000)} kB more`,
    ],
  ];
}

async function firstAnswer(browser: Browser, base: string): Promise<Row> {
  const page = await slowPage(browser, base);
  await page.goto(`${base}/stand`);
  await page.waitForFunction(() => !document.querySelector("astro-island[ssr]"));
  await page.locator("article a.btn").first().click();
  await page
    .getByRole("navigation", { name: "Steps of this line" })
    .getByRole("button", { name: "record" })
    .click();
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await page.getByTestId("recorded").filter({ hasText: "0:30" }).waitFor({ timeout: 120_000 });
  await page.getByRole("button", { name: /Stop recording/ }).click();
  const stopped = performance.now();
  await page.getByRole("heading", { name: "Listen back" }).waitFor();
  const kept = performance.now() - stopped;
  await page.getByRole("button", { name: "Send this take" }).click();
  await page.getByRole("button", { name: "Nearly" }).click();
  await page.getByTestId("first-answer").waitFor({ timeout: 120_000 });
  const told = performance.now() - stopped;
  await page.context().close();
  return [
    `first answer to 30 s of sound after stop, slowed ${SLOWER} times (aim 1 s)`,
    `${(told / 1000).toFixed(2)} s`,
    `to listen back ${(kept / 1000).toFixed(2)} s`,
    "",
  ];
}

async function liveTrace(browser: Browser, base: string): Promise<Row> {
  const page = await slowPage(browser, base);
  await page.goto(`${base}/stand?see=tools&tool=long`);
  await page.getByRole("button", { name: "Hold a tone" }).click();
  await page.waitForFunction(() => document.querySelector("select")?.disabled === true);
  const frames = await page.evaluate(
    (sec) =>
      new Promise<number[]>((done) => {
        const times: number[] = [];
        const until = performance.now() + 1000 * sec;
        let before = performance.now();
        const tick = (now: number) => {
          times.push(now - before);
          before = now;
          if (now < until) requestAnimationFrame(tick);
          else done(times);
        };
        requestAnimationFrame(tick);
      }),
    LIVE_SEC,
  );
  const lag = await page
    .getByText(/follows the sound by \d+ ms/)
    .innerText({ timeout: 5000 })
    .then((text) => /by (\d+) ms/.exec(text)![1]!)
    .catch(() => "not shown");
  await page.context().close();
  return [
    `live trace for ${LIVE_SEC} s, slowed ${SLOWER} times: frames over ${LONG_FRAME_MS} ms (aim none)`,
    `${frames.filter((ms) => ms > LONG_FRAME_MS).length} of ${frames.length}`,
    `longest ${Math.max(...frames).toFixed(0)} ms`,
    `picture behind the sound ${lag} ms (aim 60)`,
  ];
}
