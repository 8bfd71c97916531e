import { createHash } from "node:crypto";
import { LRUCache } from "lru-cache";
import { Op } from "sequelize";
import { addDays, daysBetween, whyOff } from "../../core/calendar";
import { groupBy } from "../../core/lists";
import {
  daysFrom,
  type LineAsk,
  lessonNumber,
  meetingsBetween,
  mondayOf,
  type Strip,
  termOn,
  weekOfTerm,
  weeksOfTerm,
  whyNoSchool,
} from "../../core/plan";
import { type AskedBand, askEach, askedBand } from "../../core/ready";
import { readForm, secondsOf } from "../../core/rhythm";
import type { Glance } from "../../core/score";
import { clockOf } from "../../core/warmup";
import {
  Absence,
  Band,
  Clash,
  drillsOfBand,
  GroupMember,
  type OnlyFor,
  planVersions,
  routinesOfBand,
  StripRow,
  seatsOfBand,
  ticksOf,
  WeekTemplate,
} from "../../data";
import { type Actor, director, found, ServiceError } from "../actor";
import { dayLabel, today } from "../calendar";
import { type BandKnowledge, bandKnowledge } from "../knowledge";
import { handoutsOf, piecesOf } from "../pieces";
import type { PieceView } from "../pieces/schema";
import { settingsOf } from "../settings";
import { type LineFacts, lineFacts } from "../shelf";
import { type BandCalendar, calendarOf, groupsOf } from "./calendar";
import type { Asks, DrawerItem, RibbonCell, RibbonView, StripView } from "./schema";

export const MOST_WEEKS = 2;

/** One or two weeks of the ribbon: days, rows, strips, minutes, and who is not ready for what. */
export async function ribbonView(actor: Actor, of: string | null, weeks: number): Promise<RibbonView> {
  const { bandId } = director(actor);
  const band = found(await Band.findByPk(bandId), "band");
  const settings = settingsOf(band);
  const now = today(band.timeZone);
  const monday = mondayOf(of ?? now);
  const last = addDays(monday, 7 * weeks - 1);
  const knowledge = await bandKnowledge(bandId);
  const [calendar, groups, versions, strips, seats, absent, clashes, ticks, templates] = await Promise.all([
    calendarOf(bandId, settings),
    groupsOf(bandId),
    planVersions(bandId),
    stripsBetween(bandId, monday, last),
    seatsOfGroups(bandId, knowledge),
    Absence.findAll({ where: { bandId, date: { [Op.between]: [monday, last] } } }),
    Clash.findAll({ where: { bandId } }),
    ticksOf(bandId, monday, last),
    WeekTemplate.findAll({
      where: { bandId, removedAt: null },
      attributes: ["id", "name"],
      order: [["name", "ASC"]],
    }),
  ]);
  const cells = cellsOf(calendar, groups, monday, last, settings.homeMinutes);
  const here = new Set(strips.map(({ refId }) => refId));
  const [facts, pieces] = await Promise.all([
    lineFacts(bandId, linesOf(strips)),
    strips.some(({ kind }) => kind === "piece") ? piecesOf(bandId) : [],
  ]);
  const used = new Set([...cells, ...strips].map(({ date }) => date));
  const term = termOn(now, calendar.terms) ?? null;
  return {
    today: now,
    monday,
    weeks,
    term: term && { name: term.name, week: weekOfTerm(now, term), weeks: weeksOfTerm(term) },
    goals: calendar.goals
      .filter(({ date }) => date >= now)
      .map(({ id, name, date }) => ({ id, name, date, inDays: daysBetween(now, date) })),
    days: daysFrom(monday, last)
      .filter((date) => settings.schoolWeek.some((day) => day === weekdayIn(date)) || used.has(date))
      .map((date) => ({
        date,
        label: dayLabel(date),
        off: whyNoSchool(date, calendar),
        remark: remarkOf(date, calendar),
      })),
    groups: groups.map(({ id, name }) => {
      const own = seats.get(id) ?? [];
      const members = [...groupBy(own, ({ playerId }) => playerId)].map(([playerId, seated]) => ({
        id: playerId,
        name: seated[0]!.playerName,
        instruments: seated.map(({ instrumentId }) => instrumentId),
      }));
      return {
        id,
        name,
        players: members.length,
        members: members.sort((a, b) => a.name.localeCompare(b.name)),
        instruments: [...new Set(own.map(({ instrumentId }) => instrumentId))],
      };
    }),
    meets: calendar.meetings.length > 0,
    absent: absent.map(({ groupId, date, playerId }) => ({ groupId, date, playerId })),
    clashes: clashes.map(({ groupId, playerId, weekday, reason }) => ({
      groupId,
      playerId,
      weekday,
      reason,
    })),
    templates: templates.map(({ id, name }) => ({ id, name })),
    ticks: Object.fromEntries(ticks),
    cells,
    strips,
    version: versions.plan,
    asks: asksOf(strips, seats, knowledge, facts),
    changeover: settings.changeoverMinutes,
    drawer: [...facts.map(lineItem), ...pieces.filter(({ id }) => here.has(id)).map(pieceItem)],
  };
}

