import { chromium, type Page } from "@playwright/test";
import { QueryTypes, type Sequelize } from "sequelize";
import { DEMO } from "../../demo/band";
import playwrightConfig from "../../playwright.config";
import { connect } from "../../src/data";
import type { TakeDetail } from "../../src/services/listening/wire";
import { findings } from "../../src/ui/wording";
import { Person } from "../support/application";
import { median, quantile, type Row } from "./statistics";

/** As many takes as the aim speaks of. */
const EVENING = 60;
/** A finding is heard from so long before it. */
const LEAD_SEC = 1;
/** So many findings of a take are heard and answered. */
const ANSWERED = 2;

const ms = (value: number) => `${value.toFixed(0)} ms`;

interface Heard {
  /** From the word on the take before to this one on screen; null for the first. */
  shownMs: number | null;
  /** From the key to its sound. */
  soundsMs: number;
  /** What there is to listen to in the findings that are answered. */
  listenSec: number;
  keys: number;
  causes: number;
}

async function signedIn(base: string): Promise<Person> {
  const director = new Person(base);
  await director.json("POST", "/api/sign-in/director", { email: DEMO.email, password: DEMO.password });
  return director;
}

/** A scripted director at the demo's queue, by keyboard alone in a real browser. */
export async function benchDesk(base: string): Promise<Row[]> {
  const director = await signedIn(base);
  const browser = await chromium.launch(playwrightConfig.use!.launchOptions);
  try {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    await context.request.post(`${base}/api/sign-in/director`, {
      headers: { Origin: base },
      data: { email: DEMO.email, password: DEMO.password },
    });
    await page.goto(`${base}/listen`, { waitUntil: "networkidle" });
    const heard: Heard[] = [];
    let wordAt: number | null = null;
    while (heard.length < EVENING && (await page.getByText("All heard").count()) === 0) {
      const shownMs = wordAt === null ? null : performance.now() - wordAt;
      const take = await hearOne(page, director);
      heard.push({ ...take, shownMs });
      wordAt = await sayWord(page, take.causes);
    }
    const shown = heard.flatMap(({ shownMs }) => shownMs ?? []);
    const sounding = heard.map(({ soundsMs }) => soundsMs);
    const mean = (of: (take: Heard) => number) =>
      heard.reduce((all, take) => all + of(take), 0) / heard.length;
    const toolSec = mean(({ shownMs, soundsMs }) => (shownMs ?? 0) + soundsMs) / 1000;
    const listenSec = mean(({ listenSec: sec }) => sec);
    const two = heard.filter(({ causes }) => causes >= ANSWERED).map(({ keys }) => keys);
    return [
      [
        "Listen: from a word to the next take on screen",
        ms(median(shown)),
        `p95 ${ms(quantile(shown, 0.95))}`,
        "aim 200 ms",
      ],
      [
        "Listen: from the key to the sound of a finding",
        ms(median(sounding)),
        `p95 ${ms(quantile(sounding, 0.95))}`,
        "aim 200 ms",
      ],
      [
        `Listen: keys for a take with two causes or more (${two.length} of ${heard.length} takes)`,
        String(median(two)),
        `most ${Math.max(...two)}`,
        "aim under six",
      ],
      [
        `Listen: ${EVENING} takes, two findings of each heard and answered`,
        `${((EVENING * (toolSec + listenSec)) / 60).toFixed(1)} min`,
        `a take ${toolSec.toFixed(2)} s of the tool and ${listenSec.toFixed(1)} s of listening`,
        "aim ten minutes; thinking and own words not in it",
      ],
    ];
  } finally {
    await browser.close();
  }
}

/** Hears the findings that are answered: N for each; a clean take is played. */
async function hearOne(page: Page, director: Person): Promise<Omit<Heard, "shownMs">> {
  const takeId = new URL(page.url()).searchParams.get("take") ?? (await firstTake(director));
  const { assessment, score } = await director.json<TakeDetail>("GET", `/api/takes/${takeId}`);
  const found = assessment ? findings(assessment, score) : [];
  const answered = found.slice(0, ANSWERED);
  const pressed = performance.now();
  await page.keyboard.press(found.length > 0 ? "n" : " ");
  await page.getByRole("button", { name: /^Pause/ }).waitFor();
  const soundsMs = performance.now() - pressed;
  let keys = 1;
  for (const { spots } of answered.slice(1)) {
    for (let place = 0; place < found[0]!.spots.length && spots.length > 0; place++) {
      // To the next finding past the places of the first.
      await page.keyboard.press("n");
      keys++;
    }
  }
  return {
    soundsMs,
    listenSec: answered.reduce(
      (sum, { spots: [first] }) => sum + LEAD_SEC + Math.min(3, first!.untilSec - first!.atSec),
      0,
    ),
    keys: keys + Math.min(ANSWERED, found.length) + 1,
    causes: found.length,
  };
}

