import { isDeepStrictEqual } from "node:util";
import { Op, type Transaction } from "sequelize";
import { v7 as uuid } from "uuid";
import type { Stage } from "../../core/music";
import {
  Band,
  BandChange,
  Group,
  GroupMember,
  Player,
  PlayerInstrument,
  type PlayerPart,
  Take,
  Task,
  Taught,
  touchBand,
  Upload,
} from "../../data";
import { database } from "../../server/database";
import { type Actor, type Director, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { today as todayIn } from "../calendar";
import { type Followed, followPeople, setClosed } from "../giving";
import { bandKnowledge } from "../knowledge";
import type { Changed } from "./schema";

/** A player as a change finds and leaves them; cards are no part of it. */
interface PersonImage {
  id: string;
  name: string;
  nameKey: string;
  calledName: string;
  stage: Stage;
  stageSince: string;
  part: PlayerPart | null;
  kit: string;
  joinedOn: string;
  leftOn: string | null;
  instruments: {
    instrumentId: string;
    fromDate: string;
    toDate: string | null;
    variant: string | null;
    stage: Stage | null;
  }[];
  memberships: { groupId: string; fromDate: string; toDate: string | null }[];
}

interface GroupImage {
  id: string;
  name: string;
  place: number;
  everyone: boolean;
  rule: string[] | null;
  archived: boolean;
}

interface Image {
  people: PersonImage[];
  groups: GroupImage[];
  tasks: Followed;
}

/** What a change may do: rows are written through the models, in the transaction. */
export interface Changing {
  bandId: string;
  /** The band's local day. */
  today: string;
  transaction: Transaction;
  /** Says that a player was made who was not there before. */
  touch(playerId: string): void;
  /** Notes how a player is who was not named at the start, before the first change of them. */
  before(playerId: string): Promise<void>;
  /** Says that a group was made, or is about to be changed. */
  touchGroup(groupId: string): Promise<void>;
}

const NO_TASKS: Followed = { opened: [], closed: [], reopened: [] };

/**
 * Changes people of a band: one change after another, dated, homework following, and all of it can be taken back.
 * @param said  what is done, for the undo line; a function where it is known only afterwards
 * @param playerIds  those who will be touched
 */
export async function changePeople(
  who: Director,
  said: string | (() => string),
  playerIds: readonly string[],
  work: (changing: Changing) => Promise<void>,
  groupIds: readonly string[] = [],
): Promise<Changed> {
  const knowledge = await bandKnowledge(who.bandId);
  return database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    const band = found(await Band.findByPk(who.bandId, { transaction }), "band");
    const today = todayIn(band.timeZone);
    const touched = new Set(playerIds);
    const touchedGroups = new Set(groupIds);
    const before = await imageOf(who.bandId, [...touched], [...touchedGroups], transaction);
    await work({
      bandId: who.bandId,
      today,
      transaction,
      touch: (id) => touched.add(id),
      before: async (id) => {
        if (touched.has(id)) return;
        touched.add(id);
        before.people.push(...(await imageOf(who.bandId, [id], [], transaction)).people);
      },
      touchGroup: async (id) => {
        if (touchedGroups.has(id)) return;
        touchedGroups.add(id);
        before.groups.push(...(await imageOf(who.bandId, [], [id], transaction)).groups);
      },
    });
    await joinByRule(who.bandId, [...touched], today, transaction);
    const tasks = await followPeople(who.bandId, [...touched], today, knowledge, transaction);
    const after = await imageOf(who.bandId, [...touched], [...touchedGroups], transaction);
    const id = uuid();
    const words = (typeof said === "string" ? said : said()).slice(0, 300);
    await BandChange.create(
      {
        id,
        bandId: who.bandId,
        userId: who.userId,
        said: words,
        peopleBefore: { ...before, tasks: NO_TASKS } satisfies Image,
        peopleAfter: { ...after, tasks } satisfies Image,
        createdAt: new Date(),
      },
      { transaction },
    );
    await audit(who, "change-people", id, transaction);
    return { changeId: id, said: words };
  });
}

/**
 * Takes a change of people back: everybody it touched is as before, homework that came with it goes where nothing was sent
 * yet, homework that went comes back. The taking back is a change of its own, so that it can be taken back too.
 * @throws ServiceError when somebody it touched was changed since
 */
