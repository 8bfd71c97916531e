import { instrumentNamed } from "../music";
import type { Part, Score } from "./model";
import { ScoreReadError } from "./xml-tree";

/** What becomes of a part of a file: the line itself, a part to choose, a part for one instrument, or nothing. */
export type PartUse = "line" | "part" | "leave" | { instrumentId: string };

/**
 * The instruments that the further parts of a full score are for, by the names programs write ("Bb Clarinet 1",
 * "Trumpet in Bb"): the first part that names an instrument is for it, a second one is there to be chosen.
 */
export function forNamedInstruments(score: Score): Score {
  const [first, ...others] = score.parts;
  const taken = new Set([instrumentNamed(first.name, first.soundsBy.semitones)?.id]);
  const named = others.map((part): Part => {
    const id = instrumentNamed(part.name, part.soundsBy.semitones)?.id;
    if (!id || part.forInstruments || taken.has(id)) return part;
    taken.add(id);
    return { ...part, forInstruments: [id] };
  });
  return { ...score, parts: [first, ...named] };
}

/**
 * A score as a director has sorted its parts: the line first, parts left out, instruments assigned. Parts that nothing is
 * said of stay as they are.
 * @throws ScoreReadError when nothing would be left, or more than one part would be the line
 */
export function withUses(score: Score, uses: ReadonlyMap<string, PartUse>): Score {
  if (uses.size === 0) return score;
  const lines = score.parts.filter((part) => uses.get(part.id) === "line");
  if (lines.length > 1) throw new ScoreReadError("only one part can be the line that everybody reads");
  const kept = score.parts
    .filter((part) => uses.get(part.id) !== "leave")
    .map((part): Part => {
      const use = uses.get(part.id);
      if (use === undefined) return part;
      const { forInstruments: _before, ...plain } = part;
      return typeof use === "object" ? { ...plain, forInstruments: [use.instrumentId] } : plain;
    });
  const line = kept.find((part) => part.id === lines[0]?.id) ?? kept[0];
  if (!line) throw new ScoreReadError("no part is left to read");
  return { ...score, parts: [line, ...kept.filter((part) => part !== line)] };
}
