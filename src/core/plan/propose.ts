import { daysBetween } from "../calendar";
import { fill, type Slot, type Wish } from "./fill";
import { type PlanStep, type PlayerStep, proposePlayers } from "./players";
import type { Reason } from "./reason";
import { nextReturn, overdue, SOLID_SHARE } from "./spacing";
import {
  EASY_SHARE,
  type GroupState,
  type LineAsk,
  type LineResults,
  type LineState,
  MOST_NEW_THINGS,
  type Proposal,
  SHAKY_SHARE,
} from "./state";
import { type ForWhom, minutesToPlan, type StripKind } from "./strip";

/** A day that keeps room, and why. */
export interface Unfilled {
  slot: string;
  minutes: number;
  why: "nothing-due" | "too-short" | "turned-down" | "rules";
}

export interface Draft {
  proposals: Proposal[];
  unfilled: Unfilled[];
  /** Where the group is: stay with what it has, go on, go faster, or take the next book. */
  step: PlanStep;
  /** Players who go another way. */
  players: PlayerStep[];
}

/** A bar stands out when so many takes missed it, and this share of all. */
const HOT_TAKES = 3;
const HOT_SHARE = 0.25;
const USUAL_LINES_A_WEEK = 2;
/** Lines further on than this are not looked at for one week. */
const LINES_AHEAD = 8;
/** A room left of fewer minutes is not spoken of. */
const SMALLEST_GAP = 4;

type Wanted = Wish & { proposal: Omit<Proposal, "date" | "groupId" | "key"> };

/**
 * A week of one group, drafted: what opens a class, bars that many missed, what is due to return, what a concert needs, the
 * next lines with at most two new things, what must be taught to one instrument first, counting, and at home what was met in
 * class. Each proposal has its reason. The same input gives the same draft.
 *
 * @param slots  days of the week that can take more, class and home
 */
export function draftWeek(state: GroupState, slots: readonly Slot[]): Draft {
  const step = stepOf(state);
  if (slots.length === 0) return { proposals: [], unfilled: [], step, players: [] };
  const first = slots.reduce((least, { date }) => (date < least ? date : least), slots[0]!.date);
  const last = slots.reduce((most, { date }) => (date > most ? date : most), slots[0]!.date);
  const all = wanted(state, slots, first, last, step);
  const wishes = all.filter(({ id }) => !state.turnedDown.has(id));
  const filling = fill(slots, wishes);
  const dateOf = new Map(slots.map(({ key, date }) => [key, date]));
  const ofGroup = wishes.flatMap((wish): Proposal[] => {
    const slot = filling.get(wish.id);
    return slot === undefined
      ? []
      : [{ key: wish.id, groupId: state.groupId, date: dateOf.get(slot)!, ...wish.proposal }];
  });
  const orderOf = new Map(state.lines.map(({ id, order }) => [id, order]));
  const { steps, proposals: ofPlayers } = proposePlayers(state, step, ofGroup, slots);
  const proposals = [...ofGroup, ...ofPlayers].sort(
    (a, b) =>
      a.date.localeCompare(b.date) ||
      rank(a) - rank(b) ||
      (orderOf.get(a.refId ?? "") ?? 0) - (orderOf.get(b.refId ?? "") ?? 0) ||
      a.key.localeCompare(b.key),
  );
  return {
    proposals,
    unfilled: unfilledOf(slots, wishes, filling, all.length > wishes.length),
    step,
    players: steps,
  };
}

/** Order within a class: it opens with the routine, works on what was hard, then the new, then the rest. */
function rank({ reason: { kind } }: Proposal): number {
  return [
    "opens",
    "cards",
    "counting",
    "teach-first",
    "hot-bar",
    "goal",
    "next",
    "take-home",
    "waits",
    "tempo",
    "returns",
    "pleasure",
    "player-stays",
    "player-ahead",
    "player-next-book",
  ].indexOf(kind);
}

