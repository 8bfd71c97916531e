import { v7 as uuid } from "uuid";
import { bookScore, LINES } from "../src/core/book";
import { addDays } from "../src/core/calendar";
import { makeUps, minutesToPlan, mondayOf, type Strip, type Weekday, weekdayOf } from "../src/core/plan";
import type { Director } from "../src/services/actor";
import { today } from "../src/services/calendar";
import {
  calendarView,
  draftView,
  drawerView,
  ribbonView,
  saveCalendar,
  savePlan,
  tickAbsent,
} from "../src/services/week";
import { proposalTitle } from "../src/ui/wording";
import { DEMO, LESSONS, WEEKS_BEHIND } from "./band";
import { makePieces, sheetsAndListening } from "./pieces";

/** Weeks of the term; the demo band is in its ninth. */
const TERM_WEEKS = 16;
const HARBOUR_WARM_UP = "Harbour warm-up";

/** Class patterns: weekdays, time and minutes by group. */
const CLASSES: { group: string; weekdays: Weekday[]; startsAt: string; minutes: number }[] = [
  { group: "Reeds", weekdays: [1, 3], startsAt: "09:40", minutes: 40 },
  { group: "High Brass & Percussion", weekdays: [2, 4], startsAt: "09:40", minutes: 40 },
  { group: "Low Brass", weekdays: [2, 4], startsAt: "10:40", minutes: 40 },
  { group: "Full Band", weekdays: [5], startsAt: "11:20", minutes: 50 },
];

/** The school year of the band, two weeks behind it as they were taught, this week and the next as the bench drafts them. */
export async function planTheTerm(
  director: Director,
  groupIds: ReadonlyMap<string, string>,
  lineIds: ReadonlyMap<number, string>,
): Promise<void> {
  const now = today(DEMO.timeZone);
  const monday = mondayOf(now);
  const begin = addDays(monday, -7 * WEEKS_BEHIND);
  const net = LINES.find(({ number }) => number === 26)!;
  const bars = bookScore(net).parts[0].measures.length;
  const pieces = await makePieces(director, lineIds.get(net.number)!, bars);
  const { version } = await calendarView(director);
  const concert = addDays(monday, 7 * 3 + 4);
  await saveCalendar(director, {
    version,
    terms: [{ id: uuid(), name: "Autumn term", from: begin, to: addDays(begin, 7 * TERM_WEEKS - 3) }],
    shortDays: [{ date: addDays(monday, 11), endsAt: "12:00", name: "early end" }],
    meetings: CLASSES.map(({ group, ...rest }) => ({
      id: uuid(),
      groupId: groupIds.get(group)!,
      pattern: { kind: "weekly" as const, weekdays: rest.weekdays, everyWeeks: 1 },
      from: begin,
      to: null,
      startsAt: rest.startsAt,
      minutes: rest.minutes,
    })),
    changes: [],
    goals: [
      {
        id: uuid(),
        kind: "concert",
        name: "Quayside concert",
        date: concert,
        groupId: null,
        programme: [
          entry("line", lineIds.get(12)!, "Five notes are enough for a tune. These are the five."),
          entry("line", lineIds.get(20)!),
          entry(
            "piece",
            pieces.overture,
            "Down at the quay they mend nets and hum; listen for the low flat.",
          ),
          entry("line", lineIds.get(28)!),
          entry("piece", pieces.parade, "To end, the whole band walks home by lantern light."),
        ],
      },
      {
        id: uuid(),
        kind: "test",
        name: "Playing test",
        date: addDays(monday, 15),
        groupId: groupIds.get("Low Brass")!,
        programme: [entry("line", lineIds.get(26)!)],
      },
    ],
  });
  await taughtWeeks(director, groupIds, lineIds, [addDays(monday, -14), addDays(monday, -7), monday], now);
  for (const week of [monday, addDays(monday, 7)]) await accept(director, week);
  await missedClass(director, groupIds.get("Reeds")!, monday, now);
  const song = LINES.find(({ number }) => number === 28)!;
  await sheetsAndListening(director, groupIds.get("Reeds")!, song, now);
}

