import { type NoteVerdict, wasRecorded } from "../listen";

/** What a take's notes come to, each note in one of the three. */
export interface CleanCount {
  notes: number;
  /** Right pitch, in time, full length. */
  clean: number;
  /** Wrong pitch or missed. */
  wrong: number;
}

/**
 * A clean note: right pitch, in time, full length. The one meaning of "clean" everywhere: in what is stored of a take, in
 * Listen, Week and Growth, and in what the player is told.
 */
export function isClean(note: Pick<NoteVerdict, "verdict" | "timing" | "length">): boolean {
  return note.verdict === "ok" && !isUneven(note);
}

/** So much of a line has to be in a recording; else nobody can say how it was played. */
const LEAST_RECORDED = 0.8;

/** The notes a recording is judged by: those its device did not leave out; none where it left out too many. */
export function recordedNotes<N extends Pick<NoteVerdict, "flags">>(notes: readonly N[]): N[] {
  const recorded = notes.filter(wasRecorded);
  return recorded.length >= LEAST_RECORDED * notes.length ? recorded : [];
}

/** Found, but early, late, short or long. */
export function isUneven(note: Pick<NoteVerdict, "timing" | "length">): boolean {
  return (
    note.timing === "early" || note.timing === "late" || note.length === "short" || note.length === "long"
  );
}

/**
 * @example
 * countClean([
 *   { verdict: "ok", timing: "ok", length: "ok" },
 *   { verdict: "ok", timing: "late", length: "ok" },
 *   { verdict: "missed", timing: null, length: null },
 * ]) // => { notes: 3, clean: 1, wrong: 1 }
 */
export function countClean(notes: readonly Pick<NoteVerdict, "verdict" | "timing" | "length">[]): CleanCount {
  return {
    notes: notes.length,
    clean: notes.filter(isClean).length,
    wrong: notes.filter((note) => note.verdict !== "ok").length,
  };
}

/** Notes of each measure of the score, every pass counted: what is asked of a band's takes bar by bar. */
export function countBars(
  notes: readonly Pick<NoteVerdict, "verdict" | "timing" | "length" | "eventId">[],
  measureOf: ReadonlyMap<string, number>,
): { measureIndex: number; notes: number; wrong: number; untimely: number }[] {
  const bars = new Map<number, { measureIndex: number; notes: number; wrong: number; untimely: number }>();
  for (const note of notes) {
    const measureIndex = measureOf.get(note.eventId)!;
    const bar = bars.get(measureIndex) ?? { measureIndex, notes: 0, wrong: 0, untimely: 0 };
    bar.notes++;
    if (note.verdict !== "ok") bar.wrong++;
    else if (isUneven(note)) bar.untimely++;
    bars.set(measureIndex, bar);
  }
  return [...bars.values()];
}

/** How one take came out, from worst to best. */
export type TakeRank =
  /** Cannot be read, silent, no music or another piece: a person must listen. */
  | { kind: "ear" }
  /** Still being heard. */
  | { kind: "waiting" }
  /** Heard by rhythm, level and tuning only. */
  | { kind: "by-ear" }
  | {
      kind: "counted";
      notes: number;
      wrong: number;
      uneven: number;
      /** Slower than the slowest tempo that counts. */
      slow: boolean;
    };

/**
 * Order of takes of one task, best first: heard ones before others, those at a tempo that counts before slower ones; among
 * them fewer wrong notes, then fewer uneven ones, then the newer; what the bench could not judge after them, newest first. Common practice: redo is free, the best counts.
 */
export function compareTakes(a: { rank: TakeRank; at: number }, b: { rank: TakeRank; at: number }): number {
  const place = { counted: 0, "by-ear": 1, waiting: 2, ear: 3 };
  const byKind = place[a.rank.kind] - place[b.rank.kind];
  if (byKind !== 0) return byKind;
  if (a.rank.kind === "counted" && b.rank.kind === "counted") {
    const [x, y] = [a.rank, b.rank];
    if (x.slow !== y.slow) return x.slow ? 1 : -1;
    const share = x.wrong / x.notes - y.wrong / y.notes || x.uneven / x.notes - y.uneven / y.notes;
    if (share !== 0) return share;
  }
  return b.at - a.at;
}
