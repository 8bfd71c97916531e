import { randomBytes } from "node:crypto";
import { Op, UniqueConstraintError } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { addDays } from "../../core/calendar";
import { firstState, onSheet } from "../../core/room";
import {
  Band,
  keepRoomState,
  Membership,
  ownerOfRemote,
  Room,
  RoomPass,
  RoomRemote,
  seatsOfGroup,
} from "../../data";
import { CODE_TRIES, codeKey, drawCode, hashToken, withinTries } from "../accounts";
import {
  type Actor,
  type Director,
  director,
  found,
  player,
  type Remote,
  ServiceError,
  type StandIn,
} from "../actor";
import { audit } from "../audit";
import { dayLabel, today } from "../calendar";
import { classesBetween } from "../week";
import { entriesOf } from "./entries";
import type { KeepRoomState, MakePass, OpenRoom } from "./schema";
import { sheetOf } from "./sheet";
import type { RoomBlock, RoomChoice, RoomStart, RoomView } from "./wire";

/** Thirty bits: typed in a moment, and not guessed in ten minutes. */
const CODE_LETTERS = 6;
/** A phone joins in this time, and steers until the lesson is closed, at most so long. */
const CODE_MS = 10 * 60_000;
const REMOTE_MS = 6 * 3600_000;
/** Classes are listed for so many days. */
const AHEAD_DAYS = 7;
/** Lessons are looked back on for so many days. */
const BACK_DAYS = 14;

/** Who leads lessons: the director, or who stands in. @throws ServiceError for anybody else */
export function leader(actor: Actor): Director | StandIn {
  return actor.kind === "stand-in" ? actor : director(actor);
}

/** A lesson of the asker's band that the asker may see. @throws ServiceError where there is none */
export async function roomFor(actor: Actor, roomId: string): Promise<Room> {
  if (actor.kind === "remote")
    return found(actor.roomId === roomId ? await Room.findByPk(roomId) : null, "lesson");
  const who = leader(actor);
  const room = found(await Room.findOne({ where: { id: roomId, bandId: who.bandId } }), "lesson");
  if (who.kind === "stand-in") await onPass(who, room.date);
  return room;
}

/** The leave of somebody who stands in. @throws ServiceError where it was ended */
async function passOf({ passId }: StandIn): Promise<RoomPass> {
  return found(await RoomPass.findOne({ where: { id: passId, shutAt: null } }), "leave");
}

/** The days a leader may look at: those asked for, of somebody who stands in the own ones among them. */
export async function daysOf(
  who: Director | StandIn,
  [from, to]: readonly [string, string],
): Promise<[string, string]> {
  if (who.kind === "director") return [from, to];
  const pass = await passOf(who);
  return [pass.fromDate > from ? pass.fromDate : from, pass.toDate < to ? pass.toDate : to];
}

/** @throws ServiceError when somebody who stands in asks for another day */
async function onPass(who: StandIn, date: string): Promise<RoomPass> {
  const pass = await passOf(who);
  if (date < pass.fromDate || date > pass.toDate)
    throw new ServiceError("not-allowed", "You stand in on other days than this one.");
  return pass;
}

/** Opens the lesson of a group on a day; the one that is open already, where there is one. */
export async function openRoom(
  actor: Actor,
  { groupId, date }: z.output<typeof OpenRoom>,
): Promise<{ id: string }> {
  const who = leader(actor);
  const pass = who.kind === "stand-in" ? await onPass(who, date) : null;
  const openedFor = who.kind === "director" ? who.userId : pass!.madeBy;
  const where = { groupId, date, bandId: who.bandId };
  const open = await Room.findOne({ where });
  if (open) return { id: open.id };
  const room = Room.build({
    id: uuid(),
    ...where,
    openedFor,
    passId: pass?.id ?? null,
    begunAt: new Date(),
    state: firstState([], Date.now()),
  });
  const sheet = await sheetOf(room, await eyesOf(room), false);
  try {
    await room.set({ state: firstState(sheet.blocks, Date.now(), sheet.naming) }).save();
  } catch (error) {
    // Opened on two walls at the same moment: it is one lesson.
    if (!(error instanceof UniqueConstraintError)) throw error;
    return { id: found(await Room.findOne({ where }), "lesson").id };
  }
  if (who.kind === "director") await audit(who, "open-room", room.id);
  return { id: room.id };
}

/** The director a lesson is held for: what may be read of the band for it is read with these eyes. */
export async function eyesOf({ openedFor, bandId }: Room): Promise<Director> {
  const member = await Membership.findOne({ where: { userId: openedFor, bandId, leftAt: null } });
  const any = member ?? (await Membership.findOne({ where: { bandId, leftAt: null } }));
  return { kind: "director", userId: found(any, "director").userId, bandId, name: "" };
}

