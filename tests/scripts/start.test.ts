import { type ChildProcess, spawn, spawnSync } from "node:child_process";
import { once } from "node:events";
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { freePort, freshDatabase, until } from "../support/application";

let home: string;
let database: Awaited<ReturnType<typeof freshDatabase>>;
beforeAll(async () => {
  home = mkdtempSync(join(tmpdir(), "ulu-start-"));
  database = await freshDatabase();
});
afterAll(async () => {
  await database.drop();
  rmSync(home, { recursive: true, force: true });
});

function refusal(script: string, env: Record<string, string>): string {
  const { status, stdout, stderr } = spawnSync(script, {
    encoding: "utf8",
    env: { PATH: process.env.PATH!, HOME: process.env.HOME!, ULU_HOME: home, ...env },
  });
  expect(status).toBe(1);
  expect(stdout).toBe("");
  return stderr.trim();
}

describe("bin/start and bin/demo refuse with one sentence", () => {
  it("when no database is named", async () => {
    expect(refusal("bin/start", { PORT: String(await freePort()) })).toBe(
      "DATABASE_URL is not set; copy .env.example to .env and fill it in.",
    );
  });

  it("when the port is taken", async () => {
    const port = await freePort();
    const other = createServer().listen(port, "127.0.0.1");
    await once(other, "listening");
    for (const script of ["bin/start", "bin/demo"]) {
      expect(refusal(script, { PORT: String(port), DATABASE_URL: database.url })).toBe(
        `Port ${port} is already in use; stop what runs there, or choose another one: PORT=4400 ${script}`,
      );
    }
    other.close();
  });

  it("when the data folder cannot be written", async () => {
    writeFileSync(join(home, "a-file"), "");
    expect(refusal("bin/demo", { PORT: String(await freePort()), ULU_HOME: join(home, "a-file") })).toMatch(
      /^The data folder .*a-file cannot be written; check its place and its permissions/,
    );
  });

  it("when an earlier start left the database half made", async () => {
    const half = join(home, "half");
    mkdirSync(join(half, "db"), { recursive: true });
    expect(refusal("bin/demo", { PORT: String(await freePort()), ULU_HOME: half })).toBe(
      `The data folder ${half}/db was left half made by an earlier start; remove it (rm -r ${half}/db), then run this again.`,
    );
  });

  it("when nothing answers at the database's address, with the reason before it", async () => {
    const lines = refusal("bin/start", {
      PORT: String(await freePort()),
      DATABASE_URL: "mariadb://u:p@127.0.0.1:1/x",
    }).split("\n");
    expect(lines).toEqual([
      expect.stringContaining("ECONNREFUSED"),
      "The database at DATABASE_URL cannot be used; the line above says why.",
    ]);
  });
});

/** Ids of the running processes of one group, by the fifth field of /proc/ID/stat; those that have ended do not count. */
function processesOfGroup(group: number): number[] {
  return readdirSync("/proc")
    .filter((name) => /^\d+$/.test(name))
    .filter((id) => {
      try {
        const [state, , owner] = readFileSync(`/proc/${id}/stat`, "utf8")
          .replace(/^.*\) /, "")
          .split(" ");
        return state !== "Z" && Number(owner) === group;
      } catch {
        return false;
      }
    })
    .map(Number);
}

describe("bin/start", () => {
  it("runs web server and worker, starts again what dies, and Ctrl-C stops both", async () => {
    const port = await freePort();
    const child: ChildProcess = spawn("bin/start", {
      detached: true,
      stdio: ["ignore", "pipe", "inherit"],
      env: { ...process.env, PORT: String(port), ULU_HOME: home, DATABASE_URL: database.url },
    });
    let said = "";
    child.stdout!.on("data", (data) => (said += data));
    await until(async () => said.includes("Stop it with Ctrl-C."));
    expect(said).toContain("The database was brought up to date: 001-people");
    expect(said).toContain(`Ulu Bench is running at http://127.0.0.1:${port}.`);
    expect((await fetch(`http://127.0.0.1:${port}/sign-in`)).status).toBe(200);
    const ours = () => processesOfGroup(child.pid!);
    expect(ours().length).toBeGreaterThanOrEqual(3);
    const running = (program: string) =>
      ours().filter((id) => readFileSync(`/proc/${id}/cmdline`, "utf8").startsWith(`node\0dist/${program}`));
    for (const program of ["web.mjs", "ulu.mjs\0work"]) {
      const [killed, ...more] = running(program);
      expect(more).toEqual([]);
      process.kill(killed!, "SIGKILL");
      await until(async () => running(program).some((id) => id !== killed));
    }
    await until(async () => (await fetch(`http://127.0.0.1:${port}/sign-in`)).ok);
    // What a terminal sends on Ctrl-C: the interrupt goes to the whole group.
    process.kill(-child.pid!, "SIGINT");
    const [code] = (await once(child, "exit")) as [number];
    expect(code).toBe(130);
    expect(ours()).toEqual([]);
    await expect(fetch(`http://127.0.0.1:${port}/sign-in`)).rejects.toThrow();
  }, 60_000);
});
