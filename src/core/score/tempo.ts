import type { Score } from "./model";
import { markedTempo } from "./timeline";

/**
 * The score with one tempo mark at its start, or none at all: a goal tempo replaces what the book prints.
 * @param bpm  beats a minute in the score's beat unit, or null to leave every mark out
 */
export function withTempo(score: Score, bpm: number | null): Score {
  const { beatQuarters } = markedTempo(score);
  const parts = score.parts.map((part) => ({
    ...part,
    measures: part.measures.map(({ tempo, ...measure }, index) =>
      bpm !== null && index === 0
        ? { ...measure, tempo: { ...(tempo?.words ? { words: tempo.words } : {}), beatQuarters, bpm } }
        : measure,
    ),
  }));
  return { ...score, parts: parts as Score["parts"] };
}