/** All that a wall or a phone needs of a lesson. The director's own words go to the director and the phone, not to the wall of others. */
export async function roomView(actor: Actor, roomId: string, privateWords = false): Promise<RoomView> {
  const room = await roomFor(actor, roomId);
  const sheet = await sheetOf(room, await eyesOf(room), privateWords && actor.kind !== "stand-in");
  return {
    id: room.id,
    sheet,
    state: onSheet(room.state, sheet.blocks),
    stateVersion: room.stateVersion,
    told: room.told,
    heard: room.heard,
    entries: await entriesOf(roomId),
    closed: room.closedAt !== null,
    led: actor.kind === "stand-in" ? "stand-in" : "director",
  };
}

/** Keeps what the wall shows. An older state than the one that is kept changes nothing. */
export async function keepState(
  actor: Actor,
  roomId: string,
  { state, version, heard }: z.output<typeof KeepRoomState>,
): Promise<{ kept: boolean }> {
  const room = await roomFor(leader(actor), roomId);
  return { kept: await keepRoomState(room.id, state, version, heard) };
}

/** Lets the players of a lesson do it alone at home, each in the own part, or no more. */
export async function setAtHome(actor: Actor, roomId: string, open: boolean): Promise<void> {
  const room = await roomFor(director(actor), roomId);
  await room.update({ atHome: open });
}

/**
 * A lesson as one of its players does it alone: the own instrument's rows, nobody else's name, from its beginning.
 * @throws ServiceError for who is not in its group, and while it is not to be done at home
 */
export async function lessonAtHome(actor: Actor, roomId: string): Promise<RoomView> {
  const who = player(actor);
  const room = await roomAtHome(actor, roomId);
  const sheet = await sheetOf(room, await eyesOf(room), false);
  const own = found(
    sheet.players.find(({ id }) => id === who.playerId),
    "lesson",
  );
  const mine = (id: string) => own.instrumentIds.includes(id);
  const forMe = ({ whom }: RoomBlock) =>
    whom.kind === "everyone" ||
    (whom.kind === "instrument" ? mine(whom.instrumentId) : whom.playerId === who.playerId);
  const blocks = sheet.blocks.filter(forMe).map((block) => ({
    ...block,
    forWhom: "",
    tune: block.tune && {
      ...block.tune,
      // A counting page is everybody's.
      rows: block.tune.rows.filter(
        ({ instrumentIds }) => instrumentIds.length === 0 || instrumentIds.some(mine),
      ),
    },
  }));
  return {
    id: room.id,
    sheet: {
      ...sheet,
      blocks,
      players: [own],
      absent: [],
      instruments: sheet.instruments.filter(({ id }) => mine(id)),
    },
    state: firstState(blocks, Date.now(), sheet.naming),
    stateVersion: 0,
    told: 0,
    heard: 0,
    entries: [],
    closed: false,
    led: "player",
  };
}

/** A lesson that the asker, one of its players, may do at home. @throws ServiceError where there is none */
export async function roomAtHome(actor: Actor, roomId: string): Promise<Room> {
  const { bandId, playerId } = player(actor);
  const room = await Room.findOne({ where: { id: roomId, bandId, atHome: true } });
  const seats = room ? await seatsOfGroup(room.groupId) : [];
  return found(seats.some((seat) => seat.playerId === playerId) ? room : null, "lesson");
}

/** One sentence for what the lesson is about. */
export async function setGoal(actor: Actor, roomId: string, goal: string): Promise<void> {
  const room = await roomFor(director(actor), roomId);
  await room.update({ goal });
}

/** Lets phones join by a new code for a while, or shuts the door; those that are in stay. */
export async function setDoor(
  actor: Actor,
  roomId: string,
  open: boolean,
): Promise<{ code: string | null; until: string | null }> {
  const room = await roomFor(director(actor), roomId);
  if (room.closedAt) throw new ServiceError("conflict", "This lesson is over.");
  const code = open ? codeKey(drawCode(2)).slice(0, CODE_LETTERS) : null;
  const codeUntil = open ? new Date(Date.now() + CODE_MS) : null;
  await room.update({ code, codeUntil });
  return { code, until: codeUntil?.toISOString() ?? null };
}

/** What a device keeps to be let in again. */
export interface Leave {
  token: string;
  expiresAt: Date;
}

/** A phone joins a lesson by the code on the director's screen. */
export async function joinRoom(typed: string): Promise<Leave & { roomId: string }> {
  await withinTries("room-code", "room", null, CODE_TRIES);
  const code = codeKey(typed);
  const room = /^[A-Z0-9]{6}$/.test(code)
    ? await Room.findOne({ where: { code, closedAt: null, codeUntil: { [Op.gt]: new Date() } } })
    : null;
  if (!room)
    throw new ServiceError(
      "bad-input",
      "No lesson has this code now. Codes last ten minutes: open a new one on the bench.",
    );
  const leave = await giveLeave(
    { bandId: room.bandId, roomId: room.id, passId: null },
    Date.now() + REMOTE_MS,
  );
  return { ...leave, roomId: room.id };
}

