import { addDays } from "../../src/core/calendar";
import { mondayOf } from "../../src/core/plan";
import type { Director, PlayerActor } from "../../src/services/actor";
import { addGroup } from "../../src/services/band";
import { today } from "../../src/services/calendar";
import { storeLine } from "../../src/services/lines";
import { SaveCalendar, saveCalendar } from "../../src/services/week";
import { addTo, anotherBand } from "./band";
import { line } from "./music";

export const NOW = today("Europe/Lisbon");
export const MONDAY = addDays(mondayOf(NOW), 7);
export const day = (n: number) => addDays(MONDAY, n);

export interface Planned {
  director: Director;
  groupId: string;
  lineIds: string[];
  flute: PlayerActor;
  clarinet: PlayerActor;
}

/** A group of a flute and a clarinet that meets on Tuesdays and Thursdays of a term around today, with three lines. */
export async function planned(): Promise<Planned> {
  const { director } = await anotherBand();
  const { groupId } = await addGroup(director, { name: "Winds" });
  const flute = await addTo(director, "Fia", ["flute"], "small-tunes", [groupId]);
  const clarinet = await addTo(director, "Cleo", ["clarinet"], "small-tunes", [groupId]);
  const lineIds: string[] = [];
  for (const [i, notes] of ["Bb4:2 C5:2 | D5:4", "D5:2 C5:2 | Bb4:4", "C5:2 D5:2 | Eb5:4"].entries())
    lineIds.push(
      (
        await storeLine(director.bandId, line(notes), {
          fileName: "test.musicxml",
          title: `Tune ${i + 1}`,
          number: i + 1,
        })
      ).lineId,
    );
  await saveCalendar(director, SaveCalendar.parse(year(groupId)));
  return { director, groupId, lineIds, flute, clarinet };
}

export const year = (groupId: string, version = 0) => ({
  version,
  terms: [{ id: crypto.randomUUID(), name: "Term", from: addDays(MONDAY, -70), to: addDays(MONDAY, 70) }],
  shortDays: [],
  meetings: [
    {
      id: crypto.randomUUID(),
      groupId,
      pattern: { kind: "weekly", weekdays: [2, 4], everyWeeks: 1 },
      from: addDays(MONDAY, -70),
      to: null,
      startsAt: "09:40",
      minutes: 40,
    },
  ],
  changes: [],
  goals: [] as {
    id: string;
    kind: string;
    name: string;
    date: string;
    groupId: string;
    programme: { kind: "line"; refId: string; groupId: null; spoken: string }[];
  }[],
});
