import { Op } from "sequelize";
import { v5 as uuidOf } from "uuid";
import type { z } from "zod";
import { addDays } from "../../core/calendar";
import type { Strip } from "../../core/plan";
import { absentOf, type ForTomorrow, forTomorrow, notedAbsent, reached } from "../../core/room";
import { Absence, Room, RoomPass, raisePlan, StripRow } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { dayLabel } from "../calendar";
import { assign } from "../giving";
import { keepTeaching } from "../knowledge";
import { classesBetween, savePlan } from "../week";
import { doneElsewhere } from "./bring";
import { pencilDynamics, stretchesOf } from "./dynamics";
import { roomFor, roomView } from "./rooms";
import type { CloseRoom, SendRoomHome } from "./schema";
import { takeBackFrom, taughtBy } from "./taught";
import type { Closed, RoomBlock, RoomLog } from "./wire";

/** The next class is looked for in so many days. */
const AHEAD_DAYS = 14;
/** Minutes for a place that was starred, slowly and in time (common practice, no published source). */
const STARRED_MINUTES = 4;
/** How often and at which tempo, where nothing says otherwise (common practice, no published source). */
const TIMES_A_WEEK = 5;
const USUAL_BPM = 80;

/** A lesson as it is looked back on: what was done, what was noted, what goes on from it. */
export async function roomLog(actor: Actor, roomId: string): Promise<RoomLog> {
  const room = await roomFor(director(actor), roomId);
  const [view, next, pass, later] = await Promise.all([
    roomView(actor, roomId, true),
    nextClass(room),
    room.passId ? RoomPass.findByPk(room.passId) : null,
    Room.findAll({ where: { bandId: room.bandId, groupId: room.groupId, date: { [Op.gt]: room.date } } }),
  ]);
  const { sheet, state, entries, closed } = view;
  return {
    id: room.id,
    groupId: room.groupId,
    groupName: sheet.groupName,
    label: sheet.label,
    date: room.date,
    closed,
    ledBy: pass?.name ?? "",
    sheet,
    state,
    entries,
    late: closed && room.noted > (room.closedNoted ?? room.noted),
    doneLater: [...doneElsewhere(later)],
    next,
  };
}

async function nextClass(room: Room): Promise<{ date: string; label: string } | null> {
  const from = addDays(room.date, 1);
  const classes = await classesBetween(room.bandId, from, addDays(from, AHEAD_DAYS));
  const next = classes.find(({ groupId }) => groupId === room.groupId);
  return next ? { date: next.date, label: dayLabel(next.date) } : null;
}

/**
 * Ends a lesson and lets the plan know: who was absent, what the class did not get to, what counts as taught to those who were there,
 * and what was starred for the next class. All of it or nothing; a second time changes nothing. One that was opened again and is closed
 * anew sets right who was absent and what was not reached, and adds what came since.
 */
export async function closeRoom(
  actor: Actor,
  roomId: string,
  input: z.output<typeof CloseRoom>,
): Promise<Closed> {
  const who = director(actor);
  const room = await roomFor(who, roomId);
  if (room.closedAt) throw new ServiceError("conflict", "This lesson was closed already.");
  const { bandId, groupId, date } = room;
  const { sheet, entries } = await roomView(who, roomId, true);
  const blocks = new Map(sheet.blocks.map((block) => [block.id, block]));
  const strips = new Set(sheet.blocks.map(({ stripId }) => stripId));
  if (!input.notReached.every((id) => strips.has(id)) || !input.taught.every((id) => blocks.has(id)))
    throw new ServiceError("not-found", "This is not on the run sheet of the lesson.");
  const absent = absentOf(entries);
  const lessons = await taughtBy(bandId, groupId, date, absent, input.taught, blocks);
  const next = input.forNext ? await nextClass(room) : null;
  const starred = next ? stripsFor(forTomorrow(entries), blocks, { roomId, groupId, date: next.date }) : [];
  // Each of these finds itself done already when the lesson is closed once more after a failure; the lesson is closed last.
  if (starred.length > 0)
    await savePlan(who, {
      since: 0,
      changes: starred.map((strip) => ({ id: strip.id, basis: null, strip })),
    });
  await pencilDynamics(who, entries, blocks);
  const closed = await database().transaction(async (transaction) => {
    const held = found(await Room.findByPk(roomId, { transaction, lock: true }), "lesson");
    if (held.closedAt) return null;
    await held.update(
      {
        closedAt: new Date(),
        // Up to here it was read: what came in meanwhile is late.
        closedNoted: room.noted,
        code: null,
        codeUntil: null,
        stateVersion: held.stateVersion + 1,
      },
      { transaction },
    );
    const version = await raisePlan(bandId, transaction);
    const here = notedAbsent(entries).filter((playerId) => !absent.includes(playerId));
    await Absence.destroy({ where: { bandId, groupId, date, playerId: here }, transaction });
    for (const playerId of absent) await Absence.upsert({ bandId, groupId, date, playerId }, { transaction });
    // What was brought in from another day of the group is told of that day.
    const ofGroup = { bandId, groupId, removedAt: null };
    const reachedNow = [...strips].filter((id) => !input.notReached.includes(id));
    await StripRow.update(
      { notReached: false, version },
      { where: { ...ofGroup, id: reachedNow, notReached: true }, transaction },
    );
    const notReached = await StripRow.count({ where: { ...ofGroup, id: input.notReached }, transaction });
    await StripRow.update(
      { notReached: true, version },
      { where: { ...ofGroup, id: input.notReached }, transaction },
    );
    await takeBackFrom(
      absent,
      room,
      [...blocks.values()].flatMap(({ tune }) => tune?.lineId ?? []),
      transaction,
    );
    for (const { about, seats } of lessons)
      if (seats.length > 0) await keepTeaching(who, seats, about, transaction);
    await audit(who, "close-room", roomId, transaction);
    return { absent: absent.length, taught: lessons.length, notReached, starred: starred.length };
  });
  if (!closed) throw new ServiceError("conflict", "This lesson was closed already.");
  return closed;
}

