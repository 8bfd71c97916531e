import { parentPort, workerData } from "node:worker_threads";
import { quantile } from "../bench/statistics";
import type { Looking, Waits } from "./bystander";

const EVERY_MS = 60;

// A thread of its own: what the attacker computes does not count as somebody's waiting.
const { base, people } = workerData as Looking;
let going = true;
let failed = 0;
const waits: number[] = [];

const looking = people.map(async ({ cookie, path }) => {
  while (going) {
    const asked = performance.now();
    const ok = await fetch(base + path, { headers: { Cookie: cookie }, redirect: "manual" })
      .then(async (response) => {
        await response.arrayBuffer();
        return response.ok;
      })
      .catch(() => false);
    waits.push(performance.now() - asked);
    if (!ok) failed++;
    await new Promise((resolve) => setTimeout(resolve, EVERY_MS));
  }
});

parentPort!.once("message", async () => {
  going = false;
  await Promise.all(looking);
  parentPort!.postMessage({
    p95Ms: Math.round(quantile(waits, 0.95)),
    worstMs: Math.round(Math.max(...waits)),
    asked: waits.length,
    failed,
  } satisfies Waits);
});