/** Stay while the newest lines are shaky, faster when the last three were done at once, else on. */
export function stepOf({ lines }: Pick<GroupState, "lines">): PlanStep {
  const begun = lines.filter(({ met }) => met.length > 0);
  if (lines.length > 0 && begun.length === lines.length) return "next-book";
  const heard = begun
    .filter(({ results }) => results !== null && results.takes > 0)
    .sort((a, b) => b.order - a.order)
    .slice(0, 3);
  if (heard.length === 0) return "go-on";
  if (heard[0]!.results!.clean < SHAKY_SHARE) return "stay";
  return heard.length === 3 && heard.every(({ results }) => results!.clean >= EASY_SHARE)
    ? "faster"
    : "go-on";
}

function wanted(
  state: GroupState,
  slots: readonly Slot[],
  first: string,
  last: string,
  step: PlanStep,
): Wanted[] {
  const all = [
    ...openings(state, slots),
    ...hotBars(state, first, last),
    ...returns(state, first, last),
    ...nextLines(state, slots, first, last, step),
    ...counting(state, slots),
    ...cards(state, slots),
  ];
  // Nothing is played at home while lips are not ready.
  return state.cardsOnly
    ? all.filter(({ where, proposal: { kind } }) => where === "class" || HOME_CARDS.has(kind))
    : all;
}

const HOME_CARDS: ReadonlySet<StripKind> = new Set(["cards", "counting"]);

/** Every class opens with the routine that was done last: the band knows it. */
function openings({ routines }: GroupState, slots: readonly Slot[]): Wanted[] {
  const [routine] = [...routines].sort(
    (a, b) => (b.metOn.at(-1) ?? "").localeCompare(a.metOn.at(-1) ?? "") || (a.id < b.id ? -1 : 1),
  );
  if (!routine) return [];
  return slots
    .filter(({ where }) => where === "class")
    .map(({ key, date }) => ({
      id: `opens/${routine.id}/${key}`,
      where: "class",
      minutes: minutesToPlan("routine", routine.seconds, "class"),
      worth: 5,
      from: date,
      to: date,
      newThings: 0,
      hard: false,
      about: `routine/${routine.id}`,
      after: null,
      proposal: {
        where: "class",
        forWhom: { kind: "everyone" },
        kind: "routine",
        refId: routine.id,
        title: routine.title,
        minutes: minutesToPlan("routine", routine.seconds, "class"),
        firstBar: null,
        lastBar: null,
        reason: { kind: "opens" },
      },
    }));
}

/** The bar many missed, with its neighbours, in the first class there is room in, and slow at home after it. */
function hotBars({ lines }: GroupState, first: string, last: string): Wanted[] {
  return lines.flatMap((line): Wanted[] => {
    const hot = line.results?.hotBar;
    if (!hot || hot.wrong < HOT_TAKES || hot.wrong / hot.takes < HOT_SHARE) return [];
    const firstBar = Math.max(0, hot.index - 1);
    const lastBar = Math.min(line.bars - 1, hot.index + 1);
    const seconds = (line.seconds * (lastBar - firstBar + 1)) / line.bars;
    const reason: Reason = { kind: "hot-bar", ...hotOf(hot) };
    return [
      bars(line, "class", firstBar, lastBar, seconds, reason, 4 + hot.wrong / hot.takes, first, last),
      bars(line, "home", firstBar, lastBar, seconds, reason, 2 + hot.wrong / hot.takes, first, last),
    ];
  });
}

const hotOf = ({ label, wrong, takes, instrumentId }: NonNullable<LineResults["hotBar"]>) => ({
  bar: label,
  wrong,
  takes,
  instrumentId,
});

function bars(
  line: LineState,
  where: "class" | "home",
  firstBar: number,
  lastBar: number,
  seconds: number,
  reason: Reason,
  worth: number,
  from: string,
  to: string,
): Wanted {
  const id = `${reason.kind}/${line.id}/${where}`;
  const whole = firstBar === 0 && lastBar === line.bars - 1;
  const minutes = minutesToPlan("line", seconds, where);
  return {
    id,
    where,
    minutes,
    worth,
    from,
    to,
    newThings: 0,
    hard: true,
    about: `line/${line.id}`,
    after: where === "home" ? `${reason.kind}/${line.id}/class` : null,
    proposal: {
      where,
      forWhom: { kind: "everyone" },
      kind: "line",
      refId: line.id,
      title: line.title,
      minutes,
      firstBar: whole ? null : firstBar,
      lastBar: whole ? null : lastBar,
      reason,
    },
  };
}

