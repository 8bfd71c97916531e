import type { Naming } from "../playalong";
import { tappedTempo } from "../playalong";
import { FASTEST_BPM, SLOWEST_BPM } from "../score";
import { FIRST_NOTES, type FirstNote, ROOM_WAYS, type RoomWay } from "./plan";

/** What the wall shows of a block. */
export const WALL_VIEWS = ["board", "notes", "who", "tuning"] as const;
export type WallView = (typeof WALL_VIEWS)[number];

/** A block of the lesson as the wall needs it to find its way. */
export interface WallBlock {
  id: string;
  minutes: number;
  /** Goal tempo; null for what has no notes. */
  bpm: number | null;
  /** Bars it was planned for, by their printed numbers; empty for the whole. */
  bars: string;
}

/** Tempo steps after clean passes, up to a goal. */
export interface Ramp {
  by: number;
  to: number;
}

/** Everything that is shown and heard on the wall; the same after a reload, and on the phone. */
export interface WallState {
  /** Ids of the blocks in the order they are done. */
  order: string[];
  /** The block that is on. */
  at: string;
  /** Blocks that were done, and those that were left out, in the order it happened. */
  done: string[];
  skipped: string[];
  /** Milliseconds since the epoch: when the lesson began, and the block that is on. */
  begunAt: number;
  blockAt: number;
  /** Minutes added to a block, or taken off. */
  added: Record<string, number>;
  /** Raised by every start; null while nothing sounds. */
  playing: number | null;
  runs: number;
  /** Bars by their printed numbers, as they were typed; empty for the whole. */
  bars: string;
  /** Beats a minute chosen for a block; its goal where nothing was. */
  bpm: Record<string, number>;
  way: RoomWay;
  loop: boolean;
  countBars: number;
  subdivisions: 1 | 2 | 3 | 4;
  firstNote: FirstNote;
  ramp: Ramp | null;
  view: WallView;
  /** Whose notation is shown: an instrument's id, or "concert". */
  part: string;
  naming: Naming;
  concert: boolean;
  fingerings: boolean;
  /** Instruments whose rows are shown, and who plays; everybody when null. */
  shown: string[] | null;
  playingOnes: string[] | null;
  /** A private practice time: when it ends, ms. */
  timer: { untilMs: number; seconds: number } | null;
  drone: boolean;
  dark: boolean;
}

/** What a wall can be told, by its own keys or from a phone. */
export type WallCommand =
  | {
      kind:
        | "next"
        | "back"
        | "play"
        | "stop"
        | "clean"
        | "drone"
        | "dark"
        | "concert"
        | "fingerings"
        | "loop"
        | "skip"
        | "timer-off";
    }
  | { kind: "go"; block: string }
  | { kind: "swap"; block: string }
  | { kind: "extend"; minutes: number }
  | { kind: "tempo"; bpm: number }
  | { kind: "faster"; by: number }
  | { kind: "bars"; bars: string }
  | { kind: "way"; way: RoomWay }
  | { kind: "count"; bars: number }
  | { kind: "subdivide"; by: 1 | 2 | 3 | 4 }
  | { kind: "first-note"; how: FirstNote }
  | { kind: "ramp"; ramp: Ramp | null }
  | { kind: "view"; view: WallView }
  | { kind: "part"; part: string }
  | { kind: "naming"; naming: Naming }
  | { kind: "rows"; instruments: string[] | null }
  | { kind: "call"; instruments: string[] | null }
  | { kind: "timer"; seconds: number };

/** What comes later than this after it was pressed is not wanted any more, ms: the lesson has gone on without it. */
const STALE_MS = 8_000;

/** A command as it reaches the wall: its number, and how long ago it was pressed, ms. */
export interface Told {
  seq: number;
  command: WallCommand;
  ageMs: number;
}

/**
 * The commands a wall follows of those that reached it: each once, in their order, none that comes too late.
 * @param last  number of the last one that reached it before
 */
export function toFollow(told: readonly Told[], last: number): WallCommand[] {
  return [...told]
    .sort((a, b) => a.seq - b.seq)
    .filter(({ seq, ageMs }, i, all) => seq > (all[i - 1]?.seq ?? last) && seq > last && ageMs <= STALE_MS)
    .map(({ command }) => command);
}
const MOST_ADDED = 60;

