import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page, test } from "@playwright/test";
import { startingTempo } from "../../src/core/practice";
import { timeline, writeMusicXml } from "../../src/core/score";
import {
  type Application,
  makeBand,
  makePlayer,
  type Person,
  startApplication,
  type TestBand,
} from "../support/application";
import { line, partFor } from "../support/music";
import { browserWithMicrophone, recordFor, signInStudent, toStep, trumpetAfter } from "./support";

const tune = line("Bb4:1 C5:1 D5:2 | Eb5:2 D5:2 | C5:2 D5:2 | Bb4:4", { bpm: 96, title: "Slip Way" });
const { part } = partFor(tune, "trumpet", "small-tunes");
const BPM = startingTempo(part, 96).bpm;

let application: Application;
let band: TestBand;
let ada: { person: Person; words: string };
let folder: string;

test.beforeAll(async () => {
  application = await startApplication();
  await application.startWeb();
  application.startWorker();
  band = await makeBand(application);
  ada = await makePlayer(application, band, "Ada Quay", "trumpet");
  folder = mkdtempSync(join(tmpdir(), "ulu-mic-"));
  const { lineId } = await band.director.json<{ lineId: string }>(
    "POST",
    "/api/lines?fileName=slip.musicxml",
    new TextEncoder().encode(writeMusicXml(tune)),
  );
  await band.director.json("POST", "/api/assignments", {
    lineId,
    groupId: band.groupId,
    goalBpm: 96,
    timesPerWeek: 3,
    dueDate: "2099-01-01",
  });
});
test.afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await application?.close();
});

/** What the microphone hears of a round: the count goes by, then the playing, with one wrong note or none. */
const playing = (wrong: number | null) => trumpetAfter(part, BPM, (4 * 60) / BPM + 0.55, wrong);

async function open(wrong: number | null): Promise<{ page: Page; close: () => Promise<void> }> {
  const browser = await browserWithMicrophone(playing(wrong), folder);
  const page = await (
    await browser.newContext({ viewport: { width: 390, height: 844 }, permissions: ["microphone"] })
  ).newPage();
  await signInStudent(page, application.url, band.classCode, "Ada Quay", ada.words);
  await page
    .getByRole("link", { name: /Start|Go on|Play it again/ })
    .first()
    .click();
  return { page, close: () => browser.close() };
}

/** Plays a round and waits for its answer. */
async function round(page: Page): Promise<string> {
  await page.getByTestId("main").click();
  await expect(page.getByRole("button", { name: /Count|Stop/ })).toBeVisible();
  await expect(
    page
      .getByRole("button", { name: "Listening …" })
      .or(page.getByTestId("told"))
      .or(page.getByTestId("led-on"))
      .first(),
  ).toBeVisible({ timeout: 90_000 });
  await expect(page.getByTestId("told").or(page.getByTestId("led-on")).first()).toBeVisible();
  return (await page.getByTestId("told").or(page.getByTestId("led-on")).first().innerText()) ?? "";
}

test("a clean round leads on, the music is followed, and what was played is kept for tomorrow", async () => {
  const { page, close } = await open(null);
  await toStep(page, "whole");
  await page.getByTestId("main").click();
  await expect(page.getByTestId("sounding-bar")).toBeVisible();
  await expect(page.getByTestId("led-on")).toContainText(/Clean: (all )?8/, { timeout: 90_000 });
  await expect(page.getByRole("heading", { level: 1 })).not.toHaveText("The whole line");
  const { tasks } = await ada.person.json<{ tasks: { id: string }[] }>("GET", "/api/stand");
  const { practice } = await ada.person.json<{
    practice: { facts: { kind: string; outcome?: string; bpm?: number; seconds: number }[] };
  }>("GET", `/api/tasks/${tasks[0]!.id}`);
  expect(practice.facts.at(-1)).toMatchObject({ kind: "round", outcome: "clean", bpm: BPM });
  // Playing is practice: the seconds count by themselves.
  expect(practice.facts.at(-1)!.seconds).toBeGreaterThan(5);
  await close();
});

test("a wrong note is told once, a take with it leads to its own loop", async () => {
  const { page, close } = await open(4);
  await toStep(page, "whole");
  const said = await round(page);
  expect(said).toMatch(/Nearly: 7 of 8 notes/);
  expect(said).toContain("Bar 2: E is written. You played F.");
  await toStep(page, "record");
  await page.getByRole("button", { name: "Try it" }).click();
  await expect(page.getByTestId("level")).not.toHaveText(/Be quiet|Now play|Quiet for/, { timeout: 30_000 });
  await recordFor(page, timeline(part, { bpm: BPM }).totalSec + 5);
  await page.getByRole("button", { name: "Not yet" }).click();
  await page.getByRole("button", { name: "Send this take" }).click();
  const answer = page.getByTestId("first-answer");
  await expect(answer).toContainText("7 of 8 notes found");
  await expect(answer).toContainText("Bar 2: E is written. You played F.");
  await expect(page.getByRole("button", { name: "Back to my stand" })).toBeVisible();
  await page.getByRole("button", { name: "Practise this" }).first().click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Bar 2 in a loop");
  await expect(page.getByTestId("other-bar")).toHaveCount(3);
  await page.getByRole("button", { name: "Back to the line" }).click();
  await expect(page.getByRole("heading", { level: 1 })).not.toHaveText("Bar 2 in a loop");
  await close();
});

test("the tuner says the written and the concert note, and how far the picture lags", async () => {
  const { page, close } = await open(null);
  await page.goto(`${application.url}/stand?see=tools`);
  await page.getByRole("tab", { name: "Tuner" }).click();
  await page.getByRole("button", { name: "Listen to me" }).click();
  // Written C sounds B flat on the trumpet (common practice, no published source).
  await expect(page.getByTestId("written")).toHaveText(/^[CDEF]4$/, { timeout: 30_000 });
  await expect(page.getByText(/follows the sound by \d+ ms/)).toBeVisible();
  await page.getByRole("button", { name: "Stop", exact: true }).click();
  await close();
});
