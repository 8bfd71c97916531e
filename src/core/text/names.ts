/** Control and format characters: nothing a person sees. Joiners inside a word of some scripts are kept. */
const INVISIBLE = /[\p{Cc}\p{Cf}\p{Co}\p{Cn}\u115f\u1160\u2800\u3164\uffa0]/gu;
const JOINERS = new Set(["\u200c", "\u200d"]);
/** Marks of emphasis, accent and vowel that Unicode writes after their letter. */
const MARKS = /\p{M}/gu;

/**
 * A name or title as it is stored: composed (NFC), without control or invisible characters, single spaces, trimmed. What
 * consists of nothing visible becomes empty.
 *
 * @example
 * tidyText("  A\u030ase\u200b \u0000 Berg ") // => "Åse Berg"
 */
export function tidyText(text: string): string {
  const tidy = text
    .normalize("NFC")
    .replace(/[\p{Zs}\t\n\r]+/gu, " ")
    .replace(INVISIBLE, (sign) => (JOINERS.has(sign) ? sign : ""))
    .replace(/ +/g, " ")
    .trim();
  return /[^\p{M}\p{Cf}\s]/u.test(tidy) ? tidy : "";
}

/**
 * A name as it is compared: case, accents, width, spaces and invisible characters do not matter.
 *
 * @example
 * nameKey(" ÅSE  ünal ") // => "ase unal"
 */
export function nameKey(name: string): string {
  return tidyText(name)
    .normalize("NFKD")
    .replace(MARKS, "")
    .replace(INVISIBLE, "")
    .toLocaleLowerCase("en")
    .replace(/\s+/g, " ")
    .trim();
}
