import { readFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { chromium } from "@playwright/test";
import { DEMO, PLAYERS } from "../../demo/band";
import playwrightConfig from "../../playwright.config";
import { engraveShorthand, LINES } from "../../src/core/book";
import { addDays } from "../../src/core/calendar";
import { mondayOf } from "../../src/core/plan";
import { writeMusicXml } from "../../src/core/score";
import { today } from "../../src/services/calendar";
import { Person } from "../support/application";
import { median, quantile, type Row } from "./statistics";
import { benchVisitors } from "./visitors";

const VISITS = 60;
const CLIENT = "dist/site/client";

async function people(base: string): Promise<{ director: Person; student: Person }> {
  const director = new Person(base);
  await director.json("POST", "/api/sign-in/director", { email: DEMO.email, password: DEMO.password });
  const card = PLAYERS.find((player) => player.words)!;
  const student = new Person(base);
  await student.json("POST", "/api/sign-in/student", {
    classCode: DEMO.classCode,
    name: card.name,
    words: card.words,
  });
  return { director, student };
}

/** Server time of the main pages with the demo band, as the server itself states it, against the 404 page. */
export async function benchPages(base: string): Promise<Row[]> {
  const { director, student } = await people(base);
  const plain = median(await serverTimes(director, "/nothing-here"));
  const rows: Row[] = [];
  const pages = [
    ["/week", director],
    ["/listen", director],
    ["/shelf", director],
    ["/growth", director],
    ["/band", director],
    ["/stand", student],
  ] as const;
  for (const [path, who] of pages) {
    const times = await serverTimes(who, path);
    rows.push([
      `page ${path}, server`,
      `${median(times).toFixed(1)} ms`,
      `p95 ${quantile(times, 0.95).toFixed(1)} ms`,
      `${(median(times) / plain).toFixed(1)} x an empty page`,
    ]);
  }
  return [...rows, ...(await benchVisitors(pages))];
}

async function serverTimes(who: Person, path: string): Promise<number[]> {
  const times: number[] = [];
  for (let visit = 0; visit < VISITS + 5; visit++) {
    const time = await serverTime(who, path);
    if (visit >= 5) times.push(time);
  }
  return times;
}

const BIG_SHELF = 2000;
const KEYS_TYPED = "harbour";

/** The shelf with 2,000 lines: what the server takes, when the page is at work, and how long a typed letter takes to show. */
export async function benchBigShelf(base: string): Promise<Row[]> {
  const { director } = await people(base);
  const { lines } = await director.json<{ lines: unknown[] }>("GET", "/api/lines");
  for (let i = lines.length; i < BIG_SHELF; i++) {
    const book = LINES[i % LINES.length]!;
    const score = { ...engraveShorthand(book), title: `${book.title} ${i}` };
    const about = new URLSearchParams({ fileName: "bench", number: String(1 + (i % 900)) });
    await director.json("POST", `/api/lines?${about}`, new TextEncoder().encode(writeMusicXml(score)));
  }
  const first = await serverTime(director, "/shelf");
  const later: number[] = [];
  for (let visit = 0; visit < 5; visit++) later.push(await serverTime(director, "/shelf"));
  const again = median(later);
  const browser = await chromium.launch(playwrightConfig.use!.launchOptions);
  const page = await browser.newPage();
  await page.request.post(`${base}/api/sign-in/director`, {
    data: { email: DEMO.email, password: DEMO.password },
    headers: { Origin: base },
  });
  const start = performance.now();
  await page.goto(`${base}/shelf`);
  await page.waitForFunction(() => !document.querySelector("astro-island[ssr]"));
  const atWork = performance.now() - start;
  const find = page.getByLabel("Find");
  const keys: number[] = [];
  for (const key of KEYS_TYPED) {
    await find.focus();
    keys.push(
      await page.evaluate(async (letter) => {
        const field = document.activeElement as HTMLInputElement;
        const from = performance.now();
        const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")!.set!;
        set.call(field, field.value + letter);
        field.dispatchEvent(new Event("input", { bubbles: true }));
        await new Promise((done) => requestAnimationFrame(() => setTimeout(done)));
        return performance.now() - from;
      }, key),
    );
  }
  await browser.close();
  return [
    [
      "page /shelf with 2,000 lines, server",
      `${again.toFixed(0)} ms`,
      `the first after a start ${first.toFixed(0)} ms`,
      "–",
    ],
    ["the same page at work in the browser", `${atWork.toFixed(0)} ms`, "one visit", "–"],
    [
      "a letter typed into its search field, to the next picture",
      `${median(keys).toFixed(0)} ms`,
      `longest ${Math.max(...keys).toFixed(0)} ms`,
      "–",
    ],
  ];
}

const BIG_BAND = 150;

/**
 * The same shelf with 150 players of whom hardly two know the same: server time right after somebody's knowledge changed,
 * and while it stays as it is. Asked for after `benchBigShelf`.
 */
export async function benchBigBand(base: string): Promise<Row[]> {
  const { director } = await people(base);
  const { players } = await director.json<{ players: { id: string }[] }>("GET", "/api/players");
  const instruments = [
    "flute",
    "oboe",
    "clarinet",
    "bass clarinet",
    "alto sax",
    "tenor sax",
    "trumpet",
    "horn",
    "trombone",
    "tuba",
  ];
  const rows = Array.from(
    { length: BIG_BAND - players.length },
    (_, i) => `Bench Player${i}\t${instruments[i % instruments.length]}\tsmall tunes`,
  );
  const started = performance.now();
  await director.json("POST", "/api/roster", { text: `Name\tInstrument\tStage\n${rows.join("\n")}` });
  const imported = performance.now() - started;
  const all = await director.json<{ players: { id: string; instruments: string[] }[] }>(
    "GET",
    "/api/players",
  );
  const teach = (index: number, midi: number) => {
    const {
      id,
      instruments: [instrumentId],
    } = all.players[index % all.players.length]!;
    return director.json("POST", "/api/teachings", {
      playerId: id,
      instrumentId,
      things: [{ kind: "note", thing: String(midi) }],
      on: "2026-01-01",
    });
  };
  for (let i = 0; i < all.players.length; i++) await teach(i, 55 + (i % 24));
  const first = await serverTime(director, "/shelf");
  const changed: number[] = [];
  const same: number[] = [];
  for (let round = 0; round < 20; round++) {
    await teach(round * 7, 40 + round);
    changed.push(await serverTime(director, "/shelf"));
    for (let i = 0; i < 3; i++) same.push(await serverTime(director, "/shelf"));
  }
  const ms = (value: number) => `${value.toFixed(0)} ms`;
  return [
    ["a list of players brought in, 150 in all", ms(imported), "one run", "–"],
    [
      "page /shelf with 2,000 lines and 150 players, server",
      ms(median(same)),
      `p95 ${ms(quantile([...same, ...changed], 0.95))} with a change every fourth visit`,
      `the first ${ms(first)}`,
    ],
    [
      "the same right after one player learned a note",
      ms(median(changed)),
      `longest ${ms(Math.max(...changed))}`,
      "–",
    ],
    ["page /band with 150 players, server", ms(median(await serverTimes(director, "/band"))), "–", "–"],
    await benchFullTerm(director),
  ];
}

const TERM_STRIPS = 1000;
/** As many as one save takes. */
const STRIPS_AT_ONCE = 250;

/** The week in the middle of a term with 1,000 strips, after 2,000 lines and 150 players were added. */
async function benchFullTerm(director: Person): Promise<Row> {
  const { groups } = await director.json<{ groups: { id: string }[] }>("GET", "/api/players");
  const { lines } = await director.json<{ lines: { id: string; title: string }[] }>("GET", "/api/lines");
  const monday = mondayOf(today("UTC"));
  const strips = Array.from({ length: TERM_STRIPS }, (_, i) => ({
    id: crypto.randomUUID(),
    groupId: groups[i % groups.length]!.id,
    where: "class",
    forWhom: { kind: "everyone" },
    date: addDays(monday, 7 * ((i % 16) - 8) + (Math.floor(i / 16) % 5)),
    place: 1000 + i,
    kind: "line",
    refId: lines[i % lines.length]!.id,
    title: lines[i % lines.length]!.title,
    minutes: 4,
    firstBar: null,
    lastBar: null,
    reason: null,
  }));
  for (let at = 0; at < strips.length; at += STRIPS_AT_ONCE)
    await director.json("PUT", "/api/plan/strips", {
      since: 0,
      changes: strips.slice(at, at + STRIPS_AT_ONCE).map((strip) => ({ id: strip.id, basis: null, strip })),
    });
  const times = await serverTimes(director, "/week");
  return [
    "page /week with 2,000 lines, 150 players and 1,000 strips, server",
    `${median(times).toFixed(0)} ms`,
    `p95 ${quantile(times, 0.95).toFixed(0)} ms`,
    "–",
  ];
}

async function serverTime(who: Person, path: string): Promise<number> {
  const response = await who.send("GET", path);
  await response.arrayBuffer();
  return Number(/total;dur=([\d.]+)/.exec(response.headers.get("server-timing") ?? "")?.[1]);
}

/** JavaScript that each page brings, every import followed, gzipped; workers and what loads on a click are left out. */
export async function benchIslands(base: string): Promise<Row[]> {
  const { director, student } = await people(base);
  const rows: Row[] = [];
  for (const [path, who] of [
    ["/sign-in", new Person(base)],
    ["/week", director],
    ["/shelf", director],
    ["/listen", director],
    ["/shelf/write", director],
    ["/growth", director],
    ["/band", director],
    ["/stand", student],
  ] as const) {
    const html = await (await who.send("GET", path)).text();
    const entries = [...html.matchAll(/(?:component-url|renderer-url|src)="(\/_astro\/[^"]+\.js)"/g)].map(
      (match) => match[1]!,
    );
    const files = new Set<string>();
    for (const entry of entries) follow(entry, files);
    const bytes = [...files].reduce(
      (sum, file) => sum + gzipSync(readFileSync(join(CLIENT, file)), { level: 9 }).length,
      0,
    );
    rows.push([
      `page ${path}, JavaScript`,
      `${(bytes / 1000).toFixed(1)} kB gzip`,
      `${files.size} files`,
      "–",
    ]);
  }
  return rows;
}

function follow(file: string, seen: Set<string>): void {
  if (seen.has(file)) return;
  seen.add(file);
  const source = readFileSync(join(CLIENT, file), "utf8");
  for (const match of source.matchAll(/(?:from|import)\s*"(\.\/[^"]+\.js)"/g))
    follow(join(file, "..", match[1]!), seen);
}
