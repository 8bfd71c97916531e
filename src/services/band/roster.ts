import type { Transaction } from "sequelize";
import { v7 as uuid } from "uuid";
import type { z } from "zod";
import { instrumentById } from "../../core/music";
import {
  notInList,
  type PlannedRow,
  type PresentPlayer,
  planRoster,
  RosterError,
  readRoster,
  writeRoster,
} from "../../core/roster";
import { nameKey } from "../../core/text";
import { Band, Group, type OverviewRow, Player, PlayerInstrument, playersOfBand } from "../../data";
import { type Actor, director, found, ServiceError } from "../actor";
import { type Changing, changePeople, join } from "./changes";
import { comeBack, setInstruments } from "./edit";
import type { Changed, ImportRoster, LookAtRoster, RosterLook } from "./schema";

export interface Imported extends Changed {
  added: number;
  changed: number;
  same: number;
  leftOut: number;
  groups: string[];
}

/** What importing a list would do; nothing is stored. */
export async function lookAtRoster(actor: Actor, input: z.output<typeof LookAtRoster>): Promise<RosterLook> {
  const { bandId } = director(actor);
  const { players, groups } = await presentBand(bandId);
  try {
    const { headings, columns, rows } = readRoster(input.text, input.columns);
    const planned = planRoster(rows, players);
    return {
      headings,
      columns,
      rows: planned,
      newGroups: newGroupsOf(planned, groups),
      notInList: notInList(planned, players).map(({ name }) => name),
      problem: null,
    };
  } catch (error) {
    if (!(error instanceof RosterError)) throw error;
    return { headings: [], columns: [], rows: [], newGroups: [], notInList: [], problem: error.reason };
  }
}

/** Imports a list as it was looked at: players, groups and all in one step that can be taken back. */
export async function importRoster(actor: Actor, input: z.output<typeof ImportRoster>): Promise<Imported> {
  const who = director(actor);
  let done: Omit<Imported, keyof Changed> = { added: 0, changed: 0, same: 0, leftOut: 0, groups: [] };
  const changed = await changePeople(
    who,
    () =>
      `Imported a list: ${done.added} new, ${done.changed} changed${done.groups.length > 0 ? `, groups ${done.groups.join(", ")}` : ""}`,
    [],
    async (changing) => {
      const { players, groups, rows: present } = await presentBand(who.bandId, changing.transaction);
      const planned = decided(planRoster(rowsOf(input), players), input);
      const groupIds = new Map(groups.map((group) => [nameKey(group.name), group]));
      const made = newGroupsOf(planned, groups);
      for (const name of made)
        groupIds.set(nameKey(name), await makeGroup(name, groups.length + made.indexOf(name), changing));
      done = { added: 0, changed: 0, same: 0, leftOut: 0, groups: made };
      for (const row of planned) {
        if (row.act === "add") {
          done.added++;
          await addRow(row, input.stage, groupIds, changing);
        } else if (row.act === "change") {
          done.changed++;
          await changeRow(row, present.find(({ id }) => id === row.playerId)!, groupIds, changing);
        } else if (row.act === "same") done.same++;
        else done.leftOut++;
      }
    },
  );
  return { ...changed, ...done };
}

function rowsOf(input: z.output<typeof ImportRoster>) {
  try {
    return readRoster(input.text, input.columns).rows.map((row) => {
      const chosen = input.instruments[String(row.line)];
      return chosen ? { ...row, instruments: [chosen] } : row;
    });
  } catch (error) {
    if (error instanceof RosterError)
      throw new ServiceError("bad-input", "This list cannot be used; look at it again.", {
        list: error.reason,
      });
    throw error;
  }
}

/** Doubtful rows as a person decided them; without a word they are left out. */
function decided(planned: readonly PlannedRow[], { choices }: z.output<typeof ImportRoster>): PlannedRow[] {
  return planned.map((row): PlannedRow => {
    const choice = choices[String(row.line)];
    if (choice === "skip") return { ...row, act: "unusable" };
    if (row.act !== "ask" && row.act !== "double") return row;
    if (choice === "add" && row.instruments.length > 0) return { ...row, act: "add" };
    // It is the player of nearly this name: nothing else of the row is believed.
    if (row.act === "ask" && choice === row.playerId) return { ...row, act: "same", playerId: row.playerId };
    return { ...row, act: "unusable" };
  });
}

async function presentBand(
  bandId: string,
  transaction?: Transaction,
): Promise<{ players: PresentPlayer[]; groups: Group[]; rows: OverviewRow[] }> {
  const [rows, groups] = await Promise.all([
    playersOfBand(bandId, transaction),
    Group.findAll({
      where: { bandId, archivedAt: null },
      order: [["place", "ASC"]],
      ...(transaction ? { transaction } : {}),
    }),
  ]);
  const nameOf = new Map(groups.map(({ id, name }) => [id, name]));
  const players = rows.map(
    ({ id, name, calledName, instruments, builds, part, stage, groupIds, kit, leftOn }): PresentPlayer => ({
      id,
      name,
      calledName,
      instruments,
      builds,
      part,
      stage,
      kit,
      groups: groupIds.flatMap((groupId) => nameOf.get(groupId) ?? []),
      left: leftOn !== null,
    }),
  );
  return { players, groups, rows };
}

