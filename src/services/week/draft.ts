import type { z } from "zod";
import { addDays, daysBetween } from "../../core/calendar";
import { groupBy } from "../../core/lists";
import {
  daysFrom,
  draftWeek,
  type GroupState,
  inTeachingOrder,
  type LineResults,
  type LineState,
  loadOf,
  type Met,
  MOST_NEW_THINGS,
  mondayOf,
  type PlayerState,
  paceOf,
  type Slot,
  stripsOn,
  type WeekPoint,
  whyNoSchool,
} from "../../core/plan";
import { askEach, askedBand } from "../../core/ready";
import {
  Band,
  type BarTakes,
  barTakes,
  type LineMet,
  type LineTakes,
  linesMet,
  lineTakes,
  planVersions,
  stripsBehind,
  TurnedDown,
} from "../../data";
import { type Actor, director, found, ServiceError } from "../actor";
import { today } from "../calendar";
import { bandKnowledge } from "../knowledge";
import { piecesOf } from "../pieces";
import { settingsOf } from "../settings";
import { type LineFacts, lineFacts } from "../shelf";
import { type BandCalendar, calendarOf, groupsOf } from "./calendar";
import { asksOf, cellsOf, nameOfLine, preparations, seatsOfGroups, stripsBetween } from "./ribbon";
import type { AskDraft, DraftView, RibbonCell, TermToDraft } from "./schema";

/** Takes older than this say nothing of today. */
const TAKES_OF_DAYS = 42;

/** Drafts a week for every group, or for some: proposals with reasons, days that keep room and why, and the pace. */
export async function draftView(actor: Actor, input: z.output<typeof AskDraft>): Promise<DraftView> {
  const { bandId } = director(actor);
  const monday = mondayOf(input.monday);
  const { groups, seats, knowledge, facts } = await groupsToDraft(bandId, monday, addDays(monday, 6));
  if (input.groupIds?.some((id) => !groups.some((group) => group.groupId === id)))
    throw new ServiceError("not-found", "This group is not in the band any more.");
  const drafts = groups
    .filter(({ groupId, players }) => players > 0 && (input.groupIds?.includes(groupId) ?? true))
    .map(({ groupId, state, slots, pace, turnedDown }): DraftView["groups"][number] => ({
      ...draftWeek(state, slots),
      groupId,
      pace,
      turnedDown,
    }));
  const proposed = drafts.flatMap(({ proposals }) => proposals);
  return { groups: drafts, asks: asksOf(proposed, seats, knowledge, facts) };
}

/** What a whole term is drafted from: the groups as they are today, and every day of it that can take something. */
export async function termToDraft(actor: Actor): Promise<TermToDraft> {
  const { bandId } = director(actor);
  const band = found(await Band.findByPk(bandId), "band");
  const now = today(band.timeZone);
  const { terms } = await calendarOf(bandId, settingsOf(band));
  const term = terms.find(({ to }) => to >= now);
  if (!term)
    throw new ServiceError("conflict", "There is no term ahead to draft. Put one into the calendar first.");
  const [{ groups }, versions] = await Promise.all([
    groupsToDraft(bandId, term.from > now ? term.from : now, term.to),
    planVersions(bandId),
  ]);
  return {
    version: versions.plan,
    groups: groups
      .filter(({ players, slots }) => players > 0 && slots.length > 0)
      .map(({ state: { turnedDown, ...state }, slots }) => ({
        state: { ...state, turnedDown: [...turnedDown] },
        slots,
      })),
  };
}

interface GroupToDraft {
  groupId: string;
  players: number;
  state: GroupState;
  slots: Slot[];
  pace: DraftView["groups"][number]["pace"];
  turnedDown: DraftView["groups"][number]["turnedDown"];
}

