import { writeFileSync } from "node:fs";
import { join } from "node:path";
import AxeBuilder from "@axe-core/playwright";
import { type Browser, chromium, expect, type Page } from "@playwright/test";
import { recordTake, steadyHabits } from "../../demo/players";
import { synthesise } from "../../demo/synth";
import playwrightConfig from "../../playwright.config";
import { type Pcm, writeWav } from "../../src/core/audio";
import { type Score, timeline } from "../../src/core/score";

/** A browser whose microphone plays a recording; silence follows it, since the last buffer would repeat. */
export async function browserWithMicrophone(sound: Pcm, folder: string): Promise<Browser> {
  const file = join(folder, "microphone.wav");
  const samples = new Float32Array(sound.samples.length + 30 * sound.sampleRate);
  samples.set(sound.samples);
  writeFileSync(file, writeWav({ samples, sampleRate: sound.sampleRate }));
  const { launchOptions } = playwrightConfig.use!;
  return chromium.launch({
    ...launchOptions,
    args: [
      ...launchOptions!.args!,
      "--use-fake-device-for-media-stream",
      "--use-fake-ui-for-media-stream",
      `--use-file-for-fake-audio-capture=${file}%noloop`,
      "--autoplay-policy=no-user-gesture-required",
    ],
  });
}

/** A room as quiet as a child's own. */
export const ROOM = { noise: 0.002, echo: 0.15 };

/** A trumpet playing a line after so many seconds of quiet, with one wrong note or none. */
export function trumpetAfter(score: Score, bpm: number, leadSec: number, wrong: number | null): Pcm {
  const { notes } = timeline(score, { bpm });
  const take = recordTake(score, "trumpet", bpm, { ...steadyHabits, unsteady: 0.004 }, ROOM, 11);
  const first = take.played[0]!.atSec;
  const played = take.played.map((note, i) => ({
    ...note,
    atSec: note.atSec - first + leadSec,
    midi: i === wrong ? notes[i]!.midi! + 1 : note.midi,
  }));
  return synthesise(played, "trumpet", played.at(-1)!.atSec + 3, ROOM, 11);
}

/** Goes to a step of a line that is open. */
export async function toStep(page: Page, name: string): Promise<void> {
  await page.getByRole("navigation", { name: "Steps of this line" }).getByRole("button", { name }).click();
}

/** Lets a recording run until the recorder itself has so many seconds: a busy machine gets there later. */
export async function recordFor(page: Page, seconds: number): Promise<void> {
  await page.getByRole("button", { name: "Record", exact: true }).click();
  const recorded = page.getByTestId("recorded");
  await expect(async () => {
    const [minutes, rest] = (await recorded.innerText()).split(":").map(Number) as [number, number];
    expect(60 * minutes + rest).toBeGreaterThanOrEqual(Math.ceil(seconds));
  }).toPass({ timeout: 60_000 + 2000 * seconds });
  await page.getByRole("button", { name: /Stop recording|Count/ }).click();
}

/** Waits until every island of the page is at work. */
export async function atWork(page: Page): Promise<void> {
  await page.waitForFunction(() => !document.querySelector("astro-island[ssr]"));
}

export async function signInDirector(
  page: Page,
  url: string,
  email: string,
  password: string,
): Promise<void> {
  await page.goto(`${url}/sign-in`);
  await page.getByRole("tab", { name: "I direct the band" }).click();
  await page.getByLabel("E-mail").fill(email);
  await page.getByLabel("Password").fill(password);
  await page.getByRole("button", { name: "Open the week" }).click();
  await page.waitForURL("**/week");
  await atWork(page);
}

export async function signInStudent(
  page: Page,
  url: string,
  classCode: string,
  name: string,
  words: string,
): Promise<void> {
  await page.goto(`${url}/sign-in`);
  await page.getByLabel("Class code").fill(classCode);
  await page.getByLabel("Your name").fill(name);
  await page.getByLabel("Your four words").fill(words);
  await page.getByRole("button", { name: "Go to my stand" }).click();
  await page.waitForURL("**/stand");
  await atWork(page);
}

/** No fault of the rules WCAG 2 A and AA that a program can find. */
export async function expectAccessible(page: Page): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).withTags(["wcag2a", "wcag2aa"]).analyze();
  expect(violations.map((violation) => `${violation.id}: ${violation.nodes[0]?.html}`)).toEqual([]);
}
