import type { NoteVerdict } from "../listen";

/** So many notes in a row are left out before whole bars of them are told as bars. */
const BARS_OF_NOTES = 3;

/** What a note of a stretch is told as, and which stretch it is. */
interface LeftOut {
  kind: "bars-left-out" | "repeat-left-out";
  key: string;
}

/**
 * Notes of whole bars in which nothing was played: an eye that skipped a line, or a repeat that was not taken. They are one thing, not a
 * dozen notes missed.
 * @returns by place of the note: what it is told as, and which stretch it belongs to
 */
export function barsLeftOut(played: readonly NoteVerdict[]): ReadonlyMap<number, LeftOut> {
  const found = new Map<number, LeftOut>();
  const before = new Set<string>();
  let stretch: NoteVerdict[] = [];
  const close = () => {
    if (stretch.length >= BARS_OF_NOTES) {
      const again = stretch.every(({ eventId }) => before.has(eventId));
      const kind = again ? "repeat-left-out" : "bars-left-out";
      for (const note of stretch) found.set(note.index, { kind, key: stretch[0]!.measure });
    }
    for (const { eventId } of stretch) before.add(eventId);
    stretch = [];
  };
  for (const bar of barsInOrder(played)) {
    if (bar.every(({ verdict }) => verdict === "missed")) {
      // The second time through begins anew: it is a stretch of its own.
      if (stretch.length > 0 && stretch.some(({ eventId }) => eventId === bar[0]!.eventId)) close();
      stretch.push(...bar);
      continue;
    }
    close();
    for (const { eventId } of bar) before.add(eventId);
  }
  close();
  return found;
}

/** Notes by bar in the order they are played: a bar that is repeated comes twice. */
function barsInOrder(notes: readonly NoteVerdict[]): NoteVerdict[][] {
  const bars: NoteVerdict[][] = [];
  for (const note of notes) {
    const last = bars.at(-1)?.at(-1);
    const same = last?.measure === note.measure && note.beat > last.beat;
    if (same) bars.at(-1)!.push(note);
    else bars.push([note]);
  }
  return bars;
}