async function giveLeave(
  to: { bandId: string; roomId: string | null; passId: string | null },
  untilMs: number,
): Promise<Leave> {
  const token = randomBytes(32).toString("base64url");
  const expiresAt = new Date(untilMs);
  await RoomRemote.create({ tokenHash: hashToken(token), ...to, expiresAt });
  return { token, expiresAt };
}

/** Who asks with a device's leave; nobody where it has run out or was shut. */
export async function roomActorOf(token: string | undefined): Promise<Remote | StandIn | null> {
  if (!token || token.length > 100) return null;
  const owner = await ownerOfRemote(hashToken(token));
  if (!owner) return null;
  const { bandId, roomId, passId, name } = owner;
  if (roomId) return { kind: "remote", roomId, bandId };
  return { kind: "stand-in", passId: passId!, bandId, name: name ?? "" };
}

/** Leave for somebody to lead the band's lessons on some days. @returns the code, told once */
export async function makePass(
  actor: Actor,
  { name, from, to }: z.output<typeof MakePass>,
): Promise<{ id: string; code: string }> {
  const who = director(actor);
  const code = drawCode(3);
  const id = uuid();
  await RoomPass.create({
    id,
    bandId: who.bandId,
    name,
    codeHash: hashToken(codeKey(code)),
    fromDate: from,
    toDate: to,
    madeBy: who.userId,
  });
  await audit(who, "make-pass", id);
  return { id, code };
}

/** Ends somebody's leave at once, on every device. */
export async function shutPass(actor: Actor, passId: string): Promise<void> {
  const who = director(actor);
  const pass = found(await RoomPass.findOne({ where: { id: passId, bandId: who.bandId } }), "leave");
  await pass.update({ shutAt: new Date() });
  await audit(who, "shut-pass", passId);
}

/** Somebody who stands in shows the code that was handed over. */
export async function enterPass(typed: string): Promise<Leave> {
  await withinTries("room-pass", "room", null, CODE_TRIES);
  const pass = await RoomPass.findOne({ where: { codeHash: hashToken(codeKey(typed)), shutAt: null } });
  const band = pass && (await Band.findByPk(pass.bandId));
  if (!pass || !band || pass.toDate < today(band.timeZone))
    throw new ServiceError("bad-input", "This code opens no lessons. Ask the director for a new one.");
  const until = Date.parse(`${addDays(pass.toDate, 1)}T12:00:00Z`);
  return giveLeave({ bandId: band.id, roomId: null, passId: pass.id }, until);
}

/** The classes of today and the next days, with what is planned and what was opened already. */
export async function roomStart(actor: Actor): Promise<RoomStart> {
  const who = leader(actor);
  const band = found(await Band.findByPk(who.bandId), "band");
  const now = today(band.timeZone);
  const pass = who.kind === "stand-in" ? await onPass(who, now).catch(() => null) : null;
  const [from, to] =
    who.kind === "stand-in" ? [now, pass?.toDate ?? addDays(now, -1)] : [now, addDays(now, AHEAD_DAYS)];
  const [choices, before, passes] = await Promise.all([
    choicesBetween(band.id, from, to < addDays(now, AHEAD_DAYS) ? to : addDays(now, AHEAD_DAYS)),
    who.kind === "director" ? choicesBetween(band.id, addDays(now, -BACK_DAYS), addDays(now, -1)) : [],
    who.kind === "director"
      ? RoomPass.findAll({
          where: { bandId: who.bandId, shutAt: null, toDate: { [Op.gte]: now } },
          order: [["fromDate", "ASC"]],
          limit: 50,
        })
      : [],
  ]);
  return {
    today: now,
    choices,
    before: before.filter(({ roomId }) => roomId !== null).reverse(),
    passes: passes.map(({ id, name, fromDate, toDate }) => ({
      id,
      name,
      fromLabel: dayLabel(fromDate),
      toLabel: dayLabel(toDate),
    })),
  };
}

async function choicesBetween(bandId: string, from: string, to: string): Promise<RoomChoice[]> {
  if (to < from) return [];
  const [classes, rooms] = await Promise.all([
    classesBetween(bandId, from, to),
    Room.findAll({ where: { bandId, date: { [Op.between]: [from, to] } } }),
  ]);
  return classes.map((held) => {
    const room = rooms.find(({ groupId, date }) => groupId === held.groupId && date === held.date);
    return {
      ...held,
      label: dayLabel(held.date),
      goal: room?.goal ?? "",
      atHome: Boolean(room?.atHome),
      roomId: room?.id ?? null,
      closed: room?.closedAt != null,
    };
  });
}