/** Something on a programme, for whoever the concert is for. */
const entry = (kind: "line" | "piece", refId: string, spoken = "") => ({
  kind,
  refId,
  groupId: null,
  spoken,
});

/** Somebody was away from the newest class of the reeds, and catches up on it. */
async function missedClass(director: Director, groupId: string, monday: string, now: string): Promise<void> {
  const [{ cells, groups, strips }, { drawer }] = await Promise.all([
    ribbonView(director, addDays(monday, -7), 2),
    drawerView(director),
  ]);
  const own = cells.filter((cell) => cell.groupId === groupId && cell.budget > 0);
  const missed = own.filter(({ where, date }) => where === "class" && date < now).at(-1);
  const day = own.find(({ where, date }) => where === "home" && date >= now)?.date;
  const player = groups.find(({ id }) => id === groupId)?.members[3];
  if (!missed || !day || !player) return;
  await tickAbsent(director, { groupId, date: missed.date, playerId: player.id, absent: true });
  const made = makeUps(
    strips,
    missed,
    player,
    day,
    ({ refId }) => drawer.find((item) => item.refId === refId)?.seconds ?? 0,
    uuid,
  );
  await savePlan(director, {
    since: 0,
    changes: made.map((strip) => ({
      id: strip.id,
      basis: null,
      strip: { ...strip, reason: { ...strip.reason } },
    })),
  });
}

/** What was done in class, from the lessons the demo tells of. */
async function taughtWeeks(
  director: Director,
  groupIds: ReadonlyMap<string, string>,
  lineIds: ReadonlyMap<number, string>,
  mondays: readonly string[],
  now: string,
): Promise<void> {
  for (const monday of mondays) {
    const [{ cells, version }, { drawer }] = await Promise.all([
      ribbonView(director, monday, 1),
      drawerView(director),
    ]);
    const routine = drawer.find(({ kind, title }) => kind === "routine" && title === HARBOUR_WARM_UP)!;
    const pages = drawer.filter(({ kind }) => kind === "counting");
    const strips = cells
      .filter(({ date, budget }) => date < now && budget > 0)
      .flatMap(({ groupId, where, date }): Strip[] => {
        const lessons = LESSONS.filter(
          ({ group, daysAgo }) =>
            (group === "Full Band" || groupIds.get(group) === groupId) &&
            mondayOf(addDays(now, -daysAgo)) === monday,
        );
        const lines = [...new Set(lessons.map(({ line }) => line))].slice(0, 2);
        const material = lines.flatMap(
          (number) => drawer.find(({ refId }) => refId === lineIds.get(number)) ?? [],
        );
        // Nothing is asked at home of a group that met nothing that week.
        if (where === "home" && (material.length === 0 || groupIds.get("Full Band") === groupId)) return [];
        const items =
          where === "class"
            ? [routine, ...(date === monday ? pages.slice(0, 1) : []), ...material]
            : [...(weekdayOf(date) % 3 === 1 ? pages.slice(0, 1) : []), ...material];
        return items.map((item, place) => ({
          id: uuid(),
          groupId,
          where,
          forWhom: { kind: "everyone" },
          date,
          place,
          kind: item.kind,
          refId: item.refId,
          title: item.title,
          minutes:
            where === "class" && item.kind === "line" ? 12 : minutesToPlan(item.kind, item.seconds, where),
          firstBar: null,
          lastBar: null,
          note: "",
          reason: null,
        }));
      });
    await savePlan(director, {
      since: version,
      changes: strips.map((strip) => ({ id: strip.id, basis: null, strip: { ...strip, reason: null } })),
    });
  }
}

/** Puts a whole draft in, as a director with two minutes would. */
async function accept(director: Director, monday: string): Promise<void> {
  const { groups } = await draftView(director, { monday });
  const changes = groups.flatMap(({ proposals }) =>
    proposals.map(({ key: _key, reason, ...proposal }, place) => {
      const id = uuid();
      const title = proposalTitle(proposal);
      return {
        id,
        basis: null,
        strip: { ...proposal, id, title, place, note: "", reason: { ...reason } },
      };
    }),
  );
  await savePlan(director, { since: 0, changes });
}
