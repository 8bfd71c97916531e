import AxeBuilder from "@axe-core/playwright";
import { expect, type Page, test } from "@playwright/test";
import { recordTake, steadyHabits } from "../../demo/players";
import { writeWav } from "../../src/core/audio";
import { type Score, writeMusicXml } from "../../src/core/score";
import {
  type Application,
  makeBand,
  makePlayer,
  type Person,
  sendTake,
  startApplication,
  type TestBand,
  until,
} from "../support/application";
import { line, partFor } from "../support/music";
import { atWork, signInDirector, signInStudent } from "./support";

// Everything a director does with material: typing, several parts, octaves, pencil, recordings, fingerings, views, a paper book.
let application: Application;
let band: TestBand;
let desk: Page;
let lineId: string;
let student: { name: string; words: string; person: Person };

test.beforeAll(async ({ browser }) => {
  application = await startApplication();
  await application.startWeb();
  application.startWorker();
  band = await makeBand(application);
  student = { name: "Cleo Reed", ...(await makePlayer(application, band, "Cleo Reed", "clarinet")) };
  await makePlayer(application, band, "Hedda Horn", "horn");
  ({ lineId } = await band.director.json<{ lineId: string }>(
    "POST",
    "/api/lines?fileName=a.musicxml&number=7&book=Steps",
    new TextEncoder().encode(
      writeMusicXml(line("F5:1 G5:1 A5:2 | Bb5:4 | D5:2 C5:2 | Bb4:4", { title: "Tide Tables" })),
    ),
  ));
  desk = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await signInDirector(desk, application.url, band.directorEmail, band.password);
});
test.afterAll(async () => {
  await desk?.context().close();
  await application?.close();
});

async function visit(path: string): Promise<void> {
  await desk.goto(`${application.url}${path}`);
  await atWork(desk);
}
async function withoutViolations(): Promise<void> {
  const { violations } = await new AxeBuilder({ page: desk }).withTags(["wcag2a", "wcag2aa"]).analyze();
  expect(violations.map((violation) => `${violation.id}: ${violation.nodes[0]?.html}`)).toEqual([]);
}
const partChoice = () => desk.getByRole("combobox", { name: "Part", exact: true }).first();
const tab = (name: string) => desk.getByRole("button", { name, exact: true }).click();
const notesOf = async (id: string) => {
  const { score } = await band.director.json<{ score: Score }>(
    "GET",
    `/api/lines/${id}/score?instrument=concert`,
  );
  return score.parts[0].measures.map((measure) =>
    measure.events
      .map((event) => `${event.pitch ? event.pitch.letter + event.pitch.octave : "r"}:${event.duration}`)
      .join(" "),
  );
};

test("a line is typed by keys alone, survives a reload, and is put on the shelf", async () => {
  await visit("/shelf");
  await desk.getByRole("link", { name: "Type one" }).click();
  await atWork(desk);
  const field = desk.getByTestId("music-field");
  await field.focus();
  await desk.keyboard.type("4fga");
  await expect(field.locator("g.note")).toHaveCount(3);
  await desk.keyboard.type("g");
  await desk.keyboard.press("Control+z");
  await desk.keyboard.type("b2.d");
  await expect(desk.getByText(/D5, dotted half/)).toBeVisible();
  await expect(desk.getByText(/the last one lacks 1 quarter/)).toBeVisible();

  await desk.reload();
  await atWork(desk);
  await desk.getByRole("button", { name: "Go on with it" }).click();
  await expect(field.locator("g.note")).toHaveCount(5);
  await field.focus();
  await desk.keyboard.type("4r(cb)");
  // Keys that type go into the title, not into the music.
  await desk.getByLabel("Title").fill("Typed at the desk");
  await desk.getByLabel("No.").fill("70");
  await withoutViolations();
  await desk.getByRole("button", { name: "Put it on the shelf" }).click();
  await desk.waitForURL(/\/shelf\/[0-9a-f-]{36}$/);
  await expect(desk.getByRole("heading", { name: "No. 70 · Typed at the desk" })).toBeVisible();
  expect(await notesOf(desk.url().split("/").at(-1)!)).toEqual([
    "F4:1 G4:1 A4:1 B4:1",
    "D5:3 r:1",
    "C5:1 B4:1",
  ]);
});

