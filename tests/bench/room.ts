import { readdirSync, readFileSync } from "node:fs";
import { type CDPSession, chromium, type Page } from "@playwright/test";
import { DEMO } from "../../demo/band";
import playwrightConfig from "../../playwright.config";
import { addDays } from "../../src/core/calendar";
import type { RoomNews } from "../../src/services/room/wire";
import type { WeekView } from "../../src/services/week/schema";
import { Person } from "../support/application";
import { median, quantile, type Row } from "./statistics";

const ROOMS = 12;
/** Each phone presses so often, at its own moments. */
const PRESSES = 20;
const BETWEEN_MS = 1_500;
/** Starts and stops, blocks and bars of an hour of class. */
const AN_HOUR = 300;

const ms = (value: number) => `${value.toFixed(0)} ms`;

/** Twelve lessons at once with a phone each, a wall in a real browser, and an hour of class on it. */
export async function benchRoom(base: string): Promise<Row[]> {
  const director = new Person(base);
  const account = { email: DEMO.email, password: DEMO.password };
  await director.json("POST", "/api/sign-in/director", account);
  const rooms = await twelveRooms(director);
  const rows = [await benchTwelve(director, rooms)];
  const { launchOptions } = playwrightConfig.use!;
  const browser = await chromium.launch({
    ...launchOptions,
    args: [
      ...launchOptions!.args!,
      "--autoplay-policy=no-user-gesture-required",
      "--enable-precise-memory-info",
    ],
  });
  try {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    await context.request.post(`${base}/api/sign-in/director`, { headers: { Origin: base }, data: account });
    const wall = await context.newPage();
    await wall.goto(`${base}/room/${rooms[0]}`);
    await wall.getByRole("heading", { level: 1 }).waitFor();
    rows.push(
      await benchWall(wall, director, rooms[0]!),
      await benchHour(wall, await context.newCDPSession(wall)),
    );
  } finally {
    await browser.close();
  }
  return rows;
}

/** Lessons of the next weeks, as many as there are to be. */
async function twelveRooms(director: Person): Promise<string[]> {
  const { today, items } = await director.json<WeekView>("GET", "/api/assignments");
  const groups = new Set(items.map(({ groupId }) => groupId));
  const rooms: string[] = [];
  for (let day = 0; day < 40 && rooms.length < ROOMS; day++)
    for (const groupId of groups) {
      const response = await director.send("POST", "/api/room", { groupId, date: addDays(today, day) });
      if (response.ok) rooms.push(((await response.json()) as { id: string }).id);
    }
  return rooms.slice(0, ROOMS);
}

interface Listener {
  heard: Map<number, number>;
  close: () => Promise<void>;
}

/** What a wall hears, and when. */
async function listen(director: Person, roomId: string): Promise<Listener> {
  const response = await director.send("GET", `/api/room/${roomId}/stream?told=0`);
  const reader = response.body!.getReader();
  const heard = new Map<number, number>();
  const text = new TextDecoder();
  void (async () => {
    for (let chunk = await reader.read(); !chunk.done; chunk = await reader.read())
      for (const [, data] of text.decode(chunk.value).matchAll(/^data: (.*)$/gm))
        for (const { seq } of (JSON.parse(data!) as RoomNews).told ?? []) heard.set(seq, performance.now());
  })().catch(() => undefined);
  return { heard, close: () => reader.cancel().catch(() => undefined) };
}

async function benchTwelve(director: Person, rooms: readonly string[]): Promise<Row> {
  const walls = await Promise.all(rooms.map((id) => listen(director, id)));
  const waits: number[] = [];
  const before = cpuSeconds();
  const began = performance.now();
  await Promise.all(
    rooms.map(async (roomId, i) => {
      await pause((BETWEEN_MS * i) / rooms.length);
      for (let n = 0; n < PRESSES; n++) {
        const pressed = performance.now();
        const { seq } = await director.json<{ seq: number }>("POST", `/api/room/${roomId}/commands`, {
          id: crypto.randomUUID(),
          command: { kind: "tempo", bpm: 60 + n },
        });
        await pause(BETWEEN_MS);
        waits.push((walls[i]!.heard.get(seq) ?? Number.POSITIVE_INFINITY) - pressed);
      }
    }),
  );
  const seconds = (performance.now() - began) / 1000;
  const share = (cpuSeconds() - before) / seconds;
  await Promise.all(walls.map(({ close }) => close()));
  return [
    `${rooms.length} lessons, a phone each pressing every ${BETWEEN_MS / 1000} s: from the press to the wall's stream`,
    ms(median(waits)),
    `p95 ${ms(quantile(waits, 0.95))}; ${waits.filter((wait) => wait === Number.POSITIVE_INFINITY).length} of ${waits.length} lost`,
    `150 ms; the server takes ${(100 * share).toFixed(0)} % of a core`,
  ];
}

