import { isDeepStrictEqual } from "node:util";
import type { z } from "zod";
import { groupBy } from "../../core/lists";
import { instrumentById } from "../../core/music";
import { nameKey } from "../../core/text";
import {
  Group,
  GroupMember,
  type OverviewRow,
  Player,
  PlayerInstrument,
  playersOfBand,
  Task,
} from "../../data";
import { type Actor, director, ServiceError } from "../actor";
import { type Changing, changePeople, join, leave } from "./changes";
import type { Changed, EditPlayers, PlayerEdit } from "./schema";

/**
 * Changes cells of the table of players, of one or of many at once, as one step that can be taken back.
 * @throws ServiceError when somebody else changed one of these cells since it was shown; then nothing is changed
 */
export async function editPlayers(actor: Actor, { changes }: z.output<typeof EditPlayers>): Promise<Changed> {
  const who = director(actor);
  const present = new Map((await playersOfBand(who.bandId)).map((row) => [row.id, row]));
  for (const { playerId } of changes)
    if (!present.has(playerId))
      throw new ServiceError("not-found", "This player does not exist, or belongs to another band.");
  const ids = [...new Set(changes.map(({ playerId }) => playerId))];
  return changePeople(who, saidOf(changes, present), ids, async (changing) => {
    // Read again behind the lock: two directors may have sent their changes at the same moment.
    const rows = new Map((await playersOfBand(who.bandId, changing.transaction)).map((row) => [row.id, row]));
    const groups = await Group.findAll({
      where: { bandId: who.bandId, archivedAt: null },
      transaction: changing.transaction,
    });
    for (const edit of changes) refuseStale(edit, rows.get(edit.playerId)!, groups);
    for (const [playerId, own] of groupBy(changes, ({ playerId }) => playerId))
      for (const edit of own) await apply(edit, rows.get(playerId)!, groups, changing);
  });
}

const FIELD_NAMES: Record<PlayerEdit["field"], string> = {
  name: "name",
  calledName: "called name",
  kit: "kit",
  part: "part",
  stage: "stage",
  instruments: "instruments",
  builds: "build",
  stages: "stage on an instrument",
  groupIds: "groups",
  left: "place in the band",
};

function saidOf(changes: readonly PlayerEdit[], present: ReadonlyMap<string, OverviewRow>): string {
  const [first] = changes;
  const names = new Set(changes.map(({ playerId }) => playerId));
  const name = present.get(first!.playerId)!.name;
  const whose = names.size === 1 ? `${name}'s` : `the`;
  const fields = new Set(changes.map(({ field }) => field));
  if (fields.size === 1 && first!.field === "left")
    return first!.is
      ? names.size === 1
        ? `${name} left the band`
        : `${names.size} players left the band`
      : names.size === 1
        ? `${name} is back`
        : `${names.size} players are back`;
  const what = fields.size === 1 ? FIELD_NAMES[first!.field] : `${fields.size} things`;
  return `Changed ${whose} ${what}${names.size > 1 ? ` of ${names.size} players` : ""}`;
}

/** What a cell holds now, in the form of the table. */
function cellOf(field: PlayerEdit["field"], row: OverviewRow, byHand: ReadonlySet<string>): unknown {
  switch (field) {
    case "left":
      return row.leftOn !== null;
    case "groupIds":
      return row.groupIds.filter((id) => byHand.has(id)).sort();
    case "instruments":
      return row.instruments;
    default:
      return row[field];
  }
}

function refuseStale(edit: PlayerEdit, row: OverviewRow, groups: readonly Group[]): void {
  const byHand = new Set(
    groups.filter((group) => !group.everyone && group.rule === null).map(({ id }) => id),
  );
  const now = cellOf(edit.field, row, byHand);
  const was =
    edit.field === "groupIds" && Array.isArray(edit.was)
      ? edit.was.filter((id) => byHand.has(id)).sort()
      : edit.was;
  if (isDeepStrictEqual(now, was) || isDeepStrictEqual(now, edit.is)) return;
  throw new ServiceError(
    "conflict",
    `${row.name}'s ${FIELD_NAMES[edit.field]} was changed in the meantime, perhaps on another page. The page shows it now; change it again if you still want to.`,
    { [edit.playerId]: edit.field },
  );
}

