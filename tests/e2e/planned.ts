import type { Browser, Page } from "@playwright/test";
import { addDays } from "../../src/core/calendar";
import { mondayOf } from "../../src/core/plan";
import { writeMusicXml } from "../../src/core/score";
import { today } from "../../src/services/calendar";
import { type Application, makeBand, makePlayer, type Person, type TestBand } from "../support/application";
import { line } from "../support/music";
import { atWork, signInDirector } from "./support";

/** Monday of next week. */
export const NEXT = addDays(mondayOf(today("Europe/Lisbon")), 7);
export const label = (date: string) =>
  new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", month: "short", timeZone: "UTC" })
    .format(new Date(`${date}T12:00:00Z`))
    .replace(",", "");

/** A director signed in, on a laptop's screen. */
export async function directorsDesk(
  application: Application,
  browser: Browser,
  band: TestBand,
): Promise<Page> {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await signInDirector(page, application.url, band.directorEmail, band.password);
  return page;
}
export async function visitPage(application: Application, page: Page, path: string): Promise<void> {
  await page.goto(application.url + path);
  await atWork(page);
}
export async function addLine(
  director: Person,
  notes: string,
  title: string,
  number: number,
): Promise<string> {
  const { lineId } = await director.json<{ lineId: string }>(
    "POST",
    `/api/lines?fileName=${number}.musicxml`,
    new TextEncoder().encode(writeMusicXml(line(notes))),
  );
  await director.json("PUT", `/api/lines/${lineId}`, {
    title,
    number,
    page: null,
    introduces: "",
    book: "",
    teachingPlace: null,
    teachingReason: "",
  });
  return lineId;
}

/** A band with two players, two lines, and a class on Tuesday and Thursday. */
export async function bandWithTerm(
  application: Application,
): Promise<{ band: TestBand; flute: Person; words: string; lineIds: string[] }> {
  const band = await makeBand(application);
  const { person, words } = await makePlayer(application, band, "Fia Flute", "flute");
  await makePlayer(application, band, "Cleo Clarinet", "clarinet");
  const lineIds = [
    await addLine(band.director, "Bb4:2 C5:2 | D5:4", "Harbour Steps", 1),
    await addLine(band.director, "D5:2 C5:2 | Bb4:4", "Back to Quay", 2),
  ];
  await band.director.json("PUT", "/api/calendar", {
    version: 0,
    terms: [{ id: crypto.randomUUID(), name: "Term", from: addDays(NEXT, -70), to: addDays(NEXT, 70) }],
    shortDays: [],
    meetings: [
      {
        id: crypto.randomUUID(),
        groupId: band.groupId,
        pattern: { kind: "weekly", weekdays: [2, 4], everyWeeks: 1 },
        from: addDays(NEXT, -70),
        to: null,
        startsAt: "09:40",
        minutes: 40,
      },
    ],
    changes: [],
    goals: [],
  });
  return { band, flute: person, words, lineIds };
}
