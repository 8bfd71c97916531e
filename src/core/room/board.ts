import type { Pitch } from "../music";
import { type Naming, noteName } from "../playalong";
import { type Score, timeline } from "../score";

/** A note of a row of the board: where it stands and what it is called. */
export interface RowNote {
  eventId: string;
  /** Place of its bar in the part, from 0. */
  bar: number;
  /** Place of the last bar it is held into. */
  untilBar: number;
  /** Beat in the bar, from 1. */
  beat: number;
  /** As the instrument reads it; null for a stroke. */
  written: Pitch | null;
  /** Signature in force, -7 to 7. */
  fifths: number;
  lyric: string | null;
  /** How it is fingered, or the slide's position; empty where nothing is told. */
  fingering: string;
}

/** One row of the transposition board: instruments that read the same. */
export interface BoardRow {
  instrumentIds: string[];
  labels: string[];
  notes: RowNote[];
}

/**
 * The notes of a part in written order, each once however often it is repeated, ties merged.
 * @param fingering  what is told of a written note
 */
export function rowNotes(part: Score, fingering: (written: Pitch) => string): RowNote[] {
  const seen = new Set<string>();
  const barOf = new Map(
    part.parts[0].measures.flatMap(({ events }, bar) => events.map(({ id }) => [id, bar] as const)),
  );
  return timeline(part).notes.flatMap((note) => {
    if (seen.has(note.eventId)) return [];
    seen.add(note.eventId);
    const { eventId, eventIds, measureIndex: bar, beat, written, fifths, lyric } = note;
    const untilBar = Math.max(bar, barOf.get(eventIds.at(-1)!) ?? bar);
    return [
      { eventId, bar, untilBar, beat, written, fifths, lyric, fingering: written ? fingering(written) : "" },
    ];
  });
}

/** What a note is called on the board; what is only breathed or clapped by its word, where it has one. */
export function nameOnBoard(note: RowNote, naming: Naming): string {
  return note.written === null && note.lyric ? note.lyric : noteName(note, naming);
}

/**
 * Rows of instruments that read the same names become one: flute, oboe and trombone say the same letters. With fingerings each that
 * differs keeps a row of its own.
 * @param rows  one instrument each, in score order
 */
export function boardRows(rows: readonly BoardRow[], naming: Naming, fingerings: boolean): BoardRow[] {
  const merged = new Map<string, BoardRow>();
  for (const row of rows) {
    const key = row.notes
      .map(
        (note) => `${note.bar}/${note.beat}/${nameOnBoard(note, naming)}${fingerings ? note.fingering : ""}`,
      )
      .join(" ");
    const same = merged.get(key);
    if (same) {
      same.instrumentIds.push(...row.instrumentIds);
      same.labels.push(...row.labels);
    } else merged.set(key, { ...row, instrumentIds: [...row.instrumentIds], labels: [...row.labels] });
  }
  return [...merged.values()];
}

/** Whether a row only holds on in a bar what began before it. */
export function holdsInto(row: BoardRow, bar: number): boolean {
  return row.notes.some((note) => note.bar < bar && note.untilBar >= bar);
}

/** What a row does in some bars. */
export type Doing = { kind: "plays" } | { kind: "rests" } | { kind: "enters"; bar: number };

/**
 * Whether an instrument plays in a stretch from its first bar on, enters later, or rests.
 * @param from  place of the first bar, from 0
 * @param to    place after the last
 */
export function doingIn(row: BoardRow, from: number, to: number): Doing {
  const first = row.notes.find(({ bar }) => bar >= from && bar < to);
  if (!first) return { kind: "rests" };
  return first.bar === from ? { kind: "plays" } : { kind: "enters", bar: first.bar };
}

/** The first note an instrument plays in a stretch; none where it rests. */
export function firstNoteIn(row: BoardRow, from: number, to: number): RowNote | undefined {
  return row.notes.find(({ bar }) => bar >= from && bar < to);
}