async function apply(
  edit: PlayerEdit,
  row: OverviewRow,
  groups: readonly Group[],
  changing: Changing,
): Promise<void> {
  const { bandId, today, transaction } = changing;
  const where = { id: row.id, bandId };
  switch (edit.field) {
    case "name":
      await Player.update({ name: edit.is, nameKey: nameKey(edit.is) }, { where, transaction });
      return;
    case "calledName":
    case "kit":
    case "part":
      await Player.update({ [edit.field]: edit.is }, { where, transaction });
      return;
    case "stage":
      await Player.update({ stage: edit.is, stageSince: today }, { where, transaction });
      return;
    case "instruments":
      return setInstruments(row, edit.is, changing);
    case "builds":
      return setPerInstrument(edit.is, row, changing, (instrumentId, variant) => {
        if (variant !== null && !instrumentById(instrumentId).variants?.some(({ id }) => id === variant))
          throw new ServiceError("bad-input", "This instrument is not built that way.");
        return { variant };
      });
    case "stages":
      return setPerInstrument(edit.is, row, changing, (_, stage) => ({ stage: stage as never }));
    case "groupIds":
      return setGroups(row, edit.is, groups, changing);
    case "left":
      return edit.is ? leaveBand(row, changing) : comeBack(row, changing);
  }
}

/**
 * The instruments a player holds from today on. A new one of another family begins at making a sound; the old one keeps its
 * dates, its takes and what was shown on it.
 */
export async function setInstruments(
  row: Pick<OverviewRow, "id" | "instruments">,
  wanted: readonly string[],
  { bandId, today, transaction }: Changing,
): Promise<void> {
  const families = row.instruments.map((id) => instrumentById(id).family);
  for (const instrumentId of row.instruments) {
    if (wanted.includes(instrumentId)) continue;
    const where = { playerId: row.id, instrumentId, toDate: null };
    // Taken up and given back on one day, with nothing done on it: it never was.
    if ((await Task.count({ where: { playerId: row.id, instrumentId }, transaction })) === 0)
      await PlayerInstrument.destroy({ where: { ...where, fromDate: today }, transaction });
    await PlayerInstrument.update({ toDate: today }, { where, transaction });
  }
  for (const instrumentId of new Set(wanted)) {
    if (row.instruments.includes(instrumentId)) continue;
    const strange = row.instruments.length > 0 && !families.includes(instrumentById(instrumentId).family);
    const sameDay = await PlayerInstrument.findOne({
      where: { playerId: row.id, instrumentId, fromDate: today },
      transaction,
    });
    if (sameDay) await sameDay.update({ toDate: null }, { transaction });
    else
      await PlayerInstrument.create(
        {
          playerId: row.id,
          bandId,
          instrumentId,
          fromDate: today,
          toDate: null,
          stage: strange && instrumentById(instrumentId).ranges ? "making-a-sound" : null,
        },
        { transaction },
      );
  }
}

async function setPerInstrument<T>(
  given: Record<string, T>,
  row: OverviewRow,
  { bandId, transaction }: Changing,
  rowOf: (instrumentId: string, value: T) => Partial<{ variant: string | null; stage: null }>,
): Promise<void> {
  for (const instrumentId of row.instruments) {
    const value = given[instrumentId] ?? (null as T);
    await PlayerInstrument.update(rowOf(instrumentId, value), {
      where: { playerId: row.id, bandId, instrumentId, toDate: null },
      transaction,
    });
  }
}

/** Groups by hand; those by rule and of everybody follow by themselves. */
export async function setGroups(
  row: Pick<OverviewRow, "id" | "groupIds">,
  wanted: readonly string[],
  groups: readonly Group[],
  { bandId, today, transaction }: Changing,
): Promise<void> {
  for (const id of wanted)
    if (!groups.some((group) => group.id === id))
      throw new ServiceError(
        "not-found",
        "One of these groups does not exist, or it belongs to another band.",
      );
  for (const group of groups) {
    if (group.everyone || group.rule !== null) continue;
    const [member, wants] = [row.groupIds.includes(group.id), wanted.includes(group.id)];
    if (wants && !member) await join(bandId, group.id, row.id, today, transaction);
    if (!wants && member) await leave(group.id, row.id, today, transaction);
  }
}

/** Leaves the band today: history stays, groups end. */
async function leaveBand(row: OverviewRow, { bandId, today, transaction }: Changing): Promise<void> {
  await Player.update({ leftOn: today }, { where: { id: row.id, bandId }, transaction });
  for (const groupId of row.groupIds) await leave(groupId, row.id, today, transaction);
}

/** Comes back, to the groups that ended with the leaving. */
export async function comeBack(
  row: Pick<OverviewRow, "id" | "leftOn">,
  { bandId, today, transaction }: Changing,
): Promise<void> {
  const ended = row.leftOn
    ? await GroupMember.findAll({ where: { playerId: row.id, toDate: row.leftOn }, transaction })
    : [];
  await Player.update({ leftOn: null }, { where: { id: row.id, bandId }, transaction });
  const open = await Group.findAll({
    where: { bandId, archivedAt: null, id: ended.map(({ groupId }) => groupId) },
    transaction,
  });
  for (const group of open) await join(bandId, group.id, row.id, today, transaction);
}
