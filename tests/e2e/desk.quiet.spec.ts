import AxeBuilder from "@axe-core/playwright";
import { expect, type Page, test } from "@playwright/test";
import { recordTake, steadyHabits } from "../../demo/players";
import { writeWav } from "../../src/core/audio";
import { writeMusicXml } from "../../src/core/score";
import { decodeSound } from "../../src/server/decode";
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

// The director's desk by keyboard alone, a phone's compressed recording, long names, a failing network, a class of 150.
const tune = line("[: Bb4:1 C5:1 D5:2 | Eb5:1 D5:1 C5:2 :] | F5:1 Eb5:1 D5:1 C5:1 | Bb4:4", {
  bpm: 96,
  title: "Tide Tables",
});
const ROOM = { noise: 0.003, echo: 0.2 };
const LONG_NAME = "Maximiliana-Theodora Wolkenstein-Featherstonehaugh y Echevarría";

let application: Application;
let band: TestBand;
let desk: Page;
let assignmentGroup: string;
let lineId: string;
const players: { person: Person; name: string; words: string; taskId: string }[] = [];

test.beforeAll(async ({ browser }) => {
  application = await startApplication();
  await application.startWeb();
  application.startWorker();
  band = await makeBand(application);
  assignmentGroup = band.groupId;
  const names = ["Ada Clean", "Bo Flat", LONG_NAME];
  const made = [];
  for (const name of names) made.push({ name, ...(await makePlayer(application, band, name, "flute")) });
  lineId = (
    await band.director.json<{ lineId: string }>(
      "POST",
      "/api/lines?fileName=tide.musicxml&number=7",
      new TextEncoder().encode(writeMusicXml(tune)),
    )
  ).lineId;
  await giveTune(assignmentGroup);
  for (const { person, name, words } of made) {
    const { tasks } = await person.json<{ tasks: { id: string }[] }>("GET", "/api/stand");
    players.push({ person, name, words, taskId: tasks[0]!.id });
  }
  const { part } = partFor(tune, "flute", "small-tunes");
  await send(players[0]!, writeWav(recordTake(part, "flute", 96, steadyHabits, ROOM, 3).pcm));
  await send(
    players[1]!,
    writeWav(recordTake(part, "flute", 96, { ...steadyHabits, ignoresSignature: 1 }, ROOM, 4).pcm),
  );
  await until(
    async () =>
      (await queue()).length === 2 && (await queue()).every((item) => item.remark !== "being listened to"),
  );
  desk = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await signInDirector(desk, application.url, band.directorEmail, band.password);
});
test.afterAll(() => application?.close());

/** Opens a page of the desk and waits until it answers to keys and clicks. */
async function visit(path: string): Promise<void> {
  await desk.goto(application.url + path);
  await atWork(desk);
}

const giveTune = (groupId: string) =>
  band.director.json("POST", "/api/assignments", {
    lineId,
    groupId,
    goalBpm: 96,
    timesPerWeek: 3,
    dueDate: "2099-01-01",
    sure: ["again"],
  });

const queue = async () =>
  (await band.director.json<{ items: { playerName: string; remark: string }[] }>("GET", "/api/takes")).items;

const heard = async (takeId: string) =>
  (await band.director.json<{ state: string }>("GET", `/api/takes/${takeId}`)).state === "assessed";

const send = (player: { person: Person; taskId: string }, bytes: Uint8Array<ArrayBuffer>) =>
  sendTake(player.person, player.taskId, bytes);