function newGroupsOf(planned: readonly PlannedRow[], groups: readonly Group[]): string[] {
  const known = new Set(groups.map(({ name }) => nameKey(name)));
  const found = new Map<string, string>();
  for (const { act, groups: named } of planned)
    if (act === "add" || act === "change")
      for (const name of named ?? [])
        if (!known.has(nameKey(name))) found.set(nameKey(name), name.slice(0, 80));
  return [...found.values()];
}

/** A group of the list; an archived one of that name comes back. */
async function makeGroup(name: string, place: number, changing: Changing): Promise<Group> {
  const { bandId, transaction } = changing;
  const archived = await Group.findOne({ where: { bandId, name }, transaction });
  if (archived) {
    await changing.touchGroup(archived.id);
    return archived.update({ archivedAt: null }, { transaction });
  }
  const id = uuid();
  await changing.touchGroup(id);
  return Group.create({ id, bandId, name, place, rule: null }, { transaction });
}

async function addRow(
  row: PlannedRow,
  stage: z.output<typeof ImportRoster>["stage"],
  groups: ReadonlyMap<string, Group>,
  changing: Changing,
): Promise<void> {
  const { bandId, today, transaction } = changing;
  const id = uuid();
  changing.touch(id);
  await Player.create(
    {
      id,
      bandId,
      name: row.name,
      nameKey: nameKey(row.name),
      calledName: (row.calledName ?? "").slice(0, 60),
      stage: row.stage ?? stage,
      stageSince: today,
      part: row.part ?? null,
      kit: (row.kit ?? "").slice(0, 200),
      joinedOn: today,
      secretHash: null,
    },
    { transaction },
  );
  await setInstruments({ id, instruments: [] }, row.instruments, changing);
  await setBuilds(id, row, changing);
  for (const group of handGroups(row, groups)) await join(bandId, group.id, id, today, transaction);
}

async function changeRow(
  row: Extract<PlannedRow, { act: "change" }>,
  present: OverviewRow,
  groups: ReadonlyMap<string, Group>,
  changing: Changing,
): Promise<void> {
  const { bandId, today, transaction } = changing;
  const { id } = present;
  // Touched before it is changed, so that undo knows how it was.
  await changing.before(id);
  if (row.fields.includes("back")) await comeBack(present, changing);
  if (row.fields.includes("instruments")) await setInstruments(present, row.instruments, changing);
  if (row.fields.includes("build")) await setBuilds(id, row, changing);
  const own = {
    ...(row.fields.includes("part") ? { part: row.part ?? null } : {}),
    ...(row.fields.includes("stage") ? { stage: row.stage!, stageSince: today } : {}),
    ...(row.fields.includes("called") ? { calledName: row.calledName!.slice(0, 60) } : {}),
    ...(row.fields.includes("kit") ? { kit: row.kit!.slice(0, 200) } : {}),
  };
  if (Object.keys(own).length > 0) await Player.update(own, { where: { id, bandId }, transaction });
  if (row.fields.includes("groups"))
    for (const group of handGroups(row, groups))
      if (!present.groupIds.includes(group.id)) await join(bandId, group.id, id, today, transaction);
}

function handGroups(row: PlannedRow, groups: ReadonlyMap<string, Group>): Group[] {
  return (row.groups ?? []).flatMap((name) => {
    const group = groups.get(nameKey(name));
    return group && !group.everyone && group.rule === null ? [group] : [];
  });
}

async function setBuilds(
  playerId: string,
  row: PlannedRow,
  { bandId, transaction }: Changing,
): Promise<void> {
  for (const [instrumentId, variant] of Object.entries(row.builds))
    if (instrumentById(instrumentId).variants?.some((each) => each.id === variant))
      await PlayerInstrument.update(
        { variant },
        { where: { playerId, bandId, instrumentId, toDate: null }, transaction },
      );
}

/** The band as a list that a spreadsheet opens and that can be imported again. */
export async function rosterFile(actor: Actor): Promise<{ name: string; bytes: Uint8Array<ArrayBuffer> }> {
  const { bandId } = director(actor);
  const band = found(await Band.findByPk(bandId), "band");
  const { players, groups } = await presentBand(bandId);
  const everyone = new Set(groups.filter((group) => group.everyone).map(({ name }) => name));
  const rows = players
    .filter((player) => !player.left)
    .map((player) => ({ ...player, groups: player.groups.filter((name) => !everyone.has(name)) }));
  return { name: `${band.name}.csv`, bytes: new TextEncoder().encode(writeRoster(rows)) };
}