test("with a failing network what is typed stays, and is saved when the network is back", async () => {
  await visit("/shelf/write");
  await desk.getByTestId("music-field").focus();
  await desk.context().setOffline(true);
  await desk.keyboard.type("1fg");
  await desk.getByLabel("Title").fill("Through the storm");
  await desk.getByRole("button", { name: "Put it on the shelf" }).click();
  await expect(desk.getByRole("alert")).toContainText("There is no connection");
  await desk.context().setOffline(false);
  await desk.getByRole("button", { name: "Put it on the shelf" }).click();
  await desk.waitForURL(/\/shelf\/[0-9a-f-]{36}$/);
  expect(await notesOf(desk.url().split("/").at(-1)!)).toEqual(["F4:4", "G4:4"]);
});

test("clarinets get a part of their own, horns another octave and note", async () => {
  await visit(`/shelf/${lineId}`);
  await tab("Book and parts");
  await desk.getByRole("link", { name: /Add a part/ }).click();
  await atWork(desk);
  await desk.getByLabel("Name of the part").fill("Down");
  await desk.getByLabel("B♭ clarinet").check();
  await desk.getByTestId("music-field").focus();
  await desk.keyboard.type("1bagf");
  await desk.getByRole("button", { name: "Save the notes" }).click();
  await desk.waitForURL(`**/shelf/${lineId}`);
  await atWork(desk);
  await partChoice().selectOption("B♭ clarinet");
  await expect(desk.getByText("B♭ clarinet: C major")).toBeVisible();
  await tab("Range and octave");
  await expect(desk.getByText("B♭ clarinet has a part of its own: Down.")).toBeVisible();

  await partChoice().selectOption("Horn in F");
  const ladder = desk.getByRole("img", { name: "Range of Horn in F" });
  await expect(ladder).toBeVisible();
  await desk.getByRole("button", { name: "one higher" }).click();
  await expect(desk.getByText(/as you chose/).first()).toBeVisible();
  await desk.getByRole("button", { name: "what fits the stage" }).click();
  await expect(desk.getByText(/where these notes are learned/)).toBeVisible();
  await desk.locator("g.note .notehead").first().click({ force: true });
  await desk.getByLabel(/Instead of bar 1, beat 1: .* play/).fill("F4");
  await desk.getByRole("button", { name: "Replace it for Horn in F" }).click();
  await expect(desk.getByText(/bar 1: F4 instead of C/)).toBeVisible();
  await withoutViolations();
});

test("a line is heard in several ways, with names called, and loops until it is stopped", async () => {
  await visit(`/shelf/${lineId}`);
  await tab("Hear");
  await desk.getByRole("combobox", { name: /^to bar/ }).selectOption("2");
  await desk.getByLabel("Call names").selectOption("letters");
  await desk.getByLabel("count off").uncheck();
  await desk.getByLabel("loop").check();
  await desk.getByRole("slider", { name: /Tempo/ }).fill("160");
  await desk.getByRole("button", { name: "Play" }).click();
  await expect(desk.getByTestId("moment")).toHaveText("B♭");
  await expect(desk.getByTestId("cursor")).toBeVisible();
  // It comes round to the first bar again.
  await expect(desk.getByTestId("moment")).toHaveText("F");
  await desk.getByRole("button", { name: "Stop" }).click();
  await desk.getByLabel("Way").selectOption("in halves, then whole");
  await desk.getByRole("button", { name: "Play" }).click();
  await expect(desk.getByTestId("moment")).toContainText("bar 1");
  await desk.getByRole("button", { name: "Stop" }).click();
  await expect(desk.getByTestId("cursor")).toHaveCount(0);
  await desk.getByLabel("Way").selectOption("two-note change drill");
  await desk.getByRole("button", { name: "Play" }).click();
  await expect(desk.getByTestId("moment")).toContainText("6 s for the change");
  await desk.getByRole("button", { name: "Stop" }).click();
});

