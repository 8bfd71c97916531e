import type { Person } from "../support/application";
import { quantile, type Row } from "./statistics";

const VISITORS = 8;
const VISITS = 240;

/**
 * What a page costs one process while eight visitors ask for it again and again, each as soon as the last answer came:
 * time a page, pages a second, and how long a visitor waits.
 */
export async function benchVisitors(
  pages: readonly (readonly [path: string, who: Person])[],
): Promise<Row[]> {
  const rows: Row[] = [];
  for (const [path, who] of pages) {
    await visits(who, path, 40);
    const { wallMs, waits } = await visits(who, path, VISITS);
    const cost = wallMs / VISITS;
    rows.push([
      `page ${path}, ${VISITORS} visitors at once`,
      `${cost.toFixed(1)} ms a page`,
      `${Math.round(1000 / cost)} pages a second`,
      `p95 wait ${quantile(waits, 0.95).toFixed(0)} ms`,
    ]);
  }
  return rows;
}

async function visits(
  who: Person,
  path: string,
  count: number,
): Promise<{ wallMs: number; waits: number[] }> {
  const waits: number[] = [];
  let left = count;
  const began = performance.now();
  await Promise.all(
    Array.from({ length: VISITORS }, async () => {
      while (left-- > 0) {
        const asked = performance.now();
        const response = await who.send("GET", path);
        await response.arrayBuffer();
        if (!response.ok) throw new Error(`${path} answered ${response.status}`);
        waits.push(performance.now() - asked);
      }
    }),
  );
  return { wallMs: performance.now() - began, waits };
}
