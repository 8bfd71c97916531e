import { editDistance, nameKey } from "../text";

/** Somebody whose recording a file may be. */
export interface FilePlayer {
  id: string;
  name: string;
}
/** A line a file may be of; the number is that in the book. */
export interface FileLine {
  id: string;
  number: number | null;
  title: string;
}
/** Whom and what a file names; null where it names nobody, or two alike. */
export interface NamedBy {
  playerId: string | null;
  lineId: string | null;
}

/** A word is a name when so much of it is alike, 0 to 1: one slip in a name of five letters. */
const ALIKE = 0.78;
/** The best player is so much nearer than the next, in words. */
const MARGIN = 0.3;
/** Words before a number that make it that of a line. */
const BEFORE_NUMBER = /^(no|nr|num|number|line|ex|exercise|lesson|page|p|song)$/;

/**
 * Whose recording of which line a file is, by its path: names of folders count as well as that of the file. Spelling may slip,
 * accents and order do not matter; dates and the number of a take are no numbers of lines.
 *
 * @param path  with the file last, parted by slashes
 * @example
 * readFileName("Week 3/haldorsen ines no 26 take 2.m4a",
 *   [{ id: "i", name: "Ines Haldorsen" }], [{ id: "l", number: 26, title: "Net Menders" }]) // => { playerId: "i", lineId: "l" }
 */
export function readFileName(
  path: string,
  players: readonly FilePlayer[],
  lines: readonly FileLine[],
): NamedBy {
  const words = wordsOf(path.replace(/\.[a-z0-9]{1,5}$/i, ""));
  return { playerId: playerOf(words, players), lineId: lineOf(words, lines) };
}

/** Words and numbers in order, folded: no case, no accents. */
function wordsOf(text: string): string[] {
  return nameKey(text.replace(/(\p{Ll})(\p{Lu})/gu, "$1 $2"))
    .replace(/(\d{4})[-_.]?(\d{2})[-_.]?(\d{2})/g, " ")
    .replace(/(\p{L})(\d)/gu, "$1 $2")
    .replace(/(\d)(\p{L})/gu, "$1 $2")
    .split(/[^\p{L}\d]+/u)
    .filter(Boolean);
}

/** How much two words are alike, 0 to 1. */
function alike(a: string, b: string): number {
  return 1 - editDistance(a, b) / Math.max(a.length, b.length);
}

function playerOf(words: readonly string[], players: readonly FilePlayer[]): string | null {
  const scored = players
    .map(({ id, name }) => {
      const names = wordsOf(name);
      const found = names.map((each) => Math.max(0, ...words.map((word) => alike(word, each))));
      return { id, score: found.reduce((sum, share) => sum + (share >= ALIKE ? share : 0), 0) };
    })
    .sort((a, b) => b.score - a.score);
  const [best, next] = scored;
  return best && best.score >= ALIKE && best.score - (next?.score ?? 0) >= MARGIN ? best.id : null;
}

function lineOf(words: readonly string[], lines: readonly FileLine[]): string | null {
  const numbers = words.flatMap((word, i) => {
    if (!/^\d{1,3}$/.test(word) || /^(take|try|week|v)$/.test(words[i - 1] ?? "")) return [];
    return [{ number: Number(word), said: BEFORE_NUMBER.test(words[i - 1] ?? "") }];
  });
  const said = numbers.filter((each) => each.said);
  const meant = new Set((said.length > 0 ? said : numbers).map(({ number }) => number));
  const numbered = lines.filter(({ number }) => number !== null && meant.has(number));
  if (numbered.length === 1) return numbered[0]!.id;
  const titled = lines
    .map(({ id, title }) => {
      const own = wordsOf(title).filter((word) => word.length > 2);
      const found = own.filter((each) => words.some((word) => alike(word, each) >= ALIKE));
      return { id, share: own.length === 0 ? 0 : found.length / own.length };
    })
    .filter(({ share }) => share >= 0.6)
    .sort((a, b) => b.share - a.share);
  return titled[0] && titled[0].share > (titled[1]?.share ?? 0) ? titled[0].id : null;
}
