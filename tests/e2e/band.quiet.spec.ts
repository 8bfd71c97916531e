import { type Browser, expect, type Page, test } from "@playwright/test";
import { type Application, makeBand, startApplication, type TestBand } from "../support/application";
import { atWork, expectAccessible, signInDirector } from "./support";

// A band as a living thing: from an empty one to a first line given, lists in, cells changed, directors in and out.
let application: Application;
test.beforeAll(async () => {
  application = await startApplication();
  await application.startWeb();
});
test.afterAll(() => application?.close());

async function deskOf(browser: Browser, band: TestBand): Promise<Page> {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await signInDirector(page, application.url, band.directorEmail, band.password);
  return page;
}
async function visit(page: Page, path: string): Promise<void> {
  await page.goto(application.url + path);
  await atWork(page);
}
const list = (rows: number, from = 0) =>
  [
    "Name\tInstrument\tGroup",
    ...Array.from(
      { length: rows },
      (_, i) =>
        `Player Number${from + i}\t${["flute", "B♭ clarinet", "percussion"][i % 3]}\t${i % 2 ? "Even" : "Odd"}`,
    ),
  ].join("\n");

test("a newcomer's first ten minutes: from an empty band to a printed card and a first line given", async ({
  browser,
}) => {
  const made = await application.ulu(
    [
      "new-band",
      "--name",
      "Cliff Band",
      "--town",
      "",
      "--code",
      "CLIFF-1",
      "--zone",
      "Europe/Lisbon",
      "--director",
      "Nina Newcome",
      "--email",
      "nina@band.example",
    ],
    { ULU_PASSWORD: "a long test password" },
  );
  expect(made.out.match(/^ {2}[A-Z0-9]{4}-[A-Z0-9]{4}-[A-Z0-9]{4}$/gm)).toHaveLength(8);
  const desk = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  // A link from elsewhere leads on after signing in.
  await desk.goto(`${application.url}/band`);
  await desk.waitForURL("**/sign-in?next=%2Fband");
  await atWork(desk);
  await desk.getByLabel("E-mail").fill("nina@band.example");
  await desk.getByLabel("Password", { exact: true }).fill("a long test password");
  await desk.getByRole("button", { name: "Open the week" }).click();
  await desk.waitForURL("**/band");
  await atWork(desk);
  const steps = desk.getByRole("list", { name: "First steps" });
  await expect(steps).toContainText("1. Bring your players in");
  await steps.getByRole("button", { name: "Bring a list in" }).click();
  await desk.getByPlaceholder(/Ada Holm/).fill("Student\tPlays\nAda Holm\tflute\nBo Lind\ttuba");
  await expect(desk.getByText("2 new, 0 changed, 0 as they are.")).toBeVisible();
  await desk.getByRole("button", { name: "Bring in 2 rows" }).click();
  await expect(desk.getByText("Imported a list: 2 new, 0 changed.").first()).toBeVisible();
  await expectAccessible(desk);

  await steps.getByRole("button", { name: "Draw cards for those without" }).click();
  const card = desk.getByTestId("card").filter({ hasText: "Ada Holm" });
  const words = await card.getByTestId("words").innerText();
  const address = (await card.getByRole("img", { name: /Code that opens/ }).getAttribute("data-address"))!;
  await expect(card.locator("svg")).toBeVisible();
  await desk.emulateMedia({ media: "print" });
  await expect(desk.getByRole("list", { name: "First steps" })).toBeHidden();
  await expect(card).toBeVisible();
  await desk.emulateMedia({ media: null });

  await steps.getByRole("link", { name: "Go to the shelf" }).click();
  await atWork(desk);
  await desk.getByRole("button", { name: "Put Quayside Steps on the shelf" }).click();
  await desk.getByRole("link", { name: "First Light" }).click();
  await atWork(desk);
  await desk.getByRole("button", { name: "Put it on their stands" }).click();
  await expect(desk.getByText("It is on 2 stands now.")).toBeVisible();
  await visit(desk, "/band");
  await expect(desk.getByRole("list", { name: "First steps" })).toHaveCount(0);

  // The square on the card fills in all but the words; a name of a class is never listed.
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await phone.goto(address);
  await atWork(phone);
  await expect(phone.getByLabel("Class code")).toHaveValue("CLIFF-1");
  await expect(phone.getByLabel("Your name")).toHaveValue("Ada Holm");
  await phone.getByLabel("Your four words").fill(words);
  await phone.getByRole("button", { name: "Go to my stand" }).click();
  await phone.waitForURL("**/stand");
  await expect(phone.getByText("No. 1 · First Light")).toBeVisible();
  await expect(phone.getByText("Bo Lind")).toHaveCount(0);
});

