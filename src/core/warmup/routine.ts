import { type Instrument, instrumentById } from "../music";
import { inOrder, type PlayAlong, playAlong } from "../playalong";
import { timeline } from "../score";
import { type Block, blockTitle } from "./block";
import { buildBlock, isBrass, temposOf } from "./build";
import type { PlayerKind } from "./segment";

/** An ordered warm-up with a clock. */
export interface Routine {
  title: string;
  blocks: Block[];
  /** Between two blocks: a breath, a word, turning the page. */
  changeoverSec: number;
  /** What the routine may take in all. */
  budgetSec: number;
  /** Tempo of the piece that follows, quarter notes a minute; blocks may take it over. */
  pieceBpm: number;
}

export const ROUTINE_LIMITS = {
  blocks: 24,
  changeoverSec: [0, 60],
  budgetSec: [60, 3600],
} as const;

export interface BlockClock {
  id: string;
  fromSec: number;
  /** From its first count-off to its last count. */
  seconds: number;
  counts: number;
}

export interface Clock {
  blocks: BlockClock[];
  totalSec: number;
  /** More than the budget, or 0. */
  overSec: number;
}

/** Each block, and each tempo of a ladder, is counted off with four counts. */
const COUNT_OFF = 4;
const TIMEKEEPER: PlayerKind = { instrument: instrumentById("snare"), stage: "widening" };

/**
 * Exact times of a routine: counts and count-offs at their tempi, changeovers between blocks.
 * seconds = sum over the tempi of (4 + counts) * 60 / bpm.
 * @throws WarmUpError for a block that cannot be played
 */
export function clockOf(routine: Routine): Clock {
  let at = 0;
  const blocks = routine.blocks.map((block): BlockClock => {
    const { counts } = buildBlock(block, routine.pieceBpm)(TIMEKEEPER);
    const seconds = temposOf(block.tempo, routine.pieceBpm).reduce(
      (sum, bpm) => sum + ((COUNT_OFF + counts) * 60) / bpm,
      0,
    );
    const clock = { id: block.id, fromSec: at, seconds, counts };
    at += seconds + routine.changeoverSec;
    return clock;
  });
  const totalSec = Math.max(0, at - (blocks.length > 0 ? routine.changeoverSec : 0));
  return { blocks, totalSec, overSec: Math.max(0, totalSec - routine.budgetSec) };
}

export interface RestBalance {
  instrument: Instrument;
  playingSec: number;
  restingSec: number;
}

/**
 * How long the lips work and rest in a routine, the hardest-worked brass instrument of the band; null without brass.
 * Count-offs and changeovers are rest; so is a block that the player's group sits out.
 */
export function restBalance(
  routine: Routine,
  players: readonly (PlayerKind & { groups?: readonly string[] })[],
): RestBalance | null {
  const total = clockOf(routine).totalSec;
  const balances = players.filter(isBrass).map((player): RestBalance => {
    const playingSec = routine.blocks
      .filter((block) => block.family !== "breathing" && !sitsOut(block, player.groups ?? []))
      .reduce((sum, block) => {
        const { playingCounts } = buildBlock(block, routine.pieceBpm)(player);
        return (
          sum +
          temposOf(block.tempo, routine.pieceBpm).reduce((all, bpm) => all + (playingCounts * 60) / bpm, 0)
        );
      }, 0);
    return { instrument: player.instrument, playingSec, restingSec: total - playingSec };
  });
  return balances.reduce<RestBalance | null>(
    (worst, each) => (!worst || each.playingSec > worst.playingSec ? each : worst),
    null,
  );
}

/** A player sits a block out when every group they belong to does. */
export function sitsOut(block: Block, groups: readonly string[]): boolean {
  return groups.length > 0 && groups.every((group) => block.mutedFor.includes(group));
}

/** One thing that was taken away so that a routine fits. */
export interface FitChange {
  kind: "keys" | "rounds" | "repeats" | "tempi" | "steps" | "values" | "changeover";
  /** The block as it is now; null for the changeovers between blocks. */
  block: Block | null;
  savedSec: number;
}

export interface Fitted {
  routine: Routine;
  /** What was taken away, in order. */
  changes: FitChange[];
  /** What is still too long when every rule is used up. */
  overSec: number;
}

/**
 * Shortens a routine until it fits its budget, by rules in this order, one step at a time:
 * 1. the last key of the scales with the most keys; 2. one time through of the longest block that is repeated (breathing
 * keeps its rounds); 3. the first tempo of a ladder, the last one being the goal; 4. one step of the longest block that
 * moves by steps, down to three; 5. the last note value of slurs or tongue drills; 6. changeovers down to five seconds.
 * Counts of rest are never taken away.
 */
