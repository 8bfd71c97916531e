import { Band } from "../../data";
import { found } from "../actor";
import { settingsOf } from "../settings";
import { calendarOf, groupsOf } from "./calendar";
import { cellsOf, stripsBetween } from "./ribbon";

/** A class that is held, with how much is planned in it. */
export interface HeldClass {
  groupId: string;
  groupName: string;
  date: string;
  startsAt: string;
  minutes: number;
  blocks: number;
}

/** The classes of a band in a stretch of days, in the order they are held. */
export async function classesBetween(bandId: string, from: string, to: string): Promise<HeldClass[]> {
  const band = found(await Band.findByPk(bandId), "band");
  const settings = settingsOf(band);
  const [calendar, groups, strips] = await Promise.all([
    calendarOf(bandId, settings),
    groupsOf(bandId),
    stripsBetween(bandId, from, to),
  ]);
  return cellsOf(calendar, groups, from, to, settings.homeMinutes)
    .filter(({ where, budget }) => where === "class" && budget > 0)
    .map(({ groupId, date, startsAt, budget }) => ({
      groupId,
      groupName: groups.find(({ id }) => id === groupId)!.name,
      date,
      startsAt: startsAt ?? "00:00",
      minutes: budget,
      blocks: strips.filter(
        (strip) => strip.where === "class" && strip.groupId === groupId && strip.date === date,
      ).length,
    }))
    .sort((a, b) => a.date.localeCompare(b.date) || a.startsAt.localeCompare(b.startsAt));
}