/** The wall as a lesson begins. */
export function firstState(
  blocks: readonly WallBlock[],
  nowMs: number,
  naming: Naming = "letters",
): WallState {
  return {
    order: blocks.map(({ id }) => id),
    at: blocks[0]?.id ?? "",
    done: [],
    skipped: [],
    begunAt: nowMs,
    blockAt: nowMs,
    added: {},
    playing: null,
    runs: 0,
    bars: blocks[0]?.bars ?? "",
    bpm: {},
    way: "play",
    loop: false,
    countBars: 1,
    subdivisions: 1,
    firstNote: FIRST_NOTES[1],
    ramp: null,
    view: "board",
    part: "concert",
    naming,
    concert: false,
    fingerings: false,
    shown: null,
    playingOnes: null,
    timer: null,
    drone: false,
    dark: true,
  };
}

/** A lesson that goes on with its sheet as it is now: what was taken off is gone, what is new comes last. */
export function onSheet(state: WallState, blocks: readonly WallBlock[]): WallState {
  const ids = new Set(blocks.map(({ id }) => id));
  const order = [
    ...state.order.filter((id) => ids.has(id)),
    ...blocks.map(({ id }) => id).filter((id) => !state.order.includes(id)),
  ];
  return { ...state, order, at: ids.has(state.at) ? state.at : (order[0] ?? "") };
}

/** Nothing was played or left yet: it was looked at only. */
export function isUntouched(state: WallState): boolean {
  return state.runs === 0 && state.done.length === 0 && state.skipped.length === 0;
}

/** A lesson that was looked at before it began begins when it is opened to be held. */
export function begunNow(state: WallState, nowMs: number): WallState {
  return isUntouched(state) ? { ...state, begunAt: nowMs, blockAt: nowMs } : state;
}

/** Tempo of a block: what was chosen, else its goal. */
export function bpmOf(state: WallState, block: WallBlock | undefined): number {
  return (block && (state.bpm[block.id] ?? block.bpm)) ?? 80;
}

/**
 * The wall after a command. What makes no sense where it is (the block after the last, a tempo that no line has) leaves it as it is.
 * @param nowMs  milliseconds since the epoch
 */
export function tell(
  state: WallState,
  command: WallCommand,
  blocks: readonly WallBlock[],
  nowMs: number,
): WallState {
  const block = blocks.find(({ id }) => id === state.at);
  const place = state.order.indexOf(state.at);
  switch (command.kind) {
    case "next":
    case "skip": {
      const left = command.kind === "next" ? "done" : "skipped";
      const next = state.order.slice(place + 1).find((id) => !state.skipped.includes(id));
      const ended = { ...state, [left]: withId(state[left], state.at) };
      return next ? arrive(ended, next, blocks, nowMs) : { ...ended, playing: null };
    }
    case "back": {
      const before = state.order[place - 1];
      return before ? arrive(state, before, blocks, nowMs) : state;
    }
    case "go":
      return state.order.includes(command.block) && command.block !== state.at
        ? arrive({ ...state, done: withId(state.done, state.at) }, command.block, blocks, nowMs)
        : state;
    case "swap":
      return swapped(state, command.block);
    case "extend": {
      const minutes = (state.added[state.at] ?? 0) + command.minutes;
      return Math.abs(minutes) > MOST_ADDED
        ? state
        : { ...state, added: { ...state.added, [state.at]: minutes } };
    }
    case "play":
      return { ...state, playing: state.runs + 1, runs: state.runs + 1, drone: false };
    case "stop":
      return { ...state, playing: null, drone: false };
    case "tempo":
      return atTempo(state, command.bpm);
    case "faster":
      return atTempo(state, bpmOf(state, block) + command.by);
    case "clean":
      return state.ramp && block
        ? atTempo(state, Math.min(state.ramp.to, bpmOf(state, block) + state.ramp.by))
        : state;
    case "bars":
      return { ...state, bars: command.bars, playing: null };
    case "way":
      return { ...state, way: command.way, playing: null };
    case "count":
      return { ...state, countBars: command.bars, playing: null };
    case "subdivide":
      return { ...state, subdivisions: command.by, playing: null };
    case "first-note":
      return { ...state, firstNote: command.how, playing: null };
    case "loop":
      return { ...state, loop: !state.loop, playing: null };
    case "ramp":
      return { ...state, ramp: command.ramp };
    case "view":
      return { ...state, view: command.view };
    case "part":
      return { ...state, part: command.part, view: "notes" };
    case "naming":
      return { ...state, naming: command.naming };
    case "rows":
      return { ...state, shown: command.instruments };
    case "call":
      return { ...state, playingOnes: command.instruments };
    case "concert":
      return { ...state, concert: !state.concert };
    case "fingerings":
      return { ...state, fingerings: !state.fingerings };
    case "timer":
      return {
        ...state,
        timer: { untilMs: nowMs + 1000 * command.seconds, seconds: command.seconds },
        playing: null,
      };
    case "timer-off":
      return { ...state, timer: null };
    case "drone":
      return { ...state, drone: !state.drone, playing: null };
    case "dark":
      return { ...state, dark: !state.dark };
  }
}

