import { spawn } from "node:child_process";
import { existsSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Browser, chromium, type Page } from "@playwright/test";
import { DEMO, PLAYERS } from "../../demo/band";
import { recordTake, steadyHabits } from "../../demo/players";
import playwrightConfig from "../../playwright.config";
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
      ...(await overTheWire(base)),
    ];
  } finally {
    await browser.close();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Delays of the wire from the loudspeaker to the microphone, ms; none is the shortest there is. */
const WIRES = [null, 60, 260] as const;

/**
 * The lag of the picture, with the microphone in it, over a wire instead of air: a sound server whose loudspeaker is its
 * microphone. Two wires whose delays are known to differ by 200 ms show that the loopback measures what it says.
 */
async function overTheWire(base: string): Promise<Row[]> {
  const delays: number[] = [];
  let lag = "";
  for (const wireMs of WIRES) {
    const folder = mkdtempSync(join(tmpdir(), "ulu-wire-"));
    const server = await soundServer(folder, wireMs);
    const browser = await chromium.launch({
      ...playwrightConfig.use!.launchOptions,
      ignoreDefaultArgs: ["--mute-audio"],
      args: ["--no-sandbox", "--use-fake-ui-for-media-stream", "--autoplay-policy=no-user-gesture-required"],
      env: { ...(process.env as Record<string, string>), PULSE_SERVER: server.address },
    });
    try {
      const page = await slowPage(browser, base, 1);
      await page.goto(`${base}/stand?see=tools&tool=long`);
      const delay = page.getByTestId("delay");
      await delay.click();
      await page.getByRole("button", { name: "Measure it" }).click();
      await delay.filter({ hasText: /\d+ ms/ }).waitFor({ timeout: 30_000 });
      delays.push(Number(/(\d+) ms/.exec(await delay.innerText())![1]));
      if (wireMs === null) {
        await page.getByRole("button", { name: "Hold a tone" }).click();
        const told = await page.getByText(/follows the sound by \d+ ms/).innerText({ timeout: 20_000 });
        lag = /by (\d+) ms/.exec(told)![1]!;
      }
    } finally {
      await browser.close();
      await server.stop();
      rmSync(folder, { recursive: true, force: true });
    }
  }
  const [, short, long] = delays as [number, number, number];
  return [
    [
      "picture behind the sound with the microphone in it, over a wire (aim 60 ms)",
      `${lag} ms`,
      `out and in again ${delays[0]} ms`,
      "",
    ],
    [
      `loopback over wires of ${WIRES[1]} and ${WIRES[2]} ms: the difference it measures (known 200 ms)`,
      `${long - short} ms`,
      `${short} and ${long} ms`,
      "",
    ],
  ];
}

/** A sound server of its own: what is played comes in at the microphone, straight or so much later. */
async function soundServer(folder: string, wireMs: number | null) {
  const socket = join(folder, "socket");
  const script = join(folder, "wire.pa");
  const wire =
    wireMs === null
      ? ["load-module module-remap-source master=out.monitor source_name=wire"]
      : [
          "load-module module-null-sink sink_name=in rate=48000",
          `load-module module-loopback source=out.monitor sink=in latency_msec=${wireMs} source_dont_move=true sink_dont_move=true`,
          "load-module module-remap-source master=in.monitor source_name=wire",
        ];
  writeFileSync(
    script,
    [
      "load-module module-null-sink sink_name=out rate=48000",
      ...wire,
      "set-default-sink out",
      "set-default-source wire",
      `load-module module-native-protocol-unix socket=${socket} auth-anonymous=1`,
      "",
    ].join("\n"),
  );
  const server = spawn("pulseaudio", ["-n", "--daemonize=no", "--exit-idle-time=-1", "-F", script], {
    env: { ...process.env, HOME: folder, XDG_RUNTIME_DIR: folder },
    stdio: "ignore",
  });
  while (!existsSync(socket)) {
    if (server.exitCode !== null) throw new Error("The sound server did not start.");
    await new Promise((done) => setTimeout(done, 50));
  }
  const stop = async () => {
    const gone = new Promise((done) => server.once("exit", done));
    server.kill();
    await gone;
  };
  return { address: `unix:${socket}`, stop };
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
    await page.waitForLoadState("networkidle");
    bytes = sum;
    const opened = performance.now();
    await page.locator("article a.btn").first().click();
    await page.locator("g.note").first().waitFor();
    // Whatever step it stands at.
    await page
      .getByTestId("main")
      .or(page.getByRole("button", { name: "Record", exact: true }))
      .waitFor();
    task.push(performance.now() - opened);
    await page.waitForLoadState("networkidle");
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
  const rated = performance.now();
  await page.getByTestId("first-answer").waitFor({ timeout: 120_000 });
  const told = performance.now() - stopped;
  await page.context().close();
  return [
    `first answer to 30 s of sound after stop, slowed ${SLOWER} times (aim 1 s)`,
    `${(told / 1000).toFixed(2)} s`,
    `to listen back ${(kept / 1000).toFixed(2)} s`,
    `sent and rated in between; ${(told - (rated - stopped)).toFixed(0)} ms after the rating`,
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
