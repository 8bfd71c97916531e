import { readFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { DEMO, PLAYERS } from "../../demo/band";
import { Person } from "../support/application";
import { median, quantile, type Row } from "./statistics";

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
  for (const [path, who] of [
    ["/week", director],
    ["/listen", director],
    ["/shelf", director],
    ["/growth", director],
    ["/band", director],
    ["/stand", student],
  ] as const) {
    const times = await serverTimes(who, path);
    rows.push([
      `page ${path}, server`,
      `${median(times).toFixed(1)} ms`,
      `p95 ${quantile(times, 0.95).toFixed(1)} ms`,
      `${(median(times) / plain).toFixed(1)} x an empty page`,
    ]);
  }
  return rows;
}

async function serverTimes(who: Person, path: string): Promise<number[]> {
  const times: number[] = [];
  for (let visit = 0; visit < VISITS + 5; visit++) {
    const response = await who.send("GET", path);
    await response.arrayBuffer();
    if (visit >= 5)
      times.push(Number(/total;dur=([\d.]+)/.exec(response.headers.get("server-timing") ?? "")?.[1]));
  }
  return times;
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