/** Every group with what a draft asks of it, and its days from one to another. */
async function groupsToDraft(bandId: string, from: string, to: string) {
  const band = found(await Band.findByPk(bandId), "band");
  const settings = settingsOf(band);
  const now = today(band.timeZone);
  const since = new Date(Date.parse(`${addDays(now, -TAKES_OF_DAYS)}T00:00:00Z`));
  const knowledge = await bandKnowledge(bandId);
  const [calendar, groups, strips, seats, facts, prepared, met, takes, bars, behind, down, pieces] =
    await Promise.all([
      calendarOf(bandId, settings),
      groupsOf(bandId),
      stripsBetween(bandId, from < now ? from : now, to),
      seatsOfGroups(bandId, knowledge),
      lineFacts(bandId),
      preparations(bandId),
      linesMet(bandId, now),
      lineTakes(bandId, since),
      barTakes(bandId, since),
      stripsBehind(bandId, now),
      TurnedDown.findAll({ where: { bandId }, order: ["createdAt"] }),
      piecesOf(bandId),
    ]);
  const partsOf = new Map(pieces.flatMap(({ id, lineId }) => (lineId ? [[id, lineId] as const] : [])));
  const cells = cellsOf(calendar, groups, from, to, settings.homeMinutes).filter(({ date }) => date >= now);
  const everyone = new Set(groups.filter((group) => group.everyone).map(({ id }) => id));
  const inOrder = inTeachingOrder(facts);
  // What stands in a class that is still to come will have been met by then.
  const planned = strips.flatMap(({ kind, where, refId, groupId, date }): LineMet[] =>
    kind === "line" && where === "class" && refId && date >= now
      ? [{ lineId: refId, groupId, on: date }]
      : [],
  );
  const drafted = groups.map((group): GroupToDraft => {
    const own = seats.get(group.id) ?? [];
    const members = new Set(own.map(({ playerId }) => playerId));
    const ofGroup = ({ groupId }: { groupId: string }) => groupId === group.id || everyone.has(groupId);
    const groupMet = met.filter(ofGroup);
    const ownTakes = takes.filter(({ playerId }) => members.has(playerId));
    const pace = paceOfGroup(groupMet, inOrder, calendar, now);
    const ownDown = down.filter(({ groupId }) => groupId === group.id);
    return {
      groupId: group.id,
      players: members.size,
      pace,
      turnedDown: ownDown.map(({ proposal, said }) => ({ proposal, said })),
      state: {
        groupId: group.id,
        today: now,
        lines: lineStates(
          inOrder,
          askedBand(knowledge.seated(own)),
          [...groupMet, ...planned.filter(ofGroup)],
          ownTakes,
          bars.filter(({ playerId }) => members.has(playerId)),
        ),
        routines: done(prepared, "routine", behind, group.id),
        pages: done(prepared, "counting", behind, group.id),
        goals: calendar.goals
          .filter(({ groupId, date }) => (groupId === null || groupId === group.id) && date >= now)
          .map(({ programme, ...goal }) => ({
            ...goal,
            lineIds: programme.flatMap(({ kind, refId }) =>
              kind === "line" ? refId : (partsOf.get(refId) ?? []),
            ),
          })),
        linesAWeek: pace ? Math.max(1, pace.perWeek) : null,
        cardsOnly: settings.cardsFirst && own.every(({ stage }) => stage === "making-a-sound"),
        players: playerStates(ownTakes, own),
        turnedDown: new Set(ownDown.map(({ proposal }) => proposal)),
      },
      slots: cells
        .filter(({ groupId, budget }) => groupId === group.id && budget > 0)
        // What the whole band does is asked in the row of the whole band alone, where it meets.
        .filter(({ where }) => where === "class" || !group.everyone || groups.length === 1)
        .map((cell) => slotOf(cell, strips, settings.changeoverMinutes)),
    };
  });
  return { groups: drafted, seats, knowledge, facts };
}

/** Blocks of a class and things asked at home on a day, at most (common practice, no published source). */
const MOST_BLOCKS = 6;
const MOST_AT_HOME = 4;

function slotOf(cell: RibbonCell, strips: Parameters<typeof stripsOn>[0], changeover: number): Slot {
  const here = stripsOn(strips, cell);
  const between = cell.where === "class" ? changeover : 0;
  const { used } = loadOf(here, cell.where, cell.budget, between);
  return {
    key: `${cell.groupId}/${cell.where}/${cell.date}`,
    where: cell.where,
    date: cell.date,
    minutes: Math.max(0, cell.budget - used),
    changeover: between,
    newThings: MOST_NEW_THINGS,
    most: Math.max(0, (cell.where === "class" ? MOST_BLOCKS : MOST_AT_HOME) - here.length),
    about: here.flatMap(({ kind, refId }) => (refId ? [`${kind}/${refId}`] : [])),
    hard: here.some(({ kind }) => kind === "line" || kind === "piece" || kind === "drill"),
    easy: here.some(({ kind }) => kind === "routine" || kind === "counting"),
    empty: here.length === 0,
  };
}

function lineStates(
  lines: readonly LineFacts[],
  band: ReturnType<typeof askedBand>,
  met: readonly LineMet[],
  takes: readonly LineTakes[],
  bars: readonly BarTakes[],
): LineState[] {
  const metOf = groupBy(met, ({ lineId }) => lineId);
  const takesOf = groupBy(takes, ({ lineId }) => lineId);
  const barsOf = groupBy(bars, ({ lineId }) => lineId);
  return lines.map((line, order) => {
    const results = resultsOf(takesOf.get(line.id) ?? [], barsOf.get(line.id) ?? []);
    const days = [...new Set((metOf.get(line.id) ?? []).map(({ on }) => on))].sort();
    return {
      id: line.id,
      title: nameOfLine(line),
      order,
      seconds: line.outline.seconds,
      bars: line.outline.bars,
      difficulty: line.glance.difficulty,
      asks: askEach(line.glance, band, line.told),
      // How it went is known of the last day only: takes are not told apart by the day they belong to.
      met: days.map((on, i): Met => ({ on, clean: i === days.length - 1 ? (results?.clean ?? null) : null })),
      results,
    };
  });
}