const weekdayIn = (date: string) => ((new Date(`${date}T00:00:00Z`).getUTCDay() + 6) % 7) + 1;

function remarkOf(date: string, { shortDays, goals }: BandCalendar): string {
  const short = shortDays.find((day) => day.date === date);
  return [
    ...goals.filter((goal) => goal.date === date).map(({ name }) => name),
    ...(short ? [`${short.name || "early end"}, until ${short.endsAt}`] : []),
  ].join(", ");
}

/** The cells of every row that has some: class meetings, and school days for work at home. */
export function cellsOf(
  calendar: BandCalendar,
  groups: readonly { id: string }[],
  from: string,
  to: string,
  homeMinutes: number,
): RibbonCell[] {
  const known = new Set(groups.map(({ id }) => id));
  const term = termOn(from, calendar.terms) ?? termOn(to, calendar.terms);
  // From the first day of the term on, for the numbers of the lessons.
  const begin = term && term.from < from ? term.from : from;
  const all = meetingsBetween(begin, to, calendar.meetings, calendar.changes, calendar);
  const ofTerm = term ? all.filter(({ date }) => date >= term.from) : [];
  const held = groupBy(
    all.filter(({ groupId, date }) => date >= from && known.has(groupId)),
    ({ groupId, date }) => `${groupId}/${date}`,
  );
  const classes = [...held.values()].map((meetings): RibbonCell => {
    const { groupId, date, startsAt } = meetings[0]!;
    return {
      groupId,
      where: "class",
      date,
      startsAt,
      budget: meetings.reduce((sum, { minutes }) => sum + minutes, 0),
      remark: meetings
        .map(({ remark }) => remark)
        .filter(Boolean)
        .join(", "),
      lesson: lessonNumber(ofTerm, groupId, date),
    };
  });
  const homes = groups.flatMap(({ id }) =>
    daysFrom(from, to)
      .filter(
        (date) => whyOff(date, calendar.off) === null && whyNoSchool(date, calendar) !== "between terms",
      )
      .map(
        (date): RibbonCell => ({
          groupId: id,
          where: "home",
          date,
          startsAt: null,
          budget: homeMinutes,
          remark: "",
          lesson: null,
        }),
      ),
  );
  return [...classes, ...homes];
}

/** Everything that can be put on a day: the shelf's lines, routines and counting pages, with the time they take. */
export async function drawerView(actor: Actor): Promise<{ drawer: DrawerItem[] }> {
  const { bandId } = director(actor);
  const [facts, prepared, pieces, handouts] = await Promise.all([
    lineFacts(bandId),
    preparations(bandId),
    piecesOf(bandId),
    handoutsOf(bandId),
  ]);
  return {
    drawer: [
      ...facts.map(lineItem),
      ...prepared,
      ...pieces.map(pieceItem),
      ...handouts.map(
        ({ id, kind, title }): DrawerItem => ({ kind, refId: id, title, seconds: 0, bars: null, bpm: null }),
      ),
    ],
  };
}

/** The strips of a week, for one that is to become like it. */
export async function weekStrips(actor: Actor, of: string | null): Promise<{ strips: Strip[] }> {
  const { bandId } = director(actor);
  if (of === null) throw new ServiceError("bad-input", "Choose a week.");
  const monday = mondayOf(of);
  return { strips: (await stripsBetween(bandId, monday, addDays(monday, 6))).map(asPattern) };
}

/** A strip as a pattern for other weeks: nothing of how it went in its own. */
export function asPattern({
  version: _version,
  assignmentId: _task,
  onStands: _given,
  notReached: _left,
  ...strip
}: StripView): Strip {
  return { ...strip, reason: null };
}

