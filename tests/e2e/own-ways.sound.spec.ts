import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page, test } from "@playwright/test";
import { synthesise } from "../../demo/synth";
import { type Pcm, writeWav } from "../../src/core/audio";
import { timeline, writeMusicXml } from "../../src/core/score";
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
import { browserWithMicrophone, ROOM, signInDirector, signInStudent, trumpetAfter } from "./support";

const tune = line("Bb4:1 C5:1 D5:2 | Eb5:2 D5:2 | C5:2 D5:2 | Bb4:4", { bpm: 96, title: "Slip Way" });
const song = line("Bb4:4 | D5:4 | C5:4", { bpm: 80, title: "Low Water" });
const unseen = line("D5:2 C5:2 | Bb4:2 C5:2 | D5:2 Eb5:2 | D5:4", { bpm: 96, title: "New Chart" });

let application: Application;
let band: TestBand;
let ada: { person: Person; words: string };
let folder: string;
const tasks: Record<string, string> = {};

test.beforeAll(async () => {
  application = await startApplication();
  await application.startWeb();
  application.startWorker();
  band = await makeBand(application);
  ada = await makePlayer(application, band, "Ada Quay", "trumpet");
  folder = mkdtempSync(join(tmpdir(), "ulu-mic-"));
  for (const [score, terms] of [
    [tune, {}],
    [song, { steps: ["sing"] }],
    [unseen, { sight: { lookSec: 60 } }],
  ] as const) {
    const { lineId } = await band.director.json<{ lineId: string }>(
      "POST",
      `/api/lines?fileName=${encodeURIComponent(score.title)}.musicxml`,
      new TextEncoder().encode(writeMusicXml(score)),
    );
    await band.director.json("POST", "/api/assignments", {
      lineId,
      groupId: band.groupId,
      goalBpm: score === song ? 80 : 96,
      timesPerWeek: 1,
      dueDate: "2099-01-01",
      terms,
    });
  }
  const stand = await ada.person.json<{ tasks: { id: string; lineTitle: string }[] }>("GET", "/api/stand");
  for (const { id, lineTitle } of stand.tasks) tasks[lineTitle] = id;
});
test.afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await application?.close();
});

async function open(sound: Pcm, title: string): Promise<{ page: Page; close: () => Promise<void> }> {
  const browser = await browserWithMicrophone(sound, folder);
  const context = await browser.newContext({
    viewport: { width: 390, height: 844 },
    permissions: ["microphone"],
  });
  const page = await context.newPage();
  await signInStudent(page, application.url, band.classCode, "Ada Quay", ada.words);
  await page.goto(`${application.url}/stand?task=${tasks[title]}`);
  await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
  return { page, close: () => browser.close() };
}

test("a line is unseen until the look begins, played once, sent as it is, and not a second time", async () => {
  const { part } = partFor(unseen, "trumpet", "small-tunes");
  const { page, close } = await open(trumpetAfter(part, 96, (4 * 60) / 96 + 0.55, 3), "New Chart");
  await expect(page.getByRole("heading", { name: "Read it at sight" })).toBeVisible();
  await expect(page.getByTestId("music")).toHaveCount(0);
  await expect(page.getByRole("navigation", { name: "Steps of this line" })).toHaveCount(0);
  await page.getByRole("button", { name: "Let me look" }).click();
  await expect(page.getByTestId("look-left")).toContainText("s to look");
  await expect(page.getByTestId("music")).toBeVisible();
  // A look that is broken off by a reload is no second look.
  await page.reload();
  await expect(page.getByText("You have looked at it.")).toBeVisible();
  await expect(page.getByTestId("music")).toHaveCount(0);
  await page.getByRole("button", { name: "Count me in" }).click();
  const through = page.getByRole("button", { name: "I am through" });
  await expect(through).toBeVisible({ timeout: 30_000 });
  const lasts = 1000 * (timeline(part, { bpm: 96 }).totalSec + 1.5);
  const began = Date.now();
  await expect.poll(() => Date.now() - began, { timeout: 60_000 }).toBeGreaterThan(lasts);
  await through.click();
  await page.getByRole("button", { name: "Nearly" }).click();
  await expect(page.getByTestId("first-answer")).toContainText("6 of 7 notes found", { timeout: 60_000 });
  await expect(page.getByRole("button", { name: "Practise this" })).toHaveCount(0);
  await page.getByRole("button", { name: "Back to my stand" }).click();
  await page.goto(`${application.url}/stand?task=${tasks["New Chart"]}`);
  await expect(page.getByText("You have read it.")).toBeVisible();
  await expect(page.getByTestId("main")).toHaveCount(0);
  await close();
});