/** What is known of each player of a group, on the instrument held today. */
function playerStates(
  takes: readonly LineTakes[],
  seats: readonly { playerId: string; instrumentId: string }[],
): PlayerState[] {
  const seated = new Set(seats.map(({ playerId, instrumentId }) => `${playerId}/${instrumentId}`));
  const own = takes.filter(({ playerId, instrumentId }) => seated.has(`${playerId}/${instrumentId}`));
  return [...groupBy(own, ({ playerId }) => playerId)].map(([playerId, of]) => ({
    playerId,
    instrumentId: of[0]!.instrumentId,
    results: of.map(({ lineId, takes: count, clean, tempoBpm, goalBpm }) => ({
      lineId,
      takes: count,
      clean,
      tempo: tempoBpm === null ? null : { reached: tempoBpm, goal: goalBpm },
    })),
  }));
}

function resultsOf(takes: readonly LineTakes[], bars: readonly BarTakes[]): LineResults | null {
  if (takes.length === 0) return null;
  const clean = takes.reduce((sum, take) => sum + take.clean, 0) / takes.length;
  const reached = takes
    .flatMap(({ tempoBpm }) => (tempoBpm === null ? [] : [tempoBpm]))
    .sort((a, b) => a - b);
  return {
    takes: takes.reduce((sum, each) => sum + each.takes, 0),
    clean,
    hotBar: hotBarOf(bars),
    tempo:
      reached.length > 0
        ? {
            reached: Math.round(reached[Math.floor(reached.length / 2)]!),
            goal: Math.max(...takes.map(({ goalBpm }) => goalBpm)),
          }
        : null,
  };
}

/** The bar that went wrong in most takes; of one instrument where that has most of them. */
function hotBarOf(bars: readonly BarTakes[]): LineResults["hotBar"] {
  const sum = (of: readonly BarTakes[]) => ({
    wrong: of.reduce((total, { wrong }) => total + wrong, 0),
    takes: of.reduce((total, { takes }) => total + takes, 0),
  });
  const [worst] = [...groupBy(bars, ({ measureIndex }) => measureIndex)]
    .map(([index, of]) => ({ index, of, ...sum(of) }))
    .sort((a, b) => b.wrong - a.wrong || a.index - b.index);
  if (!worst || worst.wrong === 0) return null;
  const { index, wrong, takes, of } = worst;
  const label = String(index + 1);
  const [section] = [...groupBy(of, ({ instrumentId }) => instrumentId)]
    .map(([instrumentId, own]) => ({ instrumentId, ...sum(own) }))
    .sort((a, b) => b.wrong - a.wrong || (a.instrumentId < b.instrumentId ? -1 : 1));
  return section && section.wrong >= MOSTLY * wrong && section.wrong >= 3 && section.takes < takes
    ? { index, label, wrong: section.wrong, takes: section.takes, instrumentId: section.instrumentId }
    : { index, label, wrong, takes, instrumentId: null };
}

/** An error belongs to an instrument whose players made this share of it. */
const MOSTLY = 0.6;

function done(
  prepared: Awaited<ReturnType<typeof preparations>>,
  kind: "routine" | "counting",
  behind: readonly { refId: string; groupId: string; on: string }[],
  groupId: string,
): GroupState["routines"] {
  return prepared
    .filter((each) => each.kind === kind)
    .map(({ refId, title, seconds }) => ({
      id: refId,
      title,
      seconds,
      metOn: behind.filter((each) => each.refId === refId && each.groupId === groupId).map(({ on }) => on),
    }));
}

/** Lines met week by week in school, and when the whole order is through at that pace. */
export function paceOfGroup(
  met: readonly LineMet[],
  lines: readonly LineFacts[],
  calendar: BandCalendar,
  now: string,
): DraftView["groups"][number]["pace"] {
  const known = new Set(lines.map(({ id }) => id));
  const first = new Map<string, string>();
  for (const { lineId, on } of met) if (known.has(lineId) && !first.has(lineId)) first.set(lineId, on);
  const days = [...first.values()].sort();
  if (days.length === 0) return null;
  const points: WeekPoint[] = [];
  for (let monday = mondayOf(days[0]!); monday <= now; monday = addDays(monday, 7)) {
    const week = daysFrom(monday, addDays(monday, 6));
    if (week.every((date) => whyNoSchool(date, calendar) !== null)) continue;
    points.push({ date: monday, done: days.filter((day) => day <= week.at(-1)!).length });
  }
  const until = calendar.terms.at(-1)?.to ?? addDays(now, 200);
  const ahead =
    until > now && daysBetween(now, until) < 700
      ? daysFrom(addDays(now, 1), until).filter((date) => whyNoSchool(date, calendar) === null)
      : [];
  const pace = paceOf(points, lines.length, ahead);
  return pace && { ...pace, goal: lines.length, done: days.length };
}
