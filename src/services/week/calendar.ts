import type { Transaction } from "sequelize";
import type { z } from "zod";
import { addDays } from "../../core/calendar";
import { type Meeting, type MeetingChange, overlappingTerms, type SchoolCalendar } from "../../core/plan";
import {
  Band,
  GoalRow,
  Group,
  Line,
  MeetingChangeRow,
  MeetingRow,
  PieceRow,
  type ProgrammeEntry,
  planVersions,
  raiseCalendar,
  SchoolDayRow,
  TermRow,
} from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { dayLabel, today } from "../calendar";
import { type Decided, settingsOf } from "../settings";
import type { CalendarView, SaveCalendar } from "./schema";

/** The school year of a band: what is held when. */
export interface BandCalendar extends SchoolCalendar {
  meetings: Meeting[];
  changes: MeetingChange[];
  goals: z.output<typeof SaveCalendar>["goals"];
}

export async function calendarOf(
  bandId: string,
  { daysOff, weekendsOff, schoolWeek }: Pick<Decided, "daysOff" | "weekendsOff" | "schoolWeek">,
): Promise<BandCalendar> {
  const where = { bandId };
  const [terms, shortDays, meetings, changes, goals] = await Promise.all([
    TermRow.findAll({ where, order: [["fromDate", "ASC"]] }),
    SchoolDayRow.findAll({ where, order: [["date", "ASC"]] }),
    MeetingRow.findAll({ where, order: [["startsAt", "ASC"]] }),
    MeetingChangeRow.findAll({ where, order: [["date", "ASC"]] }),
    GoalRow.findAll({ where, order: [["date", "ASC"]] }),
  ]);
  return {
    terms: terms.map(({ id, name, fromDate, toDate }) => ({ id, name, from: fromDate, to: toDate })),
    off: { daysOff, weekendsOff },
    schoolWeek,
    shortDays: shortDays.map(({ date, endsAt, name }) => ({ date, endsAt, name })),
    meetings: meetings.map(({ id, groupId, pattern, fromDate, toDate, startsAt, minutes }) => ({
      id,
      groupId,
      pattern,
      from: fromDate,
      to: toDate,
      startsAt,
      minutes,
    })),
    changes: changes.map(({ meetingId, date, kind, toDate, startsAt, minutes, name }) => ({
      meetingId,
      date,
      kind,
      toDate,
      startsAt,
      minutes,
      name,
    })),
    goals: goals.map(({ id, kind, name, date, groupId, programme }) => ({
      id,
      kind,
      name,
      date,
      groupId,
      programme,
    })),
  };
}

/** The calendar as a director edits it. */
export async function calendarView(actor: Actor): Promise<CalendarView> {
  const { bandId } = director(actor);
  const band = found(await Band.findByPk(bandId), "band");
  const settings = settingsOf(band);
  const [calendar, versions, groups, lines, pieces] = await Promise.all([
    calendarOf(bandId, settings),
    planVersions(bandId),
    groupsOf(bandId),
    Line.findAll({
      where: { bandId, kind: "line", removedAt: null },
      attributes: ["id", "number", "title"],
      order: ["number", "title"],
      limit: 2000,
    }),
    PieceRow.findAll({
      where: { bandId, removedAt: null },
      attributes: ["id", "title"],
      order: ["title"],
      limit: 500,
    }),
  ]);
  const { terms, shortDays, meetings, changes, goals } = calendar;
  return {
    version: versions.calendar,
    terms: [...terms],
    shortDays: [...shortDays],
    meetings,
    changes,
    goals,
    today: today(band.timeZone),
    groups: groups.map(({ id, name }) => ({ id, name })),
    lines: lines.map(({ id, number, title }) => ({ id, name: number ? `No. ${number} · ${title}` : title })),
    pieces: pieces.map(({ id, title }) => ({ id, name: title })),
    address: band.calendarAddress,
    daysOff: settings.daysOff,
  };
}

export function groupsOf(bandId: string, transaction?: Transaction): Promise<Group[]> {
  return Group.findAll({
    where: { bandId, archivedAt: null },
    order: ["place", "name"],
    ...(transaction ? { transaction } : {}),
  });
}

/** A cycle is counted day by day from its first. */
const OLDEST_CYCLE_DAYS = 1100;

/**
 * Keeps the school year whole. @throws ServiceError when terms overlap, a group or line is not the band's, or another
 * director saved it in between
 */
