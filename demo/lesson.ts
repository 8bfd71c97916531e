import { v7 as uuid } from "uuid";
import { addDays } from "../src/core/calendar";
import type { RoomNote } from "../src/core/room";
import type { Director } from "../src/services/actor";
import { today } from "../src/services/calendar";
import { closeRoom, keepState, noteRoom, openRoom, roomView, setGoal } from "../src/services/room";
import { classesBetween } from "../src/services/week";
import { DEMO } from "./band";

/** The demo looks back on a lesson of the last days. */
const BACK_DAYS = 7;

/** The newest lesson of the band as it went: what was heard in it, what it did not get to, and what comes back next time. */
export async function holdALesson(director: Director): Promise<void> {
  const now = today(DEMO.timeZone);
  const classes = await classesBetween(director.bandId, addDays(now, -BACK_DAYS), addDays(now, -1));
  const held = classes.filter(({ blocks }) => blocks > 1).at(-1);
  if (!held) return;
  const { id } = await openRoom(director, held);
  await setGoal(director, id, "Everybody begins bar 3 together.");
  const { sheet, state } = await roomView(director, id);
  const lines = sheet.blocks.filter(({ tune }) => tune?.lineId);
  const [first] = lines;
  const left = lines.length > 1 ? lines.at(-1) : undefined;
  const done = sheet.blocks.filter((block) => block !== left);
  await keepState(director, id, {
    version: 1,
    heard: 0,
    state: { ...state, done: done.map((block) => block.id), at: done.at(-1)!.id },
  });
  const [section] = first?.tune?.rows.at(-1)?.instrumentIds ?? [];
  const absent = sheet.players.at(-1);
  const where = { bars: "3-4", instruments: section ? [section] : [] };
  const notes: [RoomNote, string | null][] = [
    ...(absent ? [[{ kind: "absent", playerId: absent.id }, null] as [RoomNote, null]] : []),
    ...(first
      ? ([
          [{ kind: "tag", tag: "rushing", ...where }, first.id],
          [{ kind: "star", ...where }, first.id],
          [{ kind: "dynamics", dynamic: "p", ...where }, first.id],
          [{ kind: "hands", question: "better than before", up: 9 }, first.id],
          [{ kind: "tag", tag: "better", ...where }, first.id],
          [{ kind: "tempo", bpm: (first.bpm ?? 80) + 4 }, first.id],
        ] as [RoomNote, string][])
      : []),
  ];
  const begun = Date.parse(`${held.date}T${held.startsAt}:00Z`);
  await noteRoom(director, id, {
    entries: notes.map(([note, blockId], i) => ({
      id: uuid(),
      atMs: begun + 240_000 * (i + 1),
      blockId,
      note,
      undone: false,
    })),
  });
  await closeRoom(director, id, {
    taught: first ? [first.id] : [],
    notReached: left ? [left.stripId] : [],
    forNext: true,
  });
}
