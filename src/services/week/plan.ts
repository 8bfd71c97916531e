import { isDeepStrictEqual } from "node:util";
import { Op, type Transaction } from "sequelize";
import type { z } from "zod";
import { whyOff } from "../../core/calendar";
import type { Reason } from "../../core/plan";
import {
  Absence,
  Band,
  Clash,
  Drill,
  Handout,
  Line,
  PieceRow,
  Player,
  planVersions,
  Routine,
  raisePlan,
  StripRow,
  TurnedDown,
} from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found, ServiceError } from "../actor";
import { dayLabel } from "../calendar";
import { bandKnowledge } from "../knowledge";
import { settingsOf } from "../settings";
import { lineFacts } from "../shelf";
import { groupsOf } from "./calendar";
import { asksOf, linesOf, seatsOfGroups, stripOf } from "./ribbon";
import type { SavedPlan, SavePlan, SetClash, StripView, TickAbsent, TurnDown } from "./schema";

type Change = z.output<typeof SavePlan>["changes"][number];

/**
 * Keeps changes of strips. A strip that somebody else changed in between is left as they have it and comes back with the
 * answer, beside everything else that changed since; nothing anybody did is lost.
 *
 * @throws ServiceError for a group, player or thing that is not the band's, with nothing changed
 */
export async function savePlan(actor: Actor, input: z.output<typeof SavePlan>): Promise<SavedPlan> {
  const { bandId } = director(actor);
  const band = found(await Band.findByPk(bandId), "band");
  const settings = settingsOf(band);
  const offDay = input.changes.find(
    ({ strip }) => strip?.where === "home" && whyOff(strip.date, settings) !== null,
  )?.strip;
  if (offDay)
    throw new ServiceError(
      "conflict",
      `${dayLabel(offDay.date)} is off (${whyOff(offDay.date, settings)}); nothing is asked at home on it.`,
    );
  const refused = await database().transaction((transaction) => keep(bandId, input.changes, transaction));
  // The version first: what is kept between the two comes twice rather than never.
  const versions = await planVersions(bandId);
  const changed = await StripRow.findAll({
    where: { bandId, version: { [Op.gt]: input.since } },
    order: ["date", "place", "id"],
  });
  const strips = changed.filter(({ removedAt }) => removedAt === null).map(stripOf);
  return {
    version: versions.plan,
    strips,
    gone: changed.filter(({ removedAt }) => removedAt !== null).map(({ id, version }) => ({ id, version })),
    refused,
    // Most looks find nothing new, and cost next to nothing.
    asks: strips.length > 0 ? await asksNow(bandId, strips) : {},
  };
}

async function asksNow(bandId: string, strips: readonly StripView[]): Promise<SavedPlan["asks"]> {
  const knowledge = await bandKnowledge(bandId);
  const [seats, facts] = await Promise.all([
    seatsOfGroups(bandId, knowledge),
    lineFacts(bandId, linesOf(strips)),
  ]);
  return asksOf(strips, seats, knowledge, facts);
}

async function keep(
  bandId: string,
  changes: readonly Change[],
  transaction: Transaction,
): Promise<SavedPlan["refused"]> {
  if (changes.length === 0) return [];
  // The lock of the plan comes first: what is read after it stays so until the end.
  const version = await raisePlan(bandId, transaction);
  await ownThings(bandId, changes, transaction);
  const rows = await StripRow.findAll({ where: { id: changes.map(({ id }) => id) }, transaction });
  const there = new Map(rows.map((row) => [row.id, row]));
  const refused: SavedPlan["refused"] = [];
  for (const { id, basis, strip } of changes) {
    const row = there.get(id);
    if (row && row.bandId !== bandId) throw new ServiceError("not-found", "This is not in the band's plan.");
    if (row && row.version !== basis) {
      // What is as it was asked for already needs no second change: a lost answer is sent again.
      if (!(strip && row.removedAt === null && sameAs(row, strip)) && !(strip === null && row.removedAt))
        refused.push({ id, said: row.removedAt ? "taken off" : "changed" });
    } else if (strip === null) {
      if (row) await row.update({ removedAt: new Date(), version }, { transaction });
    } else if (row) await row.update({ ...columnsOf(strip), removedAt: null, version }, { transaction });
    else await StripRow.create({ id, bandId, ...columnsOf(strip), version }, { transaction });
  }
  return refused;
}

type StripInput = NonNullable<Change["strip"]>;

