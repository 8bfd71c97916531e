/** How far a passage is, from first to last. */
export const PASSAGE_STATES = ["unseen", "sight-read", "rehearsed", "ready"] as const;
export type PassageState = (typeof PASSAGE_STATES)[number];

/** Some bars of a piece that are worked on together; bars by number, from 1, both ends included. */
export interface Passage {
  name: string;
  firstBar: number;
  lastBar: number;
  state: PassageState;
}

/**
 * Bars of a piece by how far they are. A bar in two passages is as far as the one that is less far: what is not ready
 * somewhere is not ready. Bars in no passage are unseen.
 *
 * @param bars  how many the piece has
 * @returns how many bars are in each state; together all bars
 * @example
 * barsByState(8, [
 *   { name: "A", firstBar: 1, lastBar: 4, state: "ready" },
 *   { name: "join", firstBar: 4, lastBar: 6, state: "sight-read" },
 * ]) // => { unseen: 2, "sight-read": 3, rehearsed: 0, ready: 3 }
 */
export function barsByState(bars: number, passages: readonly Passage[]): Record<PassageState, number> {
  const count: Record<PassageState, number> = { unseen: 0, "sight-read": 0, rehearsed: 0, ready: 0 };
  for (let bar = 1; bar <= bars; bar++) {
    const places = passages
      .filter(({ firstBar, lastBar }) => firstBar <= bar && bar <= lastBar)
      .map(({ state }) => PASSAGE_STATES.indexOf(state));
    count[PASSAGE_STATES[places.length === 0 ? 0 : Math.min(...places)]!]++;
  }
  return count;
}

/** The passage that needs work most: the least far, the longest of those; null when everything is ready. */
export function nextPassage(passages: readonly Passage[]): Passage | null {
  const length = ({ firstBar, lastBar }: Passage) => lastBar - firstBar;
  const [next] = passages
    .filter(({ state }) => state !== "ready")
    .sort(
      (a, b) => PASSAGE_STATES.indexOf(a.state) - PASSAGE_STATES.indexOf(b.state) || length(b) - length(a),
    );
  return next ?? null;
}
