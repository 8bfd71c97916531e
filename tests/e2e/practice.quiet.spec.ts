import { type BrowserContext, expect, type Page, test } from "@playwright/test";
import { recordTake, steadyHabits } from "../../demo/players";
import { writeWav } from "../../src/core/audio";
import { writeMusicXml } from "../../src/core/score";
import {
  type Application,
  makeBand,
  makePlayer,
  type Person,
  startApplication,
  type TestBand,
  until,
} from "../support/application";
import { line, partFor } from "../support/music";
import { atWork, expectAccessible, signInDirector, signInStudent, toStep } from "./support";

const tune = line("Bb4:1 C5:1 D5:2 | Eb5:2 D5:2 | C5:1 D5:1 C5:2 | Bb4:4 | D5:2 C5:2 | Bb4:4", {
  bpm: 120,
  title: "Rope Walk",
});

interface Player {
  person: Person;
  playerId: string;
  words: string;
}

let application: Application;
let band: TestBand;
let lineId: string;
let ada: Player;
let bo: Player;

test.beforeAll(async () => {
  application = await startApplication();
  await application.startWeb();
  band = await makeBand(application);
  ada = await makePlayer(application, band, "Ada Quay", "trumpet");
  bo = await makePlayer(application, band, "Bo Quay", "flute");
  lineId = (
    await band.director.json<{ lineId: string }>(
      "POST",
      "/api/lines?fileName=rope.musicxml",
      new TextEncoder().encode(writeMusicXml(tune)),
    )
  ).lineId;
});
test.afterAll(() => application?.close());

interface Given {
  id: string;
  person: Person;
}

/** Gives the tune anew to a player alone. */
async function given({ person, playerId }: Player): Promise<Given> {
  const { groupId } = await band.director.json<{ groupId: string }>("POST", "/api/groups", {
    name: `Alone ${crypto.randomUUID().slice(0, 8)}`,
  });
  await band.director.json("PUT", `/api/groups/${groupId}/members`, { playerIds: [playerId] });
  await band.director.json("POST", "/api/assignments", {
    lineId,
    groupId,
    goalBpm: 120,
    timesPerWeek: 3,
    dueDate: "2099-01-01",
    sure: ["again"],
  });
  const { tasks } = await person.json<{ tasks: { id: string }[] }>("GET", "/api/stand");
  return { id: tasks[0]!.id, person };
}

const factsOf = async ({ id, person }: Given) =>
  (await person.json<{ practice: { facts: { leg: string; kind: string }[] } }>("GET", `/api/tasks/${id}`))
    .practice.facts;

const heading = (page: Page) => page.getByRole("heading", { level: 1 });

async function phone(context: BrowserContext, name: string, words: string): Promise<Page> {
  const page = await context.newPage();
  await signInStudent(page, application.url, band.classCode, name, words);
  return page;
}

/** Answers the questions of the look by trying, with the keyboard alone. */
async function lookByKeyboard(page: Page): Promise<void> {
  const next = page.getByTestId("next-question");
  for (;;) {
    const goOn = page.getByRole("button", { name: "Go on" });
    await expect(goOn.or(page.getByText(/^\d of \d$/)).first()).toBeVisible();
    if (await goOn.isVisible()) return goOn.press("Enter");
    const list = page.getByText("Choose from a list instead");
    if (await list.isVisible()) {
      await list.press("Enter");
      for (const each of await page.getByRole("button", { name: /^note \d/ }).all()) {
        if (await next.isVisible()) break;
        await each.press("Enter");
      }
    } else {
      const choices = page
        .locator("section")
        .filter({ hasText: /^\d of \d/ })
        .locator(".btn.flex-1");
      for (let i = 0; i < (await choices.count()) && !(await next.isVisible()); i++)
        await choices.nth(i).press("Enter");
    }
    await next.press("Enter");
  }
}

