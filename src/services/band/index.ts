import { UniqueConstraintError } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { instrumentById } from "../../core/music";
import { nameKey } from "../../core/text";
import {
  Band,
  Group,
  GroupMember,
  KnownDevice,
  Player,
  PlayerInstrument,
  playersOfBand,
  Session,
} from "../../data";
import { database } from "../../server/database";
import { hashSecret } from "../../server/hashing";
import { drawWords } from "../accounts";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { today } from "../calendar";
import type { AddGroup, AddPlayer, BandOverview, SetBuild } from "./schema";

export { createBand } from "./create";
export { AddGroup, AddPlayer, SetBuild } from "./schema";

/** The band on one page: groups and everyone in them, in score order of instruments. */
export async function bandOverview(actor: Actor): Promise<BandOverview> {
  const { bandId } = director(actor);
  const [ownBand, players, groups] = await Promise.all([
    Band.findByPk(bandId),
    playersOfBand(bandId),
    Group.findAll({ where: { bandId }, attributes: ["id", "name"], order: [["place", "ASC"]] }),
  ]);
  const band = found(ownBand, "band");
  return {
    name: band.name,
    town: band.town,
    classCode: band.classCode,
    players,
    groups: groups.map((group) => {
      const members = players.filter((each) => each.groups.includes(group.name));
      const instruments = [...new Set(members.flatMap((each) => each.instruments))].map(
        (id) => instrumentById(id).name,
      );
      return { id: group.id, name: group.name, players: members.length, instruments };
    }),
  };
}

/** Draws new words for a player's card; the old card and every open session of the player end. The words are shown once. */
export async function newCard(
  actor: Actor,
  playerId: string,
): Promise<{ name: string; classCode: string; words: string }> {
  const who = director(actor);
  const player = found(await Player.findOne({ where: { id: playerId, bandId: who.bandId } }), "player");
  const band = found(await Band.findByPk(who.bandId), "band");
  const words = drawWords();
  const secretHash = await hashSecret(words);
  await database().transaction(async (transaction) => {
    await Player.update({ secretHash }, { where: { id: player.id }, transaction });
    await Session.destroy({ where: { playerId: player.id }, transaction });
    await KnownDevice.destroy({ where: { account: player.id }, transaction });
    await audit(who, "new-card", player.id, transaction);
  });
  return { name: player.name, classCode: band.classCode, words };
}

/** Says which build of an instrument a player has: a double horn, a trombone with trigger. */
export async function setBuild(
  actor: Actor,
  playerId: string,
  instrumentId: string,
  { variant }: z.output<typeof SetBuild>,
): Promise<void> {
  const who = director(actor);
  const row = found(
    await PlayerInstrument.findOne({ where: { playerId, instrumentId, bandId: who.bandId, toDate: null } }),
    "player with this instrument",
  );
  if (variant !== null && !instrumentById(instrumentId).variants?.some((each) => each.id === variant))
    throw new ServiceError("bad-input", "This instrument is not built that way.");
  await row.update({ variant });
}

/** Adds a player with instruments and groups; Full Band is always one of them. */
export async function addPlayer(
  actor: Actor,
  input: z.output<typeof AddPlayer>,
): Promise<{ playerId: string }> {
  const who = director(actor);
  const band = found(await Band.findByPk(who.bandId), "band");
  const groups = await Group.findAll({ where: { bandId: who.bandId } });
  if (input.groupIds.some((id) => !groups.some((group) => group.id === id)))
    throw new ServiceError("not-found", "One of these groups does not exist, or it belongs to another band.");
  const fullBand = groups.find((group) => group.name === "Full Band");
  const groupIds = new Set([...input.groupIds, ...(fullBand ? [fullBand.id] : [])]);
  const playerId = uuid();
  try {
    await database().transaction(async (transaction) => {
      await Player.create(
        {
          id: playerId,
          bandId: who.bandId,
          name: input.name,
          nameKey: nameKey(input.name),
          stage: input.stage,
          secretHash: null,
        },
        { transaction },
      );
      await PlayerInstrument.bulkCreate(
        [...new Set(input.instruments)].map((instrumentId) => ({
          playerId,
          bandId: who.bandId,
          instrumentId,
          fromDate: today(band.timeZone),
          toDate: null,
        })),
        { transaction },
      );
      await GroupMember.bulkCreate(
        [...groupIds].map((groupId) => ({ groupId, playerId, bandId: who.bandId })),
        { transaction },
      );
      await audit(who, "add-player", playerId, transaction);
    });
  } catch (error) {
    if (error instanceof UniqueConstraintError)
      throw new ServiceError("conflict", `There is already a player named ${input.name} in this band.`, {
        name: "Add a middle name or an initial.",
      });
    throw error;
  }
  return { playerId };
}

export async function addGroup(actor: Actor, input: z.output<typeof AddGroup>): Promise<{ groupId: string }> {
  const who = director(actor);
  const groupId = uuid();
  try {
    await database().transaction(async (transaction) => {
      const place = await Group.count({ where: { bandId: who.bandId }, transaction });
      await Group.create({ id: groupId, bandId: who.bandId, name: input.name, place }, { transaction });
      await audit(who, "add-group", groupId, transaction);
    });
  } catch (error) {
    if (error instanceof UniqueConstraintError)
      throw new ServiceError("conflict", `There is already a group named ${input.name}.`, {
        name: "Choose another name.",
      });
    throw error;
  }
  return { groupId };
}
