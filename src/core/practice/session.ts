/** What of a sitting counts towards what got better. */
export interface Improvement {
  kind: "tempo" | "clean" | "tone" | "change";
  /** Before and now: bpm, clean rounds, seconds. */
  from: number;
  to: number;
}

interface Sat {
  seconds: number;
  kind: string;
  bpm?: number;
  outcome?: string;
  heldSec?: number;
  gap?: number;
}

/** Counted practice ends after so long without a sign of life, seconds: who went away did not practise. */
export const IDLE_SEC = 90;

/** Whole minutes of a day or a week, never rounded up to more than there were; a started first minute counts. */
export function minutesOf(facts: readonly { seconds: number }[]): number {
  const seconds = facts.reduce((sum, fact) => sum + fact.seconds, 0);
  return seconds > 0 ? Math.max(1, Math.floor(seconds / 60)) : 0;
}

/**
 * What got better in a sitting: a higher tempo played clean than ever before, the first clean rounds, a longer tone, a
 * quicker change. Only what was measured.
 * @param before  facts of earlier days
 * @param today   facts of the sitting
 */
export function improvements(before: readonly Sat[], today: readonly Sat[]): Improvement[] {
  const best = (facts: readonly Sat[], of: (fact: Sat) => number | undefined) =>
    facts.reduce<number | null>((top, fact) => {
      const value = of(fact);
      return value === undefined ? top : Math.max(top ?? value, value);
    }, null);
  const found: Improvement[] = [];
  const cleanBpm = ({ kind, outcome, bpm }: Sat) =>
    kind === "round" && outcome === "clean" ? bpm : undefined;
  const [tempoBefore, tempoNow] = [best(before, cleanBpm), best(today, cleanBpm)];
  if (tempoNow !== null && tempoBefore !== null && tempoNow > tempoBefore)
    found.push({ kind: "tempo", from: tempoBefore, to: tempoNow });
  const clean = today.filter(({ kind, outcome }) => kind === "round" && outcome === "clean").length;
  if (clean > 0 && tempoBefore === null) found.push({ kind: "clean", from: 0, to: clean });
  const held = ({ kind, heldSec }: Sat) => (kind === "tone" ? heldSec : undefined);
  const [toneBefore, toneNow] = [best(before, held), best(today, held)];
  if (toneNow !== null && toneNow > (toneBefore ?? 0))
    found.push({ kind: "tone", from: toneBefore ?? 0, to: toneNow });
  const quick = ({ kind, gap }: Sat) => (kind === "change" && gap !== undefined ? -gap : undefined);
  const [gapBefore, gapNow] = [best(before, quick), best(today, quick)];
  if (gapNow !== null && (gapBefore === null || gapNow > gapBefore))
    found.push({ kind: "change", from: gapBefore === null ? 6 : -gapBefore, to: -gapNow });
  return found;
}
