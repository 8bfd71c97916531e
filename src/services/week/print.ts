import { addDays } from "../../core/calendar";
import { groupBy } from "../../core/lists";
import { type Family, instrumentById, type Stage } from "../../core/music";
import { keyOf, mondayOf, runSheet, type Strip, stripsOn } from "../../core/plan";
import { scorePlace } from "../../core/ready";
import { Absence, Band, type DueLine, Line, linesDue, type NamedSeat } from "../../data";
import { type Actor, director, found } from "../actor";
import { dayLabel, today } from "../calendar";
import { countingSystems, drillPage } from "../counting";
import { isFor } from "../giving";
import { bandKnowledge } from "../knowledge";
import { oneByOne } from "../one-by-one";
import { fontOnce } from "../parts";
import { settingsOf } from "../settings";
import { lineFacts, sheetsForGroup } from "../shelf";
import type { PartView } from "../shelf/schema";
import { calendarOf, groupsOf } from "./calendar";
import { asksOf, cellsOf, nameOfLine, onlyForOf, seatsOfGroups, stripsBetween, stripsByIds } from "./ribbon";
import type { Asks } from "./schema";

/** One thing to do at home in a week. */
export interface HomeTask {
  title: string;
  kind: Strip["kind"];
  /** Page of the paper book. */
  page: number | null;
  /** "bars 5 to 8"; nothing for the whole. */
  bars: string;
  minutes: number;
  times: number;
  /** Labels of the days it stands on; none where it is only due. */
  days: string[];
  due: string | null;
  note: string;
  /** Made when the page comes to it; none for what has no notes, and for a line of the paper book. */
  part: (() => Promise<PartView>) | null;
  /** A counting page engraved, made likewise. */
  rhythm: (() => Promise<string>) | null;
}

/** What one player does at home in a week. */
export interface HomeSheet {
  playerId: string;
  playerName: string;
  instruments: string[];
  families: Family[];
  stage: Stage;
  tasks: HomeTask[];
}

export interface HomePages {
  monday: string;
  week: string;
  bandName: string;
  paper: "a4" | "letter";
  groups: { id: string; name: string }[];
  sheets: HomeSheet[];
}

/** So many lines a sheet are still engraved large. */
const FEW_LINES = 3;

/**
 * What is asked at home in a week, a sheet a player in score order: what stands in the home rows, and what else is due.
 * @param groupId  only this group's; null for the whole band
 */
export async function homePages(actor: Actor, of: string | null, groupId: string | null): Promise<HomePages> {
  const { bandId } = director(actor);
  const band = found(await Band.findByPk(bandId), "band");
  const monday = mondayOf(of ?? today(band.timeZone));
  const sunday = addDays(monday, 6);
  const knowledge = await bandKnowledge(bandId);
  const [groups, seats, planned, due, { chosen }] = await Promise.all([
    groupsOf(bandId),
    seatsOfGroups(bandId, knowledge),
    stripsBetween(bandId, monday, sunday),
    linesDue(bandId, monday, sunday),
    countingSystems(actor),
  ]);
  const wanted = groups.filter(({ id }) => groupId === null || id === groupId);
  const home = planned.filter(({ where }) => where === "home");
  const onRibbon = new Set(home.map(({ assignmentId }) => assignmentId));
  // What stands on days of the week needs no second entry by its last day.
  const onDays = new Set(home.map(({ refId }) => refId));
  const asked = [
    ...[...groupBy(home, sameThing).values()].map(askedAtHome),
    ...due
      .filter(({ assignmentId, lineId }) => !onRibbon.has(assignmentId) && !onDays.has(lineId))
      .map(askedByDay),
  ].filter(({ groupId: own }) => wanted.some(({ id }) => id === own));
  const large = asked.filter(({ kind }) => kind === "line").length <= FEW_LINES;
  const inTurn = oneByOne();
  const once = fontOnce();
  const players = new Map<string, HomeSheet & { place: number }>();
  const pages = new Map(
    (
      await Line.findAll({
        where: { bandId, id: asked.flatMap(({ refId }) => refId ?? []) },
        attributes: ["id", "page"],
      })
    ).map(({ id, page }) => [id, page]),
  );
  for (const each of asked) {
    const own = (seats.get(each.groupId) ?? []).filter(each.isFor);
    const sheets =
      each.kind === "line" && each.refId && !each.unseen
        ? groupBy(
            await sheetsForGroup(actor, each.refId, each.groupId, { large, bars: each.range }),
            ({ playerId }) => playerId,
          )
        : null;
    const drawn =
      each.kind === "counting" && each.refId
        ? onceOf(() => inTurn(() => drillPage(actor, each.refId!, "medium", chosen)))
        : null;
    const rhythm = drawn && (() => drawn().then(({ svg }) => once(svg)));
    for (const [playerId, ownSeats] of groupBy(own, (seat) => seat.playerId)) {
      const [first] = ownSeats;
      const sheet = players.get(playerId) ?? {
        playerId,
        playerName: first!.playerName,
        instruments: [],
        families: [],
        stage: first!.stage,
        tasks: [],
        place: scorePlace(first!.instrumentId),
      };
      players.set(playerId, sheet);
      for (const { instrumentId } of ownSeats) {
        const { name, family } = instrumentById(instrumentId);
        if (!sheet.instruments.includes(name)) sheet.instruments.push(name);
        if (!sheet.families.includes(family)) sheet.families.push(family);
      }
      const parts = sheets?.get(playerId) ?? [];
      const { range: _range, groupId: _group, refId, isFor: _isFor, unseen: _unseen, ...task } = each;
      const page = refId ? (pages.get(refId) ?? null) : null;
      if (parts.length === 0) sheet.tasks.push({ ...task, page, part: null, rhythm });
      for (const { part } of parts) sheet.tasks.push({ ...task, page, part, rhythm });
    }
  }
  for (const sheet of players.values()) sheet.tasks = onTwoPages(sheet.tasks);
  return {
    monday,
    week: `${dayLabel(monday)} to ${dayLabel(addDays(monday, 4))}`,
    bandName: band.name,
    paper: settingsOf(band).paper,
    groups: groups.map(({ id, name }) => ({ id, name })),
    sheets: [...players.values()].sort(
      (a, b) => a.place - b.place || a.playerName.localeCompare(b.playerName),
    ),
  };
}

