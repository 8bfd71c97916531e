import type { z } from "zod";
import { daysBetween } from "../../core/calendar";
import { groupBy } from "../../core/lists";
import { nextPassage } from "../../core/plan";
import { Band, GoalRow, linesMet, lineTakes, planVersions, raiseCalendar } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { dayLabel, today } from "../calendar";
import { bandKnowledge } from "../knowledge";
import { piecesOf } from "../pieces";
import { settingsOf } from "../settings";
import { lineFacts } from "../shelf";
import { groupsOf, ownProgramme } from "./calendar";
import { nameOfLine, seatsOfGroups, secondsOfPiece } from "./ribbon";
import type { ConcertEntry, ConcertView, SaveProgramme } from "./schema";

/** A concert or test with its programme: who plays what, what is said before it, and what is ready. */
export async function concertView(actor: Actor, goalId: string): Promise<ConcertView> {
  const { bandId } = director(actor);
  const goal = found(await GoalRow.findOne({ where: { id: goalId, bandId } }), "concert");
  const band = found(await Band.findByPk(bandId), "band");
  const now = today(band.timeZone);
  const knowledge = await bandKnowledge(bandId);
  const [versions, groups, seats, facts, pieces, takes, met] = await Promise.all([
    planVersions(bandId),
    groupsOf(bandId),
    seatsOfGroups(bandId, knowledge),
    lineFacts(bandId),
    piecesOf(bandId),
    lineTakes(bandId, new Date(0)),
    linesMet(bandId, now),
  ]);
  const groupName = new Map(groups.map(({ id, name }) => [id, name]));
  const takesOf = groupBy(takes, ({ lineId }) => lineId);
  const entries = goal.programme.map((entry): ConcertEntry => {
    const playing = entry.groupId ?? goal.groupId;
    const piece = entry.kind === "piece" ? pieces.find(({ id }) => id === entry.refId) : undefined;
    const lineId = entry.kind === "line" ? entry.refId : (piece?.lineId ?? null);
    const line = facts.find(({ id }) => id === lineId);
    const members = playing && new Set((seats.get(playing) ?? []).map(({ playerId }) => playerId));
    const shares = (takesOf.get(lineId ?? "") ?? [])
      .filter(({ playerId }) => !members || members.has(playerId))
      .map(({ clean }) => clean)
      .sort((a, b) => a - b);
    return {
      ...entry,
      who: playing === null ? "everybody" : (groupName.get(playing) ?? "a group that was archived"),
      name: piece?.title ?? (line ? nameOfLine(line) : "taken off the shelf"),
      seconds: line ? line.outline.seconds : piece ? secondsOfPiece(piece) : 0,
      states: piece?.states ?? null,
      next: piece ? nextPassage(piece.passages) : null,
      clean:
        shares.length === 0
          ? null
          : { share: shares[Math.floor(shares.length / 2)]!, players: shares.length },
      met: met.some((each) => each.lineId === lineId && (playing === null || each.groupId === playing)),
    };
  });
  return {
    id: goal.id,
    kind: goal.kind,
    name: goal.name,
    date: goal.date,
    label: dayLabel(goal.date),
    inDays: daysBetween(now, goal.date),
    version: versions.calendar,
    paper: settingsOf(band).paper,
    entries,
    groups: groups.map(({ id, name }) => ({ id, name })),
    choices: [
      ...pieces.map(({ id, title }) => ({ kind: "piece" as const, refId: id, name: title })),
      ...facts.map((line) => ({ kind: "line" as const, refId: line.id, name: nameOfLine(line) })),
    ],
  };
}

/** Keeps the programme of a concert. @throws ServiceError when the calendar was saved elsewhere in between */
export async function saveProgramme(
  actor: Actor,
  goalId: string,
  { version, programme }: z.output<typeof SaveProgramme>,
): Promise<{ version: number }> {
  const who = director(actor);
  return database().transaction(async (transaction) => {
    const now = await raiseCalendar(who.bandId, transaction);
    const goal = found(
      await GoalRow.findOne({ where: { id: goalId, bandId: who.bandId }, transaction }),
      "concert",
    );
    await ownProgramme(who.bandId, programme, transaction);
    if (now !== version + 1)
      throw new ServiceError(
        "conflict",
        "The calendar was changed elsewhere in between. Load the page again; what is there now stands.",
      );
    await goal.update({ programme }, { transaction });
    await audit(who, "save-programme", goalId, transaction);
    return { version: now };
  });
}