export async function undoChange(actor: Actor, changeId: string): Promise<Changed> {
  const who = director(actor);
  const knowledge = await bandKnowledge(who.bandId);
  return database().transaction(async (transaction) => {
    await touchBand(who.bandId, transaction);
    const band = found(await Band.findByPk(who.bandId, { transaction }), "band");
    const change = found(
      await BandChange.findOne({ where: { id: changeId, bandId: who.bandId }, transaction }),
      "change",
    );
    if (change.undoneAt) throw new ServiceError("conflict", "This was taken back already.");
    const [before, after] = [change.peopleBefore as Image, change.peopleAfter as Image];
    const ids = union(before.people, after.people);
    const groupIds = union(before.groups, after.groups);
    const now = await imageOf(who.bandId, ids, groupIds, transaction);
    const moved = [...now.people, ...now.groups].find(
      (each) =>
        !isDeepStrictEqual(
          each,
          [...after.people, ...after.groups].find(({ id }) => id === each.id),
        ),
    );
    if (moved)
      throw new ServiceError(
        "conflict",
        `${moved.name} was changed since; take the later change back first.`,
      );
    for (const group of after.groups) await putGroup(group.id, before.groups, who.bandId, transaction);
    for (const id of ids)
      await putPerson(
        before.people.find((each) => each.id === id),
        after.people.find((each) => each.id === id),
        who.bandId,
        transaction,
      );
    const back = await takeTasksBack(after.tasks, transaction);
    // What was given since the change follows too: it was meant for who they were then.
    const since = await followPeople(who.bandId, ids, todayIn(band.timeZone), knowledge, transaction);
    const tasks = both(back, since);
    const restored = await imageOf(who.bandId, ids, groupIds, transaction);
    await change.update({ undoneAt: new Date() }, { transaction });
    const id = uuid();
    const said = change.said.startsWith("Taken back: ")
      ? change.said.slice("Taken back: ".length)
      : `Taken back: ${change.said}`.slice(0, 300);
    await BandChange.create(
      {
        id,
        bandId: who.bandId,
        userId: who.userId,
        said,
        peopleBefore: { ...now, tasks: NO_TASKS } satisfies Image,
        peopleAfter: { ...restored, tasks } satisfies Image,
        createdAt: new Date(),
      },
      { transaction },
    );
    await audit(who, "undo-people", changeId, transaction);
    return { changeId: id, said };
  });
}

function union(a: readonly { id: string }[], b: readonly { id: string }[]): string[] {
  return [...new Set([...a, ...b].map(({ id }) => id))];
}

async function imageOf(
  bandId: string,
  playerIds: readonly string[],
  groupIds: readonly string[],
  transaction: Transaction,
): Promise<Omit<Image, "tasks">> {
  const where = { bandId, playerId: [...playerIds] };
  const [players, instruments, memberships, groups] = await Promise.all([
    Player.findAll({ where: { bandId, id: [...playerIds] }, order: [["id", "ASC"]], transaction }),
    PlayerInstrument.findAll({
      where,
      order: [
        ["fromDate", "ASC"],
        ["instrumentId", "ASC"],
      ],
      transaction,
    }),
    GroupMember.findAll({
      where,
      order: [
        ["fromDate", "ASC"],
        ["groupId", "ASC"],
      ],
      transaction,
    }),
    Group.findAll({ where: { bandId, id: [...groupIds] }, order: [["id", "ASC"]], transaction }),
  ]);
  return {
    people: players.map(
      ({ id, name, nameKey, calledName, stage, stageSince, part, kit, joinedOn, leftOn }): PersonImage => ({
        id,
        name,
        nameKey,
        calledName,
        stage,
        stageSince,
        part,
        kit,
        joinedOn,
        leftOn,
        instruments: instruments
          .filter((each) => each.playerId === id)
          .map(({ instrumentId, fromDate, toDate, variant, stage: own }) => ({
            instrumentId,
            fromDate,
            toDate,
            variant,
            stage: own,
          })),
        memberships: memberships
          .filter((each) => each.playerId === id)
          .map(({ groupId, fromDate, toDate }) => ({ groupId, fromDate, toDate })),
      }),
    ),
    groups: groups.map(
      ({ id, name, place, everyone, rule, archivedAt }): GroupImage => ({
        id,
        name,
        place,
        everyone: Boolean(everyone),
        rule,
        archived: archivedAt !== null,
      }),
    ),
  };
}

/** A group as it was; one that was not there is archived, so that nothing given to it is lost. */
async function putGroup(id: string, before: readonly GroupImage[], bandId: string, transaction: Transaction) {
  const was = before.find((group) => group.id === id);
  const archivedAt = was && !was.archived ? null : new Date();
  const own = was ? { name: was.name, place: was.place, everyone: was.everyone, rule: was.rule } : {};
  await Group.update({ ...own, archivedAt }, { where: { id, bandId }, transaction });
}

async function putPerson(
  was: PersonImage | undefined,
  is: PersonImage | undefined,
  bandId: string,
  transaction: Transaction,
): Promise<void> {
  const { id } = (was ?? is)!;
  if (!was) return takePersonOut(id, transaction);
  const { instruments, memberships, ...own } = was;
  // One who was taken out by an earlier undo comes back without a card.
  if (is) await Player.update(own, { where: { id, bandId }, transaction });
  else await Player.create({ ...own, bandId, secretHash: null }, { transaction });
  await PlayerInstrument.destroy({ where: { playerId: id }, transaction });
  await PlayerInstrument.bulkCreate(
    instruments.map((each) => ({ ...each, playerId: id, bandId })),
    { transaction },
  );
  await GroupMember.destroy({ where: { playerId: id }, transaction });
  await GroupMember.bulkCreate(
    memberships.map((each) => ({ ...each, playerId: id, bandId })),
    { transaction },
  );
}