/** Strips that stand in a stretch of days. */
export async function stripsBetween(bandId: string, from: string, to: string): Promise<StripView[]> {
  const rows = await StripRow.findAll({
    where: { bandId, removedAt: null, date: { [Op.between]: [from, to] } },
    order: [
      ["date", "ASC"],
      ["place", "ASC"],
      ["id", "ASC"],
    ],
  });
  return rows.map(stripOf);
}

/** Strips that still stand somewhere, in the order they are asked for. */
export async function stripsByIds(bandId: string, ids: readonly string[]): Promise<StripView[]> {
  if (ids.length === 0) return [];
  const rows = await StripRow.findAll({ where: { bandId, removedAt: null, id: [...ids] } });
  return ids.flatMap((id) => rows.find((row) => row.id === id) ?? []).map(stripOf);
}

/** Whom a stored strip is for. */
function forWhomOf({
  playerId,
  instrumentId,
}: {
  playerId: string | null;
  instrumentId: string | null;
}): Strip["forWhom"] {
  if (playerId) return { kind: "player", playerId };
  return instrumentId ? { kind: "instrument", instrumentId } : { kind: "everyone" };
}

/** A target of the ribbon as one of what is given. */
export function onlyForOf(forWhom: Strip["forWhom"]): OnlyFor | null {
  if (forWhom.kind === "player") return { playerIds: [forWhom.playerId] };
  return forWhom.kind === "instrument" ? { instrumentIds: [forWhom.instrumentId] } : null;
}

export function stripOf(row: StripRow): StripView {
  const { id, groupId, atHome, instrumentId, playerId, date, kind, refId, title, minutes } = row;
  return {
    id,
    groupId,
    where: atHome ? "home" : "class",
    forWhom: forWhomOf({ playerId, instrumentId }),
    date,
    place: Number(row.place),
    kind,
    refId,
    title,
    minutes,
    firstBar: row.firstBar,
    lastBar: row.lastBar,
    note: row.note,
    reason: row.reason,
    ...(row.terms ? { terms: row.terms } : {}),
    ...(row.notReached ? { notReached: true as const } : {}),
    version: row.version,
    assignmentId: row.assignmentId,
    onStands: row.assignmentId !== null || row.givenAt !== null,
  };
}

type Seats = Awaited<ReturnType<typeof seatsOfBand>>;

/** What was worked out of a band; it holds until somebody in it plays, belongs to or knows something else. */
interface Worked {
  seats: Promise<Map<string, Seats>> | null;
  bands: Map<string, AskedBand>;
  /** By line, then by group. */
  asks: WeakMap<Glance, Map<string, LineAsk[]>>;
}

const worked = new WeakMap<BandKnowledge, Worked>();

function workedOf(knowledge: BandKnowledge): Worked {
  const known = worked.get(knowledge) ?? { seats: null, bands: new Map(), asks: new WeakMap() };
  worked.set(knowledge, known);
  return known;
}

/**
 * Who sits in each group today, with instruments.
 * @param knowledge  read before: seats are never older than what they are kept with
 */
export async function seatsOfGroups(bandId: string, knowledge: BandKnowledge): Promise<Map<string, Seats>> {
  const known = workedOf(knowledge);
  known.seats ??= readSeats(bandId).catch((error: Error) => {
    known.seats = null;
    throw error;
  });
  return known.seats;
}

async function readSeats(bandId: string): Promise<Map<string, Seats>> {
  const [seats, members] = await Promise.all([
    seatsOfBand(bandId),
    GroupMember.findAll({ where: { bandId, toDate: null }, attributes: ["groupId", "playerId"] }),
  ]);
  const own = groupBy(seats, ({ playerId }) => playerId);
  const groups = new Map<string, Seats>();
  for (const { groupId, playerId } of members)
    groups.set(groupId, [...(groups.get(groupId) ?? []), ...(own.get(playerId) ?? [])]);
  return groups;
}

/** The lines that strips speak of. */
export const linesOf = (strips: readonly Pick<Strip, "kind" | "refId">[]) => [
  ...new Set(
    strips.flatMap(({ kind, refId }) => (refId && (kind === "line" || kind === "drill") ? [refId] : [])),
  ),
];