test("a line is led through by keyboard alone, and every step is where it was after the tab was killed", async ({
  browser,
}) => {
  const task = await given(ada);
  const context = await browser.newContext({ viewport: { width: 1366, height: 768 } });
  let page = await phone(context, "Ada Quay", ada.words);
  await page.getByRole("link", { name: "Start" }).first().press("Enter");
  await expect(heading(page)).toHaveText("Hear how it goes");
  await expectAccessible(page);
  /** The tab dies, another one comes: it stands where this one stood. */
  const killed = async () => {
    const before = await heading(page).innerText();
    await page.close({ runBeforeUnload: false });
    page = await context.newPage();
    await page.goto(`${application.url}/stand?task=${task.id}`);
    await atWork(page);
    await expect(heading(page)).toHaveText(before);
  };
  await killed();
  await page.getByTestId("main").press("Enter");
  await expect(heading(page)).toHaveText("Look before you play");
  await killed();
  await lookByKeyboard(page);
  await expect(heading(page)).toHaveText("Count it and clap it");
  await killed();
  await page.getByRole("button", { name: "Leave it out" }).press("Enter");
  await expect(heading(page)).toHaveText(/Say valves or positions/);
  await expect(page.getByTestId("say")).toHaveText("·");
  for (let pass = 0; pass < 2; pass++) {
    await page.getByTestId("main").press("Enter");
    await page.getByRole("button", { name: "It went" }).press("Enter");
    if (pass === 0) await killed();
  }
  await expect(heading(page)).toHaveText("Bars 1 to 3, slowly");
  await expect(page.getByTestId("other-bar")).toHaveCount(3);
  await killed();
  for (const step of [/^Bars 1 to 3/, "The whole line"]) {
    await expect(heading(page)).toHaveText(step);
    await page.getByRole("button", { name: "Leave it out" }).press("Enter");
  }
  await expect(heading(page)).toHaveText("Record it");
  await killed();
  const facts = await factsOf(task);
  expect(facts.map(({ kind, leg }) => `${kind} ${leg}`).slice(0, 4)).toEqual([
    "did listen",
    "did look",
    "left count",
    "round finger",
  ]);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(1366);
  await context.close();
});

test("the same child goes on at another device, and a step done on both counts once", async ({ browser }) => {
  const task = await given(ada);
  const [school, home] = [
    await browser.newContext(),
    await browser.newContext({ viewport: { width: 360, height: 740 } }),
  ];
  const laptop = await phone(school, "Ada Quay", ada.words);
  await laptop.goto(`${application.url}/stand?task=${task.id}`);
  await laptop.getByRole("button", { name: "Leave it out" }).click();
  await expect(heading(laptop)).toHaveText("Look before you play");
  const mobile = await phone(home, "Ada Quay", ada.words);
  await mobile.goto(`${application.url}/stand?task=${task.id}`);
  await expect(heading(mobile)).toHaveText("Look before you play");
  expect(await mobile.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360);
  await mobile.getByRole("button", { name: "Leave it out" }).click();
  await expect(heading(mobile)).toHaveText("Count it and clap it");
  await laptop.getByRole("button", { name: "Leave it out" }).click();
  await laptop.reload();
  await expect(heading(laptop)).toHaveText("Count it and clap it");
  await Promise.all([school.close(), home.close()]);
});

test("from sign-in to sent without network: everything is kept, and goes out once", async ({ browser }) => {
  test.setTimeout(240_000);
  const task = await given(ada);
  const context = await browser.newContext({ viewport: { width: 390, height: 844 } });
  const page = await phone(context, "Ada Quay", ada.words);
  // The stand is kept in the background; a second visit is served by it.
  await expect
    .poll(() =>
      page.evaluate(async (id) => {
        const kept = (await (await caches.open("ulu-stand")).keys()).map(({ url }) => new URL(url).pathname);
        const sounds = await (await caches.open("ulu-sounds")).keys();
        return [kept.includes("/stand"), kept.includes(`/api/tasks/${id}`), sounds.length > 1];
      }, task.id),
    )
    .toEqual([true, true, true]);
  await context.setOffline(true);
  await page.reload();
  await expect(page.getByRole("heading", { name: "My stand" })).toBeVisible();
  await page.goto(`${application.url}/stand?task=${task.id}`);
  await expect(heading(page)).toHaveText("Hear how it goes");
  await page.getByRole("button", { name: "Leave it out" }).click();
  await expect(heading(page)).toHaveText("Look before you play");
  // A reload without network is where it was.
  await page.reload();
  await expect(heading(page)).toHaveText("Look before you play");
  await toStep(page, "record");
  const { part } = partFor(tune, "trumpet", "small-tunes");
  const { pcm } = recordTake(part, "trumpet", 120, steadyHabits, { noise: 0.003, echo: 0.2 }, 5);
  await page
    .getByLabel("Send a file")
    .setInputFiles({ name: "take.wav", mimeType: "audio/wav", buffer: Buffer.from(writeWav(pcm)) });
  await page.getByRole("button", { name: "Send this take" }).click();
  await expect(page.getByText("Your take is safe on this device and goes out by itself.")).toBeVisible();
  await page.getByRole("button", { name: "It went well" }).click();
  // The engine is on the device: it answers without network.
  await expect(page.getByTestId("first-answer")).toContainText("notes found");
  expect(await factsOf(task)).toEqual([]);

  await context.setOffline(false);
  await expect(page.getByRole("button", { name: "Back to my stand" })).toBeVisible({ timeout: 60_000 });
  await page.reload();
  await until(async () => (await factsOf(task)).length >= 3);
  const facts = await factsOf(task);
  expect(new Set(facts.map(({ kind, leg }) => `${kind} ${leg}`)).size).toBe(facts.length);
  const { history } = await ada.person.json<{ history: unknown[] }>("GET", `/api/tasks/${task.id}`);
  expect(history).toHaveLength(1);
  await context.close();
});

