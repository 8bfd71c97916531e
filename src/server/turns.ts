/** A line is full: whoever asks comes back in a moment. */
export class LineFull extends Error {}

/**
 * Lets so many pieces of work run at once; the others wait in line, so that a flood stands there and not before everybody
 * else's questions to the database.
 *
 * @param mostWaiting  how many may wait in each line; a line is served when those before it are empty
 * @returns runs work, from a line by its place (the first one when left out). It rejects with LineFull
 */
export function inTurns(
  atOnce: number,
  mostWaiting: readonly number[] = [Number.POSITIVE_INFINITY],
): <T>(work: () => Promise<T>, line?: number) => Promise<T> {
  const lines = mostWaiting.map((most) => ({ most, waiting: [] as (() => void)[] }));
  let running = 0;
  return async (work, place = 0) => {
    const { most, waiting } = lines[place]!;
    if (running < atOnce) running++;
    else if (waiting.length >= most) throw new LineFull();
    else await new Promise<void>((start) => waiting.push(start));
    try {
      return await work();
    } finally {
      const next = lines.find((line) => line.waiting.length > 0)?.waiting.shift();
      if (next) next();
      else running--;
    }
  };
}
