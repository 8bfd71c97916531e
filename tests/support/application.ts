import { type ChildProcess, spawn } from "node:child_process";
import { createHash } from "node:crypto";
import { once } from "node:events";
import { mkdtempSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createConnection } from "mariadb";
import { CHUNK_BYTES } from "../../src/services/practice/wire";

/** An empty database of its own on the test server, and how to drop it again. */
export async function freshDatabase(): Promise<{ url: string; drop: () => Promise<void> }> {
  const base = process.env.TEST_DATABASE_URL;
  if (!base) throw new Error("Run the tests with bin/test: it starts the database they need");
  const name = `t_${process.pid}_${Math.random().toString(36).slice(2)}`;
  const run = async (sql: string) => {
    const connection = await createConnection(base);
    await connection.query(sql);
    await connection.end();
  };
  await run(`CREATE DATABASE ${name}`);
  const url = new URL(base);
  url.pathname = `/${name}`;
  return { url: url.toString(), drop: () => run(`DROP DATABASE ${name}`) };
}

export async function freePort(): Promise<number> {
  const server = createServer().listen(0, "127.0.0.1");
  await once(server, "listening");
  const { port } = server.address() as { port: number };
  server.close();
  return port;
}

export interface Application {
  url: string;
  databaseUrl: string;
  /** With settings of its own, for this start only. */
  startWeb(extra?: Record<string, string>): Promise<void>;
  stopWeb(signal?: NodeJS.Signals): Promise<void>;
  /** Process id of the web server. */
  webPid(): number;
  startWorker(): void;
  stopWorker(signal?: NodeJS.Signals): Promise<void>;
  ulu(args: string[], extra?: Record<string, string>): Promise<{ code: number; out: string; err: string }>;
  close(): Promise<void>;
}

/** The built application on a database, port and data folder of its own. */
export async function startApplication(): Promise<Application> {
  const database = await freshDatabase();
  const home = mkdtempSync(join(tmpdir(), "ulu-test-"));
  const port = await freePort();
  const url = `http://127.0.0.1:${port}`;
  const env = {
    ...process.env,
    DATABASE_URL: database.url,
    ULU_HOME: home,
    PORT: String(port),
    HOST: "127.0.0.1",
    TZ: "UTC",
    LOG_LEVEL: "warn",
  };
  let web: ChildProcess | undefined;
  let worker: ChildProcess | undefined;
  const end = async (child: ChildProcess | undefined, signal: NodeJS.Signals) => {
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    child.kill(signal);
    await once(child, "exit");
  };
  const application: Application = {
    url,
    databaseUrl: database.url,
    async startWeb(extra = {}) {
      web = spawn("node", ["dist/web.mjs"], {
        env: { ...env, ...extra },
        stdio: ["ignore", "ignore", "inherit"],
      });
      await until(async () => (await fetch(`${url}/sign-in`)).ok);
    },
    stopWeb: (signal = "SIGTERM") => end(web, signal),
    webPid: () => web!.pid!,
    startWorker() {
      worker = spawn("node", ["dist/ulu.mjs", "work"], { env, stdio: ["ignore", "ignore", "inherit"] });
    },
    stopWorker: (signal = "SIGTERM") => end(worker, signal),
    async ulu(args, extra = {}) {
      const child = spawn("node", ["dist/ulu.mjs", ...args], { env: { ...env, ...extra } });
      let [out, err] = ["", ""];
      child.stdout.on("data", (data) => (out += data));
      child.stderr.on("data", (data) => (err += data));
      const [code] = (await once(child, "close")) as [number];
      return { code, out, err };
    },
    async close() {
      await end(web, "SIGTERM");
      await end(worker, "SIGTERM");
      await database.drop();
      rmSync(home, { recursive: true, force: true });
    },
  };
  const migrated = await application.ulu(["migrate"]);
  if (migrated.code !== 0) throw new Error(migrated.err);
  return application;
}

