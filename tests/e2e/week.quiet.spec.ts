import { readFileSync } from "node:fs";
import { type Browser, expect, type Page, test } from "@playwright/test";
import { addDays } from "../../src/core/calendar";
import { type Application, startApplication, type TestBand } from "../support/application";
import { bandWithTerm, directorsDesk, label, NEXT, visitPage } from "./planned";
import { atWork, expectAccessible } from "./support";

// The week: a calendar, a ribbon planned by hand and by keys, a draft with reasons, work given from it, paper.
let application: Application;
test.beforeAll(async () => {
  application = await startApplication();
  await application.startWeb();
});
test.afterAll(() => application?.close());

const deskOf = (browser: Browser, band: TestBand) => directorsDesk(application, browser, band);
const plannedBand = () => bandWithTerm(application);
const visit = (page: Page, path: string) => visitPage(application, page, path);

const add = (page: Page, where: "class" | "home", day: number) =>
  page.getByRole("button", { name: new RegExp(`^Add to .*, ${where}, ${label(addDays(NEXT, day))}$`) });
const strip = (page: Page, title: string) => page.locator("[data-strip]").filter({ hasText: title });
const saved = (page: Page) => expect(page.getByText("all saved")).toBeVisible();
/** The column a strip stands in, 1 is Monday. */
const columnOf = (page: Page, title: string) =>
  strip(page, title).evaluate((element) => element.closest("td")!.cellIndex);

test("a school year is typed, days off come from a school's file, and an address is shared and renewed", async ({
  browser,
}) => {
  const { band } = await plannedBand();
  const page = await deskOf(browser, band);
  await visit(page, "/week/calendar");
  await page.getByRole("button", { name: "Add a term" }).click();
  const terms = page.getByRole("region", { name: "Terms" });
  await terms.getByLabel("Name of the term").nth(1).fill("Spring");
  await terms.getByLabel("First day of the term").nth(1).fill(addDays(NEXT, 60));
  await terms.getByLabel("Last day of the term").nth(1).fill(addDays(NEXT, 120));
  await page.getByRole("button", { name: "Save the calendar" }).click();
  await expect(page.getByText(/Terms share no day/)).toBeVisible();
  // What was typed is there after a reload, and is put right.
  await page.reload();
  await atWork(page);
  await terms.getByLabel("First day of the term").nth(1).fill(addDays(NEXT, 80));
  await page.getByRole("button", { name: "Save the calendar" }).click();
  await expect(page.getByText("Saved.")).toBeVisible();

  const compact = (date: string) => date.replaceAll("-", "");
  const file = (text: string) => ({
    name: "school.ics",
    mimeType: "text/calendar",
    buffer: Buffer.from(text),
  });
  const daysOff = page.getByRole("region", { name: "Days off" });
  await daysOff.getByLabel(/calendar file/).setInputFiles(file("no calendar at all"));
  await expect(daysOff.getByText(/This file is no calendar/)).toBeVisible();
  await daysOff
    .getByLabel(/calendar file/)
    .setInputFiles(
      file(
        [
          "BEGIN:VCALENDAR",
          ...["Harbour week", "Not for us"].flatMap((name, i) => [
            "BEGIN:VEVENT",
            `UID:${i}`,
            `SUMMARY:${name}`,
            `DTSTART;VALUE=DATE:${compact(addDays(NEXT, 3 + 7 * i))}`,
            "END:VEVENT",
          ]),
          "END:VCALENDAR",
        ].join("\r\n"),
      ),
    );
  await daysOff.getByLabel("Not for us").uncheck();
  await daysOff.getByRole("button", { name: "Add this one" }).click();
  await expect(daysOff.getByText("1 stretch of days off added.")).toBeVisible();

  const shared = page.getByRole("region", { name: "For other calendars" });
  await shared.getByRole("button", { name: "Make an address" }).click();
  const address = await shared.getByRole("status").innerText();
  expect(await (await fetch(address)).text()).toContain("BEGIN:VCALENDAR");
  await shared.getByRole("button", { name: "A new address in place of this" }).click();
  await expect(shared.getByRole("status")).not.toHaveText(address);
  expect((await fetch(address)).status).toBe(404);
  await expectAccessible(page);

  await visit(page, `/week?of=${NEXT}`);
  await expect(page.getByRole("columnheader", { name: /Harbour week/ })).toBeVisible();
  await expect(add(page, "class", 3)).toHaveCount(0);
  await page.getByRole("link", { name: "Term", exact: true }).click();
  await expect(page.getByRole("row", { name: new RegExp(label(NEXT)) })).toContainText("40 min free");
  await expectAccessible(page);
  await page.context().close();
});

