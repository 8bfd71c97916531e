import { makeUps, type Strip, weekdayOf } from "../../core/plan";
import type { RibbonCell, RibbonView } from "../../services/week/schema";

type Member = RibbonView["groups"][number]["members"][number];

/** What a player does at home in place of a class: on the next home day, or on the same one; null where none is in sight. */
export function caughtUp(
  view: RibbonView,
  strips: readonly Strip[],
  { groupId, date, lesson }: RibbonCell,
  player: Member,
): { day: string; made: Strip[] } | null {
  const home = view.cells
    .filter((each) => each.groupId === groupId && each.where === "home" && each.budget > 0)
    .map((each) => each.date)
    .filter((day) => day >= date)
    .sort();
  const day = home.find((each) => each > date) ?? home[0];
  if (!day) return null;
  const made = makeUps(
    strips,
    { groupId, date, lesson },
    player,
    day,
    ({ refId }) => view.drawer.find((item) => item.refId === refId)?.seconds ?? 0,
    () => crypto.randomUUID(),
  );
  return { day, made };
}

/** A class that a player misses every week because of something else, with what stands in its place. */
export interface Substitute {
  cell: RibbonCell;
  player: Member;
  reason: string;
  day: string;
  made: Strip[];
}

/** Classes of the days shown that somebody misses every week, where something is still to be caught up on. */
export function substitutes(view: RibbonView, strips: readonly Strip[]): Substitute[] {
  return view.cells
    .filter(({ where, budget, date }) => where === "class" && budget > 0 && date >= view.today)
    .flatMap((cell) => {
      const members = view.groups.find(({ id }) => id === cell.groupId)?.members ?? [];
      return view.clashes
        .filter(({ groupId, weekday }) => groupId === cell.groupId && weekday === weekdayOf(cell.date))
        .flatMap(({ playerId, reason }) => {
          const player = members.find(({ id }) => id === playerId);
          const caught = player && caughtUp(view, strips, cell, player);
          return caught && caught.made.length > 0 ? [{ cell, player, reason, ...caught }] : [];
        });
    });
}