function columnsOf(strip: StripInput) {
  const { groupId, where, forWhom, date, place, kind, refId, title, minutes, firstBar, lastBar, note } =
    strip;
  return {
    groupId,
    atHome: where === "home",
    instrumentId: forWhom.kind === "instrument" ? forWhom.instrumentId : null,
    playerId: forWhom.kind === "player" ? forWhom.playerId : null,
    date,
    place,
    kind,
    refId,
    title,
    minutes,
    firstBar,
    lastBar,
    note,
    reason: strip.reason as Reason | null,
    terms: strip.terms ?? null,
    notReached: strip.notReached ?? false,
  };
}

function sameAs(row: StripRow, strip: StripInput): boolean {
  const asked = columnsOf(strip);
  return (Object.keys(asked) as (keyof typeof asked)[]).every((name) =>
    name === "reason"
      ? true
      : name === "terms"
        ? isDeepStrictEqual(row.terms ?? null, asked.terms)
        : name === "place"
          ? Number(row.place) === asked.place
          : name === "atHome" || name === "notReached"
            ? Boolean(row[name]) === asked[name]
            : row[name] === asked[name],
  );
}

/** @throws ServiceError when a strip names what is not the band's */
async function ownThings(
  bandId: string,
  changes: readonly Change[],
  transaction: Transaction,
): Promise<void> {
  const strips = changes.flatMap(({ strip }) => strip ?? []);
  const groups = new Set((await groupsOf(bandId, transaction)).map(({ id }) => id));
  if (strips.some(({ groupId }) => !groups.has(groupId)))
    throw new ServiceError("not-found", "This group is not in the band any more.");
  const of = (kinds: string[]) => [
    ...new Set(strips.flatMap(({ kind, refId }) => (kinds.includes(kind) && refId ? [refId] : []))),
  ];
  const players = [
    ...new Set(strips.flatMap(({ forWhom }) => (forWhom.kind === "player" ? [forWhom.playerId] : []))),
  ];
  const [lines, routines, drills, pieces, handouts] = [
    of(["line", "drill"]),
    of(["routine"]),
    of(["counting"]),
    of(["piece"]),
    of(["worksheet", "listening"]),
  ];
  const counts = await Promise.all([
    Line.count({ where: { bandId, id: lines }, transaction }),
    Routine.count({ where: { bandId, id: routines }, transaction }),
    Drill.count({ where: { bandId, id: drills }, transaction }),
    PieceRow.count({ where: { bandId, id: pieces }, transaction }),
    Handout.count({ where: { bandId, id: handouts }, transaction }),
    Player.count({ where: { bandId, id: players }, transaction }),
  ]);
  if ([lines, routines, drills, pieces, handouts, players].some((ids, i) => ids.length !== counts[i]))
    throw new ServiceError("not-found", "This is not on the shelf or in the band.");
}

/** Keeps who missed a class. */
export async function tickAbsent(actor: Actor, input: z.output<typeof TickAbsent>): Promise<void> {
  const { bandId } = director(actor);
  const { groupId, date, playerId, absent } = input;
  if (!(await groupsOf(bandId)).some(({ id }) => id === groupId))
    throw new ServiceError("not-found", "This group is not in the band any more.");
  found(await Player.findOne({ where: { id: playerId, bandId } }), "player");
  if (absent) await Absence.upsert({ bandId, groupId, date, playerId });
  else await Absence.destroy({ where: { bandId, groupId, date, playerId } });
}

/** Keeps that a player misses a group's class on a weekday, every week, or that this is over. */
export async function setClash(actor: Actor, input: z.output<typeof SetClash>): Promise<void> {
  const { bandId } = director(actor);
  const { groupId, playerId, weekday, reason, clash } = input;
  if (!(await groupsOf(bandId)).some(({ id }) => id === groupId))
    throw new ServiceError("not-found", "This group is not in the band any more.");
  found(await Player.findOne({ where: { id: playerId, bandId } }), "player");
  if (clash) await Clash.upsert({ bandId, groupId, playerId, weekday, reason });
  else await Clash.destroy({ where: { bandId, groupId, playerId, weekday } });
}

/** Remembers that a proposal is not wanted, or that it may come again. */
export async function turnDown(actor: Actor, input: z.output<typeof TurnDown>): Promise<void> {
  const { bandId } = director(actor);
  if (!(await groupsOf(bandId)).some(({ id }) => id === input.groupId))
    throw new ServiceError("not-found", "This group is not in the band any more.");
  const { groupId, proposal, said } = input;
  if (input.down) await TurnedDown.upsert({ bandId, groupId, proposal, said, createdAt: new Date() });
  else await TurnedDown.destroy({ where: { bandId, groupId, proposal } });
}