/** Asks again until the answer is yes; gives up after a minute and a half, which a busy machine may need. */
export async function until(ask: () => Promise<boolean>): Promise<void> {
  const deadline = Date.now() + 90_000;
  for (;;) {
    const yes = await ask().catch(() => false);
    if (yes) return;
    if (Date.now() > deadline) throw new Error(`Still not true after 90 s: ${ask}`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

/** A signed-in person who speaks HTTP: a cookie jar and the right Origin. */
export class Person {
  private readonly jar = new Map<string, string>();
  constructor(private readonly base: string) {}

  async send(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Response> {
    const raw = body instanceof Uint8Array;
    const ask = () =>
      fetch(this.base + path, {
        method,
        redirect: "manual",
        headers: {
          Origin: this.base,
          Cookie: this.cookie(),
          ...(body === undefined || raw ? {} : { "Content-Type": "application/json" }),
          ...headers,
        },
        body: body === undefined ? null : raw ? (body as BodyInit) : JSON.stringify(body),
      });
    // A connection kept open may be closed by the server just as it is used again; a browser asks once more, and so do we.
    const response = await ask().catch((error: { cause?: { code?: string } }) => {
      if (error.cause?.code !== "UND_ERR_SOCKET") throw error;
      return ask();
    });
    for (const set of response.headers.getSetCookie()) {
      const [name, value] = set.split(";")[0]!.split("=") as [string, string];
      this.jar.set(name, value);
    }
    return response;
  }

  /** What this person's browser would send of itself. */
  cookie(): string {
    return [...this.jar].map(([name, value]) => `${name}=${value}`).join("; ");
  }

  async json<T>(method: string, path: string, body?: unknown): Promise<T> {
    const response = await this.send(method, path, body);
    const answer = (await response.json()) as T;
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${JSON.stringify(answer)}`);
    return answer;
  }
}

export interface TestBand {
  director: Person;
  directorEmail: string;
  password: string;
  classCode: string;
  groupId: string;
}

let bands = 0;

/** A band with its director, made by the command line and signed in over HTTP. */
export async function makeBand(application: Application): Promise<TestBand> {
  const [number, password] = [++bands, "a long test password"];
  const classCode = `TEST-${number}`;
  const directorEmail = `director${number}@band.example`;
  const made = await application.ulu(
    [
      "new-band",
      "--name",
      `Test Band ${number}`,
      "--town",
      "Testholm",
      "--code",
      classCode,
      "--zone",
      "Europe/Lisbon",
      "--director",
      "Dita Rector",
      "--email",
      directorEmail,
    ],
    { ULU_PASSWORD: password },
  );
  if (made.code !== 0) throw new Error(made.err);
  const director = new Person(application.url);
  await director.json("POST", "/api/sign-in/director", { email: directorEmail, password });
  const { groups } = await director.json<{ groups: { id: string }[] }>("GET", "/api/players");
  return { director, directorEmail, password, classCode, groupId: groups[0]!.id };
}

/** Adds a player, draws the card and signs the player in. */
export async function makePlayer(
  application: Application,
  band: TestBand,
  name: string,
  instrument: string,
  stage = "small-tunes",
  groupIds: string[] = [],
): Promise<{ person: Person; playerId: string; words: string }> {
  const { playerId } = await band.director.json<{ playerId: string }>("POST", "/api/players", {
    name,
    instruments: [instrument],
    stage,
    groupIds,
  });
  const { cards } = await band.director.json<{ cards: { words: string }[] }>("POST", "/api/cards", {
    drawId: crypto.randomUUID(),
    playerIds: [playerId],
  });
  const { words } = cards[0]!;
  const person = new Person(application.url);
  await person.json("POST", "/api/sign-in/student", { classCode: band.classCode, name, words });
  return { person, playerId, words };
}

/** Sends a recording for a task as the browser does: announced, in chunks, completed. @returns the id of the take */
export async function sendTake(
  person: Person,
  taskId: string,
  bytes: Uint8Array<ArrayBuffer>,
  gaps: { fromSec: number; toSec: number }[] = [],
): Promise<string> {
  const id = crypto.randomUUID();
  const sha256 = createHash("sha256").update(bytes).digest("hex");
  await person.json("POST", "/api/uploads", {
    id,
    taskId,
    bytes: bytes.length,
    sha256,
    recordedAt: new Date().toISOString(),
    gaps,
  });
  for (let at = 0; at < bytes.length; at += CHUNK_BYTES)
    await person.json("PUT", `/api/uploads/${id}/chunk?offset=${at}`, bytes.slice(at, at + CHUNK_BYTES));
  await person.json("POST", `/api/uploads/${id}/complete`);
  return id;
}