/** From the press on a phone to the changed wall, in a real browser. */
async function benchWall(wall: Page, director: Person, roomId: string): Promise<Row> {
  const waits: number[] = [];
  await wall.keyboard.press("ArrowRight");
  while ((await wall.getByTestId("wall-tempo").count()) === 0) await wall.keyboard.press("ArrowRight");
  for (let n = 0; n < 60; n++) {
    const bpm = 61 + (n % 40);
    const shown = wall.evaluate(
      (text) =>
        new Promise<number>((resolve) => {
          const look = () => {
            if (document.querySelector("[data-testid=wall-tempo]")?.textContent !== text) return false;
            resolve(Date.now());
            return true;
          };
          const watcher = new MutationObserver(() => look() && watcher.disconnect());
          watcher.observe(document.body, { subtree: true, childList: true, characterData: true });
          if (look()) watcher.disconnect();
        }),
      `♩ ${bpm}`,
    );
    const pressed = Date.now();
    await director.json("POST", `/api/room/${roomId}/commands`, {
      id: crypto.randomUUID(),
      command: { kind: "tempo", bpm },
    });
    waits.push((await shown) - pressed);
    await pause(100 + ((n * 37) % 90));
  }
  return [
    "from the press to the changed wall, in Chromium",
    ms(median(waits)),
    `p95 ${ms(quantile(waits, 0.95))}`,
    "150 ms",
  ];
}

/** Memory of the wall over an hour's starts, stops, bars, views and blocks. */
async function benchHour(wall: Page, devtools: CDPSession): Promise<Row> {
  const used = async () => {
    await devtools.send("HeapProfiler.collectGarbage");
    const { usedSize } = await devtools.send("Runtime.getHeapUsage");
    return usedSize / 1e6;
  };
  const cycle = async (n: number) => {
    await wall.keyboard.press(" ");
    await wall.keyboard.press("v");
    await pause(120);
    await wall.keyboard.press(" ");
    await wall.keyboard.type(String(1 + (n % 2)));
    await wall.keyboard.press("Enter");
    if (n % 10 === 9) await wall.keyboard.press(n % 20 === 9 ? "ArrowRight" : "ArrowLeft");
  };
  for (let n = 0; n < AN_HOUR / 10; n++) await cycle(n);
  const early = await used();
  for (let n = AN_HOUR / 10; n < AN_HOUR; n++) await cycle(n);
  const late = await used();
  return [
    `memory of the wall after ${AN_HOUR / 10} starts and after ${AN_HOUR}`,
    `${early.toFixed(1)} and ${late.toFixed(1)} MB`,
    `${(late - early).toFixed(1)} MB more`,
    "flat over an hour of class",
  ];
}

/** Processor time of the web server so far, seconds. */
function cpuSeconds(): number {
  const ticks = readdirSync("/proc")
    .filter((name) => /^\d+$/.test(name))
    .flatMap((pid) => {
      try {
        if (!readFileSync(`/proc/${pid}/cmdline`, "utf8").includes("dist/web.mjs")) return [];
        const fields = readFileSync(`/proc/${pid}/stat`, "utf8").split(") ")[1]!.split(" ");
        return [Number(fields[11]) + Number(fields[12])];
      } catch {
        // It ended while it was looked at.
        return [];
      }
    });
  return ticks.reduce((sum, each) => sum + each, 0) / 100;
}

const pause = (wait: number) => new Promise((resolve) => setTimeout(resolve, wait));
