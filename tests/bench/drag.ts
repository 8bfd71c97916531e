import { chromium, type Page } from "@playwright/test";
import { DEMO } from "../../demo/band";
import playwrightConfig from "../../playwright.config";
import { addDays } from "../../src/core/calendar";
import { mondayOf } from "../../src/core/plan";
import { today } from "../../src/services/calendar";
import { Person } from "../support/application";
import { median, quantile, type Row } from "./statistics";

const STRIPS = 300;
const WEEKS_AHEAD = 4;
const DRAG_SEC = 4;
/** A picture that comes later than this has dropped at least one at 60 a second. */
const LONG_MS = 25;

/** Two weeks with 300 strips: pictures a second while one is dragged across them, against the page left alone. */
export async function benchDrag(base: string): Promise<Row[]> {
  const director = new Person(base);
  await director.json("POST", "/api/sign-in/director", { email: DEMO.email, password: DEMO.password });
  const monday = addDays(mondayOf(today(DEMO.timeZone)), 7 * WEEKS_AHEAD);
  await plan(director, monday);
  const browser = await chromium.launch(playwrightConfig.use!.launchOptions);
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.request.post(`${base}/api/sign-in/director`, {
    data: { email: DEMO.email, password: DEMO.password },
    headers: { Origin: base },
  });
  await page.goto(`${base}/week?of=${monday}&weeks=2`);
  await page.waitForFunction(() => !document.querySelector("astro-island[ssr]"));
  const strip = page.locator("[data-strip]").first();
  await strip.scrollIntoViewIfNeeded();
  const from = (await strip.boundingBox())!;
  const still = await pictures(page, async () => {
    await page.waitForTimeout(1000 * DRAG_SEC);
  });
  await page.mouse.move(from.x + 20, from.y + 8);
  await page.mouse.down();
  const dragged = await pictures(page, async () => {
    const end = performance.now() + 1000 * DRAG_SEC;
    for (let step = 0; performance.now() < end; step++) {
      const turn = step / 40;
      await page.mouse.move(640 + 480 * Math.sin(turn), 420 + 300 * Math.sin(1.7 * turn));
    }
  });
  await page.mouse.up();
  await browser.close();
  const long = (times: number[]) => times.filter((ms) => ms > LONG_MS).length;
  return [
    [
      `a strip dragged across ${STRIPS} strips for ${DRAG_SEC} s, between two pictures`,
      `${median(dragged).toFixed(1)} ms`,
      `p95 ${quantile(dragged, 0.95).toFixed(1)} ms, ${long(dragged)} of ${dragged.length} over ${LONG_MS} ms`,
      `left alone ${median(still).toFixed(1)} ms, ${long(still)} of ${still.length}`,
    ],
  ];
}

/** Milliseconds between the pictures the page shows while something is done. */
async function pictures(page: Page, work: () => Promise<void>): Promise<number[]> {
  await page.evaluate(() => {
    const times: number[] = [];
    Object.assign(window, { pictureTimes: times, counting: true });
    const tick = (at: number) => {
      times.push(at);
      if ((window as unknown as { counting: boolean }).counting) requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  });
  await work();
  const times = await page.evaluate(() => {
    const kept = window as unknown as { counting: boolean; pictureTimes: number[] };
    kept.counting = false;
    return kept.pictureTimes;
  });
  return times.slice(1).map((at, i) => at - times[i]!);
}

async function plan(director: Person, monday: string): Promise<void> {
  const { groups } = await director.json<{ groups: { id: string }[] }>("GET", "/api/players");
  const { lines } = await director.json<{ lines: { id: string; title: string }[] }>("GET", "/api/lines");
  const { strips: there } = await director.json<{ strips: unknown[] }>(
    "GET",
    `/api/plan/strips?of=${monday}`,
  );
  if (there.length >= STRIPS / 2) return;
  const strips = Array.from({ length: STRIPS }, (_, i) => ({
    id: crypto.randomUUID(),
    groupId: groups[i % groups.length]!.id,
    where: i % 2 === 0 ? "class" : "home",
    forWhom: { kind: "everyone" },
    date: addDays(monday, 7 * (i % 4 < 2 ? 0 : 1) + (Math.floor(i / 4) % 5)),
    place: i,
    kind: "line",
    refId: lines[i % lines.length]!.id,
    title: lines[i % lines.length]!.title,
    minutes: 2,
    firstBar: null,
    lastBar: null,
    reason: null,
  }));
  for (let at = 0; at < STRIPS; at += 100)
    await director.json("PUT", "/api/plan/strips", {
      since: 0,
      changes: strips.slice(at, at + 100).map((strip) => ({ id: strip.id, basis: null, strip })),
    });
}
