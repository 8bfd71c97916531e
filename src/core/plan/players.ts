import { PLAIN_TERMS, tooSlow } from "../practice";
import type { Slot } from "./fill";
import type { Reason } from "./reason";
import {
  EASY_SHARE,
  type GroupState,
  type LineState,
  MOST_NEW_THINGS,
  type PlayerState,
  type Proposal,
  SHAKY_SHARE,
} from "./state";
import { minutesToPlan } from "./strip";

/** Where a group or a player goes from here. */
export type PlanStep = "stay" | "go-on" | "faster" | "next-book";

/** A player whose way is another than that of the group, and what it is read from. */
export interface PlayerStep {
  playerId: string;
  step: PlanStep;
  /** Mean share of clean notes in the lines it is read from, the newest first. */
  clean: number;
  lineIds: string[];
}

/** So many of the newest lines heard of a player say how it goes. */
const LINES_HEARD = 3;

/**
 * Where one player goes from here: stay while the newest line is shaky, faster when the last three were clean and at tempo,
 * the next book when that is so and the group's book is through; else on with the group.
 *
 * @returns null for somebody of whom nothing was heard
 */
export function stepOfPlayer(
  { lines }: Pick<GroupState, "lines">,
  { results, playerId }: PlayerState,
): PlayerStep | null {
  const place = new Map(lines.map(({ id, order }) => [id, order]));
  const heard = results
    .filter(({ lineId, takes }) => takes > 0 && place.has(lineId))
    .sort((a, b) => place.get(b.lineId)! - place.get(a.lineId)!)
    .slice(0, LINES_HEARD);
  if (heard.length === 0) return null;
  const told = {
    playerId,
    clean: heard.reduce((sum, { clean }) => sum + clean, 0) / heard.length,
    lineIds: heard.map(({ lineId }) => lineId),
  };
  if (heard[0]!.clean < SHAKY_SHARE) return { ...told, step: "stay", clean: heard[0]!.clean };
  const easy =
    heard.length === LINES_HEARD &&
    heard.every(
      ({ clean, tempo }) => clean >= EASY_SHARE && (tempo === null || !tooSlow(tempo.reached, tempo.goal)),
    );
  if (!easy) return { ...told, step: "go-on" };
  const through = lines.length > 0 && lines.every(({ met }) => met.length > 0);
  return { ...told, step: through ? "next-book" : "faster" };
}

/**
 * What single players get beside the group, at home: who is not there yet stays with the line that is shaky; who is through
 * gets the next line they are ready for, as something extra; who has the book behind them gets the next one. Each only where
 * the day has the minutes for it.
 *
 * @param step  where the group goes
 * @param proposals  what the group was proposed
 * @param slots  days of the week; none on which nothing fits is filled
 */
export function proposePlayers(
  state: GroupState,
  step: PlanStep,
  proposals: readonly Proposal[],
  slots: readonly Slot[],
): { steps: PlayerStep[]; proposals: Proposal[] } {
  if (state.cardsOnly) return { steps: [], proposals: [] };
  const steps = (state.players ?? []).flatMap((player) => {
    const own = stepOfPlayer(state, player);
    return own && own.step !== step && !(step === "faster" && own.step === "go-on") ? [{ own, player }] : [];
  });
  const homes = homesWithRoom(slots, proposals);
  const made: Proposal[] = [];
  for (const { own, player } of steps) {
    const wish = wishOf(state, own, player, proposals);
    if (!wish || state.turnedDown.has(wish.key)) continue;
    const home = homes.find(({ left }) => left >= wish.minutes);
    if (home) made.push({ ...wish, date: home.date });
  }
  return { steps: steps.map(({ own }) => own), proposals: made };
}

/**
 * Home days in order that can take one more, with the minutes left beside everything of the group; things of single players
 * lie beside one another.
 */
function homesWithRoom(
  slots: readonly Slot[],
  proposals: readonly Proposal[],
): { date: string; left: number }[] {
  return slots
    .filter(({ where }) => where === "home")
    .sort((a, b) => (a.date < b.date ? -1 : 1))
    .flatMap(({ date, minutes, most }) => {
      const here = proposals.filter((each) => each.where === "home" && each.date === date);
      const left = minutes - here.reduce((sum, each) => sum + each.minutes, 0);
      return here.length < most ? [{ date, left }] : [];
    });
}

function wishOf(
  state: GroupState,
  own: PlayerStep,
  { playerId, instrumentId }: PlayerState,
  proposals: readonly Proposal[],
): Omit<Proposal, "date"> | null {
  const shape = {
    groupId: state.groupId,
    where: "home" as const,
    forWhom: { kind: "player" as const, playerId },
    firstBar: null,
    lastBar: null,
  };
  const line = (of: LineState, reason: Reason): Omit<Proposal, "date"> => ({
    ...shape,
    key: `${reason.kind}/${of.id}/${playerId}`,
    kind: "line",
    refId: of.id,
    title: of.title,
    minutes: minutesToPlan("line", of.seconds, "home"),
    reason,
  });
  if (own.step === "stay") {
    const shaky = state.lines.find(({ id }) => id === own.lineIds[0])!;
    return line(shaky, { kind: "player-stays", clean: own.clean });
  }
  if (own.step === "next-book")
    return {
      ...shape,
      key: `player-next-book/${playerId}`,
      kind: "text",
      refId: null,
      title: "",
      minutes: NEXT_BOOK_MINUTES,
      reason: { kind: "player-next-book", clean: own.clean },
    };
  const planned = new Set(proposals.map(({ refId }) => refId));
  const next = state.lines
    .filter(({ id, met }) => met.length === 0 && !planned.has(id))
    .sort((a, b) => a.order - b.order)
    .slice(0, LINES_AHEAD)
    .find(({ asks }) => readyFor(asks, instrumentId));
  return next
    ? {
        ...line(next, { kind: "player-ahead", clean: own.clean, lines: own.lineIds.length }),
        terms: { ...PLAIN_TERMS, extra: true },
      }
    : null;
}

const LINES_AHEAD = 6;
const NEXT_BOOK_MINUTES = 5;

/** Nobody on this instrument meets more than two new things in it; who is ahead is ready when they are. */
function readyFor(asks: LineState["asks"], instrumentId: string): boolean {
  const own = asks.filter((ask) => ask.instrumentId === instrumentId);
  return (
    own.length > 0 &&
    own.every(({ newThings, outOfRange }) => !outOfRange && newThings.length <= MOST_NEW_THINGS)
  );
}