test("150 rows come in as one act, the second time nothing changes, and undo takes them out", async ({
  browser,
}) => {
  const desk = await deskOf(browser, await makeBand(application));
  await visit(desk, "/band");
  await desk.getByRole("button", { name: "Bring a list in" }).first().click();
  const field = desk.getByPlaceholder(/Ada Holm/);
  await field.fill(list(150));
  await desk.getByRole("button", { name: "Bring in 150 rows" }).click();
  await expect(desk.getByRole("row", { name: /Player Number149/ })).toBeVisible();
  await expect(desk.getByText("150 players. Arrow keys")).toBeVisible();
  await field.fill(list(150));
  await expect(desk.getByText("0 new, 0 changed, 150 as they are.")).toBeVisible();
  await expect(desk.getByRole("button", { name: "Nothing would change" })).toBeDisabled();
  await field.fill("Name\tInstrument\n");
  await expect(desk.getByRole("alert")).toHaveText("There is no player in this list yet.");
  await field.fill(list(501));
  await expect(desk.getByRole("alert")).toHaveText(
    "A list has at most 500 rows. Bring it in group by group.",
  );
  await desk.getByRole("button", { name: "Close" }).click();
  await desk.getByRole("button", { name: /^Undo/ }).click();
  await expect(desk.getByText(/^Taken back: Imported a list/)).toBeVisible();
  await expect(desk.getByRole("row", { name: /Player Number149/ })).toHaveCount(0);
  await desk.getByRole("button", { name: /^Do it again/ }).click();
  await expect(desk.getByText("150 players. Arrow keys")).toBeVisible();
});

test("a table changed by keys alone, for one and for several, between two directors", async ({ browser }) => {
  const band = await makeBand(application);
  for (const [name, instrument] of [
    ["Ada Holm", "flute"],
    ["Bo Lind", "tuba"],
  ])
    await band.director.json("POST", "/api/players", {
      name,
      instruments: [instrument],
      stage: "five-notes",
      groupIds: [],
    });
  const [first, second] = [await deskOf(browser, band), await deskOf(browser, band)];
  await visit(first, "/band");
  await visit(second, "/band");
  const cell = (page: Page, name: string) => page.getByRole("button", { name: new RegExp(`^${name}`) });

  // By keys: from the name two cells to the right and down, Enter opens, Enter keeps, Escape leaves.
  await cell(first, "Name of Ada Holm").focus();
  for (const key of ["ArrowRight", "ArrowDown", "Enter"]) await first.keyboard.press(key);
  await first.keyboard.type("Bobo");
  await first.keyboard.press("Enter");
  await expect(cell(first, "Called of Bo Lind: Bobo")).toBeFocused();
  await first.keyboard.press("Enter");
  await first.keyboard.type("never kept");
  await first.keyboard.press("Escape");
  await expect(cell(first, "Called of Bo Lind: Bobo")).toBeFocused();
  await first.keyboard.press("Control+z");
  await expect(cell(first, "Called of Bo Lind: nothing")).toBeVisible();

  // The other page still shows the old stage of Ada.
  await cell(first, "Stage of Ada Holm").click();
  await first.getByLabel("Stage of Ada Holm").selectOption("small-tunes");
  await expect(cell(first, "Stage of Ada Holm: small tunes")).toBeVisible();
  await cell(second, "Stage of Ada Holm: five notes").click();
  await second.getByLabel("Stage of Ada Holm").selectOption("widening");
  await expect(second.getByRole("alert")).toContainText("Ada Holm's stage was changed in the meantime");
  await expect(cell(second, "Stage of Ada Holm: small tunes")).toBeVisible();

  // Several at once.
  await second.getByLabel(/Choose everybody shown/).check();
  await second.getByRole("toolbar", { name: "For 2 players" }).getByLabel("Stage").selectOption("widening");
  await expect(cell(second, "Stage of Bo Lind: widening")).toBeVisible();
  await second.getByRole("button", { name: "Have left the band" }).click();
  await expect(second.getByText("2 players have left")).toBeVisible();
  await second.getByRole("button", { name: /^Undo/ }).click();
  await expect(cell(second, "Stage of Bo Lind: widening")).toBeVisible();
});