test("the desk works by keyboard: hear, go from spot to spot, mark, answer, undo", async () => {
  await visit("/listen");
  const heading = (name: string) => desk.getByRole("heading", { name: `${name}, Flute` });
  // Worst first: every E flat of the key played as a natural, both times through.
  await expect(heading("Bo Flat")).toBeVisible();
  await desk.keyboard.press("n");
  await expect(desk.getByTestId("cursor")).toBeVisible();
  // One cause, told once with its places.
  const cause = desk.getByTestId("findings").locator("> li").filter({ hasText: "E natural where the key" });
  await expect(cause).toHaveCount(1);
  await expect(cause).toContainText("3 times");
  await expect(cause).toContainText("bar 3, beat 2");
  await desk.keyboard.press(" ");
  await expect(desk.getByRole("button", { name: /^Play/ })).toBeVisible();
  await desk.keyboard.press("l");
  await expect(desk.getByRole("button", { name: /^Pause/ })).toBeVisible();
  await desk.keyboard.press("s");
  await expect(desk.getByRole("button", { name: /^Slower/ })).toHaveAttribute("aria-pressed", "true");
  // The evidence for what the bench would mark is one key away; the next criterion has its own.
  await desk.keyboard.press("e");
  await expect(desk.getByTestId("why")).toContainText("E natural where the key makes it E♭");
  await desk.keyboard.press("2");
  await desk.keyboard.press("c");
  await desk.keyboard.press("e");
  await expect(desk.getByTestId("why")).not.toContainText("E natural");
  await desk.keyboard.press("4");
  await expect(desk.getByRole("radio", { name: /notes: partly/i })).toBeChecked();
  await expect(desk.getByRole("radio", { name: /rhythm: steady/i })).toBeChecked();
  // The second time through shows its own beads.
  await expect(desk.getByRole("button", { name: "First time" })).toHaveAttribute("aria-pressed", "true");
  await desk.getByRole("button", { name: "Second time" }).press("Enter");
  await expect(desk.getByRole("button", { name: "Second time" })).toHaveAttribute("aria-pressed", "true");
  await expect(heading("Bo Flat")).toBeVisible();
  // Letters typed into the comment are letters.
  await desk.getByLabel("To Bo").fill("");
  await desk.getByLabel("To Bo").pressSequentially("a clear sound ");
  await desk.keyboard.press("Escape");
  await desk.keyboard.press("7");
  await expect(desk.getByLabel("To Bo")).toHaveValue(
    "a clear sound  Bars 1 and 4: the key signature makes it B♭.",
  );
  await desk.keyboard.press("w");
  await expect(desk.getByLabel("To Bo")).toBeFocused();
  await desk.keyboard.press("Escape");
  await desk.keyboard.press("?");
  await expect(desk.getByText("undo the last word")).toBeVisible();
  await desk.keyboard.press("Escape");
  await desk.keyboard.press("a");
  await expect(heading("Ada Clean")).toBeVisible();
  await expect(desk.getByText("Bo Flat: asked for another take")).toBeVisible();
  await expect(desk.getByText("Nothing stands out: every note was found in place.")).toBeVisible();
  await desk.keyboard.press("u");
  await expect(heading("Bo Flat")).toBeVisible();
  await expect(desk.getByRole("heading", { name: "2 takes to hear" })).toBeVisible();
  expect(
    (await players[1]!.person.json<{ tasks: { state: string }[] }>("GET", "/api/stand")).tasks[0]!.state,
  ).toBe("sent");
  await desk.keyboard.press("j");
  await expect(heading("Ada Clean")).toBeVisible();
  // Nothing is accepted unheard: the first Enter plays it.
  await desk.keyboard.press("Enter");
  await expect(desk.getByText("Hear it first")).toBeVisible();
  await expect(desk.getByRole("button", { name: /^Pause/ })).toBeVisible();
  await expect(heading("Ada Clean")).toBeVisible();
  await desk.keyboard.press("Enter");
  await expect(heading("Bo Flat")).toBeVisible();
});

