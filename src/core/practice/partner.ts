import type { Assessment, NoteVerdict } from "../listen";
import { measureOfEvents, type Score, timeline } from "../score";

/** How two players of the same line differ in a bar. */
export type Differs = "pitch" | "left-out" | "time" | "length";

export interface DifferingBar {
  /** Index of the bar in the part. */
  bar: number;
  /** What differs, the gravest first. */
  kinds: Differs[];
  /** Notes that differ. */
  eventIds: string[];
}

const GRAVEST: readonly Differs[] = ["left-out", "pitch", "time", "length"];

/**
 * Bars in which two takes of the same part differ: another note, one left out, early against late, short against long. Who of
 * the two is right is not asked: playing together is hearing where one differs.
 *
 * @param score  the part both played
 */
export function differingBars(
  score: Score,
  one: Pick<Assessment, "notes">,
  other: Pick<Assessment, "notes">,
): DifferingBar[] {
  const barOf = measureOfEvents(score);
  const bars = new Map<number, DifferingBar>();
  one.notes.forEach((note, i) => {
    const same = other.notes[i];
    if (!same || same.eventId !== note.eventId) return;
    const kind = differs(note, same);
    const bar = barOf.get(note.eventId);
    if (!kind || bar === undefined) return;
    const found = bars.get(bar) ?? { bar, kinds: [], eventIds: [] };
    if (!found.kinds.includes(kind)) found.kinds.push(kind);
    found.eventIds.push(note.eventId);
    bars.set(bar, found);
  });
  return [...bars.values()]
    .map((each) => ({ ...each, kinds: GRAVEST.filter((kind) => each.kinds.includes(kind)) }))
    .sort((a, b) => a.bar - b.bar);
}

function differs(a: NoteVerdict, b: NoteVerdict): Differs | null {
  if ((a.verdict === "missed") !== (b.verdict === "missed")) return "left-out";
  if (a.verdict === "missed") return null;
  // Two right notes may be some cents apart, and a whole take an octave.
  const right = a.verdict === "ok" && b.verdict === "ok";
  if (!right && Math.round(a.playedMidi ?? 0) !== Math.round(b.playedMidi ?? 0)) return "pitch";
  if (a.timing !== null && b.timing !== null && a.timing !== b.timing) return "time";
  if (a.length !== null && b.length !== null && a.length !== b.length) return "length";
  return null;
}

/** Where a partner's recording begins in a plan, so that both play together. */
export interface Together {
  /** The partner's own tempo. */
  bpm: number;
  /** Second of the line at which the recording's second `fromSec` sounds. */
  lineSec: number;
  fromSec: number;
}

/** So much of the recording before its first note is kept: breath and attack, seconds. */
const BEFORE_SEC = 0.15;

/**
 * How a recorded take is laid under a count-off: at its own tempo, its first note on the line's.
 * @param score  what was recorded
 * @returns null for a take that cannot be counted in: nothing of the line was found in it
 */
export function layTogether(
  score: Score,
  { take, notes }: Pick<Assessment, "take" | "notes">,
): Together | null {
  const first = notes.find(({ onset, verdict }) => onset !== null && verdict === "ok");
  if (take.status !== "assessed" || take.tempoBpm === null || !first) return null;
  const bpm = Math.round(take.tempoBpm);
  const inLine = timeline(score, { bpm }).notes[first.index];
  if (inLine?.eventId !== first.eventId) return null;
  const fromSec = Math.max(0, first.onset! - BEFORE_SEC);
  return { bpm, fromSec, lineSec: inLine.onsetSec - (first.onset! - fromSec) };
}