/** Who meets something new in the lines of some strips; rows of whom nothing new is asked are left out. */
export function asksOf(
  strips: readonly Pick<Strip, "kind" | "refId" | "groupId">[],
  seats: ReadonlyMap<string, Seats>,
  knowledge: BandKnowledge,
  facts: readonly LineFacts[],
): Asks {
  const known = workedOf(knowledge);
  const bandOf = (groupId: string) => {
    const band = known.bands.get(groupId) ?? askedBand(knowledge.seated(seats.get(groupId) ?? []));
    known.bands.set(groupId, band);
    return band;
  };
  const ofLine = (line: LineFacts, groupId: string) => {
    const groups = known.asks.get(line.glance) ?? new Map<string, LineAsk[]>();
    known.asks.set(line.glance, groups);
    const before = groups.get(groupId) ?? notReady(askEach(line.glance, bandOf(groupId), line.told));
    groups.set(groupId, before);
    return before;
  };
  const byId = new Map(facts.map((line) => [line.id, line]));
  const asks: Asks = {};
  for (const { kind, refId, groupId } of strips) {
    const line = kind === "line" || kind === "drill" ? byId.get(refId ?? "") : undefined;
    const key = `${groupId}/${refId}`;
    if (!line || asks[key]) continue;
    asks[key] = ofLine(line, groupId);
  }
  return asks;
}

export const notReady = (asks: readonly LineAsk[]) =>
  asks.filter(({ newThings, outOfRange }) => newThings.length > 0 || outOfRange);

export function lineItem({ id, number, title, outline }: LineFacts): DrawerItem {
  return {
    kind: "line",
    refId: id,
    title: nameOfLine({ number, title }),
    seconds: outline.seconds,
    bars: outline.bars,
    bpm: outline.bpm,
  };
}

/** Beats of a bar where nothing else is known of a piece. */
const USUAL_BEATS = 4;
const USUAL_PIECE_BPM = 90;

function pieceItem({ id, title, bars, bpm }: PieceView): DrawerItem {
  return { kind: "piece", refId: id, title, seconds: secondsOfPiece({ bars, bpm }), bars, bpm };
}

/** About how long a piece sounds, of which only bars and tempo are known. */
export function secondsOfPiece({ bars, bpm }: Pick<PieceView, "bars" | "bpm">): number {
  return Math.round((bars * USUAL_BEATS * 60) / (bpm ?? USUAL_PIECE_BPM));
}

export const nameOfLine = ({ number, title }: { number: number | null; title: string }) =>
  number === null ? title : `No. ${number} · ${title}`;

/** Routines and counting pages with the seconds they take. */
export async function preparations(bandId: string): Promise<DrawerItem[]> {
  const [routines, drills] = await Promise.all([routinesOfBand(bandId), drillsOfBand(bandId)]);
  return [
    ...routines.map(
      ({ id, title, content }): DrawerItem => ({
        kind: "routine",
        refId: id,
        title,
        seconds: secondsFor(content, () => clockOf(content).totalSec),
        bars: null,
        bpm: null,
      }),
    ),
    ...drills.map(
      ({ id, title, content }): DrawerItem => ({
        kind: "counting",
        refId: id,
        title,
        seconds: secondsFor(content, () => secondsOf(content.forms.map(readForm), content)),
        bars: content.forms.length,
        bpm: null,
      }),
    ),
  ];
}

/** Whole seconds by content: a routine is written out to be timed, which takes longer than the page that shows it. */
const timed = new LRUCache<string, number>({ max: 5_000 });

function secondsFor(content: object, measure: () => number): number {
  const key = createHash("sha256").update(JSON.stringify(content)).digest("base64");
  const known = timed.get(key);
  if (known !== undefined) return known;
  const seconds = Math.round(measure());
  timed.set(key, seconds);
  return seconds;
}

/** The next class of every group in this week and the next, with the day in words. */
export async function nextClasses(
  actor: Actor,
): Promise<{ groupId: string; groupName: string; instruments: string[]; date: string; label: string }[]> {
  const { today: now, groups, cells } = await ribbonView(actor, null, 2);
  return groups.flatMap(({ id, name, instruments }) => {
    const [date] = cells
      .filter((cell) => cell.where === "class" && cell.groupId === id && cell.budget > 0 && cell.date >= now)
      .map((cell) => cell.date)
      .sort();
    return date ? [{ groupId: id, groupName: name, instruments, date, label: dayLabel(date) }] : [];
  });
}
