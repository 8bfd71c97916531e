import type { Terms } from "../practice";
import type { Reason } from "./reason";

/**
 * What can be put on a day: material of the shelf, things that are not, and words.
 * `drill` is the two-note change drill, `cards` are flash-card minutes, `text` is whatever a director writes.
 */
export const STRIP_KINDS = [
  "line",
  "routine",
  "counting",
  "piece",
  "drill",
  "cards",
  "listening",
  "worksheet",
  "test",
  "text",
] as const;
export type StripKind = (typeof STRIP_KINDS)[number];

/** Everybody of the group, the players of one instrument, or one player. */
export type ForWhom =
  | { kind: "everyone" }
  | { kind: "instrument"; instrumentId: string }
  | { kind: "player"; playerId: string };

/** A strip of the ribbon: one thing a group does in class or at home on one day. */
export interface Strip {
  id: string;
  groupId: string;
  where: "class" | "home";
  forWhom: ForWhom;
  /** Local day. */
  date: string;
  /** Order within its day: smaller is earlier. Any number, so that one that moves leaves the others as they are. */
  place: number;
  kind: StripKind;
  /** The line, routine or page; null for what is not on the shelf. */
  refId: string | null;
  title: string;
  minutes: number;
  /** Indexes of the bars worked on; null for the whole. */
  firstBar: number | null;
  lastBar: number | null;
  note: string;
  /** Why it was proposed; null for what a director put there. */
  reason: Reason | null;
  /** How it is given, where that was said. */
  terms?: Terms;
  /** The class did not get to it. */
  notReached?: true;
}

/** Fewest and most minutes of a strip. */
export const LEAST_MINUTES = 1;
export const MOST_MINUTES = 120;

/** One cell of the ribbon. */
export interface Cell {
  groupId: string;
  where: "class" | "home";
  date: string;
}

/** How full a cell is, in minutes. */
export interface Load {
  used: number;
  /** Minutes there are; null where nothing limits them. */
  budget: number | null;
  /** Minutes too many; 0 when all fits. */
  over: number;
}

/**
 * Whether what stands on a day fits its minutes. In class every block after the first costs the changeover: books, reeds,
 * mallets (common practice, no published source: about a minute). Work for one instrument or player beside that of the others
 * does not add up at home: everybody has their own; the fullest counts.
 *
 * @param budget  minutes there are, null for no limit
 * @param changeover  minutes between two blocks
 */
export function loadOf(
  strips: readonly Strip[],
  where: "class" | "home",
  budget: number | null,
  changeover: number,
): Load {
  const used = where === "class" ? inClass(strips, changeover) : atHome(strips);
  return { used, budget, over: budget === null ? 0 : Math.max(0, used - budget) };
}

function inClass(strips: readonly Strip[], changeover: number): number {
  const blocks = strips.reduce((sum, { minutes }) => sum + minutes, 0);
  return blocks + Math.max(0, strips.length - 1) * changeover;
}

function atHome(strips: readonly Strip[]): number {
  const shared = strips.filter(({ forWhom }) => forWhom.kind === "everyone");
  const own = new Map<string, number>();
  for (const { forWhom, minutes } of strips)
    if (forWhom.kind !== "everyone") own.set(keyOf(forWhom), (own.get(keyOf(forWhom)) ?? 0) + minutes);
  return shared.reduce((sum, { minutes }) => sum + minutes, 0) + Math.max(0, ...own.values());
}

/** One text for a target: two strips are for the same people exactly when these are equal. */
export function keyOf(forWhom: ForWhom): string {
  if (forWhom.kind === "instrument") return `instrument/${forWhom.instrumentId}`;
  return forWhom.kind === "player" ? `player/${forWhom.playerId}` : "everyone";
}

/** Strips of a cell in their order. */
export function stripsOn(strips: readonly Strip[], { groupId, where, date }: Cell): Strip[] {
  return strips
    .filter((strip) => strip.groupId === groupId && strip.where === where && strip.date === date)
    .sort((a, b) => a.place - b.place || (a.id < b.id ? -1 : 1));
}

/** The place between two neighbours; after the last and before the first where one is missing. */
export function placeBetween(before: number | null, after: number | null): number {
  if (before === null && after === null) return 0;
  if (before === null) return after! - 1;
  return after === null ? before + 1 : (before + after) / 2;
}

/**
 * Minutes to plan for material that sounds so many seconds, once through: in class it is read, taken apart and played again
 * (about four times its length and two minutes of words), at home about five times its length; never less than 2, whole
 * minutes. Rules of thumb (common practice, no published source); a director changes them on the strip.
 * A routine and a counting page know their own length and are taken as they are.
 * @param seconds  once through at the goal tempo
 */
export function minutesToPlan(kind: StripKind, seconds: number, where: "class" | "home"): number {
  const whole = (s: number) => Math.min(MOST_MINUTES, Math.max(2, Math.ceil(s / 60 - 1e-9)));
  if (kind === "routine" || kind === "counting") return whole(seconds);
  return whole(where === "class" ? 4 * seconds + 120 : 5 * seconds);
}

/** A block of a run sheet with its clock. */
export interface Block {
  strip: Strip;
  /** Minutes after the class begins. */
  startsAfter: number;
  endsAfter: number;
}

/**
 * The run sheet of a class: each block with the minutes after the beginning, the changeover between.
 * @returns what is left over as well: the strips that begin when the time is up
 */
export function runSheet(
  strips: readonly Strip[],
  budget: number | null,
  changeover: number,
): { blocks: Block[]; leftOver: Strip[] } {
  let at = 0;
  const blocks: Block[] = [];
  const leftOver: Strip[] = [];
  for (const strip of strips) {
    const startsAfter = blocks.length === 0 ? 0 : at + changeover;
    if (budget !== null && startsAfter >= budget) {
      leftOver.push(strip);
      continue;
    }
    at = startsAfter + strip.minutes;
    blocks.push({ strip, startsAfter, endsAfter: at });
  }
  return { blocks, leftOver };
}