test("a shared device keeps of the child before only a take that was not sent, locked and named", async ({
  browser,
}) => {
  const task = await given(ada);
  const context = await browser.newContext({ viewport: { width: 390, height: 844 } });
  const page = await phone(context, "Ada Quay", ada.words);
  await page.goto(`${application.url}/stand?task=${task.id}`);
  await toStep(page, "record");
  const { part } = partFor(tune, "trumpet", "small-tunes");
  const { pcm } = recordTake(part, "trumpet", 120, steadyHabits, { noise: 0.003, echo: 0.2 }, 6);
  await page
    .getByLabel("Send a file")
    .setInputFiles({ name: "take.wav", mimeType: "audio/wav", buffer: Buffer.from(writeWav(pcm)) });
  await expect(page.getByRole("heading", { name: "Listen back" })).toBeVisible();
  await page.getByRole("button", { name: "← My stand" }).click();
  await page.getByText("Sign out").click();
  await page.getByRole("button", { name: "On this device" }).click();
  await page.waitForURL("**/sign-in");
  await expect(page.getByTestId("waiting")).toHaveText(/A take of Ada Quay waits on this device/);
  await expect
    .poll(() =>
      page.evaluate(async () => {
        const facts = await new Promise<number>((done) => {
          const opening = indexedDB.open("ulu-practice");
          opening.onsuccess = () => {
            const all = opening.result.transaction("facts").objectStore("facts").getAll();
            all.onsuccess = () => done(all.result.filter((each: { sent: number }) => each.sent === 1).length);
          };
        });
        return [(await (await caches.open("ulu-stand")).keys()).length, facts];
      }),
    )
    .toEqual([0, 0]);

  const own = await given(bo);
  await signInStudent(page, application.url, band.classCode, "Bo Quay", bo.words);
  await page.goto(`${application.url}/stand?task=${own.id}`);
  await toStep(page, "record");
  await expect(page.getByRole("button", { name: "Record", exact: true })).toBeVisible();
  await expect(page.getByRole("heading", { name: "Listen back" })).toHaveCount(0);
  expect((await bo.person.json<{ history: unknown[] }>("GET", `/api/tasks/${own.id}`)).history).toEqual([]);
  await page.goto(`${application.url}/stand`);
  await page.getByText("Sign out").click();
  await page.getByRole("button", { name: "On this device" }).click();
  await page.waitForURL("**/sign-in");

  await signInStudent(page, application.url, band.classCode, "Ada Quay", ada.words);
  await page.goto(`${application.url}/stand?task=${task.id}`);
  await expect(page.getByText("This take was kept on your device.")).toBeVisible();
  await context.close();
});

test("what was still on its way when a child left is not kept on the device", async ({ browser }) => {
  const task = await given(ada);
  const context = await browser.newContext({ viewport: { width: 390, height: 844 } });
  const page = await phone(context, "Ada Quay", ada.words);
  const kept = () =>
    page.evaluate(async () =>
      (await (await caches.open("ulu-stand")).keys()).map(({ url }) => new URL(url).pathname),
    );
  await expect.poll(kept).toContain(`/api/tasks/${task.id}`);
  // Every answer is held in the service worker until it is let go.
  const worker = context.serviceWorkers()[0] ?? (await context.waitForEvent("serviceworker"));
  await worker.evaluate(() => {
    const held = self as unknown as { asked: number; letGo: () => void };
    const fetched = self.fetch;
    const free = new Promise<void>((done) => {
      held.letGo = done;
    });
    held.asked = 0;
    self.fetch = async (...asked) => {
      const answer = await fetched(...asked);
      held.asked++;
      await free;
      return answer;
    };
  });
  await page.evaluate((id) => void fetch(`/api/tasks/${id}?width=wide`), task.id);
  await until(() => worker.evaluate(() => (self as unknown as { asked: number }).asked > 0));
  await page.getByText("Sign out").click();
  await page.getByRole("button", { name: "On this device" }).click();
  await page.waitForURL("**/sign-in");
  await expect.poll(kept).toEqual([]);
  await worker.evaluate(async (id) => {
    (self as unknown as { letGo: () => void }).letGo();
    // The worker's own queue goes on: what it keeps, it keeps before this answer of the network.
    for (let turn = 0; turn < 5; turn++) await caches.match(`/api/tasks/${id}`);
    await fetch("/sign-in");
  }, task.id);
  expect(await kept()).toEqual([]);
  await context.close();
});

