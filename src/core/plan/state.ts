import type { Terms } from "../practice";
import type { Reason } from "./reason";
import type { Met } from "./spacing";
import type { ForWhom, StripKind } from "./strip";

/** What a line asks of one kind of player of a group. */
export interface LineAsk {
  instrumentId: string;
  players: number;
  /** Written notes and rhythms they have not met. */
  newThings: string[];
  /** Some note lies outside what they can reach at their stage. */
  outOfRange: boolean;
}

/** How the takes of a group for a line came out. */
export interface LineResults {
  takes: number;
  /** Share of clean bars, 0 to 1. */
  clean: number;
  /** The bar that went wrong in most takes; null when none stands out. */
  hotBar: {
    index: number;
    label: string;
    wrong: number;
    takes: number;
    /** The instrument most of them play; null when it is everybody's. */
    instrumentId: string | null;
  } | null;
  /** Median tempo reached and the goal, beats a minute; null when it is not known. */
  tempo: { reached: number; goal: number } | null;
}

/** A line as a group stands to it. */
export interface LineState {
  id: string;
  title: string;
  /** Place in the order it is taught in. */
  order: number;
  /** Once through at its tempo. */
  seconds: number;
  bars: number;
  /** Sum of `difficultyOf`; null where nobody knows. */
  difficulty: number | null;
  asks: LineAsk[];
  /** Days it was taught or due, at most today. */
  met: Met[];
  results: LineResults | null;
}

/** A routine or counting page, which knows its own length. */
export interface Preparation {
  id: string;
  title: string;
  seconds: number;
  /** Days it was done, at most today. */
  metOn: string[];
}

/** A concert or playing test and the lines it needs. */
export interface Goal {
  id: string;
  name: string;
  kind: "concert" | "test";
  date: string;
  lineIds: string[];
}

export interface GroupState {
  groupId: string;
  /** Local day the plan is made. */
  today: string;
  lines: LineState[];
  routines: Preparation[];
  pages: Preparation[];
  goals: Goal[];
  /** Lines a week the group has learned lately; 2 where nobody knows. */
  linesAWeek: number | null;
  /** Nothing is played at home yet: cards in its place. */
  cardsOnly: boolean;
  /** Keys of proposals a director turned down. */
  turnedDown: ReadonlySet<string>;
  /** How it went with each player, where that is to be looked at. */
  players?: readonly PlayerState[];
}

/** A strip that is proposed for a day. */
export interface Proposal {
  /** The same proposal has the same key each time, so that it can be turned down for good. */
  key: string;
  groupId: string;
  where: "class" | "home";
  forWhom: ForWhom;
  date: string;
  kind: StripKind;
  refId: string | null;
  title: string;
  minutes: number;
  firstBar: number | null;
  lastBar: number | null;
  reason: Reason;
  /** How it is given, where that is part of it. */
  terms?: Terms;
}

/** At most so many new things in a line and for a player (the issue of every method book: one or two new things). */
export const MOST_NEW_THINGS = 2;
/** Below this share of clean bars nothing new comes before the old is better. */
export const SHAKY_SHARE = 0.5;
/** Above this share the last lines were too easy. */
export const EASY_SHARE = 0.92;

/** How one player's takes came out, by line. */
export interface PlayerState {
  playerId: string;
  instrumentId: string;
  results: {
    lineId: string;
    takes: number;
    clean: number;
    tempo: { reached: number; goal: number } | null;
  }[];
}
