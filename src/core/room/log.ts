import type { Dynamic } from "../score";

/** Words of the trade for what is heard in class; a band has its own beside them. */
export const ROOM_TAGS = [
  "rushing",
  "dragging",
  "heavy",
  "balance",
  "key signature",
  "articulation",
  "cracked",
  "better",
  "solid",
] as const;

/** Words that say that it went well. */
const GOOD: ReadonlySet<string> = new Set(["better", "solid"]);

/** What was noted in class with one tap. */
export type RoomNote =
  | { kind: "tag"; tag: string; bars: string; instruments: string[] }
  /** For tomorrow. */
  | { kind: "star"; bars: string; instruments: string[] }
  | { kind: "absent"; playerId: string }
  | { kind: "hands"; question: string; up: number }
  | { kind: "dynamics"; dynamic: Dynamic; bars: string; instruments: string[] }
  | { kind: "tempo"; bpm: number };

/** One entry of a lesson's log. */
export interface RoomEntry {
  id: string;
  /** Milliseconds since the epoch, by the device that noted it. */
  atMs: number;
  /** The block that was on; null for what concerns the whole lesson. */
  blockId: string | null;
  note: RoomNote;
  undone: boolean;
}

/** Entries as they stand: undone ones left out, each once, in the order they were noted. */
export function standing(entries: readonly RoomEntry[]): RoomEntry[] {
  const last = new Map(entries.map((entry) => [entry.id, entry]));
  return [...last.values()].filter(({ undone }) => !undone).sort((a, b) => a.atMs - b.atMs);
}

/** Everybody who was ever noted as absent in a lesson, though here again or undone. */
export function notedAbsent(entries: readonly RoomEntry[]): string[] {
  return [...new Set(entries.flatMap(({ note }) => (note.kind === "absent" ? [note.playerId] : [])))];
}

/** Players noted as absent; who was noted twice is here again. */
export function absentOf(entries: readonly RoomEntry[]): string[] {
  const absent = new Set<string>();
  for (const { note } of standing(entries)) {
    if (note.kind !== "absent") continue;
    if (!absent.delete(note.playerId)) absent.add(note.playerId);
  }
  return [...absent];
}

/** The fastest tempo a block was played at in class; null where none was noted. */
export function reached(entries: readonly RoomEntry[], blockId: string): number | null {
  const tempi = standing(entries).flatMap(({ blockId: own, note }) =>
    own === blockId && note.kind === "tempo" ? [note.bpm] : [],
  );
  return tempi.length > 0 ? Math.max(...tempi) : null;
}

/** Something to work on next time: where, with whom, and why. */
export interface ForTomorrow {
  blockId: string;
  bars: string;
  instruments: string[];
  tags: string[];
}

/**
 * What was starred, with what was said of the same bars and players; a place that was starred twice is taken off again. What was called
 * better or solid is no reason.
 */
export function forTomorrow(entries: readonly RoomEntry[]): ForTomorrow[] {
  const all = standing(entries);
  const starred = new Map<string, ForTomorrow>();
  const keyOf = (blockId: string, note: { bars: string; instruments: string[] }) =>
    JSON.stringify([blockId, note.bars, [...note.instruments].sort()]);
  for (const { blockId, note } of all) {
    if (note.kind !== "star" || blockId === null) continue;
    const key = keyOf(blockId, note);
    if (!starred.delete(key))
      starred.set(key, { blockId, bars: note.bars, instruments: note.instruments, tags: [] });
  }
  for (const { blockId, note } of all) {
    if (note.kind !== "tag" || blockId === null || GOOD.has(note.tag)) continue;
    const place = starred.get(keyOf(blockId, note));
    if (place && !place.tags.includes(note.tag)) place.tags.push(note.tag);
  }
  return [...starred.values()];
}