/** A lesson that was closed goes on: closed too early, or notes came in after it. Closing it once more tells the plan of them. */
export async function openAgain(actor: Actor, roomId: string): Promise<void> {
  const who = director(actor);
  const room = await roomFor(who, roomId);
  if (!room.closedAt) return;
  await room.update({ closedAt: null, stateVersion: room.stateVersion + 1 });
  await audit(who, "open-room", roomId);
}

/** Strips of the next class for what was starred: its bars, with whom, and what was heard there. */
function stripsFor(
  places: readonly ForTomorrow[],
  blocks: ReadonlyMap<string, RoomBlock>,
  { roomId, groupId, date }: { roomId: string; groupId: string; date: string },
): (Strip & { reason: null; note: string })[] {
  return places.flatMap(({ blockId, bars, instruments, tags }, i) => {
    const block = blocks.get(blockId);
    if (!block) return [];
    const { tune } = block;
    const stretches = tune ? stretchesOf(tune, bars) : [];
    const isLine = tune?.lineId != null;
    return [
      {
        // The same star is the same strip, should the lesson be closed once more after a failure in between.
        id: uuidOf(`${blockId}/${bars}/${instruments}`, roomId),
        groupId,
        where: "class" as const,
        date,
        forWhom:
          instruments.length === 1
            ? { kind: "instrument" as const, instrumentId: instruments[0]! }
            : { kind: "everyone" as const },
        place: Date.now() / 1000 + i,
        kind: isLine ? ("line" as const) : ("text" as const),
        refId: isLine ? tune.lineId : null,
        title: block.title,
        minutes: STARRED_MINUTES,
        firstBar: isLine && stretches[0] ? stretches[0][0] : null,
        lastBar: isLine && stretches[0] ? stretches.at(-1)![1] - 1 : null,
        note: tags.join(", "),
        reason: null,
      },
    ];
  });
}

/**
 * What the class did goes home: each line a task at the tempo that was reached in class, for the bars that were worked on.
 * @returns how many tasks there are now, and the lines that were given already
 */
export async function sendRoomHome(
  actor: Actor,
  roomId: string,
  { blocks: asked, dueDate }: z.output<typeof SendRoomHome>,
): Promise<{ tasks: number; lines: string[]; again: string[] }> {
  const who = director(actor);
  const room = await roomFor(who, roomId);
  const { sheet, entries } = await roomView(who, roomId, true);
  const done = { tasks: 0, lines: [] as string[], again: [] as string[] };
  const given = new Set<string>();
  for (const id of asked) {
    const block = sheet.blocks.find((each) => each.id === id);
    const lineId = block?.tune?.lineId;
    if (!block || !lineId)
      throw new ServiceError("bad-input", "Only lines with notes go home from a lesson.");
    if (given.has(lineId)) continue;
    given.add(lineId);
    try {
      const [bars] = stretchesOf(block.tune!, block.bars);
      const { tasks } = await assign(who, {
        lineId,
        groupId: room.groupId,
        goalBpm: reached(entries, id) ?? block.bpm ?? USUAL_BPM,
        timesPerWeek: TIMES_A_WEEK,
        dueDate,
        note: "",
        ...(bars ? { firstBar: bars[0], lastBar: bars[1] - 1 } : {}),
      });
      done.tasks += tasks;
      done.lines.push(block.title);
    } catch (error) {
      // Given already and not over: it is on the stands as it is.
      if (!(error instanceof ServiceError && error.code === "conflict")) throw error;
      done.again.push(block.title);
    }
  }
  return done;
}