test("cards are turned and rated, the log is written, a question is asked and answered", async ({
  browser,
}) => {
  const task = await given(ada);
  const context = await browser.newContext({ viewport: { width: 390, height: 844 } });
  const page = await phone(context, "Ada Quay", ada.words);
  await page.getByRole("button", { name: /^Cards/ }).click();
  await expect(page.getByText("What is it called?")).toBeVisible();
  await expectAccessible(page);
  // A held key turns the card and rates nothing.
  await page.getByTestId("card").press("Enter");
  await expect(page.getByRole("button", { name: "Known", exact: true })).toBeVisible();
  for (let card = 0; card < 6; card++) {
    if (card > 0) await page.getByRole("button", { name: "Turn it over" }).click();
    await page.getByRole("button", { name: "Known", exact: true }).click();
  }
  await expect(page.getByTestId("cards-done")).toContainText("6 cards");
  await page.getByRole("button", { name: "Back to my stand" }).click();
  await page.getByRole("button", { name: "My log" }).click();
  await page.getByLabel("Minutes").fill("20");
  await page.getByLabel("What you did").fill("with my sister");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByTestId("entries")).toContainText("20 min, with my sister");
  await expectAccessible(page);
  await page.goBack();
  await expect(page.getByTestId("week")).toHaveText(/1 day this week, 2\d min/);

  await page.goto(`${application.url}/stand?task=${task.id}`);
  await page.getByText("Ask your director").click();
  await page.getByLabel("Which bar").selectOption("3");
  await page.getByLabel("Your question").fill("Which fingering?");
  await page.getByRole("button", { name: "Ask", exact: true }).dblclick();
  await expect(page.getByTestId("questions").getByText("Bar 3: Which fingering?")).toHaveCount(1);

  const desk = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await signInDirector(desk, application.url, band.directorEmail, band.password);
  await desk.getByLabel("Answer to Ada Quay").fill("First and second valve.");
  await desk.getByRole("button", { name: "Answer", exact: true }).click();
  await expect(desk.getByLabel("Answer to Ada Quay")).toHaveCount(0);
  await desk.context().close();
  await page.reload();
  await page.getByText("Ask your director").click();
  await expect(page.getByTestId("questions")).toContainText("First and second valve.");
  await context.close();
});

test("a day without the instrument leaves out what needs it, and says so", async ({ browser }) => {
  const task = await given(ada);
  const context = await browser.newContext({ viewport: { width: 390, height: 844 } });
  const page = await phone(context, "Ada Quay", ada.words);
  await page.getByRole("button", { name: "No instrument today" }).click();
  await expect(page.getByText("Steps that need the instrument wait for tomorrow.")).toBeVisible();
  await page.goto(`${application.url}/stand?task=${task.id}`);
  const steps = page.getByRole("navigation", { name: "Steps of this line" });
  await expect(steps.getByRole("button", { name: "slow" })).toBeDisabled();
  for (const title of ["Hear how it goes", "Look before you play", "Count it and clap it", /Say valves/]) {
    await expect(heading(page)).toHaveText(title);
    await page.getByRole("button", { name: "Leave it out" }).click();
  }
  await expect(page.getByTestId("finished")).toContainText("Done for today");
  await context.close();
});

test("without a microphone the player listens alone, and it is said how to allow one", async ({
  browser,
}) => {
  const task = await given(ada);
  const context = await browser.newContext({ viewport: { width: 390, height: 844 }, permissions: [] });
  const page = await phone(context, "Ada Quay", ada.words);
  await page.goto(`${application.url}/stand?task=${task.id}`);
  await toStep(page, "whole");
  await page.getByTestId("main").click();
  await expect(page.getByRole("alert")).toHaveText(/No microphone was found|The microphone is switched off/);
  await page.getByRole("button", { name: "It went" }).click();
  await expect(heading(page)).not.toHaveText("The whole line");
  expect((await factsOf(task)).at(-1)).toMatchObject({ kind: "round", leg: "whole" });
  await context.close();
});
