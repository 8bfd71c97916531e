import { type Browser, expect, type Page, test } from "@playwright/test";
import { addDays } from "../../src/core/calendar";
import { type Application, startApplication } from "../support/application";
import { bandWithTerm, directorsDesk, label, NEXT, visitPage } from "./planned";
import { expectAccessible, signInStudent, toStep } from "./support";

// Work given with its terms, pieces, sheets that open without network, and a term drafted at once.
let application: Application;
test.beforeAll(async () => {
  application = await startApplication();
  await application.startWeb();
});
test.afterAll(() => application?.close());

const visit = (page: Page, path: string) => visitPage(application, page, path);
async function standOf(browser: Browser, classCode: string, words: string): Promise<Page> {
  const page = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await signInStudent(page, application.url, classCode, "Fia Flute", words);
  return page;
}

test("terms that a director sets reach the stand, and a change is told", async ({ browser }) => {
  const { band, words, lineIds } = await bandWithTerm(application);
  const page = await directorsDesk(application, browser, band);
  await visit(page, `/shelf/${lineIds[0]}`);
  await page.getByLabel("For whom in it").selectOption({ label: "single players" });
  await page.getByLabel("Fia Flute").check();
  await page.getByText("Tempo, style, recording, marks").click();
  await page.getByLabel("Lowest tempo that counts").fill("200");
  await page.getByLabel("climb by a ladder").check();
  await page.getByLabel("First tempo of the ladder").fill("60");
  await page.getByRole("button", { name: /Short, smooth/ }).click();
  await page.getByLabel("Add a step").selectOption({ label: "count and clap" });
  await page.getByLabel("What is recorded").selectOption("nothing");
  await page.getByRole("button", { name: "Put it on their stands" }).click();
  await expect(page.getByText("The lowest tempo that counts is not over the goal.").first()).toBeVisible();
  await page.getByLabel("Lowest tempo that counts").fill("70");
  await page.getByLabel("Due", { exact: true }).fill(addDays(NEXT, 2));
  await expectAccessible(page);
  await page.getByRole("button", { name: "Put it on their stands" }).click();
  await expect(page.getByText("It is on 1 stand now.")).toBeVisible();

  const stand = await standOf(browser, band.classCode, words);
  await stand.getByRole("link", { name: "Start" }).click();
  await expect(stand.getByText("counts from 70 on")).toBeVisible();
  await expect(stand.getByText("Tap your foot, count aloud, clap every note.")).toBeVisible();
  await toStep(stand, "faster");
  await expect(
    stand.getByRole("list", { name: /Tempo ladder/ }).getByText("65", { exact: true }),
  ).toBeVisible();
  await expect(stand.getByRole("button", { name: "Record", exact: true })).toHaveCount(0);
  await expectAccessible(stand);
  await stand.getByRole("button", { name: "I have done it" }).click();
  await expect(stand.getByRole("button", { name: "Not done after all" })).toBeVisible();
  await stand.getByRole("button", { name: "My stand" }).click();
  await expect(stand.getByText("Everything that is asked for today is done.")).toBeVisible();

  await visit(page, "/week");
  await page.getByRole("button", { name: /^Change Harbour Steps/ }).click();
  await page.getByText("Tempo, style, recording, marks").click();
  await page.getByLabel("extra, for who wants more").check();
  await page.getByRole("button", { name: "Change it" }).click();
  await expect(page.getByText(/extra, from 70 bpm on/)).toBeVisible();
  await stand.reload();
  await expect(stand.getByText("Changed: it is extra now.")).toBeVisible();
  await page.context().close();
  await stand.context().close();
});

