import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { addDays, nextSchoolDay } from "../../core/calendar";
import { instrumentById } from "../../core/music";
import { suggestStage } from "../../core/progress";
import { nameKey } from "../../core/text";
import {
  Band,
  BandChange,
  Group,
  type OverviewRow,
  Player,
  PlayerInstrument,
  playersOfBand,
} from "../../data";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { today as todayIn } from "../calendar";
import { type BandKnowledge, bandKnowledge, weeksSince } from "../knowledge";
import { type Decided, settingsOf } from "../settings";
import { changePeople, join } from "./changes";
import { setInstruments } from "./edit";
import type { AddPlayer, BandOverview, Changed, PlayerRow, SetBuild } from "./schema";

export { type DrawnCard, drawCards, undoDraw } from "./cards";
export { undoChange } from "./changes";
export { createBand, openBand } from "./create";
export { editPlayers } from "./edit";
export { addGroup, archiveGroup, changeGroup, restoreGroup, setMembers } from "./groups";
export { type Imported, importRoster, lookAtRoster, rosterFile } from "./roster";
export {
  AddGroup,
  AddPlayer,
  ChangeGroup,
  DrawCards,
  EditPlayers,
  ImportRoster,
  LookAtRoster,
  SetBuild,
  SetMembers,
} from "./schema";

/** The band on one page: groups and everyone in them, with what speaks for the next stage. */
export async function bandOverview(actor: Actor): Promise<BandOverview> {
  const { bandId, userId } = director(actor);
  const [ownBand, rows, groups, lastChange, knowledge] = await Promise.all([
    Band.findByPk(bandId),
    playersOfBand(bandId),
    Group.findAll({ where: { bandId }, order: [["place", "ASC"]] }),
    BandChange.findOne({
      where: { bandId, userId, undoneAt: null },
      attributes: ["id", "said"],
      order: [
        ["created_at", "DESC"],
        ["id", "DESC"],
      ],
    }),
    bandKnowledge(bandId),
  ]);
  const band = found(ownBand, "band");
  const today = todayIn(band.timeZone);
  const since = await stagesSince(bandId);
  const players = rows.map((row) =>
    playerRow(row, knowledge, settingsOf(band), weeksSince(since.get(row.id)!, today)),
  );
  const here = players.filter((player) => player.leftOn === null);
  return {
    name: band.name,
    town: band.town,
    classCode: band.classCode,
    today,
    nextDue: nextSchoolDay(addDays(today, 7), settingsOf(band)),
    players: here,
    gone: players.filter((player) => player.leftOn !== null),
    groups: groups
      .filter((group) => group.archivedAt === null)
      .map((group) => {
        const members = here.filter((each) => each.groupIds.includes(group.id));
        const instruments = [...new Set(members.flatMap((each) => each.instruments))].map(
          (id) => instrumentById(id).name,
        );
        const { id, name, everyone, rule } = group;
        return {
          id,
          name,
          everyone: Boolean(everyone),
          rule: rule ?? [],
          players: members.length,
          instruments,
        };
      }),
    archivedGroups: groups.flatMap(({ id, name, archivedAt }) => (archivedAt ? [{ id, name }] : [])),
    lastChange: lastChange && { id: lastChange.id, said: lastChange.said },
  };
}

async function stagesSince(bandId: string): Promise<Map<string, string>> {
  const rows = await Player.findAll({ where: { bandId }, attributes: ["id", "stageSince"] });
  return new Map(rows.map(({ id, stageSince }) => [id, stageSince]));
}

function playerRow(
  row: OverviewRow,
  knowledge: BandKnowledge,
  { soundWeeks }: Decided,
  weeks: number,
): PlayerRow {
  const [first] = row.instruments;
  const suggestion =
    first === undefined || row.leftOn !== null || row.stages[first] !== undefined
      ? null
      : suggestStage(
          knowledge.of({ playerId: row.id, instrumentId: first, stage: row.stage }),
          instrumentById(first),
          row.stage,
          weeks,
          soundWeeks,
        );
  return { ...row, suggestion };
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

/** Adds a player with instruments and groups; two may have one name and are told apart by their cards. */
export async function addPlayer(
  actor: Actor,
  input: z.output<typeof AddPlayer>,
): Promise<{ playerId: string; sameName: boolean } & Changed> {
  const who = director(actor);
  const groups = await Group.findAll({ where: { bandId: who.bandId, archivedAt: null } });
  if (input.groupIds.some((id) => !groups.some((group) => group.id === id)))
    throw new ServiceError("not-found", "One of these groups does not exist, or it belongs to another band.");
  const playerId = uuid();
  const sameName = (await Player.count({ where: { bandId: who.bandId, nameKey: nameKey(input.name) } })) > 0;
  const changed = await changePeople(who, `Added ${input.name}`, [playerId], async (changing) => {
    const { bandId, today, transaction } = changing;
    await Player.create(
      {
        id: playerId,
        bandId,
        name: input.name,
        nameKey: nameKey(input.name),
        stage: input.stage,
        stageSince: today,
        joinedOn: today,
        secretHash: null,
      },
      { transaction },
    );
    await setInstruments({ id: playerId, instruments: [] }, input.instruments, changing);
    for (const group of groups)
      if (input.groupIds.includes(group.id) && !group.everyone && group.rule === null)
        await join(bandId, group.id, playerId, today, transaction);
    await audit(who, "add-player", playerId, transaction);
  });
  return { playerId, sameName, ...changed };
}