test("parts stand side by side, and pencil written for all is on every one of them", async () => {
  await visit(`/shelf/${lineId}`);
  await tab("Pencil");
  await desk.getByRole("combobox", { name: "At", exact: true }).selectOption({ index: 1 });
  await desk.getByLabel("Text").fill("listen");
  await desk.getByRole("button", { name: "Pencil it in" }).click();
  await expect(desk.locator(".engraved text.pencil")).toHaveText("listen");
  await tab("Side by side");
  await desk.getByRole("checkbox", { name: "Horn in F" }).check();
  const horn = desk.locator("section", { has: desk.getByRole("heading", { name: /^Horn in F/ }) }).last();
  await expect(horn.locator("text.pencil")).toHaveText("listen");
});

test("a recording is attached, its bars are tapped, and it plays from a bar", async () => {
  await visit(`/shelf/${lineId}`);
  await tab("Recordings");
  await desk.getByLabel("Attach a recording or backing track").setInputFiles({
    name: "Backing.wav",
    mimeType: "audio/wav",
    buffer: Buffer.from(writeWav({ samples: new Float32Array(8000 * 20), sampleRate: 8000 })),
  });
  await expect(desk.getByRole("heading", { name: "Backing" })).toBeVisible();
  await desk.getByRole("button", { name: "Tap the bars" }).click();
  const tapped = desk.getByRole("button", { name: /^Bar \d begins now$/ });
  const seconds = () => desk.locator("audio").evaluate((audio: HTMLAudioElement) => audio.currentTime);
  for (const bar of [1, 2, 3]) {
    await expect.poll(seconds).toBeGreaterThan(bar * 0.25);
    await tapped.click();
    await expect(tapped).toHaveText(`Bar ${bar + 1} begins now`);
  }
  await desk.getByRole("button", { name: "Keep 3 bars" }).click();
  await expect(desk.getByRole("button", { name: "Play from bar 3" })).toBeVisible();
  await desk.getByLabel("Speed").selectOption("65 %");
  expect(await desk.locator("audio").evaluate((audio: HTMLAudioElement) => audio.playbackRate)).toBe(0.65);
  await desk.getByRole("button", { name: "take it off the line" }).click();
  await expect(desk.getByText("Backing was taken off the line.")).toBeVisible();
  await desk.getByRole("button", { name: "Put it back" }).click();
  await expect(desk.getByRole("heading", { name: "Backing" })).toBeVisible();
});

test("fingerings are confirmed and changed, a wrong one is refused in one sentence", async () => {
  await visit("/shelf/instruments/clarinet");
  const card = desk.getByRole("listitem").filter({ hasText: /^A3/ });
  await expect(card).toContainText("checked by its open holes and by common practice");
  await card.getByRole("button", { name: "confirm" }).click();
  await expect(card).toContainText("confirmed by you");
  await card.getByRole("button", { name: "change" }).click();
  await card.getByLabel(/Fingering of A3/).fill("five fingers");
  await card.getByRole("button", { name: "keep" }).click();
  await expect(desk.getByRole("alert")).toContainText(
    '"five fingers" is no fingering of the b♭ clarinet for A3',
  );
  await card.getByLabel(/Fingering of A3/).fill("T 123 | 12- + E");
  await card.getByRole("button", { name: "keep" }).click();
  await expect(card).toContainText("T 123 | 12- + E");
  await expect(desk.getByText("Under each note stands what it was checked by.")).toBeVisible();
  await withoutViolations();
});

