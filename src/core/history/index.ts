/** What is worked on, with what can be taken back and brought again. */
export interface History<T> {
  now: T;
  past: T[];
  future: T[];
}

/** Steps that can be taken back. */
const LONGEST = 500;

/** A history that begins with nothing to take back. */
export function beginHistory<T>(now: T): History<T> {
  return { now, past: [], future: [] };
}

/**
 * A change to remember. What did not change leaves no step.
 * @example
 * undo(remember(remember(beginHistory("a"), "b"), "c")) // => { now: "b", past: ["a"], future: ["c"] }
 */
export function remember<T>(history: History<T>, next: T): History<T> {
  if (next === history.now) return history;
  return { now: next, past: [...history.past, history.now].slice(-LONGEST), future: [] };
}

export function undo<T>({ now, past, future }: History<T>): History<T> {
  const before = past.at(-1);
  return before === undefined
    ? { now, past, future }
    : { now: before, past: past.slice(0, -1), future: [now, ...future] };
}

export function redo<T>({ now, past, future }: History<T>): History<T> {
  const [next, ...rest] = future;
  return next === undefined ? { now, past, future } : { now: next, past: [...past, now], future: rest };
}
