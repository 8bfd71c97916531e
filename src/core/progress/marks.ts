import type { Assessment } from "../listen";
import type { Articulation, Score } from "../score";

/** Staccato that goes so much slower than the rest is told, percent ("staccato told as slower" of the marks bench). */
const SLOWER_PERCENT = 6;

/** What signs over notes asked for and was not heard, all notes of a sign together. */
export interface MarkNotHeard {
  kind: "accents" | "staccato-slower";
  /** Noteheads that have the sign. */
  eventIds: ReadonlySet<string>;
  /** dB by which accents stand out; percent by which staccato is slower. */
  amount: number;
}

export function marksNotHeard({ marks }: Assessment, score: Score): MarkNotHeard[] {
  const withSign = (...signs: Articulation[]) =>
    new Set(
      score.parts[0].measures.flatMap(({ events }) =>
        events.flatMap(({ id, articulations = [] }) =>
          signs.some((sign) => articulations.includes(sign)) ? [id] : [],
        ),
      ),
    );
  const found: MarkNotHeard[] = [];
  if (marks?.accents?.audible === false)
    found.push({
      kind: "accents",
      eventIds: withSign("accent", "strong-accent"),
      amount: marks.accents.louderDb,
    });
  const slower = marks?.staccato?.slowerPercent ?? 0;
  if (slower >= SLOWER_PERCENT)
    found.push({ kind: "staccato-slower", eventIds: withSign("staccato"), amount: slower });
  return found;
}
