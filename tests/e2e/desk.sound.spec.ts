import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type Browser, expect, type Page, test } from "@playwright/test";
import { PitchDetector } from "pitchy";
import { writeWav } from "../../src/core/audio";
import { writeMusicXml } from "../../src/core/score";
import {
  type Application,
  makeBand,
  makePlayer,
  type Person,
  sendTake,
  startApplication,
  type TestBand,
} from "../support/application";
import { line, partFor } from "../support/music";
import { atWork, browserWithMicrophone, expectAccessible, signInDirector, trumpetAfter } from "./support";

const tune = line("Bb4:1 C5:1 D5:2 | Eb5:2 D5:2 | C5:2 D5:2 | Bb4:4", { bpm: 96, title: "Slip Way" });
const { part } = partFor(tune, "trumpet", "small-tunes");

let application: Application;
let band: TestBand;
let ada: { person: Person };
let folder: string;
let browser: Browser;
let page: Page;

test.beforeAll(async () => {
  application = await startApplication();
  await application.startWeb();
  application.startWorker();
  band = await makeBand(application);
  ada = await makePlayer(application, band, "Ada Quay", "trumpet");
  await makePlayer(application, band, "Bo Quay", "trumpet");
  const { lineId } = await band.director.json<{ lineId: string }>(
    "POST",
    "/api/lines?fileName=slip.musicxml",
    new TextEncoder().encode(writeMusicXml(tune)),
  );
  await band.director.json("POST", "/api/assignments", {
    lineId,
    groupId: band.groupId,
    goalBpm: 96,
    timesPerWeek: 1,
    dueDate: "2099-01-01",
    terms: { test: true },
  });
  folder = mkdtempSync(join(tmpdir(), "ulu-mic-"));
  browser = await browserWithMicrophone(trumpetAfter(part, 96, 1.5, 3), folder);
  const context = await browser.newContext({
    viewport: { width: 1280, height: 800 },
    permissions: ["microphone"],
  });
  page = await context.newPage();
  await signInDirector(page, application.url, band.directorEmail, band.password);
});
test.afterAll(async () => {
  await browser?.close();
  rmSync(folder, { recursive: true, force: true });
  await application?.close();
});

const waiting = () => page.getByTestId("live-waiting");

test("a player is heard in class without network, by the keyboard alone, and is on the bench once there is one", async () => {
  test.setTimeout(120_000);
  await page.goto(`${application.url}/listen/live`);
  await page.getByRole("link", { name: /Slip Way/ }).click();
  await atWork(page);
  await expect(page.getByTestId("live-name")).toHaveText("Ada Quay");
  await expectAccessible(page);
  await page.waitForLoadState("networkidle");
  await page.context().setOffline(true);
  await page.keyboard.press("Space");
  await expect(async () => {
    const [minutes, rest] = (await page.getByTestId("live-seconds").innerText()).split(":").map(Number);
    expect(60 * minutes! + rest!).toBeGreaterThanOrEqual(13);
  }).toPass({ timeout: 60_000 });
  await page.keyboard.press("Space");
  await expect(page.getByTestId("live-heard")).toContainText("instead of F");
  await page.keyboard.press("3");
  await page.keyboard.press("7");
  await expect(page.getByTestId("together")).toContainText("75 %");
  await page.keyboard.press("a");
  // The next name is there at once; what was heard waits on this device.
  await expect(page.getByTestId("live-name")).toHaveText("Bo Quay");
  await expect(waiting()).toContainText("1 take is on this device");
  await page.context().setOffline(false);
  await expect(waiting()).toHaveText("", { timeout: 30_000 });
  const { tasks } = await ada.person.json<{ tasks: { id: string; state: string; takes: number }[] }>(
    "GET",
    "/api/stand",
  );
  expect(tasks).toMatchObject([{ state: "again", takes: 1 }]);
  const task = await ada.person.json<{ history: { review: { marks: object; comment: string } }[] }>(
    "GET",
    `/api/tasks/${tasks[0]!.id}`,
  );
  expect(task.history[0]!.review.marks).toEqual({ notes: 3 });
  expect(task.history[0]!.review.comment).not.toBe("");
  await page.reload();
  await expect(page.getByRole("button", { name: /Ada Quay/ })).toBeVisible();
});