/** Another block is on: its bars are those it was planned for, nothing sounds. */
function arrive(state: WallState, block: string, blocks: readonly WallBlock[], nowMs: number): WallState {
  return {
    ...state,
    at: block,
    blockAt: nowMs,
    playing: null,
    drone: false,
    bars: blocks.find(({ id }) => id === block)?.bars ?? "",
    way: ROOM_WAYS[0],
    timer: null,
    ramp: null,
    playingOnes: null,
    view: "board",
    skipped: state.skipped.filter((id) => id !== block),
  };
}

/** A block that is still to come is done next. */
function swapped(state: WallState, block: string): WallState {
  const order = state.order.filter((id) => id !== block);
  const place = order.indexOf(state.at);
  if (block === state.at || order.length === state.order.length) return state;
  return { ...state, order: [...order.slice(0, place + 1), block, ...order.slice(place + 1)] };
}

function atTempo(state: WallState, bpm: number): WallState {
  const whole = Math.round(bpm);
  if (!(whole >= SLOWEST_BPM && whole <= FASTEST_BPM)) return state;
  return { ...state, bpm: { ...state.bpm, [state.at]: whole } };
}

const withId = (ids: readonly string[], id: string) => [...ids.filter((each) => each !== id), id];

/** The lesson's clock at a moment, in seconds. */
export interface LessonClock {
  /** Left of this block; negative when it runs over. */
  blockLeftSec: number;
  /** Since the lesson began. */
  goneSec: number;
  /** From now to its end as it looks: the rest of this block, what comes, and the changeovers between. */
  toGoSec: number;
  /** Milliseconds since the epoch at which it will end. */
  endsAtMs: number;
  /** The block that comes next; null after the last. */
  next: string | null;
}

/**
 * When the lesson will end if everything that is left takes its minutes.
 * @param changeoverMin  minutes between two blocks
 */
export function lessonClock(
  state: WallState,
  blocks: readonly WallBlock[],
  changeoverMin: number,
  nowMs: number,
): LessonClock {
  const seconds = (id: string) =>
    60 * Math.max(0, (blocks.find((block) => block.id === id)?.minutes ?? 0) + (state.added[id] ?? 0));
  const coming = state.order
    .slice(state.order.indexOf(state.at) + 1)
    .filter((id) => !state.skipped.includes(id) && !state.done.includes(id));
  const ended = coming.length === 0 && (state.done.includes(state.at) || state.skipped.includes(state.at));
  const blockLeftSec = ended ? 0 : seconds(state.at) - (nowMs - state.blockAt) / 1000;
  const toGoSec =
    Math.max(0, blockLeftSec) + coming.reduce((sum, id) => sum + seconds(id) + 60 * changeoverMin, 0);
  return {
    blockLeftSec,
    goneSec: (nowMs - state.begunAt) / 1000,
    toGoSec,
    endsAtMs: nowMs + 1000 * toGoSec,
    next: coming[0] ?? null,
  };
}

/** A tempo tapped on a key or a phone; null before there are two taps. @param tapsMs  in order */
export function tapTempo(tapsMs: readonly number[]): number | null {
  return tappedTempo(tapsMs.map((ms) => ms / 1000));
}