test("cards drawn again ask first, and are brought back within the minute", async ({ browser }) => {
  const band = await makeBand(application);
  await band.director.json("POST", "/api/players", {
    name: "Ada Holm",
    instruments: ["flute"],
    stage: "five-notes",
    groupIds: [],
  });
  const desk = await deskOf(browser, band);
  await visit(desk, "/band");
  await desk.getByRole("button", { name: "Draw cards for the one without" }).click();
  const words = desk.getByTestId("words");
  const old = await words.innerText();
  await desk.getByLabel("Choose Ada Holm").check();
  await desk.getByRole("button", { name: "Draw a new card" }).click();
  const ask = desk.getByRole("alertdialog");
  await expect(ask).toContainText("Ada Holm has a card already");
  await ask.getByRole("button", { name: "End the old cards and draw a new one" }).click();
  await expect(words).not.toHaveText(old);
  await desk.getByRole("button", { name: /Bring the old cards back/ }).click();
  await expect(words).toHaveCount(0);
  const phone = await (await browser.newContext()).newPage();
  await phone.goto(`${application.url}/sign-in`);
  await atWork(phone);
  await phone.getByLabel("Class code").fill(band.classCode);
  await phone.getByLabel("Your name").fill("Ada Holm");
  await phone.getByLabel("Your four words").fill(old);
  await phone.getByRole("button", { name: "Go to my stand" }).click();
  await phone.waitForURL("**/stand");
});

test("a band is made by an invitation, a second director by a letter, a lost password by a printed code", async ({
  browser,
}) => {
  const { out } = await application.ulu(["invite-band"]);
  const code = /Invitation code ([A-Z0-9-]+):/.exec(out)![1]!;
  const desk = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await desk.goto(`${application.url}/new-band`);
  await atWork(desk);
  await desk.getByLabel("Invitation code").fill(code.toLowerCase());
  await desk.getByLabel("Name of the band").fill("Invited Band");
  await desk.getByLabel("Class code").fill("invited-1");
  await desk.getByLabel("Your name").fill("Ivo Invited");
  await desk.getByLabel("E-mail").fill("ivo@band.example");
  await desk.getByLabel("Password", { exact: true }).fill("short");
  await desk.getByRole("button", { name: "Make the band" }).click();
  await expect(
    desk.getByText("A password has at least 12 letters; four words do well.").first(),
  ).toBeVisible();
  await desk.getByLabel("Password", { exact: true }).fill("harbour wall and lamp");
  await desk.getByRole("button", { name: "Make the band" }).click();
  const sheet = desk.getByRole("region", { name: "One-time codes" });
  const recovery = await sheet.getByRole("listitem").first().innerText();
  await sheet.getByRole("button", { name: "Done" }).click();
  await desk.waitForURL("**/band");

  await visit(desk, "/band/directors");
  await desk.getByLabel("E-mail").nth(1).fill("second@band.example");
  await desk.getByRole("button", { name: "Write the invitation" }).click();
  await desk.getByRole("link", { name: "outbox", exact: true }).click();
  const link = /http\S+\/join#\S+/.exec(await desk.getByText(/Open this address/).innerText())![0];
  const second = await (await browser.newContext()).newPage();
  await second.goto(link);
  await expect(second.getByText("Invited Band")).toBeVisible();
  await second.getByLabel("Your name").fill("Sol Second");
  await second.getByLabel("Password", { exact: true }).fill("another long password");
  await second.getByRole("button", { name: "Open the band" }).click();
  await second.waitForURL("**/week");
  // A link opens once.
  const third = await (await browser.newContext()).newPage();
  await third.goto(link);
  await expect(third.getByRole("alert")).toHaveText(/was used, or has run out/);

  await desk.goto(`${application.url}/band/directors`);
  await atWork(desk);
  const other = desk.getByRole("listitem").filter({ hasText: "Sol Second" });
  await other.getByRole("button", { name: "Directs no more" }).click();
  await other.getByRole("button", { name: "End it" }).click();
  await expect(other).toHaveCount(0);
  await second.goto(`${application.url}/week`);
  await second.waitForURL("**/sign-in?next=%2Fweek");

  await third.goto(`${application.url}/recover`);
  await atWork(third);
  const recover = async (with_: string) => {
    await third.getByLabel("E-mail").fill("ivo@band.example");
    await third.getByLabel("One of your one-time codes").fill(with_);
    await third.getByLabel("New password").fill("a new long password");
    await third.getByRole("button", { name: "Set the new password" }).click();
  };
  await recover("AAAA-BBBB-CCCC");
  await expect(third.getByRole("alert")).toHaveText(/do not fit together/);
  await recover(recovery);
  await expect(third.getByText("Your new password holds")).toBeVisible();
  await desk.goto(`${application.url}/week`);
  await desk.waitForURL("**/sign-in**");
});