test("a week is planned by mouse and by keys, taken back step by step, and there after a reload", async ({
  browser,
}) => {
  const { band } = await plannedBand();
  const page = await deskOf(browser, band);
  await visit(page, `/week?of=${NEXT}`);
  await add(page, "class", 1).click();
  await page.getByLabel("Find something to put on the day").fill("harbour");
  await page.getByRole("button", { name: /Harbour Steps/ }).click();
  await expect(strip(page, "Harbour Steps")).toBeVisible();
  await page
    .getByRole("complementary", { name: "Put on a day" })
    .getByRole("button", { name: "Close" })
    .click();
  await saved(page);
  expect(await columnOf(page, "Harbour Steps")).toBe(2);

  // By keys: picked up, to the next class, longer, put down; Escape leaves it where it was.
  await strip(page, "Harbour Steps").focus();
  await page.keyboard.press("Space");
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("Space");
  expect(await columnOf(page, "Harbour Steps")).toBe(4);
  await page.keyboard.press("+");
  await page.keyboard.press("+");
  const minutes = async () => Number(/· (\d+)/.exec(await strip(page, "Harbour Steps").innerText())![1]);
  const longer = await minutes();
  await page.keyboard.press("Space");
  await page.keyboard.press("ArrowLeft");
  await page.keyboard.press("Escape");
  expect(await columnOf(page, "Harbour Steps")).toBe(4);
  await saved(page);
  await page.reload();
  await atWork(page);
  expect([await columnOf(page, "Harbour Steps"), await minutes()]).toEqual([4, longer]);

  // By mouse, back to Tuesday; then taken back and done again.
  const target = page.locator("tbody tr").first().locator("td").nth(1);
  await strip(page, "Harbour Steps").hover();
  await page.mouse.down();
  const to = (await target.boundingBox())!;
  await page.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 12 });
  await page.mouse.up();
  expect(await columnOf(page, "Harbour Steps")).toBe(2);
  await page.getByRole("button", { name: "Undo" }).click();
  expect(await columnOf(page, "Harbour Steps")).toBe(4);
  await page.getByRole("button", { name: "Redo" }).click();
  expect(await columnOf(page, "Harbour Steps")).toBe(2);

  // Too much is said with how much; a note and an instrument of its own.
  const panel = page.getByRole("region", { name: /Harbour Steps/ });
  await strip(page, "Harbour Steps").focus();
  await page.keyboard.press("Enter");
  await panel.getByLabel("Minutes").fill("45");
  await expect(page.getByText("5 min too much")).toBeVisible();
  await panel.getByLabel("For whom").selectOption({ label: "B♭ clarinet" });
  await panel.getByLabel("Note").fill("both hands down first");
  await saved(page);
  await expectAccessible(page);
  await page.goto(`${application.url}/week/print/class?group=${band.groupId}&of=${addDays(NEXT, 1)}`);
  await expect(page.getByText("09:40 to 10:25")).toBeVisible();
  await expect(page.getByText(/both hands down first/)).toBeVisible();
  await expect(page.getByText("Runs over by 5 min.")).toBeVisible();
  await page.context().close();
});

test("two pages of one plan see each other, and what both changed is asked", async ({ browser }) => {
  const { band } = await plannedBand();
  const [one, two] = [await deskOf(browser, band), await deskOf(browser, band)];
  await visit(one, `/week?of=${NEXT}`);
  await add(one, "class", 1).click();
  await one.getByRole("button", { name: /Harbour Steps/ }).click();
  await saved(one);
  await visit(two, `/week?of=${NEXT}`);
  await strip(one, "Harbour Steps").focus();
  await one.keyboard.press("Delete");
  await expect(strip(one, "Harbour Steps")).toHaveCount(0);
  await saved(one);
  await strip(two, "Harbour Steps").focus();
  await two.keyboard.press("+");
  const told = two.getByRole("alert").filter({ hasText: "was taken off elsewhere meanwhile" });
  await expect(told).toBeVisible();
  await told.getByRole("button", { name: "Do it my way" }).click();
  await expect(strip(two, "Harbour Steps")).toBeVisible();
  await saved(two);
  await one.reload();
  await expect(strip(one, "Harbour Steps")).toBeVisible();
  for (const page of [one, two]) await page.context().close();
});