/** What was met comes back after 1, 3, 7, 14 days by how it went; what is solid returns for pleasure. */
function returns({ lines }: GroupState, first: string, last: string): Wanted[] {
  return lines.flatMap((line): Wanted[] => {
    if (line.met.length === 0) return [];
    const due = nextReturn(line.met);
    const clean = line.results?.clean ?? null;
    const shaky = clean !== null && clean < SOLID_SHARE;
    if (overdue(due, last) < 0) return [];
    // What went well, or was never heard, and was not asked for since, the band has left behind.
    if (overdue(due, first) > (shaky ? SHAKY_KEPT_DAYS : LEFT_BEHIND_DAYS)) return [];
    const solid = due.step >= 3 || (clean !== null && !shaky);
    const slow = line.results?.tempo;
    const reason: Reason = solid
      ? slow && slow.reached < slow.goal * 0.9
        ? { kind: "tempo", ...slow }
        : { kind: "pleasure", after: due.after }
      : { kind: "returns", after: due.after, clean };
    const worth = solid ? 0.8 : clean === null ? 1.8 : 2.2 + (1 - clean);
    const minutes = minutesToPlan("line", line.seconds, "home");
    return [
      {
        id: `${reason.kind}/${line.id}/home`,
        where: "home",
        minutes: solid ? Math.min(3, minutes) : minutes,
        worth,
        from: due.on > first ? due.on : first,
        to: last,
        newThings: 0,
        hard: !solid,
        about: `line/${line.id}`,
        after: null,
        proposal: {
          where: "home",
          forWhom: { kind: "everyone" },
          kind: "line",
          refId: line.id,
          title: line.title,
          minutes: solid ? Math.min(3, minutes) : minutes,
          firstBar: null,
          lastBar: null,
          reason,
        },
      },
    ];
  });
}

const LEFT_BEHIND_DAYS = 7;
const SHAKY_KEPT_DAYS = 28;

/**
 * The next lines of the order with at most two new things for anybody, each met in class and taken home on later days; for
 * an instrument that is not ready what it needs is taught first, and the line waits for them.
 */
function nextLines(
  state: GroupState,
  slots: readonly Slot[],
  first: string,
  last: string,
  step: PlanStep,
): Wanted[] {
  const pace = Math.max(1, Math.round(state.linesAWeek ?? USUAL_LINES_A_WEEK));
  const many = step === "stay" ? 0 : step === "faster" ? pace + 1 : pace;
  const ahead = state.lines
    .filter(({ met }) => met.length === 0)
    .sort((a, b) => urgency(state, first, a) - urgency(state, first, b) || a.order - b.order)
    .slice(0, LINES_AHEAD);
  const chosen: Wanted[] = [];
  let lines = 0;
  for (const line of ahead) {
    if (lines >= many) break;
    const players = line.asks.reduce((sum, ask) => sum + ask.players, 0);
    const stopped = line.asks.filter((ask) => ask.outOfRange || ask.newThings.length > MOST_NEW_THINGS);
    const waiting = stopped.reduce((sum, ask) => sum + ask.players, 0);
    // A line that most cannot play yet is not the next one.
    if (players === 0 || waiting > players * MOST_WAITING_SHARE) continue;
    lines += 1;
    chosen.push(...newLine(state, line, lines, first, last));
    chosen.push(...stopped.flatMap((ask) => whileWaiting(state, line, ask, slots, first, last)));
  }
  return chosen;
}

const MOST_WAITING_SHARE = 0.4;

