import { minutesToPlan, placeBetween, type Strip, stripsOn } from "./strip";

/** What can be caught up alone at home; warm-ups and words are not. */
const CAUGHT_UP: ReadonlySet<Strip["kind"]> = new Set(["line", "drill", "counting", "piece"]);

/**
 * What a player who missed a class does at home in its place: the material of the class that was for this player, once each,
 * after what stands on that day already. It belongs to the lesson, whatever day it lands on.
 *
 * @param strips  the whole plan
 * @param missed  the class
 * @param player  who was away, with instruments
 * @param day  the home day it goes on
 * @param secondsOf  how long material sounds; 0 where nobody knows
 * @param newId  ids for what is made
 */
export function makeUps(
  strips: readonly Strip[],
  missed: { groupId: string; date: string; lesson: number | null },
  player: { id: string; instruments: readonly string[] },
  day: string,
  secondsOf: (strip: Strip) => number,
  newId: () => string,
): Strip[] {
  const { groupId, date, lesson } = missed;
  let place = stripsOn(strips, { groupId, where: "home", date: day }).at(-1)?.place ?? null;
  const had = new Set(
    strips
      .filter(
        ({ forWhom, reason }) =>
          forWhom.kind === "player" &&
          forWhom.playerId === player.id &&
          reason?.kind === "make-up" &&
          reason.missedOn === date,
      )
      .map(({ kind, refId, title }) => `${kind}/${refId ?? title}`),
  );
  return stripsOn(strips, { groupId, where: "class", date })
    .filter(
      ({ kind, forWhom, notReached }) =>
        CAUGHT_UP.has(kind) &&
        !notReached &&
        (forWhom.kind === "everyone" ||
          (forWhom.kind === "instrument" && player.instruments.includes(forWhom.instrumentId)) ||
          (forWhom.kind === "player" && forWhom.playerId === player.id)),
    )
    .filter(({ kind, refId, title }) => !had.has(`${kind}/${refId ?? title}`))
    .map((strip): Strip => {
      place = placeBetween(place, null);
      const seconds = secondsOf(strip);
      return {
        ...strip,
        id: newId(),
        where: "home",
        forWhom: { kind: "player", playerId: player.id },
        date: day,
        place,
        minutes: seconds > 0 ? minutesToPlan(strip.kind, seconds, "home") : strip.minutes,
        reason: { kind: "make-up", lesson, missedOn: date },
      };
    });
}