test("what is sung is listened to, in the octave of the voice", async () => {
  const { part } = partFor(song, "trumpet", "small-tunes");
  // A tone an octave below the trumpet: the starting note sounds for two beats, four are counted.
  const notes = timeline(part, { bpm: 80 }).notes.map(({ onsetSec, durationSec, midi }) => ({
    atSec: (6 * 60) / 80 + 0.6 + onsetSec,
    lengthSec: durationSec * 0.95,
    midi: midi! - 12,
    loudness: 0.7,
  }));
  const voice = synthesise(notes, "euphonium", notes.at(-1)!.atSec + 6, ROOM, 3);
  const { page, close } = await open(voice, "Low Water");
  await page.getByRole("button", { name: "Sing it" }).click();
  await expect(page.getByTestId("told").or(page.getByTestId("led-on")).first()).toContainText(
    "Every note was there: all 3.",
    { timeout: 90_000 },
  );
  await close();
});

test("who plays with the own take sees the bar in which both differ", async () => {
  const { part } = partFor(tune, "trumpet", "small-tunes");
  const earlier = trumpetAfter(part, 96, 1, null);
  await sendTake(ada.person, tasks["Slip Way"]!, writeWav(earlier));
  await expect
    .poll(
      async () => {
        const { history } = await ada.person.json<{ history: { state: string }[] }>(
          "GET",
          `/api/tasks/${tasks["Slip Way"]}`,
        );
        return history[0]?.state;
      },
      { timeout: 60_000 },
    )
    .toBe("assessed");
  const { page, close } = await open(trumpetAfter(part, 96, (4 * 60) / 96 + 0.55, 5), "Slip Way");
  await page.getByText("Play with a partner, or with yourself").click();
  await page.getByRole("button", { name: "Play with a partner" }).click();
  await page.getByRole("button", { name: /^I do: my take of/ }).click();
  await page.getByRole("button", { name: "Play together" }).click();
  await expect(page.getByTestId("differing")).toContainText("One bar differs.", { timeout: 90_000 });
  await expect(page.getByTestId("differing")).toContainText("In bar 3 you played different notes.");
  await page.getByRole("button", { name: "Practise this" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Bar 3 in a loop");
  await close();
});

test("a director plays the answer to “please play this”, and the child hears it", async () => {
  await ada.person.json("POST", `/api/tasks/${tasks["Slip Way"]}/questions`, {
    id: crypto.randomUUID(),
    kind: "please-play",
    measure: null,
    text: "",
  });
  const { part } = partFor(tune, "trumpet", "small-tunes");
  const browser = await browserWithMicrophone(trumpetAfter(part, 96, 0.3, null), folder);
  const page = await (await browser.newContext({ permissions: ["microphone"] })).newPage();
  await signInDirector(page, application.url, band.directorEmail, band.password);
  const asked = page.getByRole("region", { name: "Questions of players" });
  await asked.getByRole("button", { name: "Play or say it" }).click();
  await expect(asked.getByRole("button", { name: "Stop" })).toBeVisible();
  const began = Date.now();
  await expect.poll(() => Date.now() - began, { timeout: 20_000 }).toBeGreaterThan(2000);
  await asked.getByRole("button", { name: "Stop" }).click();
  await expect(asked.locator("audio")).toBeVisible();
  await asked.getByRole("button", { name: "Answer" }).click();
  await expect(asked).toHaveCount(0);
  await browser.close();
  const { questions } = await ada.person.json<{ questions: { id: string; sound: boolean }[] }>(
    "GET",
    `/api/tasks/${tasks["Slip Way"]}`,
  );
  expect(questions[0]!.sound).toBe(true);
  const heard = await ada.person.send("GET", `/api/questions/${questions[0]!.id}/sound`);
  expect(heard.status).toBe(200);
  expect((await heard.arrayBuffer()).byteLength).toBeGreaterThan(2 * 44_100);
});