/** Someone added by mistake goes; someone who has worked already is marked as having left. */
async function takePersonOut(id: string, transaction: Transaction): Promise<void> {
  const takes = await Take.count({ where: { playerId: id }, transaction });
  const uploads = await Upload.count({ where: { playerId: id }, transaction });
  const taught = await Taught.count({ where: { playerId: id }, transaction });
  const player = await Player.findByPk(id, { transaction });
  if (!player) return;
  if (takes + uploads + taught > 0 || player.secretHash !== null) {
    await player.update({ leftOn: player.joinedOn }, { transaction });
    await Task.update(
      { closedAt: new Date() },
      { where: { playerId: id, closedAt: null, state: { [Op.ne]: "accepted" } }, transaction },
    );
    return;
  }
  await Task.destroy({ where: { playerId: id }, transaction });
  await GroupMember.destroy({ where: { playerId: id }, transaction });
  await PlayerInstrument.destroy({ where: { playerId: id }, transaction });
  await player.destroy({ transaction });
}

/** Two followings one after the other, as one. */
function both(first: Followed, then: Followed): Followed {
  const closed = new Set([...first.closed, ...then.closed]);
  const reopened = new Set([...first.reopened, ...then.reopened]);
  return {
    opened: [...first.opened, ...then.opened],
    // What was closed and then opened again, or the other way, is as it was.
    closed: [...closed].filter((id) => !reopened.has(id)),
    reopened: [...reopened].filter((id) => !closed.has(id)),
  };
}

/** Homework that came with a change goes where nothing was sent of it; what was closed is open again. */
async function takeTasksBack(tasks: Followed, transaction: Transaction): Promise<Followed> {
  const used = new Set<string>();
  for (const model of [Take, Upload])
    for (const { taskId } of await (model as typeof Take).findAll({
      where: { taskId: tasks.opened },
      attributes: ["taskId"],
      transaction,
    }))
      used.add(taskId);
  const unused = tasks.opened.filter((id) => !used.has(id));
  await setClosed([...unused, ...tasks.reopened], new Date(), transaction);
  await setClosed(tasks.closed, null, transaction);
  return { opened: [], closed: [...unused, ...tasks.reopened], reopened: tasks.closed };
}

/** Everybody is in the groups of everybody, and in those whose rule names an instrument of theirs; who plays it no more leaves. */
async function joinByRule(
  bandId: string,
  playerIds: readonly string[],
  today: string,
  transaction: Transaction,
): Promise<void> {
  const groups = (await Group.findAll({ where: { bandId, archivedAt: null }, transaction })).filter(
    ({ everyone, rule }) => everyone || rule !== null,
  );
  if (groups.length === 0 || playerIds.length === 0) return;
  const where = { bandId, playerId: [...playerIds], toDate: null };
  const [players, instruments, memberships] = await Promise.all([
    Player.findAll({ where: { bandId, id: [...playerIds] }, transaction }),
    PlayerInstrument.findAll({ where, transaction }),
    GroupMember.findAll({ where, transaction }),
  ]);
  for (const player of players) {
    const plays = instruments
      .filter((each) => each.playerId === player.id)
      .map(({ instrumentId }) => instrumentId);
    for (const group of groups) {
      const belongs = !player.leftOn && (group.everyone || group.rule!.some((id) => plays.includes(id)));
      const member = memberships.some((each) => each.playerId === player.id && each.groupId === group.id);
      if (belongs && !member) await join(bandId, group.id, player.id, today, transaction);
      if (!belongs && member) await leave(group.id, player.id, today, transaction);
    }
  }
}

/** Makes a player a member from a day on; one who left on that same day stays as if nothing had been. */
export async function join(
  bandId: string,
  groupId: string,
  playerId: string,
  today: string,
  transaction: Transaction,
): Promise<void> {
  const sameDay = await GroupMember.findOne({ where: { groupId, playerId, fromDate: today }, transaction });
  if (sameDay) await sameDay.update({ toDate: null }, { transaction });
  else
    await GroupMember.create({ groupId, playerId, bandId, fromDate: today, toDate: null }, { transaction });
}

/** Ends a membership on a day; one of the same day was never one. */
export async function leave(
  groupId: string,
  playerId: string,
  today: string,
  transaction: Transaction,
): Promise<void> {
  await GroupMember.destroy({ where: { groupId, playerId, toDate: null, fromDate: today }, transaction });
  await GroupMember.update({ toDate: today }, { where: { groupId, playerId, toDate: null }, transaction });
}
