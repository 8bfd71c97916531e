import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { OverrunError, type ThreadPool, threadPool } from "../../src/server/threads";

type Request = "echo" | "spin" | "grow" | "die" | "refuse" | "slow";
let folder: string;
let pool: ThreadPool<Request, string>;

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "ulu-threads-"));
  const file = join(folder, "thread.mjs");
  writeFileSync(
    file,
    `import { parentPort } from "node:worker_threads";
     parentPort.on("message", (what) => {
       if (what === "spin") for (;;);
       if (what === "grow") { const kept = []; for (;;) kept.push(new Array(1000).fill(what)); }
       if (what === "die") process.exit(3);
       if (what === "refuse") return parentPort.postMessage({ problem: "No." });
       const until = Date.now() + (what === "slow" ? 150 : 0);
       while (Date.now() < until);
       parentPort.postMessage({ answer: what });
     });`,
  );
  pool = threadPool(file, { size: 2, longestMs: 1500, memoryMb: 64 });
});
afterAll(async () => {
  await pool.close();
  rmSync(folder, { recursive: true });
});

describe("a pool of threads", () => {
  it("stops what does not come to an end, or takes too much memory, and answers the others meanwhile", async () => {
    const [endless, hungry, ...others] = await Promise.allSettled([
      pool.run("spin"),
      pool.run("grow"),
      ...Array.from({ length: 5 }, () => pool.run("echo")),
    ]);
    expect(endless).toMatchObject({ status: "rejected", reason: expect.any(OverrunError) });
    expect(hungry).toMatchObject({ status: "rejected", reason: expect.any(OverrunError) });
    expect(others.every((each) => each.status === "fulfilled")).toBe(true);
  });

  it("fails one request with a thread that dies, and goes on", async () => {
    await expect(pool.run("die")).rejects.toThrow("ended with code 3");
    await expect(pool.run("refuse")).rejects.toThrow("No.");
    expect(await pool.run("echo")).toBe("echo");
  });

  it("lets single requests pass a patient row, which never takes the last thread", async () => {
    const order: string[] = [];
    const row = Array.from({ length: 6 }, (_, i) =>
      pool.run("slow", true).then(() => order.push(`row ${i}`)),
    );
    const single = pool.run("echo").then(() => order.push("single"));
    await Promise.all([...row, single]);
    // The first of the row is at work already, and may end while the thread of the single request still starts.
    expect(order.indexOf("single")).toBeLessThan(order.indexOf("row 1"));
  });
});