test("the bench is overruled, a note is marked, and its player finds both with the answer", async ({
  browser,
}) => {
  await visit("/listen");
  await desk.getByRole("listitem").filter({ hasText: "Bo Flat" }).getByRole("link").click();
  await expect(desk.getByRole("heading", { name: "Bo Flat, Flute" })).toBeVisible();
  const findings = desk.getByTestId("findings").locator("> li");
  const told = (await findings.first().innerText()).split("\n")[1]!.split(".")[0]!;
  await expect(findings).toHaveCount(2);
  await desk.keyboard.press("n");
  const kept = desk.waitForResponse((response) => response.url().endsWith("/overrule"));
  await desk.keyboard.press("o");
  await expect(desk.getByTestId("dropped")).toContainText(`${told}. Not so, by your ear.`);
  expect((await kept).ok()).toBe(true);
  // It was kept: another look finds it so, and the same button takes it back.
  await visit("/listen");
  await desk.getByRole("listitem").filter({ hasText: "Bo Flat" }).getByRole("link").click();
  await desk.getByTestId("dropped").getByRole("button", { name: "Take it back" }).click();
  await expect(desk.getByTestId("dropped")).toHaveCount(0);
  await desk.keyboard.press("n");
  await desk.keyboard.press("o");
  await desk.keyboard.press("m");
  await desk.keyboard.type("Sing this one first");
  await desk.keyboard.press("Enter");
  await expect(desk.getByTestId("pins")).toContainText("bar 1");
  await expect(desk.getByLabel("Mark at this note")).not.toBeFocused();
  // A letter is changed on this device; its button says so, and the act that had the other letter gets this one.
  await desk.keyboard.press("?");
  await desk.getByRole("button", { name: "Change the letters" }).click();
  await desk.getByLabel("Key for: words for the family").fill("g");
  await desk.getByLabel("Key for: next place, finding by finding").fill("g");
  await desk.getByRole("button", { name: "Done" }).click();
  await desk.keyboard.press("?");
  await expect(desk.getByRole("button", { name: "Next finding G" })).toBeVisible();
  await desk.keyboard.press("f");
  await expect(desk.getByLabel("To the family")).toHaveCount(0);
  // The family's words went to the letter that next finding had; what is typed next is theirs already, not an act.
  const typing = await desk.evaluate(() => {
    document.body.dispatchEvent(new KeyboardEvent("keydown", { key: "n", bubbles: true }));
    return document.activeElement?.tagName;
  });
  expect(typing).toBe("TEXTAREA");
  await expect(desk.getByLabel("To the family")).toHaveValue(/^Bo is working on bar/);
  await desk.keyboard.press("Escape");
  await desk.keyboard.press("?");
  await desk.getByRole("button", { name: "Change the letters" }).click();
  await desk.getByRole("button", { name: "The usual ones" }).click();
  await desk.getByRole("button", { name: "Done" }).click();
  await desk.keyboard.press("?");
  // A mark is a reason: nothing more is asked for.
  await desk.keyboard.press("a");
  await expect(desk.getByText("Bo Flat: asked for another take")).toBeVisible();

  const page = await (await browser.newContext()).newPage();
  await signInStudent(page, application.url, band.classCode, "Bo Flat", players[1]!.words);
  await page.goto(`${application.url}/stand?task=${players[1]!.taskId}`);
  await atWork(page);
  await expect(page.getByTestId("pinned")).toContainText("Bar 1: Sing this one first");
  await expect(page.getByTestId("pinned").getByRole("button", { name: "Practise this" })).toBeVisible();
  await expect(page.getByTestId("for-family")).toContainText("Bo is working on bar");
  await page.context().close();

  // What was heard is opened again from the queue, and the word is taken back there.
  await desk.getByRole("button", { name: "Heard" }).click();
  const again = desk.getByRole("listitem").filter({ hasText: "Bo Flat" });
  await expect(again).toContainText("asked again");
  await again.getByRole("link").click();
  await expect(desk.getByRole("heading", { name: "Bo Flat, Flute" })).toBeVisible();
  await desk.getByTestId("pins").getByRole("button", { name: "Take away" }).click();
  await desk.getByTestId("dropped").getByRole("button", { name: "Take it back" }).click();
  await desk.keyboard.press("u");
  await expect(desk.getByRole("button", { name: "Waiting" })).toBeVisible();
});

test("a review that cannot be saved keeps what was written", async () => {
  await visit("/listen");
  await desk.getByLabel("To Bo").fill("Nearly there.");
  await desk.context().setOffline(true);
  await desk.getByRole("button", { name: "Ask again" }).click();
  await expect(desk.getByRole("alert")).toContainText("There is no connection to the bench right now.");
  await expect(desk.getByLabel("To Bo")).toHaveValue("Nearly there.");
  await desk.context().setOffline(false);
  await desk.getByRole("button", { name: "Ask again" }).click();
  await expect(desk.getByText("All heard")).toBeVisible();
  await visit("/listen");
  await expect(
    desk.getByText("Nothing waits. Takes appear here as soon as a player sends one."),
  ).toBeVisible();
});

