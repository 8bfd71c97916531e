import type { Assessment } from "../listen";
import type { Pitch } from "../music";
import type { Measure, Part, Score, ScoreEvent } from "../score";
import type { Outcome } from "./ladder";

/**
 * Seconds for a change of two notes, turn by turn: six, five, four ... until it is in time (common practice, no published
 * source). The last is no pause at all.
 */
export const CHANGE_GAPS = [6, 5, 4, 3, 2, 1, 0] as const;

/** One beat a second: the seconds of the pause are counted. */
export const CHANGE_BPM = 60;

/**
 * What one turn of the drill asks for: the first note, the pause, the second note, and back again, each note a beat long.
 *
 * @param from, to  written pitches
 * @param gap  whole seconds of rest between them; 0 joins them
 * @param part  of the line the two come from: its clef and transposition
 */
export function changeTurn(
  from: Pitch,
  to: Pitch,
  gap: number,
  part: Pick<Part, "clef" | "soundsBy">,
): Score {
  const note = (id: string, pitch: Pitch): ScoreEvent => ({
    id,
    kind: "note",
    pitch,
    duration: "1",
    type: "quarter",
    dots: 0,
  });
  const pause = (id: string): ScoreEvent[] =>
    gap > 0
      ? [{ id, kind: "rest", duration: String(gap) as ScoreEvent["duration"], type: "quarter", dots: 0 }]
      : [];
  const there = [note("from", from), ...pause("pause"), note("to", to)];
  const back =
    gap > 0
      ? [...pause("pause-back"), note("from-back", from)]
      : [note("from-again", from), note("to-again", to)];
  const measures: Measure[] = [
    {
      id: "turn",
      number: "1",
      time: { beats: gap > 0 ? 3 + 2 * gap : 4, beatType: 4 },
      events: [...there, ...back],
    },
  ];
  return {
    title: "Two-note change",
    parts: [{ id: "change", name: "", clef: part.clef, soundsBy: part.soundsBy, measures }],
  };
}

/** Where somebody stands in the drill. */
export interface Drill {
  /** Index in CHANGE_GAPS; its length when the change is in time. */
  at: number;
  poor: number;
}

/** A turn that is clean shortens the pause; two poor ones lengthen it again. */
export function nextGap({ at, poor }: Drill, outcome: Outcome): Drill {
  if (outcome === "clean") return { at: at + 1, poor: 0 };
  if (outcome === "nearly") return { at, poor };
  return poor + 1 >= 2 ? { at: Math.max(0, at - 1), poor: 0 } : { at, poor: poor + 1 };
}

/**
 * The one change a round stumbled over: a wrong or late note after a right one of another pitch, where it is the only kind of
 * slip there was. Null where the trouble lies elsewhere.
 */
export function troubledChange(
  notes: readonly { eventId: string; written: Pitch | null }[],
  verdicts: Assessment["notes"],
): { from: Pitch; to: Pitch } | null {
  const wrong = verdicts.filter(({ verdict, timing }) => verdict !== "ok" || timing === "late");
  if (wrong.length === 0) return null;
  const pairs = wrong.map(({ index }) => {
    const [before, here] = [notes[index - 1]?.written, notes[index]?.written];
    if (!before || !here || samePitch(before, here)) return null;
    return { from: before, to: here };
  });
  const [first] = pairs;
  if (!first || pairs.some((pair) => !pair || !sameChange(pair, first))) return null;
  return first;
}

const samePitch = (a: Pitch, b: Pitch) =>
  a.letter === b.letter && a.alter === b.alter && a.octave === b.octave;
const sameChange = (a: { from: Pitch; to: Pitch }, b: { from: Pitch; to: Pitch }) =>
  samePitch(a.from, b.from) && samePitch(a.to, b.to);
