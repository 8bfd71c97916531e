/**
 * What a score may hold at most. A method-book line has 4 to 32 bars; the room above that is for band pieces. Raising a
 * number makes the longest reading, outlining and engraving longer (`bin/soak attack` measures them).
 */
export const SCORE_LIMITS = {
  parts: 40,
  barsAPart: 600,
  /** Notes and rests in one bar, grace notes included: 4/4 full of 32nd triplets has 48. */
  eventsABar: 128,
  /** Notes and rests of all parts together, as written. */
  events: 30_000,
  /** Bars of one part, repeats and jumps unfolded. */
  playedBars: 2_000,
  /** Notes of one part, repeats and jumps unfolded. */
  playedNotes: 20_000,
  /** How often a repeat is played in all. */
  repeatTimes: 12,
  /** Quarter notes in one note. */
  longestNote: 64,
  /** Largest denominator of a note's length in quarters: thirds, fifths, sevenths and ninths of a 64th still fit. */
  finestNote: 20_160,
  /** Letters of a text that stands at a bar or note. */
  text: 200,
} as const;

/** Slowest and fastest tempo anywhere, in beats of the metre a minute (quarters in 4/4, dotted quarters in 6/8). */
export const SLOWEST_BPM = 20;
export const FASTEST_BPM = 400;