export function fitToBudget(routine: Routine): Fitted {
  let now = routine;
  const changes: FitChange[] = [];
  for (let clock = clockOf(now); clock.overSec > 0.05; clock = clockOf(now)) {
    const secondsOf = new Map(clock.blocks.map((block) => [block.id, block.seconds]));
    const step = RULES.map((rule) => rule(now, (block) => secondsOf.get(block.id)!)).find(Boolean);
    if (!step) break;
    const before = changes.find(({ kind, block }) => kind === step.kind && block?.id === step.block?.id);
    const savedSec = clock.totalSec - clockOf(step.routine).totalSec + (before?.savedSec ?? 0);
    if (before) Object.assign(before, { block: step.block, savedSec });
    else changes.push({ kind: step.kind, block: step.block, savedSec });
    now = step.routine;
  }
  return { routine: now, changes, overSec: clockOf(now).overSec };
}

/**
 * Minutes and seconds: "9:40".
 * @example
 * clockText(605) // => "10:05"
 */
export function clockText(sec: number): string {
  const whole = Math.round(sec);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}

type Rule = (
  routine: Routine,
  seconds: (block: Block) => number,
) => (Pick<FitChange, "kind" | "block"> & { routine: Routine }) | undefined;

const LEAST_STEPS = 3;
export const SHORT_CHANGEOVER_SEC = 5;

/** Changes the longest block that a change applies to. */
function onLongest(
  kind: FitChange["kind"],
  applies: (block: Block) => boolean,
  change: (block: Block) => Block,
): Rule {
  return (routine, seconds) => {
    const chosen = routine.blocks
      .filter(applies)
      .reduce<Block | undefined>(
        (best, block) => (!best || seconds(block) > seconds(best) ? block : best),
        undefined,
      );
    if (!chosen) return undefined;
    const after = change(chosen);
    return {
      routine: { ...routine, blocks: routine.blocks.map((block) => (block === chosen ? after : block)) },
      kind,
      block: after,
    };
  };
}

const TIMES = ["rounds", "repeats"] as const;

const RULES: Rule[] = [
  (routine, seconds) => {
    const most = Math.max(
      0,
      ...routine.blocks.map((block) => (block.family === "scales" ? block.keys.length : 0)),
    );
    return onLongest(
      "keys",
      (block) => block.family === "scales" && block.keys.length === most && most > 1,
      (block) => (block.family === "scales" ? { ...block, keys: block.keys.slice(0, -1) } : block),
    )(routine, seconds);
  },
  ...TIMES.map((name) =>
    onLongest(
      name,
      (block) =>
        block.family !== "breathing" &&
        name in block &&
        (block as unknown as Record<string, number>)[name]! > 1,
      (block) => ({ ...block, [name]: (block as unknown as Record<string, number>)[name]! - 1 }) as Block,
    ),
  ),
  onLongest(
    "tempi",
    (block) => block.tempo.kind === "ladder" && block.tempo.bpms.length > 1,
    (block) =>
      block.tempo.kind === "ladder"
        ? { ...block, tempo: { ...block.tempo, bpms: block.tempo.bpms.slice(1) } }
        : block,
  ),
  onLongest(
    "steps",
    (block) => "steps" in block && block.family !== "range-steps" && block.steps > LEAST_STEPS,
    (block) => ("steps" in block ? { ...block, steps: block.steps - 1 } : block),
  ),
  onLongest(
    "values",
    (block) => "values" in block && block.values.length > 1,
    (block) => ("values" in block ? { ...block, values: block.values.slice(0, -1) } : block),
  ),
  (routine) =>
    routine.changeoverSec > SHORT_CHANGEOVER_SEC
      ? {
          routine: { ...routine, changeoverSec: SHORT_CHANGEOVER_SEC },
          kind: "changeover",
          block: null,
        }
      : undefined,
];

/** The routine as one kind of player hears it: every block from its count-off, at every tempo, with its changeover. */
export function routinePlan(routine: Routine, player: PlayerKind): PlayAlong {
  const clock = clockOf(routine);
  const events: PlayAlong["events"] = [];
  const phases: NonNullable<PlayAlong["phases"]> = [];
  routine.blocks.forEach((block, i) => {
    let at = clock.blocks[i]!.fromSec;
    const { score } = buildBlock(block, routine.pieceBpm)(player);
    for (const bpm of temposOf(block.tempo, routine.pieceBpm)) {
      const plan = playAlong(timeline(score, { bpm }));
      phases.push({
        label: block.tempo.kind === "ladder" ? `${blockTitle(block)}, ${bpm} bpm` : blockTitle(block),
        fromSec: at,
      });
      // A name of its own for each block: the noteheads of two blocks may have one id.
      for (const event of plan.events)
        events.push({
          ...event,
          atSec: event.atSec + at,
          ...(event.eventId ? { eventId: `${block.id}/${event.eventId}` } : {}),
        });
      at += plan.totalSec;
    }
  });
  return {
    events: inOrder(events),
    startSec:
      (COUNT_OFF * 60) / temposOf(routine.blocks[0]?.tempo ?? { kind: "piece" }, routine.pieceBpm)[0]!,
    totalSec: clock.totalSec,
    phases,
  };
}
