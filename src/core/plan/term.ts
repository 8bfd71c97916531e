import { mondayOf } from "./calendar";
import type { Slot } from "./fill";
import { draftWeek } from "./propose";
import { SOLID_SHARE } from "./spacing";
import type { GroupState, LineState, Proposal } from "./state";

/** A group with the days of many weeks that can take something. */
export interface TermGroup {
  state: GroupState;
  slots: readonly Slot[];
}

/** What a drafted term comes to for a group. */
export interface TermDraft {
  groupId: string;
  proposals: Proposal[];
  /** Days on which goals have every line met for the first time; null where some line is not met by then. */
  goals: { id: string; name: string; date: string; metOn: string | null }[];
}

/**
 * A whole term drafted week by week, as `draftWeek` drafts one: each week stands on what the weeks before it would have
 * brought. It takes for granted that what is planned is met and goes right, and that its new things are known from then on;
 * what was heard so far counts in the first week only. The farther ahead, the less it is a promise. The same input gives the
 * same draft.
 *
 * @param told  is told after each week of a group how many of all are done, and stops the work by answering false
 * @returns null when it was stopped
 */
export function draftTerm(
  groups: readonly TermGroup[],
  told: (done: number, of: number) => boolean = () => true,
): TermDraft[] | null {
  const weeksOf = groups.map(({ slots }) => [...new Set(slots.map(({ date }) => mondayOf(date)))].sort());
  const of = weeksOf.reduce((sum, weeks) => sum + weeks.length, 0);
  let done = 0;
  const drafts: TermDraft[] = [];
  for (const [i, { state: first, slots }] of groups.entries()) {
    let state = first;
    const proposals: Proposal[] = [];
    for (const monday of weeksOf[i]!) {
      const week = slots.filter(({ date }) => mondayOf(date) === monday);
      const made = draftWeek(monday > state.today ? { ...state, today: monday } : state, week);
      proposals.push(...made.proposals);
      state = afterWeek(state, made.proposals);
      if (!told(++done, of)) return null;
    }
    drafts.push({ groupId: first.groupId, proposals, goals: goalsOf(state) });
  }
  return drafts;
}

/** A group as it stands after a week that went as planned. */
function afterWeek(state: GroupState, proposals: readonly Proposal[]): GroupState {
  const daysOf = (refId: string) =>
    [...new Set(proposals.filter((each) => each.refId === refId).map(({ date }) => date))].sort();
  const inClass = new Set(
    proposals.filter(({ kind, where }) => kind === "line" && where === "class").map(({ refId }) => refId),
  );
  const learned = learnedBy(state.lines.filter(({ id, met }) => inClass.has(id) && met.length === 0));
  const { players: _players, ...group } = state;
  return {
    ...group,
    lines: state.lines.map((line) => afterLine(line, daysOf(line.id), learned)),
    routines: state.routines.map((each) => ({ ...each, metOn: [...each.metOn, ...daysOf(each.id)] })),
    pages: state.pages.map((each) => ({ ...each, metOn: [...each.metOn, ...daysOf(each.id)] })),
  };
}

/** New things of lines that were met, by instrument. */
function learnedBy(lines: readonly LineState[]): Map<string, Set<string>> {
  const learned = new Map<string, Set<string>>();
  for (const { asks } of lines)
    for (const { instrumentId, newThings } of asks) {
      const known = learned.get(instrumentId) ?? new Set();
      for (const thing of newThings) known.add(thing);
      learned.set(instrumentId, known);
    }
  return learned;
}

function afterLine(
  line: LineState,
  days: readonly string[],
  learned: ReadonlyMap<string, ReadonlySet<string>>,
): LineState {
  return {
    ...line,
    results: null,
    met: [...line.met, ...days.map((on) => ({ on, clean: SOLID_SHARE }))],
    asks:
      learned.size === 0
        ? line.asks
        : line.asks.map((ask) => {
            const known = learned.get(ask.instrumentId);
            return known && ask.newThings.some((thing) => known.has(thing))
              ? { ...ask, newThings: ask.newThings.filter((thing) => !known.has(thing)) }
              : ask;
          }),
  };
}

function goalsOf({ goals, lines }: GroupState): TermDraft["goals"] {
  const firstMet = new Map(lines.flatMap(({ id, met }) => (met[0] ? [[id, met[0].on] as const] : [])));
  return goals.map(({ id, name, date, lineIds }) => {
    const days = lineIds.map((lineId) => firstMet.get(lineId) ?? null);
    const all = days.length > 0 && days.every((day) => day !== null);
    return { id, name, date, metOn: all ? (days as string[]).reduce((a, b) => (a > b ? a : b)) : null };
  });
}
