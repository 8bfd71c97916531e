import { firstNoteIn, type RoomEntry, readBars, type Stretch, standing } from "../../core/room";
import type { Director } from "../actor";
import { writePencil } from "../shelf";
import type { RoomBlock, RoomTune } from "./wire";

/** Bars as they were noted, by their places; none for the whole, or for what the line has no more. */
export function stretchesOf({ numbers }: RoomTune, bars: string): readonly Stretch[] {
  const read = readBars(bars, numbers);
  return "stretches" in read ? read.stretches : [];
}

/**
 * Dynamics that were changed for a section are pencilled into its parts, at the first note it plays there; takes are heard by them from
 * then on. A note has one dynamic: done once more, it stands there once.
 */
export async function pencilDynamics(
  who: Director,
  entries: readonly RoomEntry[],
  blocks: ReadonlyMap<string, RoomBlock>,
): Promise<void> {
  for (const { note, blockId } of standing(entries)) {
    const tune = blockId ? blocks.get(blockId)?.tune : null;
    if (note.kind !== "dynamics" || !tune?.lineId) continue;
    const [from, to] = stretchesOf(tune, note.bars)[0] ?? [0, tune.numbers.length];
    for (const instrumentId of note.instruments.length > 0 ? note.instruments : [null]) {
      const row = tune.rows.find(
        ({ instrumentIds }) => instrumentId === null || instrumentIds.includes(instrumentId),
      );
      const first = row && firstNoteIn(row, from, to);
      if (!first) continue;
      const { eventId } = first;
      const mark = { eventId, instrumentId, kind: "dynamic" as const, text: note.dynamic, shared: true };
      await writePencil(who, tune.lineId, mark);
    }
  }
}
