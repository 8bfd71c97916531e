import { addDays, daysBetween } from "../calendar";
import { placeBetween, type Strip, stripsOn } from "./strip";

/** Where a strip is to stand: in a cell, before another strip or at its end. */
export interface Target {
  groupId: string;
  where: "class" | "home";
  date: string;
  before: string | null;
}

/**
 * A strip in another place; the others stay as they are.
 * @returns the strips with one changed; the same array when nothing moves
 */
export function moveStrip(strips: readonly Strip[], id: string, target: Target): readonly Strip[] {
  const moving = strips.find((strip) => strip.id === id);
  if (!moving || target.before === id) return strips;
  const there = stripsOn(strips, target).filter((strip) => strip.id !== id);
  const at = target.before === null ? there.length : there.findIndex((strip) => strip.id === target.before);
  const to = at < 0 ? there.length : at;
  const own = stripsOn(strips, moving);
  const sameCell =
    moving.groupId === target.groupId && moving.where === target.where && moving.date === target.date;
  if (sameCell && own.findIndex((strip) => strip.id === id) === to) return strips;
  const place = placeBetween(there[to - 1]?.place ?? null, there[to]?.place ?? null);
  const { groupId, where, date } = target;
  return strips.map((strip) => (strip.id === id ? { ...strip, groupId, where, date, place } : strip));
}

/**
 * Copies of a week's strips in another week, each on the same weekday.
 * @param fromMonday  and `toMonday`: Mondays of the weeks
 * @param newId  ids for the copies
 * @param serves  whether a day can take a strip; those that find none are left out and named
 */
export function copyWeek(
  strips: readonly Strip[],
  fromMonday: string,
  toMonday: string,
  newId: () => string,
  serves: (strip: Strip) => boolean,
): { copies: Strip[]; leftOut: Strip[] } {
  const shift = daysBetween(fromMonday, toMonday);
  const moved = strips
    .filter(({ date }) => date >= fromMonday && date < addDays(fromMonday, 7))
    .map((strip) => ({ ...strip, date: addDays(strip.date, shift) }));
  return {
    copies: moved.filter(serves).map((strip) => ({ ...strip, id: newId() })),
    leftOut: moved.filter((strip) => !serves(strip)),
  };
}

/**
 * What becomes of a row when one of its days is lost: its strips go to the row's next day, those of that day to the one after,
 * and so on, each keeping its order before what stands there, up to the first day that had nothing.
 *
 * @param days  days of the row in order, the lost one not among them, from the lost one on
 * @param lostDate  the day that falls out
 * @returns every strip; what finds no further day stays on the last
 */
export function shiftRest(
  strips: readonly Strip[],
  row: { groupId: string; where: "class" | "home" },
  lostDate: string,
  days: readonly string[],
): readonly Strip[] {
  const later = days.filter((date) => date > lostDate);
  if (later.length === 0) return strips;
  const newDate = new Map<string, string>();
  let from = lostDate;
  for (const day of later) {
    const here = stripsOn(strips, { ...row, date: from });
    if (here.length === 0) break;
    for (const strip of here) newDate.set(strip.id, day);
    from = day;
  }
  return strips.map((strip) => {
    const date = newDate.get(strip.id);
    return date === undefined ? strip : { ...strip, date };
  });
}
