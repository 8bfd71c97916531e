import { randomBytes } from "node:crypto";
import ical, { ICalCalendarMethod } from "ical-generator";
import { Op } from "sequelize";
import type { z } from "zod";
import { addDays } from "../../core/calendar";
import { CalendarFileError, meetingsBetween, type ReadHolidays, readHolidays } from "../../core/plan";
import { Assignment, Band, givenTitles } from "../../data";
import { database } from "../../server/database";
import { type Actor, director, found, ServiceError } from "../actor";
import { audit } from "../audit";
import { instantOf, today } from "../calendar";
import { settingsOf } from "../settings";
import { calendarOf, groupsOf } from "./calendar";
import type { AddDaysOff, LookAtCalendar } from "./schema";

/** Days of a file that are looked at: a year back, two ahead. */
const DAYS_BACK = 366;
const DAYS_AHEAD = 730;

/** What a school's holiday file would change, before anything is stored. */
export async function lookAtHolidays(
  actor: Actor,
  { text }: z.output<typeof LookAtCalendar>,
): Promise<ReadHolidays & { already: number }> {
  const { bandId } = director(actor);
  const band = found(await Band.findByPk(bandId), "band");
  const now = today(band.timeZone);
  try {
    const read = readHolidays(text, addDays(now, -DAYS_BACK), addDays(now, DAYS_AHEAD));
    const { daysOff } = settingsOf(band);
    const fresh = read.holidays.filter(
      (day) => !daysOff.some((off) => off.from <= day.from && day.to <= off.to),
    );
    return { ...read, holidays: fresh, already: read.holidays.length - fresh.length };
  } catch (error) {
    if (error instanceof CalendarFileError) throw new ServiceError("bad-input", error.message);
    throw error;
  }
}

const MOST_DAYS_OFF = 200;

/** Adds days off to those there are. @throws ServiceError when there would be more than a band can have */
export async function addDaysOff(
  actor: Actor,
  { days }: z.output<typeof AddDaysOff>,
): Promise<{ daysOff: number }> {
  const who = director(actor);
  return database().transaction(async (transaction) => {
    const band = found(
      await Band.findByPk(who.bandId, { transaction, lock: transaction.LOCK.UPDATE }),
      "band",
    );
    const { daysOff } = settingsOf(band);
    const same = (a: (typeof days)[number], b: (typeof days)[number]) => a.from === b.from && a.to === b.to;
    const all = [...daysOff, ...days.filter((day) => !daysOff.some((off) => same(off, day)))].sort((a, b) =>
      a.from.localeCompare(b.from),
    );
    if (all.length > MOST_DAYS_OFF)
      throw new ServiceError("bad-input", `A band has at most ${MOST_DAYS_OFF} stretches of days off.`);
    await band.update({ settings: { ...band.settings, daysOff: all } }, { transaction });
    await audit(who, "add-days-off", who.bandId, transaction);
    return { daysOff: all.length };
  });
}

/** Draws a new address for the calendar, or ends it: the one before leads nowhere from then on. */
export async function shareCalendar(actor: Actor, share: boolean): Promise<{ address: string | null }> {
  const who = director(actor);
  const address = share ? randomBytes(32).toString("base64url") : null;
  await Band.update({ calendarAddress: address }, { where: { id: who.bandId } });
  await audit(who, share ? "share-calendar" : "end-calendar", who.bandId);
  return { address };
}

/**
 * The calendar for other programs: class meetings, due dates, concerts and tests, for a month back and a year ahead. It names
 * groups and lines and no child. Whoever has the address may read it.
 *
 * @throws ServiceError when no band shares its calendar there
 */
export async function sharedCalendar(address: string): Promise<string> {
  const band = /^[\w-]{43}$/.test(address)
    ? await Band.findOne({ where: { calendarAddress: address } })
    : null;
  if (!band) throw new ServiceError("not-found", "No calendar is shared at this address any more.");
  const now = today(band.timeZone);
  const [from, to] = [addDays(now, -31), addDays(now, 366)];
  const [calendar, groups, due] = await Promise.all([
    calendarOf(band.id, settingsOf(band)),
    groupsOf(band.id),
    Assignment.findAll({
      where: { bandId: band.id, withdrawnAt: null, dueDate: { [Op.between]: [from, to] } },
      order: ["dueDate", "id"],
      limit: 2000,
    }),
  ]);
  const titles = await givenTitles(due.map(({ id }) => id));
  const nameOf = new Map(groups.map(({ id, name }) => [id, name]));
  const file = ical({
    name: band.name,
    method: ICalCalendarMethod.PUBLISH,
    prodId: "//Ulu Bench//Calendar//EN",
  });
  for (const { meetingId, groupId, date, startsAt, minutes } of meetingsBetween(
    from,
    to,
    calendar.meetings,
    calendar.changes,
    calendar,
  )) {
    const name = nameOf.get(groupId);
    if (minutes === 0 || !name) continue;
    const start = instantOf(date, startsAt, band.timeZone);
    file.createEvent({
      id: `${meetingId}-${date}@ulu-bench`,
      start,
      end: new Date(start.getTime() + minutes * 60_000),
      summary: name,
    });
  }
  for (const { id, groupId, dueDate } of due)
    wholeDay(file, id, dueDate, `${titles.get(id) ?? "Home work"} is due, ${nameOf.get(groupId) ?? ""}`);
  for (const { id, name, date } of calendar.goals) wholeDay(file, id, date, name);
  return file.toString();
}

function wholeDay(file: ReturnType<typeof ical>, id: string, date: string, summary: string): void {
  file.createEvent({ id: `${id}@ulu-bench`, start: new Date(`${date}T00:00:00Z`), allDay: true, summary });
}
