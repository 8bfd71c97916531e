import { INSTRUMENTS } from "../music";
import type { Part, Score } from "./model";

/** A further part that bears an instrument's name is for that instrument; the others are chosen by the director. */
export function forNamedInstruments(score: Score): Score {
  const [first, ...others] = score.parts;
  if (others.length === 0) return score;
  const named = others.map((part): Part => {
    const instrument = INSTRUMENTS.find((each) => each.name.toLowerCase() === part.name.trim().toLowerCase());
    return instrument && !part.forInstruments ? { ...part, forInstruments: [instrument.id] } : part;
  });
  return { ...score, parts: [first, ...named] };
}