test("the line as written plays beside a take, bar by bar at the take's own tempo", async () => {
  const { tasks } = await ada.person.json<{ tasks: { id: string }[] }>("GET", "/api/stand");
  const takeId = await sendTake(ada.person, tasks[0]!.id, writeWav(trumpetAfter(part, 84, 0.8, null)));
  await expect(async () => {
    const { state } = await band.director.json<{ state: string }>("GET", `/api/takes/${takeId}`);
    expect(state).toBe("assessed");
  }).toPass({ timeout: 60_000 });
  // What plays beside is no element of the page: what is made is looked at.
  await page.addInitScript(() => {
    const Plain = window.Audio;
    const made: HTMLAudioElement[] = [];
    Object.assign(window, { made });
    window.Audio = class extends Plain {
      constructor(url?: string) {
        super(url);
        made.push(this);
      }
    } as typeof Audio;
  });
  await page.goto(`${application.url}/listen?take=${takeId}`);
  await atWork(page);
  await page.getByLabel("Beside it").selectOption("written");
  await expect(page.getByLabel("Balance")).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press("Space");
  type Made = { made: HTMLAudioElement[] };
  const other = () =>
    page.evaluate(() => {
      const element = (window as unknown as Made).made.at(-1)!;
      return { sec: element.currentTime, volume: element.volume, paused: element.paused };
    });
  await expect(async () => expect((await other()).sec).toBeGreaterThan(1)).toPass({ timeout: 20_000 });
  // Both as loud as they are; then only this one, then only the other.
  expect((await other()).volume).toBe(1);
  for (const volume of [0, 1]) {
    await page.keyboard.press("b");
    await expect(async () => expect((await other()).volume).toBe(volume)).toPass({ timeout: 5000 });
  }
  await page.keyboard.press("Space");
  await expect(async () => expect((await other()).paused).toBe(true)).toPass({ timeout: 5000 });
});

test("what is slowed keeps its pitch and takes as much longer as it says", async () => {
  const seconds = 2;
  const rate = 44_100;
  const hz = 440;
  const tone = Float32Array.from(
    { length: seconds * rate },
    (_, i) => 0.4 * Math.sin((2 * Math.PI * hz * i) / rate),
  );
  const wav = [...writeWav({ samples: tone, sampleRate: rate })];
  for (const slow of [0.6, 0.8]) {
    const heard = await page.evaluate(
      async ({ wav, slow }) => {
        const context = new AudioContext();
        const element = new Audio(
          URL.createObjectURL(new Blob([new Uint8Array(wav)], { type: "audio/wav" })),
        );
        element.preservesPitch = true;
        element.playbackRate = slow;
        const source = context.createMediaElementSource(element);
        const analyser = new AnalyserNode(context, { fftSize: 8192 });
        source.connect(analyser).connect(context.destination);
        const ended = new Promise((done) => element.addEventListener("ended", done, { once: true }));
        const begun = new Promise((done) => element.addEventListener("playing", done, { once: true }));
        await element.play();
        await begun;
        const from = context.currentTime;
        const blocks: number[][] = [];
        const each = setInterval(() => {
          const block = new Float32Array(analyser.fftSize);
          analyser.getFloatTimeDomainData(block);
          blocks.push([...block]);
        }, 300);
        await ended;
        clearInterval(each);
        return { seconds: context.currentTime - from, blocks, rate: context.sampleRate };
      },
      { wav, slow },
    );
    expect(heard.seconds * slow).toBeGreaterThan(seconds * 0.9);
    expect(heard.seconds * slow).toBeLessThan(seconds * 1.15);
    // Blocks that are wholly of the tone: not its beginning and end.
    const whole = heard.blocks.slice(1, -1).map((block) => Float32Array.from(block));
    expect(whole.length).toBeGreaterThan(3);
    const detector = PitchDetector.forFloat32Array(8192);
    const cents = whole
      .map((block) => detector.findPitch(block, heard.rate)[0])
      .map((found) => 1200 * Math.log2(found / hz))
      .sort((a, b) => a - b);
    expect(Math.abs(cents[Math.floor(cents.length / 2)]!)).toBeLessThan(8);
  }
});
