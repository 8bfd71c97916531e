/**
 * Lets so many pieces of work run at once; the others wait their turn, first come, first served. What comes in a flood then
 * stands in line by itself instead of standing before everybody else's questions to the database.
 */
export function inTurns(atOnce: number): <T>(work: () => Promise<T>) => Promise<T> {
  const waiting: (() => void)[] = [];
  let running = 0;
  return async (work) => {
    if (running >= atOnce) await new Promise<void>((start) => waiting.push(start));
    else running++;
    try {
      return await work();
    } finally {
      const next = waiting.shift();
      if (next) next();
      else running--;
    }
  };
}