/** So many lines are printed with their notes; with two counting pages they fill two sheets of paper. */
const MOST_WITH_NOTES = 4;

/** Lines that get least time are looked up in the paper book, where they have a page there. */
function onTwoPages(tasks: readonly HomeTask[]): HomeTask[] {
  const byTime = tasks
    .filter(({ part }) => part !== null)
    .sort((a, b) => b.minutes * b.times - a.minutes * a.times || (a.page ?? 0) - (b.page ?? 0));
  const inBook = new Set(byTime.slice(MOST_WITH_NOTES).filter(({ page }) => page !== null));
  return tasks.map((task) => (inBook.has(task) ? { ...task, part: null } : task));
}

interface AskedAtHome extends Omit<HomeTask, "part" | "rhythm" | "page"> {
  groupId: string;
  refId: string | null;
  isFor: (seat: Pick<NamedSeat, "playerId" | "instrumentId" | "stage">) => boolean;
  /** Nobody sees it before it is read. */
  unseen: boolean;
  range: readonly [number, number] | null;
}

const sameThing = ({ groupId, kind, refId, title, forWhom, firstBar, lastBar, terms }: Strip) =>
  [groupId, kind, refId ?? title, keyOf(forWhom), firstBar, lastBar, Boolean(terms?.sight)].join("/");

const AT_SIGHT_NOTE = "To be read at sight on your stand: the notes are not printed here.";

function askedAtHome(strips: readonly Strip[]): AskedAtHome {
  const { groupId, kind, refId, title, forWhom, firstBar, lastBar, terms } = strips[0]!;
  const unseen = Boolean(terms?.sight);
  return {
    groupId,
    kind,
    refId,
    title,
    isFor: (seat) => isFor(onlyForOf(forWhom), seat),
    ...barsAsked(firstBar, lastBar),
    minutes: Math.max(...strips.map(({ minutes }) => minutes)),
    times: strips.length,
    days: strips.map(({ date }) => dayLabel(date)),
    due: null,
    unseen,
    note: [strips.map(({ note }) => note).find(Boolean), unseen && AT_SIGHT_NOTE].filter(Boolean).join(" "),
  };
}

/** Minutes for once through a line at home where nobody planned them. */
const USUAL_MINUTES = 3;

function askedByDay(line: DueLine): AskedAtHome {
  const { groupId, lineId, onlyFor, firstBar, lastBar, timesPerWeek, dueDate, note, sight } = line;
  return {
    groupId,
    kind: "line",
    refId: lineId,
    title: nameOfLine(line),
    isFor: (seat) => isFor(onlyFor, seat),
    ...barsAsked(firstBar, lastBar),
    minutes: USUAL_MINUTES,
    times: timesPerWeek,
    days: [],
    due: dayLabel(dueDate),
    unseen: sight,
    note: [note, sight && AT_SIGHT_NOTE].filter(Boolean).join(" "),
  };
}

function barsAsked(firstBar: number | null, lastBar: number | null): Pick<AskedAtHome, "bars" | "range"> {
  if (firstBar === null || lastBar === null) return { bars: "", range: null };
  const bars = firstBar === lastBar ? `bar ${firstBar + 1}` : `bars ${firstBar + 1} to ${lastBar + 1}`;
  return { bars, range: [firstBar, lastBar] };
}

/** Work done at most once, when it is asked for first. */
function onceOf<T>(work: () => Promise<T>): () => Promise<T> {
  let made: Promise<T> | undefined;
  return () => (made ??= work());
}

export interface RunSheetBlock {
  strip: Strip;
  /** "09:42". */
  from: string;
  to: string;
  minutes: number;
  title: string;
  kind: Strip["kind"];
  bars: string;
  note: string;
  forWhom: string;
  asks: Asks[string];
}

