import { Op } from "sequelize";
import type { z } from "zod";
import type { Told, WallCommand } from "../../core/room";
import { marksOfRooms, nextTold, Room, RoomCommand, type RoomMarks } from "../../data";
import { database } from "../../server/database";
import { log } from "../../server/log";
import { type Actor, ServiceError } from "../actor";
import { entriesOf } from "./entries";
import { roomFor } from "./rooms";
import type { TellRoom } from "./schema";
import type { RoomNews } from "./wire";

/** So often the database is asked whether something is new in the lessons that somebody watches here, ms: one question for all of them. */
const LOOK_MS = 40;
/** A proxy keeps a stream open that says something now and then, ms. */
const ALIVE_MS = 15_000;
/** So many streams one process serves, and one lesson has. */
const MOST_STREAMS = 400;
const MOST_OF_A_LESSON = 12;

/**
 * A phone's word to the wall. Told twice it is told once.
 * @returns its number, by which the phone sees when the wall has followed it
 */
export async function tellRoom(
  actor: Actor,
  roomId: string,
  { id, command }: z.output<typeof TellRoom>,
): Promise<{ seq: number }> {
  if (actor.kind === "stand-in") throw new ServiceError("not-allowed", "Lead the lesson from its own page.");
  const { bandId } = await roomFor(actor, roomId);
  const seq = await database().transaction(async (transaction) => {
    const seq = await nextTold(roomId, transaction);
    if (seq === null) throw new ServiceError("conflict", "This lesson is over.");
    const before = await RoomCommand.findOne({ where: { roomId, id }, transaction });
    if (before) return before.seq;
    await RoomCommand.create(
      { roomId, bandId, seq, id, command: command as WallCommand, at: new Date() },
      { transaction },
    );
    return seq;
  });
  // Whoever watches here need not wait for the next look.
  void look(true);
  return { seq };
}

interface Watcher {
  roomId: string;
  /** What it was told last. */
  marks: RoomMarks;
  send: (news: RoomNews) => void;
}

const watchers = new Set<Watcher>();
let timer: ReturnType<typeof setInterval> | undefined;
let looking = false;
/** Something was told while it was looked. */
let again = false;

/** One question for every lesson that is watched; those in which something is new are told. */
async function look(told = false): Promise<void> {
  if (looking) again ||= told;
  if (looking || watchers.size === 0) return;
  looking = true;
  again = false;
  try {
    const marks = new Map(
      (await marksOfRooms([...new Set([...watchers].map(({ roomId }) => roomId))])).map((each) => [
        each.id,
        each,
      ]),
    );
    for (const watcher of watchers) {
      const now = marks.get(watcher.roomId);
      if (now) await tellNews(watcher, now);
    }
  } catch (error) {
    // The database is away: the wall goes on alone, and the next look finds what it missed.
    log().warn({ reason: (error as Error).name }, "lessons could not be looked at");
  } finally {
    looking = false;
  }
  if (again) return look();
}

async function tellNews(watcher: Watcher, now: RoomMarks): Promise<void> {
  const before = watcher.marks;
  if (now.told === before.told && now.stateVersion === before.stateVersion && now.noted === before.noted)
    return;
  watcher.marks = now;
  const news: RoomNews = {};
  if (now.told > before.told) news.told = await toldSince(watcher.roomId, before.told);
  if (now.stateVersion > before.stateVersion) {
    const room = await Room.findByPk(watcher.roomId);
    if (room) {
      news.state = room.state;
      news.stateVersion = room.stateVersion;
      news.heard = room.heard;
      news.closed = room.closedAt !== null;
    }
  }
  if (now.noted > before.noted) news.entries = await entriesOf(watcher.roomId);
  watcher.send(news);
}

async function toldSince(roomId: string, seq: number): Promise<Told[]> {
  const rows = await RoomCommand.findAll({
    where: { roomId, seq: { [Op.gt]: seq } },
    order: [["seq", "ASC"]],
    limit: 200,
  });
  return rows.map((row) => ({ seq: row.seq, command: row.command, ageMs: Date.now() - row.at.getTime() }));
}

/**
 * What happens in a lesson as it happens, as server-sent events: commands after `since`, the wall's state, the log. Any process can
 * serve it: what is told is read from the database.
 * @param since  number of the last command the asker knows
 */
export async function roomStream(
  actor: Actor,
  roomId: string,
  since: { told: number; stateVersion: number },
): Promise<ReadableStream<Uint8Array>> {
  const room = await roomFor(actor, roomId);
  if (
    watchers.size >= MOST_STREAMS ||
    [...watchers].filter((each) => each.roomId === roomId).length >= MOST_OF_A_LESSON
  )
    throw new ServiceError("busy", "Too many devices watch this lesson. Close one of them.");
  const text = new TextEncoder();
  let watcher: Watcher | undefined;
  let alive: ReturnType<typeof setInterval> | undefined;
  const leave = () => {
    if (watcher) watchers.delete(watcher);
    clearInterval(alive);
    if (watchers.size > 0) return;
    clearInterval(timer);
    timer = undefined;
  };
  return new ReadableStream({
    start(controller) {
      const write = (line: string) => {
        try {
          controller.enqueue(text.encode(line));
        } catch {
          // The other end is gone without a word.
          leave();
        }
      };
      watcher = {
        roomId,
        marks: { id: roomId, told: since.told, stateVersion: since.stateVersion, noted: room.noted },
        send: (news) => {
          const last = news.told?.at(-1)?.seq;
          write(`${last === undefined ? "" : `id: ${last}\n`}data: ${JSON.stringify(news)}\n\n`);
        },
      };
      watchers.add(watcher);
      timer ??= setInterval(() => void look(), LOOK_MS);
      alive = setInterval(() => write(": here\n\n"), ALIVE_MS);
      write(": here\n\n");
    },
    cancel: leave,
  });
}
