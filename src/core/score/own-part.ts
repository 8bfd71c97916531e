import type { Score } from "./model";

/** Which part of a line a player reads by agreement. */
export type PartVoice = "first" | "second" | "bass" | "easy";

/** By what words the parts of a line are told. */
const PART_WORDS: Record<PartVoice, RegExp> = {
  first: /^(first|1st|1)\b/i,
  second: /^(second|2nd|2)\b/i,
  bass: /\bbass( line)?$|^bass/i,
  easy: /^eas(y|ier)/i,
};

/**
 * Id of the part that a player reads by agreement; null where the line has none of that name, or one written for the
 * instrument, which goes before.
 */
export function agreedPart(score: Score, instrumentId: string, voice: PartVoice | null): string | null {
  if (!voice || score.parts.some((part) => part.forInstruments?.includes(instrumentId))) return null;
  return score.parts.find(({ name }) => PART_WORDS[voice].test(name.trim()))?.id ?? null;
}
