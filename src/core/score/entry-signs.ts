import type { Frame } from "./bars";
import { type Entry, onFrame, onNote } from "./entry";

/** Longest word under a note or over a bar that is typed. */
export const LONGEST_WORD = 40;

/** Where the bar before the cursor stands in the line's form; what is undefined is left as it is. */
export interface BarSigns {
  /** Under the bracket of this ending; null for none. */
  ending?: 1 | 2 | null;
  /** The line goes back to its beginning after this bar. */
  daCapo?: boolean;
  /** Where it ends after that. */
  fine?: boolean;
  /** Over the bar: "rit.", "gently". */
  words?: string;
}

/** Signs of the bar in which the note before the cursor stands. */
export function barSignsAt(entry: Entry): Required<BarSigns> {
  let found: Required<BarSigns> = { ending: null, daCapo: false, fine: false, words: "" };
  onFrame(entry, (frame) => {
    const pass = frame.ending?.passes[0];
    found = {
      ending: pass === 1 || pass === 2 ? pass : null,
      daCapo: frame.jump === "da-capo",
      fine: frame.fine === true,
      words: frame.words ?? "",
    };
    return frame;
  });
  return found;
}

/**
 * Sets signs of the bar in which the note before the cursor stands. Brackets of endings are closed by themselves: neighbours
 * under one ending share a bracket, and a first ending repeats.
 */
export function setBarSigns(entry: Entry, signs: BarSigns): Entry {
  const changed = onFrame(entry, (frame) => {
    const { ending, jump, fine, words, repeatEnd, ...plain } = frame;
    const pass = signs.ending === undefined ? (ending?.passes[0] ?? null) : signs.ending;
    const word = (signs.words ?? words ?? "").trim().slice(0, LONGEST_WORD);
    const repeats = signs.ending === 1 ? { times: 2 } : signs.ending === undefined ? repeatEnd : undefined;
    return {
      ...plain,
      ...(pass ? { ending: { passes: [pass] } } : {}),
      ...((signs.daCapo ?? jump === "da-capo") ? { jump: "da-capo" as const } : {}),
      ...((signs.fine ?? fine) ? { fine: true as const } : {}),
      ...(word ? { words: word } : {}),
      ...(repeats ? { repeatEnd: repeats } : {}),
    };
  });
  return { ...changed, frames: changed.frames.map(bracketed) };
}

/** A bracket opens where another ending, or none, stands before, and closes where one stands after. */
function bracketed(frame: Frame, at: number, frames: readonly Frame[]): Frame {
  if (!frame.ending) return frame;
  const pass = frame.ending.passes[0];
  const same = (other: Frame | undefined) => other?.ending?.passes[0] === pass;
  const [opens, closes] = [!same(frames[at - 1]), !same(frames[at + 1])];
  const { repeatEnd, ...plain } = frame;
  return {
    ...plain,
    ending: {
      passes: frame.ending.passes,
      ...(opens ? { start: true as const } : {}),
      ...(closes ? { stop: true as const } : {}),
    },
    // Only the last bar of a first ending goes back.
    ...(pass === 1 && closes ? { repeatEnd: repeatEnd ?? { times: 2 } } : {}),
  };
}

/** The word or syllable under the note before the cursor; empty takes it away. A syllable that goes on ends in "-". */
export function setLyric(entry: Entry, lyric: string): Entry {
  const word = lyric.trim().slice(0, LONGEST_WORD);
  return onNote(entry, ({ lyric: _old, ...token }) => (word ? { ...token, lyric: word } : token));
}

/** Words over the tempo mark at the head of the line: "Lively". */
export function setTempoWords(entry: Entry, words: string): Entry {
  const [first, ...others] = entry.frames;
  if (!first?.tempo) return entry;
  const { words: _old, ...tempo } = first.tempo;
  const word = words.trim().slice(0, LONGEST_WORD);
  return { ...entry, frames: [{ ...first, tempo: word ? { ...tempo, words: word } : tempo }, ...others] };
}