test("a piece with its passages, a programme, and a sheet that opens without network", async ({
  browser,
}) => {
  const { band, words } = await bandWithTerm(application);
  const page = await directorsDesk(application, browser, band);
  await visit(page, "/week/pieces");
  await page.getByLabel("Title", { exact: true }).first().fill("Lantern Parade");
  await page.getByLabel("Bars").fill("32");
  await page.getByRole("button", { name: "Add it" }).click();
  const piece = page.getByRole("region", { name: "Lantern Parade" });
  await piece.getByLabel("Name of the passage").fill("trio");
  await piece.getByLabel("To bar").fill("64");
  await piece.getByRole("button", { name: "Add the passage" }).click();
  await expect(piece.getByText("A passage reaches beyond the last bar.")).toBeVisible();
  await piece.getByLabel("To bar").fill("16");
  await piece.getByRole("button", { name: "Add the passage" }).click();
  await piece.getByRole("button", { name: "rehearsed" }).click();
  await expect(piece.getByText("16 rehearsed, 16 unseen of 32 bars")).toBeVisible();
  const sheet = { name: "Rests.pdf", mimeType: "application/pdf", buffer: Buffer.from("%PDF-1.4 a sheet") };
  await page
    .getByLabel("A sheet (PDF) or a recording")
    .setInputFiles({ ...sheet, buffer: Buffer.from("no sheet") });
  await expect(page.getByText(/A worksheet is a PDF file/)).toBeVisible();
  await page.getByLabel("A sheet (PDF) or a recording").setInputFiles(sheet);
  await expect(page.getByRole("link", { name: /^Rests/ })).toBeVisible();
  await expectAccessible(page);

  await visit(page, "/week/calendar");
  await page.getByRole("button", { name: "Add a concert or test" }).click();
  await page.getByLabel("Its name").fill("Quay concert");
  await page.getByLabel("Its day").fill(addDays(NEXT, 30));
  await page.getByLabel("Add to the programme").selectOption({ label: "Lantern Parade" });
  await page.getByRole("button", { name: "Save the calendar" }).click();
  await expect(page.getByText("Saved.")).toBeVisible();
  await page.getByRole("link", { name: /what is ready/ }).click();
  await expect(page.getByText("Next: trio, bars 1 to 16, rehearsed.")).toBeVisible();
  const spoken = page.getByLabel("Spoken before it");
  await spoken.fill("We walk home by lantern light.");
  await spoken.blur();
  await page.getByLabel("played by").selectOption({ index: 1 });
  await expect(page.getByText("Full Band, about 1:25")).toBeVisible();
  await page.reload();
  await expect(spoken).toHaveValue("We walk home by lantern light.");
  await expectAccessible(page);

  await visit(page, `/week?of=${NEXT}`);
  const day = page.getByRole("button", { name: new RegExp(`^Add to .*, home, ${label(NEXT)}$`) });
  await day.first().click();
  await page.getByLabel("Find something to put on the day").fill("rests");
  await page.getByRole("button", { name: /^Rests/ }).click();
  await expect(page.getByText("all saved")).toBeVisible();
  await page.getByRole("button", { name: /Put 1 strip of home work/ }).click();
  await expect(page.getByText("On the stands: Rests.")).toBeVisible();

  const stand = await standOf(browser, band.classCode, words);
  await expect(stand.getByRole("heading", { name: "Also this week" })).toBeVisible();
  await expect
    .poll(() => stand.evaluate(async () => (await (await caches.open("ulu-sheets")).keys()).length))
    .toBe(1);
  await expectAccessible(stand);
  await stand.context().setOffline(true);
  const opened = stand.context().waitForEvent("page");
  await stand.getByRole("button", { name: "Open the sheet" }).click();
  expect((await opened).url()).toContain("blob:");
  await stand.context().setOffline(false);
  await stand.getByLabel(/Rests/).check();
  await stand.reload();
  await expect(stand.getByLabel(/Rests/)).toBeChecked();
  await page.context().close();
  await stand.context().close();
});

test("the rest of a term is drafted, looked at, put in and taken off again", async ({ browser }) => {
  const { band } = await bandWithTerm(application);
  const page = await directorsDesk(application, browser, band);
  await visit(page, "/week/term");
  await page.getByRole("button", { name: "Draft the rest of the term" }).click();
  const put = page.getByRole("button", { name: /^Put \d+ strips on the ribbon$/ });
  await expect(put).toBeEnabled();
  await expect(page.getByRole("columnheader", { name: "New in class" })).toBeVisible();
  await expect(page.getByRole("cell", { name: /Harbour Steps/ }).first()).toBeVisible();
  await expectAccessible(page);
  await put.click();
  await expect(page.getByText(/strips are on the ribbon/)).toBeVisible();
  const strips = async () =>
    (await band.director.json<{ strips: unknown[] }>("GET", `/api/plan/strips?of=${NEXT}`)).strips.length;
  expect(await strips()).toBeGreaterThan(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("button", { name: "Draft the rest of the term" })).toBeVisible();
  expect(await strips()).toBe(0);
  await page.context().close();
});

test("a week is kept as a template and brought into another one", async ({ browser }) => {
  const { band } = await bandWithTerm(application);
  const page = await directorsDesk(application, browser, band);
  await visit(page, `/week?of=${NEXT}`);
  await page
    .getByRole("button", { name: new RegExp(`^Add to .*, class, ${label(addDays(NEXT, 1))}$`) })
    .click();
  await page.getByLabel("Find something to put on the day").fill("harbour");
  await page.getByRole("button", { name: /Harbour Steps/ }).click();
  await expect(page.getByText("all saved")).toBeVisible();
  const copy = page.getByLabel("Copy a week into this one");
  await copy.selectOption({ label: "templates: keep this week, or set one away …" });
  await page.getByLabel("keep this week as").fill("Usual");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByText("This week is kept as Usual.")).toBeVisible();
  await visit(page, `/week?of=${addDays(NEXT, 7)}`);
  await expect(page.locator("[data-strip]")).toHaveCount(0);
  await copy.selectOption({ label: "template Usual" });
  await expect(page.locator("[data-strip]").filter({ hasText: "Harbour Steps" })).toBeVisible();
  await expect(page.getByText("1 strip copied.")).toBeVisible();
  await page.context().close();
});
