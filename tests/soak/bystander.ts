import { quantile } from "../bench/statistics";
import type { Person } from "../support/application";

/** What somebody who only looks at their own page goes through meanwhile. */
export interface Waits {
  p95Ms: number;
  worstMs: number;
  asked: number;
  /** Answers that were not the page. */
  failed: number;
}

const EVERY_MS = 60;

/** Looks at a page again and again while work goes on, and says how long it took. */
export async function beside(
  people: readonly (readonly [person: Person, path: string])[],
  work: () => Promise<void>,
): Promise<Waits> {
  let going = true;
  let failed = 0;
  const waits: number[] = [];
  const looking = people.map(async ([person, path]) => {
    while (going) {
      const asked = performance.now();
      const ok = await person
        .send("GET", path)
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
  try {
    await work();
  } finally {
    going = false;
    await Promise.all(looking);
  }
  return {
    p95Ms: Math.round(quantile(waits, 0.95)),
    worstMs: Math.round(Math.max(...waits)),
    asked: waits.length,
    failed,
  };
}
