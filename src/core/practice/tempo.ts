import { type Score, SLOWEST_BPM, timeline } from "../score";

/** A beginner places so many attacks a second with care, from memory of beginners' practice: above it notes are grabbed, not placed. */
const CARE_PER_SEC = 2.4;
/** Slower than this share of the goal the pulse of a line is lost (from memory). */
const SLOWEST_SHARE = 0.5;

/**
 * The bar whose notes follow each other fastest, and the tempo at which they can be placed with care: think this bar first,
 * in the tempo in which it goes the whole line goes (common practice, no published source).
 *
 * @param goalBpm  tempo to reach, in the score's beat unit
 * @returns `measureIndex` of that bar (the first of them), null for a line without notes; `bpm` whole, never over the goal
 */
export function startingTempo(score: Score, goalBpm: number): { measureIndex: number | null; bpm: number } {
  const { notes } = timeline(score, { bpm: goalBpm });
  const perBar = new Map<number, number>();
  for (const note of notes) {
    if (note.pass !== 1) continue;
    // What counts is how soon the next attack is due, not how long the note is.
    const next = notes[note.index + 1];
    const until = next ? next.onsetSec - note.onsetSec : note.durationSec;
    const before = perBar.get(note.measureIndex) ?? Number.POSITIVE_INFINITY;
    perBar.set(note.measureIndex, Math.min(before, until));
  }
  const densest = [...perBar].sort(([a, x], [b, y]) => x - y || a - b)[0];
  if (!densest) return { measureIndex: null, bpm: goalBpm };
  const [measureIndex, shortestSec] = densest;
  const careful = Math.round(goalBpm * Math.min(1, shortestSec * CARE_PER_SEC));
  const bpm = Math.max(SLOWEST_BPM, Math.ceil(goalBpm * SLOWEST_SHARE), careful);
  return { measureIndex, bpm: Math.min(goalBpm, bpm) };
}
