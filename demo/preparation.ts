import { addDays, format } from "date-fns";
import { formId, USUAL_COURSE, USUAL_PAGE } from "../src/core/rhythm";
import { TEMPLATES } from "../src/core/warmup";
import type { Director } from "../src/services/actor";
import {
  courseDetail,
  giveDrill,
  makeCourse,
  makeDrill,
  markMissed,
  openDay,
} from "../src/services/counting";
import { createRoutine, giveBlock } from "../src/services/warmups";

/** Two warm-up routines, four counting pages and a course on the shelf; a warm-up and a page on some stands. */
export async function prepareWarmUpsAndCounting(
  director: Director,
  groupIds: Map<string, string>,
): Promise<void> {
  const [small, wide] = [TEMPLATES[2]!.routine, TEMPLATES[3]!.routine];
  const { id: harbour } = await createRoutine(director, {
    content: { ...small, title: "Harbour warm-up", pieceBpm: 92 },
  });
  await createRoutine(director, { content: { ...wide, title: "Concert week warm-up", pieceBpm: 104 } });
  const dueDate = format(addDays(new Date(), 5), "yyyy-MM-dd");
  const give = { timesPerWeek: 5, dueDate, sure: ["day-off" as const] };
  await giveBlock(director, harbour, {
    ...give,
    blockId: "b2",
    groupId: groupIds.get("Reeds")!,
    goalBpm: 66,
    note: "The same volume, tone and pitch from start to end.",
  });
  await giveBlock(director, harbour, {
    ...give,
    blockId: "b6",
    groupId: groupIds.get("High Brass & Percussion")!,
    goalBpm: 88,
    note: "Tongued, then slurred; rest where the rests are.",
  });
  const page = { bpm: 80, loops: 2, system: "numbers" };
  const { id: seven } = await makeDrill(director, {
    ...page,
    title: "The wandering quarter",
    settings: { ...USUAL_PAGE, attacks: [7, 7], choice: "complete" },
  });
  await makeDrill(director, {
    ...page,
    title: "Dots and ties",
    settings: { ...USUAL_PAGE, attacks: [3, 5], grades: [3, 7], seed: 34 },
  });
  await makeDrill(director, {
    ...page,
    title: "Six-eight in twos",
    system: "takadimi",
    bpm: 60,
    settings: { ...USUAL_PAGE, metres: [{ beats: 6, beatType: 8 }], slotsPerBeat: 3, seed: 6 },
  });
  await giveDrill(director, seven, {
    ...give,
    groupId: groupIds.get("Full Band")!,
    goalBpm: 80,
    note: "Count aloud while you clap.",
  });
  const { id: course } = await makeCourse(director, {
    title: "Two weeks of counting",
    settings: { ...USUAL_COURSE, minutesPerDay: 8, seed: 19 },
  });
  const { plan } = await courseDetail(director, course);
  await markMissed(director, course, { day: 2, formId: formId(plan[1]!.fresh.at(-1)!), missed: true });
  await openDay(director, course, 3);
}
