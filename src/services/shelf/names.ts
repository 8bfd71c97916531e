import type { PencilView } from "./schema";

/** A name for a file: letters, digits and blanks; flats and sharps in words, since file systems differ about their signs. */
export function fileName(words: (string | number | null)[]): string {
  return words
    .filter(Boolean)
    .join(" ")
    .replaceAll("♭", " flat")
    .replaceAll("♯", " sharp")
    .replace(/[^\p{L}\p{N} ]+/gu, " ")
    .replace(/ +/g, " ")
    .trim();
}

/** A mark for every instrument stands on every part, in concert pitch too. */
export function onPartOf(instrumentId: string): (mark: Pick<PencilView, "instrumentId">) => boolean {
  return (mark) => mark.instrumentId === null || mark.instrumentId === instrumentId;
}
