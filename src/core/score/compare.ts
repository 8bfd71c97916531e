import { pitchToMidi } from "../music";
import type { Measure, Score } from "./model";

/** How a bar relates to the ones before it. */
export interface BarRelation {
  measureIndex: number;
  /** Printed number. */
  number: string;
  /** "same" as an earlier bar, "same rhythm" only, or "new". */
  relation: "new" | "same rhythm" | "same";
  /** Printed number of the first such bar; null for a new one. */
  like: string | null;
}

export interface Form {
  /** One letter a phrase: equal letters are note for note the same, A' has A's rhythm or most of its bars. */
  letters: string[];
  phraseBars: number;
}

/**
 * Which bars of a part are the same, have the same rhythm only, or are new: what a player looks for before playing.
 * Ties and slurs count as part of a bar's rhythm; dynamics and words do not.
 */
export function compareBars(part: Score): BarRelation[] {
  const byNotes = new Map<string, string>();
  const byRhythm = new Map<string, string>();
  return part.parts[0].measures.map((measure, measureIndex): BarRelation => {
    const [notes, rhythm] = [notesKey(measure), rhythmKey(measure)];
    const [same, alike] = [byNotes.get(notes), byRhythm.get(rhythm)];
    if (same === undefined) byNotes.set(notes, measure.number);
    if (alike === undefined) byRhythm.set(rhythm, measure.number);
    const relation =
      same !== undefined ? "same" : alike !== undefined && hasRhythm(measure) ? "same rhythm" : "new";
    return {
      measureIndex,
      number: measure.number,
      relation,
      like: same ?? (relation === "new" ? null : alike!),
    };
  });
}

/**
 * The form of a line in phrases of four bars (two for lines of under eight), pickup and completing bar left out.
 * @returns null when the bars do not divide into at least two phrases
 */
export function formOf(part: Score): Form | null {
  const bars = part.parts[0].measures.filter((measure) => !measure.implicit);
  const phraseBars = bars.length >= 8 ? 4 : 2;
  if (bars.length < 2 * phraseBars || bars.length % phraseBars !== 0) return null;
  const known: { letter: string; bars: Measure[] }[] = [];
  const letters = Array.from({ length: bars.length / phraseBars }, (_, phrase) => {
    const own = bars.slice(phrase * phraseBars, (phrase + 1) * phraseBars);
    const equal = known.find((each) => own.every((bar, i) => notesKey(bar) === notesKey(each.bars[i]!)));
    if (equal) return equal.letter;
    const close = known.find(
      (each) => own.filter((bar, i) => notesKey(bar) === notesKey(each.bars[i]!)).length * 2 >= phraseBars,
    );
    const letter = close
      ? `${close.letter.replace(/'+$/, "")}'`
      : String.fromCharCode(65 + new Set(known.map((each) => each.letter[0])).size);
    known.push({ letter, bars: own });
    return letter;
  });
  return { letters, phraseBars };
}

function hasRhythm(measure: Measure): boolean {
  return measure.events.some((event) => event.kind === "note");
}

/** Rhythm of a bar as text: kinds, lengths, ties and slurs. */
function rhythmKey(measure: Measure): string {
  return measure.events
    .map((event) =>
      [
        event.kind[0],
        event.grace ? "g" : event.duration,
        event.tieStart ? "~" : "",
        event.slurStart !== undefined ? "(" : "",
        event.slurStop !== undefined ? ")" : "",
      ].join(""),
    )
    .join(" ");
}

function notesKey(measure: Measure): string {
  return `${rhythmKey(measure)} ${measure.events.map((event) => (event.pitch ? pitchToMidi(event.pitch) : "-")).join(",")}`;
}