async function firstTake(director: Person): Promise<string> {
  const { items } = await director.json<{ items: { takeId: string }[] }>("GET", "/api/takes");
  return items[0]!.takeId;
}

/** Puts the ready sentences in and says the word. @returns when it was said */
async function sayWord(page: Page, causes: number): Promise<number> {
  for (let sentence = 0; sentence < Math.min(ANSWERED, causes); sentence++)
    await page.keyboard.press(String(7 + sentence));
  const before = page.url();
  const said = performance.now();
  await page.keyboard.press(causes >= ANSWERED ? "a" : "Enter");
  await page.waitForFunction((url) => location.href !== url, before, { polling: 5 });
  return said;
}

/** So many takes wait in a large queue. */
const LARGE = 5000;
const ASKED = 60;

/** The queue with 5,000 takes: server time of its pages, in every order. Adds them to the demo band, so it runs last. */
export async function benchLargeQueue(base: string): Promise<Row[]> {
  // One connection: temporary tables belong to it.
  const db = connect(process.env.DATABASE_URL!, { poolSize: 1 });
  try {
    await fillQueue(db);
  } finally {
    await db.close();
  }
  const director = await signedIn(base);
  const rows: Row[] = [];
  for (const [name, path] of [
    ["worst first", "/api/takes"],
    ["by line, page ten", "/api/takes?order=line&after=540"],
    ["one instrument", "/api/takes?instrument=clarinet&order=player"],
    ["those that were heard", "/api/takes/heard"],
    ["what it can be narrowed to", "/api/takes/choices"],
  ] as const) {
    const times: number[] = [];
    for (let asked = 0; asked < ASKED; asked++) {
      const began = performance.now();
      await (await director.send("GET", path)).arrayBuffer();
      times.push(performance.now() - began);
    }
    rows.push([
      `Listen: queue of ${LARGE} takes, ${name}`,
      ms(median(times)),
      `p95 ${ms(quantile(times, 0.95))}`,
      "aim p95 under 80 ms",
    ]);
  }
  return rows;
}

/** Copies of every task of the demo band with takes, under ids made of the old one and a number, until so many wait. */
async function fillQueue(db: Sequelize): Promise<void> {
  const sent = "(SELECT * FROM tasks WHERE id IN (SELECT task_id FROM takes))";
  const [{ tasks }] = (await db.query(`SELECT COUNT(*) AS tasks FROM ${sent} t`, {
    type: QueryTypes.SELECT,
  })) as [{ tasks: number }];
  const copies = Math.ceil(LARGE / Number(tasks));
  const copied = (id: string) => `MD5(CONCAT(${id}, s.seq))`;
  const copy = async (table: string, changed: Record<string, string>, from: string) => {
    const columns = (await db.query(
      "SELECT column_name AS name FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = :table AND is_generated = 'NEVER'",
      { replacements: { table }, type: QueryTypes.SELECT },
    )) as { name: string }[];
    const names = columns.map(({ name }) => `\`${name}\``).join(", ");
    const values = columns.map(({ name }) => changed[name] ?? `o.\`${name}\``).join(", ");
    await db.query(
      `INSERT INTO ${table} (${names}) SELECT ${values} FROM ${from} o JOIN seq_1_to_${copies} s`,
    );
  };
  const takes = `(SELECT * FROM takes WHERE task_id IN (SELECT id FROM ${sent} t))`;
  const heard = `(SELECT * FROM assessments WHERE take_id IN (SELECT id FROM ${takes} k))`;
  // All of them are chosen before the first copy is there.
  for (const name of ["tasks", "takes", "assessments"])
    await db.query(
      `CREATE TEMPORARY TABLE old_${name} AS ${{ tasks: sent, takes, assessments: heard }[name]!.slice(1, -1)}`,
    );
  await copy(
    "assignments",
    { id: copied("o.id") },
    "(SELECT * FROM assignments WHERE id IN (SELECT assignment_id FROM old_tasks))",
  );
  await copy(
    "tasks",
    { id: copied("o.id"), assignment_id: copied("o.assignment_id"), state: "'sent'" },
    "old_tasks",
  );
  await copy("takes", { id: copied("o.id"), task_id: copied("o.task_id") }, "old_takes");
  await copy("assessments", { id: copied("o.id"), take_id: copied("o.take_id") }, "old_assessments");
}