/** Days until the first goal that needs a line; what no goal needs comes after those, in its order. */
function urgency({ goals }: GroupState, first: string, line: LineState): number {
  const days = goals
    .filter((goal) => goal.lineIds.includes(line.id) && goal.date >= first)
    .map((goal) => daysBetween(first, goal.date));
  return days.length > 0 && Math.min(...days) <= GOAL_NEAR_DAYS ? Math.min(...days) : GOAL_NEAR_DAYS + 1;
}

/** A concert within six weeks pulls its pieces before the next page of the book. */
const GOAL_NEAR_DAYS = 42;

function newLine(state: GroupState, line: LineState, nth: number, first: string, last: string): Wanted[] {
  const days = urgency(state, first, line);
  const goal = state.goals.find(
    ({ lineIds, date }) => lineIds.includes(line.id) && daysBetween(first, date) === days,
  );
  const ready = line.asks.filter((ask) => !ask.outOfRange && ask.newThings.length <= MOST_NEW_THINGS);
  const newThings = [...new Set(ready.flatMap((ask) => ask.newThings))];
  const mostNew = Math.max(0, ...ready.map((ask) => ask.newThings.length));
  const reason: Reason = goal
    ? { kind: "goal", name: goal.name, inDays: days }
    : { kind: "next", newThings, clean: null };
  const common = {
    from: first,
    to: last,
    hard: true,
    about: `line/${line.id}`,
  };
  const shape = {
    forWhom: { kind: "everyone" } as ForWhom,
    kind: "line" as StripKind,
    refId: line.id,
    title: line.title,
    firstBar: null,
    lastBar: null,
  };
  const inClass = minutesToPlan("line", line.seconds, "class");
  const atHome = minutesToPlan("line", line.seconds, "home");
  const meet: Wanted = {
    ...common,
    id: `next/${line.id}/class`,
    where: "class",
    minutes: inClass,
    worth: 6 - nth * 0.5,
    newThings: mostNew,
    after: null,
    proposal: { ...shape, where: "class", minutes: inClass, reason },
  };
  if (state.cardsOnly) return [meet];
  const home = [1, 2].map(
    (time): Wanted => ({
      ...common,
      id: `take-home/${line.id}/${time}`,
      where: "home",
      minutes: atHome,
      worth: 3.4 - time * 0.5 - nth * 0.2,
      newThings: 0,
      after: time === 1 ? meet.id : `take-home/${line.id}/1`,
      proposal: {
        ...shape,
        where: "home",
        minutes: atHome,
        reason: { kind: "take-home", lineTitle: line.title },
      },
    }),
  );
  return [meet, ...home];
}

/** What an instrument does that cannot play a line yet: its new things by cards and a drill, and the last line it can play. */
function whileWaiting(
  state: GroupState,
  line: LineState,
  ask: LineAsk,
  slots: readonly Slot[],
  first: string,
  last: string,
): Wanted[] {
  const { instrumentId, players, newThings } = ask;
  const forWhom: ForWhom = { kind: "instrument", instrumentId };
  const teach: Wanted[] = slots.some(({ where }) => where === "class")
    ? [
        {
          id: `teach-first/${line.id}/${instrumentId}`,
          where: "class",
          minutes: 3,
          worth: 3.5,
          from: first,
          to: last,
          newThings: Math.min(MOST_NEW_THINGS, newThings.length),
          hard: true,
          about: `teach/${line.id}/${instrumentId}`,
          after: null,
          proposal: {
            where: "class",
            forWhom,
            kind: "drill",
            refId: line.id,
            title: newThings.slice(0, MOST_NEW_THINGS).join(", ") || line.title,
            minutes: 3,
            firstBar: null,
            lastBar: null,
            reason: {
              kind: "teach-first",
              instrumentId,
              players,
              newThings: newThings.slice(0, MOST_NEW_THINGS),
              lineTitle: line.title,
            },
          },
        },
      ]
    : [];
  const other = state.lines
    .filter(
      (each) =>
        each.met.length > 0 &&
        each.asks.some((own) => own.instrumentId === instrumentId && own.newThings.length === 0),
    )
    .sort((a, b) => b.order - a.order)[0];
  if (!other || state.cardsOnly) return teach;
  const minutes = minutesToPlan("line", other.seconds, "home");
  return [
    ...teach,
    {
      id: `waits/${line.id}/${instrumentId}`,
      where: "home",
      minutes,
      worth: 2.5,
      from: first,
      to: last,
      newThings: 0,
      hard: false,
      about: `line/${other.id}/${instrumentId}`,
      after: null,
      proposal: {
        where: "home",
        forWhom,
        kind: "line",
        refId: other.id,
        title: other.title,
        minutes,
        firstBar: null,
        lastBar: null,
        reason: { kind: "waits", instrumentId, players, newThings, lineTitle: line.title },
      },
    },
  ];
}

