import type { Assessment } from "../listen";
import { type Score, timeline } from "../score";

/** Tempo of a line whose take had none. */
const ANY_BPM = 80;

/**
 * When each bar of a line begins in a recording of it, by the notes that were found: between them time goes evenly, before the first
 * and after the last by the tempo of the whole.
 *
 * @param score  what was recorded, with its repeats where they were played
 * @returns seconds, one for every bar as it was played and one for the end of the last; null where fewer than two notes were found
 */
export function barTimes(score: Score, { take, notes }: Pick<Assessment, "take" | "notes">): number[] | null {
  const line = timeline(score, { bpm: take.tempoBpm ?? ANY_BPM });
  const anchors: { line: number; sound: number }[] = [];
  for (const { index, onset, verdict, eventId } of notes) {
    const written = line.notes[index];
    if (onset === null || verdict === "missed" || written?.eventId !== eventId) continue;
    const last = anchors.at(-1);
    if (!last || (written.onsetSec > last.line && onset > last.sound))
      anchors.push({ line: written.onsetSec, sound: onset });
  }
  const [first, last] = [anchors[0], anchors.at(-1)];
  if (!first || !last || anchors.length < 2) return null;
  const pace = (last.sound - first.sound) / (last.line - first.line);
  const soundAt = (sec: number): number => {
    if (sec <= first.line) return first.sound - pace * (first.line - sec);
    const after = anchors.findIndex((anchor) => anchor.line >= sec);
    if (after < 0) return last.sound + pace * (sec - last.line);
    const [a, b] = [anchors[after - 1]!, anchors[after]!];
    return a.sound + ((sec - a.line) / (b.line - a.line)) * (b.sound - a.sound);
  };
  return [...line.measures.map(({ onsetSec }) => onsetSec), line.totalSec].map(soundAt);
}

/** When each bar begins where a line is played as written, seconds, with the end of the last. */
export function writtenBarTimes(score: Score, bpm: number): number[] {
  const line = timeline(score, { bpm });
  return [...line.measures.map(({ onsetSec }) => onsetSec), line.totalSec];
}

/**
 * Where another recording of the same line is when one is at a moment, and how fast it has to go so that both play together: bar by
 * bar at the tempo of the one.
 *
 * @param own  bar times of the one that leads
 * @param other  bar times of the one that follows; as many
 * @param sec  moment in the leading one; before its first bar and after its last the nearest bar says how fast
 */
export function besideAt(
  own: readonly number[],
  other: readonly number[],
  sec: number,
): { sec: number; rate: number } {
  const bar = barAt(own, sec);
  const [from, to] = [own[bar]!, own[bar + 1]!];
  const rate = to > from ? (other[bar + 1]! - other[bar]!) / (to - from) : 1;
  return { sec: other[bar]! + (sec - from) * rate, rate };
}

/** The bar that sounds at a moment, by its place; the first before it, the last after it. */
export function barAt(bars: readonly number[], sec: number): number {
  const next = bars.findIndex((start) => start > sec);
  return Math.max(0, Math.min(bars.length - 2, (next < 0 ? bars.length : next) - 1));
}
