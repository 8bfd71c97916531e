import { addDays } from "../../core/calendar";
import { groupBy } from "../../core/lists";
import {
  daysFrom,
  inTeachingOrder,
  meetingsBetween,
  mondayOf,
  weekOfTerm,
  weeksOfTerm,
  whyNoSchool,
} from "../../core/plan";
import { Band, linesMet } from "../../data";
import { type Actor, director, found } from "../actor";
import { dayLabel, today } from "../calendar";
import { settingsOf } from "../settings";
import { lineFacts } from "../shelf";
import { calendarOf, groupsOf } from "./calendar";
import { paceOfGroup } from "./draft";
import { stripsBetween } from "./ribbon";
import type { StripView, TermCell, TermView } from "./schema";

/** The term that is now, else the next one, else the last: every week of it with what each group does. Null without terms. */
export async function termView(actor: Actor): Promise<TermView | null> {
  const { bandId } = director(actor);
  const band = found(await Band.findByPk(bandId), "band");
  const now = today(band.timeZone);
  const calendar = await calendarOf(bandId, settingsOf(band));
  const term = calendar.terms.find(({ to }) => to >= now) ?? calendar.terms.at(-1);
  if (!term) return null;
  const [groups, strips, facts, met] = await Promise.all([
    groupsOf(bandId),
    stripsBetween(bandId, term.from, term.to),
    lineFacts(bandId),
    linesMet(bandId, now),
  ]);
  const meeting = new Set(calendar.meetings.map(({ groupId }) => groupId));
  const shown = groups.filter(({ id }) => meeting.has(id) || strips.some(({ groupId }) => groupId === id));
  const everyone = new Set(groups.filter((group) => group.everyone).map(({ id }) => id));
  const held = groupBy(
    meetingsBetween(term.from, term.to, calendar.meetings, calendar.changes, calendar),
    ({ groupId, date }) => `${groupId}/${mondayOf(date)}`,
  );
  const planned = groupBy(strips, ({ groupId, date }) => `${groupId}/${mondayOf(date)}`);
  const nameOf = new Map(
    facts.map(({ id, number, title }) => [id, number === null ? title : `No. ${number}`]),
  );
  const metOf = groupBy(
    met.filter(({ on }) => on >= mondayOf(term.from)),
    ({ groupId, on }) => `${groupId}/${mondayOf(on)}`,
  );
  const mondays: string[] = [];
  for (let monday = mondayOf(term.from); monday <= term.to; monday = addDays(monday, 7)) mondays.push(monday);
  const order = inTeachingOrder(facts);
  return {
    term: {
      name: term.name,
      week: term.from <= now && now <= term.to ? weekOfTerm(now, term) : null,
      weeks: weeksOfTerm(term),
    },
    groups: shown.map(({ id, name }) => ({
      id,
      name,
      pace: paceOfGroup(
        met.filter(({ groupId }) => groupId === id || everyone.has(groupId)),
        order,
        calendar,
        now,
      ),
    })),
    weeks: mondays.map((monday) => {
      const sunday = addDays(monday, 6);
      const reasons = daysFrom(monday, addDays(monday, 4)).map((date) => whyNoSchool(date, calendar));
      return {
        monday,
        label: dayLabel(monday),
        now: monday <= now && now <= sunday,
        past: sunday < now,
        off: reasons.every((reason) => reason !== null) ? reasons[0]! : null,
        goals: calendar.goals
          .filter(({ date }) => monday <= date && date <= sunday)
          .map(({ name, date }) => ({ name, label: dayLabel(date) })),
        cells: shown.map(({ id }) => ({
          ...cellOf(planned.get(`${id}/${monday}`) ?? [], nameOf),
          groupId: id,
          met: named((metOf.get(`${id}/${monday}`) ?? []).map(({ lineId }) => nameOf.get(lineId) ?? "")),
          budget: (held.get(`${id}/${monday}`) ?? []).reduce((sum, { minutes }) => sum + minutes, 0),
        })),
      };
    }),
  };
}

function cellOf(
  strips: readonly StripView[],
  nameOf: ReadonlyMap<string, string>,
): Pick<TermCell, "lines" | "planned" | "home"> {
  const inClass = strips.filter(({ where }) => where === "class");
  return {
    lines: named(
      inClass
        .filter(({ kind }) => kind === "line" || kind === "piece")
        .map(({ refId, title }) => nameOf.get(refId ?? "") ?? title),
    ),
    planned: inClass.reduce((sum, { minutes }) => sum + minutes, 0),
    home: strips.length - inClass.length,
  };
}

const NUMBERED = /^No\. /;

/** "No. 20, 26, Harbour Song": each once, numbers first. */
function named(names: readonly string[]): string {
  const all = [...new Set(names.filter(Boolean))];
  const numbers = all.filter((name) => NUMBERED.test(name)).map((name) => name.replace(NUMBERED, ""));
  return [
    ...(numbers.length > 0 ? [`No. ${numbers.join(", ")}`] : []),
    ...all.filter((name) => !NUMBERED.test(name)),
  ].join(", ");
}
