import { UniqueConstraintError } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { Group, GroupMember, Player, playersOfBand } from "../../data";
import { type Actor, director, found, ServiceError } from "../actor";
import { changePeople, join, leave } from "./changes";
import type { AddGroup, Changed, ChangeGroup, SetMembers } from "./schema";

/** Makes a group; one with a rule has its players at once. */
export async function addGroup(
  actor: Actor,
  { name, rule = [] }: z.output<typeof AddGroup>,
): Promise<{ groupId: string } & Changed> {
  const who = director(actor);
  const groupId = uuid();
  const players = await peopleFor(who.bandId, rule);
  return named(name, async () => {
    const changed = await changePeople(
      who,
      `Made the group ${name}`,
      players,
      async ({ transaction }) => {
        const place = await Group.count({ where: { bandId: who.bandId }, transaction });
        await Group.create(
          { id: groupId, bandId: who.bandId, name, place, rule: rule.length > 0 ? rule : null },
          { transaction },
        );
      },
      [groupId],
    );
    return { groupId, ...changed };
  });
}

/** Renames a group, or changes by which instruments players belong to it. Without a rule its members stay, by hand. */
export async function changeGroup(
  actor: Actor,
  groupId: string,
  { name, rule }: z.output<typeof ChangeGroup>,
): Promise<Changed> {
  const who = director(actor);
  const group = found(
    await Group.findOne({ where: { id: groupId, bandId: who.bandId, archivedAt: null } }),
    "group",
  );
  if (group.everyone && rule.length > 0)
    throw new ServiceError(
      "bad-input",
      `Everybody is in ${group.name}; it cannot be for some instruments only.`,
    );
  const members = await membersOf(groupId);
  const players = [...new Set([...members, ...(await peopleFor(who.bandId, rule))])];
  return named(name, () =>
    changePeople(
      who,
      name === group.name ? `Changed who belongs to ${name}` : `Renamed ${group.name} to ${name}`,
      players,
      async ({ transaction }) => {
        await group.update({ name, rule: rule.length > 0 ? rule : null }, { transaction });
      },
      [groupId],
    ),
  );
}

/** Sets who is in a group by hand. */
export async function setMembers(
  actor: Actor,
  groupId: string,
  { playerIds }: z.output<typeof SetMembers>,
): Promise<Changed> {
  const who = director(actor);
  const group = found(
    await Group.findOne({ where: { id: groupId, bandId: who.bandId, archivedAt: null } }),
    "group",
  );
  if (group.everyone || group.rule !== null)
    throw new ServiceError(
      "bad-input",
      `The members of ${group.name} follow its rule; take the rule away first.`,
    );
  const known = await Player.count({ where: { id: playerIds, bandId: who.bandId, leftOn: null } });
  if (known !== new Set(playerIds).size)
    throw new ServiceError("not-found", "One of these players does not exist, or belongs to another band.");
  const members = await membersOf(groupId);
  const joining = playerIds.filter((id) => !members.includes(id));
  const leaving = members.filter((id) => !playerIds.includes(id));
  return changePeople(
    who,
    `Changed the members of ${group.name}`,
    [...joining, ...leaving],
    async (changing) => {
      const { today, transaction } = changing;
      for (const id of joining) await join(who.bandId, groupId, id, today, transaction);
      for (const id of leaving) await leave(groupId, id, today, transaction);
    },
  );
}

/** Archives a group: its players leave it today, what was given to it stays in history. Taken back by undo. */
export async function archiveGroup(actor: Actor, groupId: string): Promise<Changed> {
  const who = director(actor);
  const group = found(
    await Group.findOne({ where: { id: groupId, bandId: who.bandId, archivedAt: null } }),
    "group",
  );
  if (group.everyone)
    throw new ServiceError("bad-input", `Everybody is in ${group.name}; it cannot be archived.`);
  const members = await membersOf(groupId);
  return changePeople(
    who,
    `Archived ${group.name}`,
    members,
    async ({ today, transaction }) => {
      for (const id of members) await leave(groupId, id, today, transaction);
      await group.update({ archivedAt: new Date() }, { transaction });
    },
    [groupId],
  );
}

/** Brings an archived group back, with its rule's players; members by hand are chosen anew. */
export async function restoreGroup(actor: Actor, groupId: string): Promise<Changed> {
  const who = director(actor);
  const group = found(await Group.findOne({ where: { id: groupId, bandId: who.bandId } }), "group");
  return changePeople(
    who,
    `Brought ${group.name} back`,
    await peopleFor(who.bandId, group.rule ?? []),
    async ({ transaction }) => {
      await group.update({ archivedAt: null }, { transaction });
    },
    [groupId],
  );
}

async function membersOf(groupId: string): Promise<string[]> {
  const members = await GroupMember.findAll({ where: { groupId, toDate: null }, attributes: ["playerId"] });
  return members.map(({ playerId }) => playerId);
}

/** Those of the band who hold one of some instruments. */
async function peopleFor(bandId: string, rule: readonly string[]): Promise<string[]> {
  if (rule.length === 0) return [];
  return (await playersOfBand(bandId))
    .filter((row) => row.leftOn === null && row.instruments.some((id) => rule.includes(id)))
    .map(({ id }) => id);
}

async function named<T>(name: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof UniqueConstraintError)
      throw new ServiceError("conflict", `There is already a group named ${name}, perhaps an archived one.`, {
        name: "Choose another name.",
      });
    throw error;
  }
}
