import { nameList } from "./names";
import type { Finding } from "./takes";

/**
 * A sentence for those at home, who need not read music: what the child works on and how to help (common practice, no published
 * source).
 */
export function familyWords(playerName: string, found: readonly Finding[]): string {
  const first = playerName.split(" ")[0]!;
  const [most] = found;
  if (!most) return `${first} played the whole line well. Ask to hear it: playing for somebody makes it sit.`;
  const bars = [...new Set(most.spots.map(({ place }) => place.split(",")[0]!))].slice(0, 3);
  return `${first} is working on ${nameList(bars)}. Ask to hear ${bars.length === 1 ? "it" : "them"} slowly once a day; you need not read music.`;
}

/** So many findings are named; the others are in the list beside. */
const MOST_NAMED = 3;

/**
 * Why the bench would mark so.
 *
 * @param level  the word of the level it would give; null where it has no ear for it
 * @param evidence  the findings that speak of it
 */
export function whySentence(level: string | null, evidence: readonly Finding[]): string {
  if (level === null) return "The bench has no ear for this: only yours counts.";
  if (evidence.length === 0) return `The bench would say “${level}”: nothing stands out.`;
  const named = evidence
    .slice(0, MOST_NAMED)
    .map(({ sentence, times }) => `${sentence.replace(/\.$/, "")}${times > 1 ? `, ${times} times` : ""}`);
  const more = evidence.length - named.length;
  return `The bench would say “${level}”. ${named.join("; ")}${more > 0 ? `; ${more} more` : ""}.`;
}
