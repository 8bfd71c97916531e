import { pitchName } from "../../core/music";
import { beginEntry, type Entry, entryOf, type Score, scoreOfEntry, type Token } from "../../core/score";

/** What is open: a new line, a part of a line, or a new part for one ("new"). */
export interface Opened {
  lineId: string;
  partId: string;
  revisionId: string;
  score: Score;
}

/** Keys that do something here; all others keep their meaning in the browser. */
export const KEYS_OF_NOTES =
  /^([a-gA-GrRtT]|[123468 .+#='>_,^:;()-]|(Shift\+)?Arrow(Up|Down)|Arrow(Left|Right)|Backspace|Delete|Home|End)$/;
/** What the keys of the music field do. */
export const KEY_SHEET: [string, string][] = [
  ["a … g", "a note, in the nearest octave"],
  ["r or space", "a rest"],
  ["1 2 4 8 6", "whole, half, quarter, eighth, sixteenth"],
  [".", "the next one is dotted"],
  ["3", "the next three are a triplet"],
  ["+ − =", "sharper, flatter, natural"],
  ["↑ ↓", "a step; with Shift an octave"],
  ["t", "tie into the next note"],
  ["( )", "slur from the next, to the last note"],
  ["' > _", "staccato, accent, tenuto"],
  [", ^", "breath, fermata"],
  ["; :", "repeat from this bar, to this bar"],
  ["← →", "move; Backspace and Delete rub out"],
  ["Ctrl Z, Ctrl Y", "undo, redo"],
];

/** The first part is the line itself. */
export function isMain({ partId, score }: Opened): boolean {
  return partId === score.parts[0].id;
}

export function nameOf(opened: Opened | null): string {
  return opened?.score.parts.find((part) => part.id === opened.partId)?.name ?? "";
}

/** A new part has the bars of its line, empty; a catalogued line is typed from nothing. */
export function begin(opened: Opened | null): Entry {
  if (!opened)
    return beginEntry({
      title: "Untitled line",
      fifths: -2,
      mode: "major",
      time: { beats: 4, beatType: 4 },
      pickup: null,
      bpm: 80,
      beatQuarters: "1",
    });
  const { score, partId } = opened;
  const part = score.parts.find((each) => each.id === partId) ?? score.parts[0];
  const { catalogued, ...plain } = score;
  const whole = entryOf({ ...plain, parts: [part] });
  const highest = Math.max(...score.parts.map((each) => entryOf({ ...plain, parts: [each] }).nextId));
  if (partId !== "new" && !catalogued) return { ...whole, nextId: highest };
  const id = partId === "new" ? `P${score.parts.length + 1}` : partId;
  return { ...whole, part: { ...whole.part, id }, tokens: [], cursor: 0, nextId: highest };
}

/** A typed note in words, for the line under the field and for screen readers. */
export function tokenName(token: Token | undefined): string {
  if (!token) return "The cursor is at the start";
  const value = `${token.dots ? "dotted " : ""}${token.type}`;
  const what =
    token.kind === "rest"
      ? `${value} rest`
      : token.pitch
        ? `${pitchName(token.pitch)}, ${value}`
        : `${value} stroke`;
  const signs = [
    token.tieStart ? "tied" : "",
    token.slurStart ? "slur begins" : "",
    token.slurStop ? "slur ends" : "",
    ...(token.articulations ?? []),
    token.breath ? "breath" : "",
    token.fermata ? "fermata" : "",
  ].filter(Boolean);
  return [what, ...signs].join(", ");
}

/** What was typed on this device and not saved; null when there is none that can be read. */
export function readDraft(key: string): Entry | null {
  try {
    const kept = JSON.parse(localStorage.getItem(key) ?? "null") as Entry | null;
    if (!kept) return null;
    scoreOfEntry(kept);
    return kept;
  } catch {
    localStorage.removeItem(key);
    return null;
  }
}