test("a held key says one word; what is written stays; words are taken back from the empty desk too", async () => {
  const { part } = partFor(tune, "flute", "small-tunes");
  const take = (seed: number) => writeWav(recordTake(part, "flute", 96, steadyHabits, ROOM, seed).pcm);
  const { groupId } = await band.director.json<{ groupId: string }>("POST", "/api/groups", { name: "Late" });
  const sent: string[] = [];
  const late = [];
  for (const name of ["Cy Late", "Dee Late"])
    late.push(await makePlayer(application, band, name, "flute", "small-tunes", [groupId]));
  await giveTune(groupId);
  for (const [index, { person }] of late.entries()) {
    const { tasks } = await person.json<{ tasks: { id: string }[] }>("GET", "/api/stand");
    for (const seed of [21, 31]) sent.push(await sendTake(person, tasks[0]!.id, take(seed + index)));
  }
  // All of them: the best of a task is chosen anew with each that was heard.
  await until(async () => (await Promise.all(sent.map(heard))).every(Boolean));
  await visit("/listen");
  const heading = desk.getByRole("heading", { name: /, Flute$/ });
  const first = (await heading.innerText()).replace(", Flute", "");
  const comment = () => desk.getByLabel(`To ${first.split(" ")[0]}`);
  await comment().fill("Half a word");
  await comment().blur();
  // Another take, back, and a reload in mid-sentence.
  await desk.keyboard.press("j");
  await expect(heading).not.toHaveText(`${first}, Flute`);
  await desk.keyboard.press("k");
  await expect(comment()).toHaveValue("Half a word");
  await desk.reload();
  await atWork(desk);
  await expect(comment()).toHaveValue("Half a word");
  // Every take of the task can be reached, not only the one that counts.
  const takes = desk.getByRole("navigation", { name: "Takes of this task" }).getByRole("link");
  await expect(takes).toHaveCount(2);
  const shown = desk.getByText(/take \d of 2/);
  const open = await shown.innerText();
  await takes
    .filter({ hasNot: desk.locator("xpath=self::*[@aria-current]") })
    .first()
    .click();
  await expect(shown).not.toHaveText(open);
  await desk.getByRole("listitem").filter({ hasText: first }).click();
  await expect(shown).toHaveText(open);
  await expect(comment()).toHaveValue("Half a word");
  // Somebody leans on Enter: one take is accepted, the other waits.
  await desk.keyboard.press(" ");
  for (let held = 0; held < 12; held++) await desk.keyboard.down("Enter");
  await desk.keyboard.up("Enter");
  await expect(heading).not.toHaveText(`${first}, Flute`);
  await expect(desk.getByRole("heading", { name: "1 take to hear" })).toBeVisible();
  // Nobody is asked again without being asked for the reason once.
  await desk.keyboard.press("a");
  await expect(desk.getByText("Say in a word what to do better.")).toBeVisible();
  await expect(desk.getByLabel(/^To /)).toBeFocused();
  await desk.keyboard.press("Escape");
  await desk.keyboard.press("a");
  await expect(desk.getByText("All heard")).toBeVisible();
  await desk.keyboard.press("u");
  await expect(desk.getByRole("heading", { name: "1 take to hear" })).toBeVisible();
  await expect(heading).toBeVisible();
  await desk.keyboard.press("u");
  await expect(heading).toHaveText(`${first}, Flute`);
  await expect(comment()).toHaveValue("Half a word");
  expect(await queue()).toHaveLength(2);
  await desk.keyboard.press(" ");
  // A second press before the next take is there says nothing twice.
  let showNext = () => {};
  const shownNext = new Promise<void>((resolve) => {
    showNext = resolve;
  });
  await desk.route(/\/api\/takes\/[^/]+$/, async (route) => {
    await shownNext;
    await route.continue();
  });
  await desk.keyboard.press("Enter");
  await expect(desk.getByRole("heading", { name: "1 take to hear" })).toBeVisible();
  await desk.keyboard.press("Enter");
  showNext();
  await expect(heading).not.toHaveText(`${first}, Flute`);
  await desk.unrouteAll();
  await expect(desk.getByRole("button", { name: /^Undo U$/ })).toBeVisible();
  await desk.keyboard.press(" ");
  await desk.keyboard.press("Enter");
  await expect(desk.getByText("All heard")).toBeVisible();
});

test("a recording from a phone, compressed with Opus, is heard like any other", async ({ browser }) => {
  const { part } = partFor(tune, "flute", "small-tunes");
  const { pcm } = recordTake(part, "flute", 96, { ...steadyHabits, misses: 0.15 }, ROOM, 12);
  const page = await (await browser.newContext()).newPage();
  await page.goto(`${application.url}/sign-in`);
  const webm = Uint8Array.from(
    await page.evaluate(compress, { samples: [...pcm.samples], sampleRate: pcm.sampleRate }),
  );
  const decoded = await decodeSound(webm);
  expect(
    Math.abs(decoded.samples.length / decoded.sampleRate - pcm.samples.length / pcm.sampleRate),
  ).toBeLessThan(0.4);
  const asOgg = await decodeSound(await inOgg(webm));
  expect(
    Math.abs(asOgg.samples.length / asOgg.sampleRate - decoded.samples.length / decoded.sampleRate),
  ).toBeLessThan(0.1);

  const [plain, phone] = [await send(players[2]!, writeWav(pcm)), await send(players[2]!, webm)];
  type History = {
    history: { id: string; state: string; assessment: { notes: { verdict: string }[] } | null }[];
  };
  const takes = async () =>
    (await players[2]!.person.json<History>("GET", `/api/tasks/${players[2]!.taskId}`)).history;
  await until(async () => (await takes()).every((take) => take.state === "assessed"));
  const verdicts = async (id: string) =>
    (await takes()).find((take) => take.id === id)!.assessment!.notes.map((note) => note.verdict);
  expect(await verdicts(phone)).toEqual(await verdicts(plain));
  expect(await verdicts(phone)).toContain("missed");
});