/** The counting page that was longest ago, never done first, on every second day of class or home. */
function counting({ pages }: GroupState, slots: readonly Slot[]): Wanted[] {
  const oldest = [...pages].sort(
    (a, b) => (a.metOn.at(-1) ?? "").localeCompare(b.metOn.at(-1) ?? "") || (a.id < b.id ? -1 : 1),
  );
  const days = [...new Set(slots.map(({ date }) => date))].sort();
  return days.flatMap((date, i): Wanted[] => {
    const page = oldest[Math.floor(i / 2) % Math.max(1, oldest.length)];
    const slot = slots.find((each) => each.date === date);
    if (!page || !slot || i % 2 === 1) return [];
    const minutes = minutesToPlan("counting", page.seconds, slot.where);
    const lastTime = page.metOn.at(-1);
    return [
      {
        id: `counting/${page.id}/${date}`,
        where: slot.where,
        minutes,
        worth: 1.5,
        from: date,
        to: date,
        newThings: 0,
        hard: false,
        about: `counting/${page.id}`,
        after: null,
        proposal: {
          where: slot.where,
          forWhom: { kind: "everyone" },
          kind: "counting",
          refId: page.id,
          title: page.title,
          minutes,
          firstBar: null,
          lastBar: null,
          reason: { kind: "counting", after: lastTime ? daysBetween(lastTime, date) : null },
        },
      },
    ];
  });
}

/** Note names and fingerings on cards, where lips are not ready for homework. */
function cards({ cardsOnly }: GroupState, slots: readonly Slot[]): Wanted[] {
  if (!cardsOnly) return [];
  return slots
    .filter(({ where }) => where === "home")
    .map(({ key, date }) => ({
      id: `cards/${key}`,
      where: "home",
      minutes: CARD_MINUTES,
      worth: 3,
      from: date,
      to: date,
      newThings: 0,
      hard: false,
      about: "cards",
      after: null,
      proposal: {
        where: "home",
        forWhom: { kind: "everyone" },
        kind: "cards",
        refId: null,
        title: "",
        minutes: CARD_MINUTES,
        firstBar: null,
        lastBar: null,
        reason: { kind: "cards" },
      },
    }));
}

const CARD_MINUTES = 5;

function unfilledOf(
  slots: readonly Slot[],
  wishes: readonly Wish[],
  filling: ReadonlyMap<string, string>,
  turnedDown: boolean,
): Unfilled[] {
  return slots.flatMap((slot): Unfilled[] => {
    const here = wishes.filter(({ id }) => filling.get(id) === slot.key);
    const blocks = Math.max(0, here.length - (slot.empty ? 1 : 0));
    const left = slot.minutes - here.reduce((sum, each) => sum + each.minutes, 0) - blocks * slot.changeover;
    if (left < SMALLEST_GAP) return [];
    const open = wishes.filter(
      ({ id, where, from, to }) =>
        !filling.has(id) && where === slot.where && from <= slot.date && slot.date <= to,
    );
    const why =
      open.length === 0
        ? turnedDown
          ? "turned-down"
          : "nothing-due"
        : open.every(({ minutes }) => minutes > left)
          ? "too-short"
          : "rules";
    return [{ slot: slot.key, minutes: left, why }];
  });
}
