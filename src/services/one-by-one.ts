/**
 * Runs pieces of a long answer one after another, with room for other requests between them, however many are asked for at
 * once.
 */
export function oneByOne(): <T>(work: () => Promise<T>) => Promise<T> {
  let last: Promise<unknown> = Promise.resolve();
  return (work) => {
    const turn = last.then(
      () => new Promise((resolve) => setImmediate(resolve)),
      () => undefined,
    );
    const answer = turn.then(work);
    last = answer.catch(() => undefined);
    return answer;
  };
}