test("a folder of recordings is looked at, asked about, brought in, and known when it comes again", async () => {
  const { groupId } = await band.director.json<{ groupId: string }>("POST", "/api/groups", {
    name: "Folder",
  });
  for (const name of ["Vera Lindqvist", "Wim Osterhout"])
    await makePlayer(application, band, name, "flute", "small-tunes", [groupId]);
  await giveTune(groupId);
  const { part } = partFor(tune, "flute", "small-tunes");
  const sound = (seed: number) =>
    Buffer.from(writeWav(recordTake(part, "flute", 96, steadyHabits, ROOM, seed).pcm));
  const files = [
    { name: "Vera Lindquist No 7.wav", mimeType: "audio/wav", buffer: sound(51) },
    { name: "New Recording 12.wav", mimeType: "audio/wav", buffer: sound(52) },
    { name: "osterhout words.wav", mimeType: "audio/wav", buffer: Buffer.from("only words, no sound") },
    { name: "wim holiday.mp4", mimeType: "video/mp4", buffer: Buffer.from("film") },
    { name: "list.pdf", mimeType: "application/pdf", buffer: Buffer.from("%PDF") },
  ];
  await visit("/listen/folder");
  const choose = desk.getByLabel("Choose recordings", { exact: true });
  await choose.setInputFiles(files);
  const row = (name: string) => desk.getByRole("row").filter({ hasText: name });
  // A slip in the name does not matter, and the number is that of the line.
  await expect(row("Vera Lindquist")).toContainText("by its name");
  await expect(row("New Recording 12")).toContainText("Whose is it?");
  await expect(row("wim holiday")).toContainText("is a film");
  await expect(desk.getByText("One file is no recording and left out.")).toBeVisible();
  await expect(row("osterhout words")).toContainText("ready");
  await desk.getByLabel("Player of New Recording 12.wav").selectOption({ label: "Wim Osterhout, Flute" });
  await expect(row("New Recording 12")).toContainText("by you");
  await expect(desk.getByRole("button", { name: "Bring in 3 recordings" })).toBeVisible();
  expect((await new AxeBuilder({ page: desk }).withTags(["wcag2a", "wcag2aa"]).analyze()).violations).toEqual(
    [],
  );
  await desk.getByRole("button", { name: "Bring in 3 recordings" }).click();
  await expect(desk.getByTestId("folder-state")).toHaveText("2 brought in · 2 cannot be used");
  await expect(row("osterhout words")).toContainText("not a sound recording");
  // The same folder again adds nothing.
  await visit("/listen/folder");
  await choose.setInputFiles(files.slice(0, 1));
  await desk.getByRole("button", { name: "Bring in 1 recording" }).click();
  await expect(desk.getByTestId("folder-state")).toHaveText("1 here already");
  await desk.goto(`${application.url}/listen?order=newest`);
  await expect(desk.getByRole("listitem").filter({ hasText: "Vera Lindqvist" })).toBeVisible();
  await expect(desk.getByRole("listitem").filter({ hasText: "Wim Osterhout" })).toBeVisible();
});

test("a long name, on the desk and on a phone, stays inside the page", async ({ browser }) => {
  const wide = (page: Page) => page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
  await send(players[2]!, writeWav({ samples: new Float32Array(44100), sampleRate: 44100 }));
  await visit("/listen");
  await desk.getByRole("link", { name: LONG_NAME }).click();
  await expect(desk.getByRole("heading", { name: `${LONG_NAME}, Flute` })).toBeVisible();
  expect(await wide(desk)).toBeLessThanOrEqual(0);
  for (const path of ["/band", "/growth"]) {
    await visit(path);
    await expect(desk.getByText(LONG_NAME).first()).toBeAttached();
    expect(await wide(desk)).toBeLessThanOrEqual(0);
  }
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await signInStudent(phone, application.url, band.classCode, LONG_NAME, players[2]!.words);
  expect(await wide(phone)).toBeLessThanOrEqual(0);
  await phone.getByRole("link", { name: "Go on" }).click();
  await expect(phone.getByRole("navigation", { name: "Steps of this line" })).toBeVisible();
  await expect(phone.getByText("No. 7 · Tide Tables")).toBeVisible();
  expect(await wide(phone)).toBeLessThanOrEqual(0);
});

