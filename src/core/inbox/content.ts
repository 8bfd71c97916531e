import { type Assessment, foundShare } from "../listen";

/** One line that a recording may be of, as the engine heard the recording against it. */
export interface Heard<K> {
  key: K;
  assessment: Assessment;
}

export interface Likely<K> {
  key: K;
  /** How much of the line was found, less what it does not explain, 0 to 1. */
  share: number;
  /** Distance to the next likely one. */
  margin: number;
  /** Far enough from the next, and enough of it found, to be taken without asking. */
  sure: boolean;
}

/** From here on a line is taken for what was played. Both are held against the confusion table of `bin/bench inbox`. */
const ENOUGH = 0.6;
const FAR = 0.2;

/**
 * Which line a recording is of: the one whose notes were found, with least played that it does not explain.
 *
 * @param heard  the recording against every line it may be of
 * @returns the likeliest, null where it is none of them
 */
export function likeliest<K>(heard: readonly Heard<K>[]): Likely<K> | null {
  const scored = heard
    .map(({ key, assessment }) => ({ key, share: foundShare(assessment) }))
    .sort((a, b) => b.share - a.share);
  const [best, next] = scored;
  if (!best || best.share <= 0) return null;
  const margin = best.share - Math.max(0, next?.share ?? 0);
  return { ...best, margin, sure: best.share >= ENOUGH && margin >= FAR };
}