test("what was taught shows on a player's page and who is ready, and what is not there says so", async ({
  browser,
}) => {
  const band = await makeBand(application);
  for (const name of ["Ada Holm", "Bea Holm"])
    await band.director.json("POST", "/api/players", {
      name,
      instruments: ["clarinet"],
      stage: "small-tunes",
      groupIds: [],
    });
  await band.director.json("POST", "/api/books");
  const desk = await deskOf(browser, band);
  await visit(desk, "/shelf?text=17");
  await expect(desk.getByLabel("Find", { exact: true })).toHaveValue("17");
  await desk.locator("tbody a").first().click();
  await atWork(desk);
  await expect(desk.getByText("0 of 2 players meet no new note")).toBeVisible();
  await desk.getByRole("button", { name: "Taught", exact: true }).click();
  await expect(desk.getByText("2 of 2 players meet no new note")).toBeVisible();
  await expectAccessible(desk);
  await desk.goBack();
  await atWork(desk);
  await expect(desk.getByLabel("Find", { exact: true })).toHaveValue("17");

  await visit(desk, "/band");
  await desk.getByRole("link", { name: "Page of Ada Holm" }).click();
  await atWork(desk);
  await desk.getByRole("button", { name: /^A4/ }).click();
  await expect(desk.getByText(/taught \d+ \w+ with No\. 17/)).toBeVisible();
  await desk.getByRole("button", { name: "Does not know it yet" }).click();
  await expect(desk.getByRole("button", { name: /^A4 not known/ })).toBeVisible();
  await expectAccessible(desk);

  await desk.goto(`${application.url}/band/00000000-0000-4000-8000-000000000000`);
  await expect(desk.getByText("This player does not exist, or it belongs to another band.")).toBeVisible();
  await desk.goto(`${application.url}/nothing/here`);
  await expect(desk.getByText("/nothing/here")).toBeVisible();
});

test("the settings of the band hold, and say what cannot be", async ({ browser }) => {
  const desk = await deskOf(browser, await makeBand(application));
  await visit(desk, "/band/settings");
  await desk.getByLabel("five notes: in tune, cents").fill("2");
  await desk.getByRole("button", { name: "Save the settings" }).click();
  await expect(desk.getByText("In tune is from 5 to 50 cents.").first()).toBeVisible();
  await desk.getByLabel("five notes: in tune, cents").fill("25");
  await desk.getByLabel("Criterion 3").fill("Sound");
  await desk.getByRole("button", { name: "Add days off" }).click();
  await desk.getByLabel("First day off").fill("2026-12-21");
  await desk.getByLabel("Last day off").fill("2027-01-03");
  await desk.getByRole("button", { name: "Save the settings" }).click();
  await expect(desk.getByText("Saved.")).toBeVisible();
  await desk.reload();
  await atWork(desk);
  await expect(desk.getByLabel("five notes: in tune, cents")).toHaveValue("25");
  await expect(desk.getByLabel("Criterion 3")).toHaveValue("Sound");
  await expect(desk.getByLabel("Last day off")).toHaveValue("2027-01-03");
  // Another window that was open before changes the same: it is asked, and what is typed is not left by mistake.
  const other = await desk.context().newPage();
  await visit(other, "/band/settings");
  await desk.getByLabel("A wrong start that is put right").selectOption("wrong");
  await desk.getByLabel("Criterion 3").fill("Tone");
  await desk.getByRole("button", { name: "Save the settings" }).dblclick();
  await expect(desk.getByText("Saved.")).toBeVisible();
  await other.getByLabel("Criterion 3").fill("Air");
  await other.getByRole("button", { name: "Save the settings" }).click();
  await expect(other.getByText("was also changed in another window")).toBeVisible();
  const asked = other.waitForEvent("dialog");
  await other.evaluate(() => void setTimeout(() => location.reload()));
  await (await asked).dismiss();
  await other.getByRole("button", { name: "Keep what stands here" }).click();
  await expect(other.getByText("Saved.")).toBeVisible();
  await expect(other.getByLabel("A wrong start that is put right")).toHaveValue("wrong");
  await other.close();
  await desk.reload();
  await atWork(desk);
  await expect(desk.getByLabel("Criterion 3")).toHaveValue("Air");
  for (const path of ["/band/settings", "/band/groups", "/band/keys", "/band/directors", "/band/outbox"]) {
    await visit(desk, path);
    await expectAccessible(desk);
  }
});