test("the shelf answers what a director asks, and a line says who is ready for it", async () => {
  const put = (title: string, number: number, music: string, fifths = -2) =>
    band.director.json<{ lineId: string }>(
      "POST",
      `/api/lines?fileName=a.musicxml&number=${number}&introduces=${title}`,
      new TextEncoder().encode(writeMusicXml(line(music, { fifths, title }))),
    );
  await put("Plain Sailing", 21, "Bb4:1 C5:1 D5:2 | Eb5:2 D5:2 | Bb4:4");
  await put("Two by Two", 22, "Bb4:1/2 C5:1/2 D5:1 Eb5:2 | D5:2 C5:2 | Bb4:4");
  await put("Far Shore", 23, "Eb5:1 F5:1 G5:2 | Ab5:2 G5:2 | Eb5:4", -3);
  const lines = desk.locator("tbody tr");
  await visit("/shelf");
  await expect(lines).toHaveCount(4);
  await desk.getByLabel("Concert key").selectOption("B♭ major");
  await desk.getByLabel("Without").selectOption("eighth");
  await expect(desk.getByText("2 of 4 lines")).toBeVisible();
  await desk.getByRole("button", { name: "show all" }).click();
  await desk.getByLabel("Ready").selectOption("everybody");
  await expect(lines).toHaveText([/Tide Tables/, /Plain Sailing/]);
  await desk.getByRole("button", { name: "show all" }).click();
  await desk.getByLabel("Brings new").selectOption("A♭");
  await expect(lines).toHaveText([/Far Shore/]);
  await desk.getByRole("button", { name: "show all" }).click();
  await desk.getByLabel("Find").fill("23 far");
  await expect(lines).toHaveCount(1);
  await desk.getByLabel("Find").fill("no such line");
  await expect(desk.getByText("No line fits. Leave out one of the conditions above.")).toBeVisible();
  await desk.getByLabel("Find").fill("");
  // Several files at once: what can be read comes in, what cannot is named with its line and reason.
  await desk.getByLabel("Music files").setInputFiles([
    {
      name: "gulls.abc",
      mimeType: "text/plain",
      buffer: Buffer.from("X:1\nT:Gull Rock\nM:3/4\nL:1/4\nK:Bb\nB c d|e2 d|B3|"),
    },
    {
      name: "blotted.abc",
      mimeType: "text/plain",
      buffer: Buffer.from("X:1\nT:Blotted\nM:3/4\nL:1/4\nK:Bb\nB c @@@|"),
    },
    {
      name: "copy.musicxml",
      mimeType: "text/xml",
      buffer: Buffer.from(writeMusicXml(line("Bb4:4 | C5:4", { title: "Slipway" }))),
    },
  ]);
  await desk.getByRole("button", { name: "Put 3 on the shelf" }).click();
  await expect(desk.getByRole("heading", { name: "2 lines on the shelf" })).toBeVisible();
  await expect(desk.getByRole("alert")).toContainText(
    'blotted.abc was not imported. Line 6: "@@@|" cannot be read.',
  );
  await desk.getByRole("link", { name: "Show the shelf" }).click();
  await expect(lines).toHaveCount(6);
  await expect(desk.getByRole("row", { name: /Gull Rock/ })).toContainText("3/4");
  await desk.getByRole("link", { name: "Far Shore" }).click();
  await expect(
    desk.getByText("0 of 7 players meet no new note or rhythm and nothing out of range."),
  ).toBeVisible();
  const row = desk.getByRole("row", { name: /Flute/ });
  await expect(row).toContainText("G5");
  await expect(row).toContainText("A♭5");
  await expect(desk.getByRole("columnheader", { name: "its key" })).toBeVisible();
  await row.getByRole("button", { name: "Flute" }).click();
  await expect(desk.getByText("Flute: E♭ major")).toBeVisible();
  await expect(desk.getByText(/Difficulty \d\.\d:/)).toBeVisible();
  await desk.getByRole("button", { name: "Bars", exact: true }).click();
  await expect(desk.getByRole("heading", { name: "Same and different bars" })).toBeVisible();
  const { violations } = await new AxeBuilder({ page: desk }).withTags(["wcag2a", "wcag2aa"]).analyze();
  expect(violations.map((violation) => `${violation.id}: ${violation.nodes[0]?.html}`)).toEqual([]);
});

