import { inTurns } from "../server/turns";

/**
 * Runs pieces of a long answer one after another, with room for other requests between them, however many are asked for at
 * once.
 */
export function oneByOne(): <T>(work: () => Promise<T>) => Promise<T> {
  const next = inTurns(1);
  return (work) =>
    next(async () => {
      await new Promise((resolve) => setImmediate(resolve));
      return work();
    });
}
