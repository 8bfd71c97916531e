import type { CardRating } from "./cards";
import type { LineFact } from "./standing";

/** What a player did beside a line: tools, cards, own entries. */
export type ToolFact = { id: string; at: string; day: string; seconds: number } & (
  | { kind: "card"; card: string; rating: CardRating }
  /** One long tone; `note` is the written name. */
  | {
      kind: "tone";
      instrumentId: string;
      note: string;
      heldSec: number;
      pitchSdCents: number;
      levelSdDb: number;
      brightnessSpread: number;
    }
  /** A change of two written notes made in time with so many seconds of pause before it. */
  | { kind: "change"; from: string; to: string; gap: number }
  /** The highest or lowest note that spoke, reached by semitones. */
  | { kind: "range"; instrumentId: string; note: string; way: "up" | "down" }
  /** A counting activity: what was right, of how much. */
  | { kind: "counting"; activity: string; right: number; of: number }
  /** What was done away from the bench, as the player writes it down. */
  | { kind: "own"; minutes: number; text: string }
  /** What the player means to do today. */
  | { kind: "goal"; text: string }
  /** How the player found a take, before the bench said anything: 1 not yet, 2 nearly, 3 good. */
  | { kind: "rating"; rating: 1 | 2 | 3 }
  /** Time with a tool of which nothing else is kept. */
  | { kind: "tool"; tool: "tuner" | "metronome" | "chart" | "set-up" | "sound" }
);

/** A fact of a line says which task it belongs to. */
export type Fact = (LineFact & { taskId: string }) | (ToolFact & { taskId?: string | null });

/** So many facts are handed over at once. */
export const MOST_FACTS_AT_ONCE = 100;

/** With less than this a line was only opened, minutes: a day of practice counts from here on, or from what is asked. */
const LEAST_MINUTES = 3;

/**
 * Whether a day counts towards "so many times this week": from three minutes with the line, or from the minutes that are asked
 * where those are fewer; a take that was sent counts by itself.
 * @param seconds  of practice with the line on that day
 * @param askedMinutes  each time; null where nothing is said
 * @example
 * dayCounts({ seconds: 100, sent: false }, null) // => false
 */
export function dayCounts(
  { seconds, sent }: { seconds: number; sent: boolean },
  askedMinutes: number | null,
): boolean {
  return sent || seconds >= 60 * Math.min(LEAST_MINUTES, askedMinutes ?? LEAST_MINUTES);
}
