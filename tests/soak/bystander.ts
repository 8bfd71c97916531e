import { once } from "node:events";
import { Worker } from "node:worker_threads";

/** Who looks at which page of their own, all the time. */
export interface Looking {
  base: string;
  people: { cookie: string; path: string }[];
}

/** What somebody who only looks at their own page goes through meanwhile. */
export interface Waits {
  p95Ms: number;
  worstMs: number;
  asked: number;
  /** Answers that were not the page. */
  failed: number;
}

/** Looks at pages again and again while work goes on, and says how long they took. */
export async function beside(looking: Looking, work: () => Promise<void>): Promise<Waits> {
  const thread = new Worker(new URL("./bystander-thread.mjs", import.meta.url), { workerData: looking });
  try {
    await work();
    const answer = once(thread, "message");
    thread.postMessage("stop");
    const [waits] = (await answer) as [Waits];
    return waits;
  } finally {
    await thread.terminate();
  }
}