test("a full score is sorted before it is stored, and noticed when it comes again", async () => {
  await visit("/shelf");
  const score = "tests/reference/files/72a-TransposingInstruments.xml";
  await desk.getByLabel("Music files").setInputFiles(score);
  await desk.getByRole("button", { name: "Put it on the shelf" }).click();
  await expect(desk.getByRole("heading", { name: /^3 parts in/ })).toBeVisible();
  await expect(desk.getByLabel("What becomes of Trumpet in Bb")).toHaveValue("line");
  await expect(desk.getByLabel("What becomes of Horn in Eb")).toHaveValue("horn");
  await desk.getByLabel("What becomes of Piano").selectOption("leave it out");
  await desk.getByRole("button", { name: "Put it on the shelf" }).click();
  await expect(desk.getByRole("heading", { name: "On the shelf" })).toBeVisible();
  const href = await desk.getByRole("link", { name: "Open the line" }).getAttribute("href");
  const { line: stored } = await band.director.json<{
    line: { parts: { name: string; forInstruments: string[] }[] };
  }>("GET", `/api/lines/${href!.split("/").at(-1)}`);
  expect(stored.parts.map((part) => [part.name, part.forInstruments])).toEqual([
    ["Trumpet in Bb", []],
    ["Horn in Eb", ["horn"]],
  ]);
  await visit("/shelf");
  await desk.getByLabel("Music files").setInputFiles(score);
  await desk.getByRole("button", { name: "Put it on the shelf" }).click();
  await expect(desk.getByText("A file of this name is on the shelf already")).toBeVisible();
});

test("150 players are added, shown and given a line without a stumble", async () => {
  test.setTimeout(180_000);
  const { players: here } = await band.director.json<{ players: unknown[] }>("GET", "/api/players");
  for (let i = here.length; i < 150; i++)
    await band.director.json("POST", "/api/players", {
      name: `Player Number ${i + 1}`,
      instruments: ["clarinet"],
      stage: "five-notes",
      groupIds: [],
    });
  await visit("/band");
  await expect(desk.getByRole("row")).toHaveCount(151);
  await visit("/shelf");
  await desk.getByRole("link", { name: "Tide Tables" }).click();
  await desk.getByLabel("To", { exact: true }).selectOption(assignmentGroup);
  await desk.getByRole("button", { name: "Put it on their stands" }).click();
  // The group has it already, and that is said before it is given a second time.
  await expect(desk.getByText(/has this line already/)).toBeVisible();
  await desk.getByRole("button", { name: "Give it all the same" }).click();
  await expect(desk.getByText("It is on 150 stands now.")).toBeVisible();
  await visit("/week");
  await expect(desk.getByText("150 players to hear from")).toBeVisible();
  await visit("/growth");
  await expect(desk.getByRole("row")).toHaveCount(151);
  const { violations } = await new AxeBuilder({ page: desk }).withTags(["wcag2a", "wcag2aa"]).analyze();
  expect(violations.map((violation) => violation.id)).toEqual([]);
});

test("clean takes are accepted together after a sample, taken back, and one that was another line is moved", async () => {
  const { part } = partFor(tune, "flute", "small-tunes");
  const { groupId } = await band.director.json<{ groupId: string }>("POST", "/api/groups", { name: "Clean" });
  const people = [];
  const sent: string[] = [];
  for (const name of ["Eve Clean", "Fay Clean", "Gus Clean", "Hal Clean", "Ida Clean"])
    people.push(await makePlayer(application, band, name, "flute", "small-tunes", [groupId]));
  await giveTune(groupId);
  for (const [i, { person }] of people.entries()) {
    const { tasks } = await person.json<{ tasks: { id: string }[] }>("GET", "/api/stand");
    const sound = writeWav(recordTake(part, "flute", 96, steadyHabits, ROOM, 50 + i).pcm);
    sent.push(await sendTake(person, tasks[0]!.id, sound));
  }
  const clean = () => band.director.json<{ takeIds: string[] }>("GET", "/api/takes/together");
  await until(async () => (await Promise.all(sent.map(heard))).every(Boolean));
  // What the tests before left is among them.
  const all = (await clean()).takeIds.length;
  expect(all).toBeGreaterThanOrEqual(5);
  await visit("/listen?need=clean");
  const together = desk.getByTestId("clean-together");
  // The samples were heard in the tests before; one more is heard, the others go with it.
  await desk.keyboard.press(" ");
  await desk.keyboard.press("Enter");
  await together.getByRole("button", { name: `Accept these ${all - 1}` }).click();
  await expect(desk.getByText(`${all - 1} clean takes accepted together`)).toBeVisible();
  expect((await clean()).takeIds).toEqual([]);
  await desk.keyboard.press("u");
  await expect(async () => expect((await clean()).takeIds).toHaveLength(all - 1)).toPass({ timeout: 10_000 });
  // Given once more, one of them turns out to be of the other task: it moves there and is heard again.
  await giveTune(groupId);
  const takeId = sent.at(-1);
  await visit(`/listen?take=${takeId}`);
  await desk.getByRole("button", { name: "It was another line" }).click();
  await desk.getByLabel("The line it was").selectOption({ index: 1 });
  await desk.getByRole("button", { name: "Move it there" }).click();
  await until(() => heard(takeId!));
});