test("a week is drafted with reasons, put in, given once, taken back, and printed for everybody", async ({
  browser,
}) => {
  const { band, flute } = await plannedBand();
  const page = await deskOf(browser, band);
  await visit(page, `/week?of=${NEXT}`);
  await page.getByRole("button", { name: "Draft this week" }).click();
  const proposed = page.getByRole("region", { name: "Proposed" });
  await expect(proposed.getByText(/Next in your order/).first()).toBeVisible();
  const first = proposed.getByRole("listitem").filter({ hasText: "Harbour Steps" }).first();
  await first.getByRole("button", { name: "Not this" }).click();
  await expect(proposed.getByText("Turned down:")).toBeVisible();
  await proposed.getByTitle("It may be proposed again").first().click();
  await page.getByRole("button", { name: "Draft it anew" }).click();
  await expect(first).toBeVisible();
  await expectAccessible(page);
  await proposed.getByRole("button", { name: /^Put all \d+ in$/ }).click();
  await expect(strip(page, "Harbour Steps").first()).toBeVisible();
  await saved(page);

  const give = page.getByRole("button", { name: /on the stands$/ });
  await give.dblclick();
  await expect(page.getByText(/^On the stands: /)).toBeVisible();
  const stand = () => flute.json<{ tasks: { lineTitle: string }[] }>("GET", "/api/stand");
  const titles = (await stand()).tasks.map(({ lineTitle }) => lineTitle);
  expect(titles).toContain("Harbour Steps");
  expect(new Set(titles).size).toBe(titles.length);
  await visit(page, `/week/print/home?of=${NEXT}`);
  await expect(page.getByRole("heading", { name: "Fia Flute" })).toBeVisible();
  await expect(page.getByRole("img", { name: /Harbour Steps, B♭ clarinet/ }).first()).toBeVisible();
  // One PDF of everybody, made by the server.
  const [file] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "One PDF" }).click(),
  ]);
  const pdf = readFileSync(await file.path());
  expect([file.suggestedFilename(), pdf.subarray(0, 5).toString()]).toEqual([
    `Home pages ${NEXT}.pdf`,
    "%PDF-",
  ]);
  // A sheet of paper for each of the two at least.
  expect(pdf.toString("latin1").match(/\/Type \/Page\b/g)!.length).toBeGreaterThanOrEqual(2);
  await page.getByRole("link", { name: "For families" }).click();
  await expect(page.getByText(/Play “No. 1 · Harbour Steps”/).first()).toBeVisible();
  await expectAccessible(page);
  await page.context().close();
});

test("the numbers of the week open what they count and lead on", async ({ browser }) => {
  const { band, lineIds } = await plannedBand();
  await band.director.json("POST", "/api/assignments", {
    lineId: lineIds[0],
    groupId: band.groupId,
    goalBpm: 80,
    timesPerWeek: 3,
    dueDate: "2099-01-05",
  });
  const page = await deskOf(browser, band);
  await visit(page, "/week");
  await expect(page.getByRole("region", { name: "Today" })).toBeVisible();
  await page.getByRole("button", { name: /2 players to hear from/ }).click();
  await expect(page.getByRole("link", { name: "Fia Flute" })).toBeVisible();
  await page.getByRole("button", { name: "Write a reminder to the families" }).click();
  // On a Saturday or Sunday it is asked first.
  const again = page.getByText(/Press once more/);
  await expect(again.or(page.getByText(/The reminder waits in your/))).toBeVisible();
  if (await again.isVisible())
    await page.getByRole("button", { name: "Write a reminder to the families" }).click();
  await page.getByRole("link", { name: "outbox" }).click();
  await expect(page.getByText(/No. 1, Harbour Steps/)).toBeVisible();
  await expect(page.getByText("Fia")).toHaveCount(0);
  await page.context().close();
});