export interface RunSheetView {
  groupId: string;
  groupName: string;
  date: string;
  label: string;
  paper: "a4" | "letter";
  startsAt: string;
  endsAt: string;
  remark: string;
  lesson: number | null;
  /** Names of those who missed it. */
  absent: string[];
  absentIds: string[];
  blocks: RunSheetBlock[];
  /** Titles that do not fit any more. */
  leftOver: string[];
  /** What the class before this one did not get to; null when there was none, or it got to everything. */
  before: { label: string; titles: string[] } | null;
  /** Minutes between two blocks. */
  changeover: number;
  /** Minutes free at the end; negative when it runs over. */
  left: number;
  /** What is asked at home that day. */
  home: string[];
}

/** The run sheet of one class. @throws ServiceError when the group does not meet on that day */
export async function runSheetView(actor: Actor, groupId: string, date: string): Promise<RunSheetView> {
  return runSheetOf(director(actor).bandId, groupId, date);
}

/**
 * The same for whoever leads the class.
 * @param brought  strips of other lessons that are done in this one, first of all; then nothing is left over for want of time
 */
export async function runSheetOf(
  bandId: string,
  groupId: string,
  date: string,
  brought: readonly string[] = [],
): Promise<RunSheetView> {
  const band = found(await Band.findByPk(bandId), "band");
  const settings = settingsOf(band);
  const groups = await groupsOf(bandId);
  const group = found(
    groups.find(({ id }) => id === groupId),
    "group",
  );
  const knowledge = await bandKnowledge(bandId);
  const [calendar, absent, strips, seats, facts] = await Promise.all([
    calendarOf(bandId, settings),
    Absence.findAll({ where: { bandId, groupId, date } }),
    stripsBetween(bandId, date, date),
    seatsOfGroups(bandId, knowledge),
    lineFacts(bandId),
  ]);
  const cell = found(
    cellsOf(calendar, groups, date, date, settings.homeMinutes).find(
      (each) => each.groupId === groupId && each.where === "class" && each.budget > 0,
    ),
    "class on this day",
  );
  const own = [...(await stripsByIds(bandId, brought)), ...stripsOn(strips, cell)];
  const { blocks, leftOver } = runSheet(
    own,
    brought.length > 0 ? null : cell.budget,
    settings.changeoverMinutes,
  );
  const asks = asksOf(own, seats, knowledge, facts);
  const startsAt = cell.startsAt ?? "00:00";
  const nameOf = new Map(
    (seats.get(groupId) ?? []).map(({ playerId, playerName }) => [playerId, playerName]),
  );
  return {
    groupId,
    groupName: group.name,
    date,
    label: dayLabel(date),
    paper: settings.paper,
    startsAt,
    endsAt: clockAfter(startsAt, cell.budget),
    remark: cell.remark,
    lesson: cell.lesson,
    absentIds: absent.map(({ playerId }) => playerId),
    absent: absent.map(({ playerId }) => nameOf.get(playerId) ?? "").filter(Boolean),
    blocks: blocks.map(({ strip, startsAfter, endsAfter }) => ({
      strip,
      from: clockAfter(startsAt, startsAfter),
      to: clockAfter(startsAt, endsAfter),
      minutes: strip.minutes,
      title: strip.title,
      kind: strip.kind,
      bars: barsAsked(strip.firstBar, strip.lastBar).bars,
      note: strip.note,
      forWhom:
        strip.forWhom.kind === "everyone"
          ? ""
          : strip.forWhom.kind === "instrument"
            ? instrumentById(strip.forWhom.instrumentId).name
            : (nameOf.get(strip.forWhom.playerId) ?? ""),
      asks: strip.refId ? (asks[`${groupId}/${strip.refId}`] ?? []) : [],
    })),
    leftOver: leftOver.map(({ title }) => title),
    before: await notReachedBefore(bandId, groupId, date),
    changeover: settings.changeoverMinutes,
    left: cell.budget - (blocks.at(-1)?.endsAfter ?? 0),
    home: stripsOn(strips, { groupId, where: "home", date }).map(({ title }) => title),
  };
}

/** A class longer ago is not looked at. */
const CLASSES_BACK_DAYS = 21;

async function notReachedBefore(
  bandId: string,
  groupId: string,
  date: string,
): Promise<RunSheetView["before"]> {
  const strips = await stripsBetween(bandId, addDays(date, -CLASSES_BACK_DAYS), addDays(date, -1));
  const ofGroup = strips.filter((strip) => strip.groupId === groupId && strip.where === "class");
  const last = ofGroup.at(-1)?.date;
  const titles = ofGroup
    .filter((strip) => strip.date === last && strip.notReached)
    .map(({ title, firstBar, lastBar }) =>
      [title, barsAsked(firstBar, lastBar).bars].filter(Boolean).join(", "),
    );
  return last && titles.length > 0 ? { label: dayLabel(last), titles } : null;
}

/** "09:40" and 25 minutes are "10:05". */
function clockAfter(time: string, minutes: number): string {
  const [hour, minute] = time.split(":").map(Number);
  const at = (hour! * 60 + minute! + Math.round(minutes)) % 1440;
  return `${String(Math.floor(at / 60)).padStart(2, "0")}:${String(at % 60).padStart(2, "0")}`;
}