test("a question is kept as a view, and the table is walked by keys", async () => {
  await visit("/shelf");
  await desk.getByLabel("Find").fill("tide");
  await desk.getByLabel("Name for this view").fill("Tides");
  await desk.getByRole("button", { name: "Keep this view" }).click();
  await expect(desk.getByRole("button", { name: "Tides", exact: true })).toBeVisible();
  await visit("/shelf");
  await desk.getByRole("button", { name: "Tides", exact: true }).click();
  await expect(desk.getByText(/^1 of \d lines/)).toBeVisible();
  await desk.getByRole("button", { name: "show all" }).click();
  await desk.keyboard.press("Escape");
  await desk.locator("h1").first().click();
  await desk.keyboard.press("/");
  await expect(desk.getByLabel("Find")).toBeFocused();
  await desk.keyboard.press("ArrowDown");
  await desk.keyboard.press("ArrowDown");
  await expect(desk.locator("tbody a").nth(1)).toBeFocused();
  await desk.keyboard.press("Enter");
  await desk.waitForURL(/\/shelf\/[0-9a-f-]{36}$/);
});

test("a line of a paper book is catalogued, given, and played from the book; pencil and recording reach the stand", async ({
  browser,
}) => {
  await visit("/shelf");
  await desk.getByRole("button", { name: "From a book" }).click();
  await desk.getByLabel("Title").fill("Paper Boat");
  await desk.getByLabel("Page").fill("18");
  await desk.getByRole("button", { name: "Put it on the shelf" }).click();
  await expect(desk.getByRole("alert")).toHaveText("Say how many bars the line has.");
  await desk.getByLabel("Bars").fill("8");
  await desk.getByRole("button", { name: "Put it on the shelf" }).click();
  await desk.getByRole("link", { name: "Open it" }).click();
  await atWork(desk);
  await expect(desk.getByRole("heading", { name: "The notes are in the book only" })).toBeVisible();
  await desk.getByRole("button", { name: "Put it on their stands" }).click();
  await expect(desk.getByText("It is on 2 stands now.")).toBeVisible();
  await withoutViolations();
  await visit(`/shelf/${lineId}`);
  await desk.getByRole("button", { name: "Put it on their stands" }).click();
  await expect(desk.getByText("It is on 2 stands now.")).toBeVisible();

  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await signInStudent(phone, application.url, band.classCode, student.name, student.words);
  const task = (title: string) => phone.getByRole("article").filter({ hasText: title }).getByRole("link");
  await task("Paper Boat").click();
  await expect(phone.getByText(/Play it from your book, page 18/)).toBeVisible();
  await phone.getByRole("button", { name: "← My stand" }).click();
  await task("Tide Tables").click();
  await expect(phone.getByText("Play along with a recording")).toBeVisible();
  await phone.getByText("Write it in (1)").click();
  await phone.getByLabel("Text").fill("soft");
  await phone.getByRole("button", { name: "Pencil it in" }).click();
  await expect(phone.locator(".engraved text.pencil", { hasText: "soft" })).toHaveCount(1);
  const { violations } = await new AxeBuilder({ page: phone }).withTags(["wcag2a", "wcag2aa"]).analyze();
  expect(violations.map((violation) => `${violation.id}: ${violation.nodes[0]?.html}`)).toEqual([]);
  expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await phone.context().close();

  // The take is answered by ear: no staff, no lanes, and no word about notes that nobody looked for.
  const { tasks } = await student.person.json<{ tasks: { id: string; lineTitle: string }[] }>(
    "GET",
    "/api/stand",
  );
  const paper = tasks.find((each) => each.lineTitle === "Paper Boat")!.id;
  const { part } = partFor(line("F5:1 G5:1 A5:2 | Bb5:4 | D5:2 C5:2 | Bb4:4"), "clarinet");
  const { pcm } = recordTake(part, "clarinet", 80, steadyHabits, { noise: 0.003, echo: 0.2 }, 3);
  const takeId = await sendTake(student.person, paper, writeWav(pcm));
  await until(async () => {
    const { history } = await student.person.json<{ history: { state: string }[] }>(
      "GET",
      `/api/tasks/${paper}`,
    );
    return history[0]!.state === "assessed";
  });
  await visit(`/listen?take=${takeId}`);
  await expect(desk.getByText(/The notes of this line are in the book only/)).toBeVisible();
  await expect(desk.getByText(/Nothing stands out/)).toHaveCount(0);
  await expect(desk.locator(".engraved")).toHaveCount(0);
});
