import { Op } from "sequelize";
import type { z } from "zod";
import { addDays } from "../../core/calendar";
import { groupBy } from "../../core/lists";
import { firstState, isUntouched } from "../../core/room";
import { Room } from "../../data";
import { type Actor, ServiceError } from "../actor";
import { dayLabel } from "../calendar";
import { classesBetween, stripsBetween } from "../week";
import { daysOf, eyesOf, leader, roomFor } from "./rooms";
import type { BringIn } from "./schema";
import { sheetOf } from "./sheet";
import type { OtherLesson } from "./wire";

/** A director takes blocks from the lessons of so many days before and after. */
const BACK_DAYS = 28;
const AHEAD_DAYS = 7;

/**
 * Lessons of other days and groups whose blocks can be done in this one: what a class did not get to, and what another group does.
 * Somebody who stands in sees those of the own days. The newest first.
 */
export async function otherLessons(actor: Actor, roomId: string): Promise<OtherLesson[]> {
  const who = leader(actor);
  const room = await roomFor(who, roomId);
  const { bandId, groupId, date } = room;
  const [from, to] = await daysOf(who, [addDays(date, -BACK_DAYS), addDays(date, AHEAD_DAYS)]);
  const [classes, strips, rooms] = await Promise.all([
    classesBetween(bandId, from, to),
    stripsBetween(bandId, from, to),
    Room.findAll({ where: { bandId, date: { [Op.between]: [from, to] } } }),
  ]);
  const brought = new Set(room.brought ?? []);
  const keyOf = (of: { groupId: string; date: string }) => `${of.groupId}/${of.date}`;
  const held = new Map(rooms.map((each) => [keyOf(each), each]));
  const done = doneElsewhere(rooms.filter((each) => each.id !== roomId && each.groupId === groupId));
  const byClass = groupBy(
    strips.filter(({ where }) => where === "class"),
    keyOf,
  );
  const others = classes.filter((each) => keyOf(each) !== keyOf(room));
  return others.reverse().flatMap((each): OtherLesson[] => {
    const own = byClass.get(keyOf(each)) ?? [];
    // What a class was to do and did not is left; a lesson that was never opened has left nothing.
    const before = each.groupId === groupId && each.date < date && held.has(keyOf(each));
    return own.length === 0
      ? []
      : [
          {
            groupName: each.groupName,
            date: each.date,
            label: dayLabel(each.date),
            blocks: own.map(({ id, title, minutes }) => ({
              id,
              title,
              minutes,
              left: before && !done.has(id),
              brought: brought.has(id),
            })),
          },
        ];
  });
}

/** Strips that were done in some lessons: every block of them. */
export function doneElsewhere(rooms: readonly Pick<Room, "state">[]): Set<string> {
  const done = new Set<string>();
  for (const { state } of rooms)
    for (const [stripId, blocks] of groupBy(state.order, (id) => id.slice(0, 36)))
      if (blocks.every((id) => state.done.includes(id))) done.add(stripId);
  return done;
}

/**
 * Does blocks of other lessons in this one, first of all while it has not begun, else after what is on its sheet.
 * @throws ServiceError for blocks of lessons that are not the asker's to see
 */
export async function bringIn(
  actor: Actor,
  roomId: string,
  { strips }: z.output<typeof BringIn>,
): Promise<void> {
  const room = await roomFor(leader(actor), roomId);
  if (room.closedAt) throw new ServiceError("conflict", "This lesson is over.");
  const there = new Set(
    (await otherLessons(actor, roomId)).flatMap(({ blocks }) => blocks.map(({ id }) => id)),
  );
  if (!strips.every((id) => there.has(id)))
    throw new ServiceError("not-found", "This is on no lesson that can be brought in.");
  room.brought = [...new Set(strips)];
  // One that has begun is told by nobody but its wall: it finds what is new after what is on its sheet.
  if (isUntouched(room.state)) {
    const { blocks, naming } = await sheetOf(room, await eyesOf(room), false);
    room.state = firstState(blocks, Date.now(), naming);
    room.stateVersion += 1;
  }
  await room.save();
}