export async function saveCalendar(
  actor: Actor,
  input: z.output<typeof SaveCalendar>,
): Promise<{ version: number }> {
  const who = director(actor);
  const { bandId } = who;
  const overlap = overlappingTerms(input.terms);
  if (overlap)
    throw new ServiceError(
      "bad-input",
      `${overlap[0].name} ends on ${dayLabel(overlap[0].to)}, after ${overlap[1].name} has begun. Terms share no day.`,
    );
  const { timeZone } = found(await Band.findByPk(bandId), "band");
  const oldest = addDays(today(timeZone), -OLDEST_CYCLE_DAYS);
  if (input.meetings.some(({ pattern, from }) => pattern.kind === "cycle" && from < oldest))
    throw new ServiceError(
      "bad-input",
      "The days of a cycle are counted from its first; choose one of the last three years.",
    );
  const meetingIds = new Set(input.meetings.map(({ id }) => id));
  const changes = input.changes.filter(({ meetingId }) => meetingIds.has(meetingId));
  const movedNowhere = changes.find(({ kind, toDate }) => kind === "moved" && toDate === null);
  if (movedNowhere)
    throw new ServiceError(
      "bad-input",
      `Choose the day the class of ${dayLabel(movedNowhere.date)} moves to.`,
    );
  return database().transaction(async (transaction) => {
    // The lock comes first: what is read after it stays so until the end.
    const version = await raiseCalendar(bandId, transaction);
    if (version !== input.version + 1)
      throw new ServiceError(
        "conflict",
        "The calendar was changed elsewhere in between. Load it again; what you typed is kept below until you do.",
      );
    await ownThings(bandId, input, transaction);
    const where = { bandId };
    await MeetingRow.destroy({ where, transaction });
    await TermRow.destroy({ where, transaction });
    await SchoolDayRow.destroy({ where, transaction });
    await GoalRow.destroy({ where, transaction });
    await TermRow.bulkCreate(
      input.terms.map(({ id, name, from, to }) => ({ id, bandId, name, fromDate: from, toDate: to })),
      { transaction },
    );
    const shortDays = [...new Map(input.shortDays.map((day) => [day.date, day])).values()];
    await SchoolDayRow.bulkCreate(
      shortDays.map((day) => ({ ...day, bandId })),
      { transaction },
    );
    await MeetingRow.bulkCreate(
      input.meetings.map(({ from, to, ...meeting }) => ({ ...meeting, bandId, fromDate: from, toDate: to })),
      { transaction },
    );
    const single = [
      ...new Map(changes.map((change) => [`${change.meetingId}/${change.date}`, change])).values(),
    ];
    await MeetingChangeRow.bulkCreate(
      single.map((change) => ({ ...change, bandId })),
      { transaction },
    );
    await GoalRow.bulkCreate(
      input.goals.map((goal) => ({ ...goal, bandId })),
      { transaction },
    );
    await audit(who, "save-calendar", bandId, transaction);
    return { version };
  });
}

/** @throws ServiceError when an id is another band's: of a group, a line, or of a row this save would take over */
async function ownThings(
  bandId: string,
  input: z.output<typeof SaveCalendar>,
  transaction: Transaction,
): Promise<void> {
  const groups = new Set((await groupsOf(bandId, transaction)).map(({ id }) => id));
  const asked = [...input.meetings, ...input.goals].flatMap(({ groupId }) => groupId ?? []);
  if (asked.some((id) => !groups.has(id)))
    throw new ServiceError("not-found", "One of these groups is not in the band any more.");
  await ownProgramme(
    bandId,
    input.goals.flatMap(({ programme }) => programme),
    transaction,
  );
  const foreign = await Promise.all([
    strangers(TermRow, input.terms, bandId, transaction),
    strangers(MeetingRow, input.meetings, bandId, transaction),
    strangers(GoalRow, input.goals, bandId, transaction),
  ]);
  if (foreign.some(Boolean)) throw new ServiceError("not-found", "This is not in the band's calendar.");
}

/** @throws ServiceError when a line, piece or group of a programme is not the band's */
export async function ownProgramme(
  bandId: string,
  entries: readonly ProgrammeEntry[],
  transaction: Transaction,
): Promise<void> {
  const of = (kind: ProgrammeEntry["kind"]) => [
    ...new Set(entries.flatMap((entry) => (entry.kind === kind ? [entry.refId] : []))),
  ];
  const [lines, pieces] = [of("line"), of("piece")];
  const groups = [...new Set(entries.flatMap(({ groupId }) => groupId ?? []))];
  const counts = await Promise.all([
    Line.count({ where: { id: lines, bandId }, transaction }),
    PieceRow.count({ where: { id: pieces, bandId }, transaction }),
    Group.count({ where: { id: groups, bandId }, transaction }),
  ]);
  if ([lines, pieces, groups].some((ids, i) => ids.length !== counts[i]))
    throw new ServiceError("not-found", "One of these pieces is not on the shelf any more.");
}

async function strangers(
  model: typeof TermRow | typeof MeetingRow | typeof GoalRow,
  rows: readonly { id: string }[],
  bandId: string,
  transaction: Transaction,
): Promise<boolean> {
  const ids = rows.map(({ id }) => id);
  const there = await (model as typeof TermRow).findAll({
    where: { id: ids },
    attributes: ["id", "bandId"],
    transaction,
  });
  return there.some((row) => row.bandId !== bandId);
}