/** In the page: records sound through MediaRecorder as WebM with Opus, as a phone's browser does. */
async function compress({
  samples,
  sampleRate,
}: {
  samples: number[];
  sampleRate: number;
}): Promise<number[]> {
  const context = new AudioContext();
  await context.resume();
  const buffer = context.createBuffer(1, samples.length, sampleRate);
  buffer.copyToChannel(Float32Array.from(samples), 0);
  const source = context.createBufferSource();
  source.buffer = buffer;
  const out = context.createMediaStreamDestination();
  source.connect(out);
  const recorder = new MediaRecorder(out.stream, {
    mimeType: "audio/webm;codecs=opus",
    audioBitsPerSecond: 24000,
  });
  const chunks: Blob[] = [];
  recorder.ondataavailable = (event) => chunks.push(event.data);
  const ended = new Promise((resolve) => {
    source.onended = resolve;
  });
  recorder.start();
  source.start();
  await ended;
  const stopped = new Promise((resolve) => {
    recorder.onstop = resolve;
  });
  recorder.stop();
  await stopped;
  return [...new Uint8Array(await new Blob(chunks).arrayBuffer())];
}

/** The same Opus packets in an Ogg file, as other phones save them. */
async function inOgg(webm: Uint8Array): Promise<Uint8Array> {
  const {
    BufferSource,
    BufferTarget,
    EncodedAudioPacketSource,
    EncodedPacketSink,
    Input,
    OggOutputFormat,
    Output,
    WEBM,
  } = await import("mediabunny");
  const track = (await new Input({
    formats: [WEBM],
    source: new BufferSource(webm),
  }).getPrimaryAudioTrack())!;
  const output = new Output({ format: new OggOutputFormat(), target: new BufferTarget() });
  const packets = new EncodedAudioPacketSource("opus");
  output.addAudioTrack(packets);
  await output.start();
  const decoderConfig = (await track.getDecoderConfig())!;
  for await (const packet of new EncodedPacketSink(track).packets())
    await packets.add(packet, { decoderConfig });
  await output.finalize();
  return new Uint8Array(output.target.buffer!);
}

test("what a device left out is a hole in the strings, and neither right nor wrong", async () => {
  const { part } = partFor(tune, "flute", "small-tunes");
  const { pcm } = recordTake(part, "flute", 96, steadyHabits, ROOM, 21);
  const gap = { fromSec: 4, toSec: 6 };
  pcm.samples.fill(0, gap.fromSec * pcm.sampleRate, gap.toSec * pcm.sampleRate);
  const { person, taskId } = players[2]!;
  const id = await sendTake(person, taskId, writeWav(pcm), [gap]);
  await until(() => heard(id));
  await visit(`/listen?take=${id}`);
  await expect(
    desk.getByText(/The player's device left out 2.0 s of sound: what is missing in bars? /),
  ).toBeVisible();
  // One hole in each of the three strings; no bead hangs in it.
  const holes = desk.locator("[data-left-out]");
  await expect(holes.first()).toBeAttached();
  await expect(holes).toHaveCount(3);
  const placed = await holes.evaluateAll((all) =>
    all.map((hole) => {
      const { left, right, top, bottom } = hole.getBoundingClientRect();
      const inside = [...hole.parentElement!.querySelectorAll("circle, path, rect")].filter((bead) => {
        const box = bead.getBoundingClientRect();
        const [x, y] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
        return x > left && x < right && y > top - 12 && y < bottom + 12;
      });
      return inside.length;
    }),
  );
  expect(placed).toEqual(placed.map(() => 0));
});
