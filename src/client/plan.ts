import { applyStep, joinSteps, type Step, type Strip, stepBetween } from "../core/plan";
import type { Asks, SavedPlan, StripView } from "../services/week/schema";
import { ApiError } from "./api";

/** Waits for the hand to rest before it saves, ms. */
const REST_MS = 500;
const RETRY_MS = 5_000;
const LONGEST_HISTORY = 200;
/** The same thing done again within this time is one step of undo, ms. */
const ONE_ACT_MS = 2_000;

/** A strip somebody else changed while it was being changed here. */
export interface Conflict {
  id: string;
  /** What they did: "changed" or "taken off". */
  said: string;
  /** What was wanted here; null to take it off. */
  mine: Strip | null;
}

/** The plan as it is shown. */
export interface PlanState {
  strips: readonly Strip[];
  asks: Asks;
  /** What was put on stands, by strip. */
  given: ReadonlyMap<string, boolean>;
  saving: "kept" | "keeping" | "failed";
  /** Why it could not be saved. */
  problem: string;
  conflicts: readonly Conflict[];
  canUndo: boolean;
  canRedo: boolean;
}

export interface SentPlan {
  since: number;
  changes: { id: string; basis: number | null; strip: Strip | null }[];
}

/**
 * The strips of a ribbon as one page holds them: changed at once, kept by themselves a moment later, taken back and brought
 * again step by step. What others change meanwhile comes in with each answer; where both changed one strip theirs stands, and
 * what was wanted here is offered. Undo touches only what was done here.
 *
 * @param send  saves changes and brings what others changed
 */
export function openPlan(
  first: { strips: readonly StripView[]; asks: Asks; version: number },
  send: (plan: SentPlan) => Promise<SavedPlan>,
) {
  const kept = new Map(first.strips.map((strip) => [strip.id, strip]));
  /** Versions of strips that were taken off, should they come back. */
  const gone = new Map<string, number>();
  let version = first.version;
  let past: readonly Step[] = [];
  let future: readonly Step[] = [];
  let underWay = false;
  let last = { doing: "", at: 0 };
  let timer: ReturnType<typeof setTimeout> | undefined;
  let state: PlanState = {
    strips: first.strips,
    asks: first.asks,
    given: new Map(first.strips.map(({ id, onStands }) => [id, onStands])),
    saving: "kept",
    problem: "",
    conflicts: [],
    canUndo: false,
    canRedo: false,
  };
  const listeners = new Set<() => void>();
  const set = (changed: Partial<PlanState>) => {
    state = { ...state, ...changed, canUndo: past.length > 0, canRedo: future.length > 0 };
    for (const told of listeners) told();
  };

  const changes = (): SentPlan["changes"] => {
    const here = new Set(state.strips.map(({ id }) => id));
    return [
      ...state.strips
        .filter((strip) => !same(strip, kept.get(strip.id)))
        .map((strip) => ({
          id: strip.id,
          basis: kept.get(strip.id)?.version ?? gone.get(strip.id) ?? null,
          strip: bare(strip),
        })),
      ...[...kept.values()]
        .filter(({ id }) => !here.has(id))
        .map(({ id, version: basis }) => ({ id, basis, strip: null })),
    ];
  };

  const soon = (after = REST_MS) => {
    clearTimeout(timer);
    timer = setTimeout(() => keep(), after);
    // Said from the first moment: a page that says "all saved" may be closed.
    if (state.saving === "kept") set({ saving: "keeping" });
  };

  const keep = async (look = false): Promise<void> => {
    clearTimeout(timer);
    timer = undefined;
    if (underWay) return;
    const sent = changes();
    if (sent.length === 0 && !look) return set({ saving: "kept", problem: "" });
    underWay = true;
    if (sent.length > 0) set({ saving: "keeping" });
    try {
      take(await send({ since: version, changes: sent }), sent);
      set({ saving: changes().length === 0 ? "kept" : "keeping", problem: "" });
      if (changes().length > 0) soon();
    } catch (error) {
      const known = error instanceof ApiError ? error : new ApiError("This could not be saved.", "failed");
      set({ saving: "failed", problem: known.message });
      // What is refused for good is put back as it was kept; a lost connection is tried again.
      if (PASSING.has(known.code)) soon(RETRY_MS);
      else if (sent.length > 0) set({ strips: [...kept.values()] });
    } finally {
      underWay = false;
    }
  };

  const take = (answer: SavedPlan, sent: SentPlan["changes"]) => {
    const refused = new Set(answer.refused.map(({ id }) => id));
    const mine = new Map(sent.map(({ id, strip }) => [id, strip]));
    const strips = new Map(state.strips.map((strip) => [strip.id, strip]));
    version = answer.version;
    const conflicts: Conflict[] = answer.refused.map(({ id, said }) => ({
      id,
      said,
      mine: mine.get(id) ?? null,
    }));
    /** Changed here since it was sent, or since it was told where nothing of it was sent. */
    const touched = (id: string) => {
      const asked = mine.has(id) ? (mine.get(id) ?? null) : (kept.get(id) ?? null);
      const now = strips.get(id) ?? null;
      return asked === null || now === null ? asked !== now : !same(now, asked);
    };
    const theirs = (id: string, said: string) => {
      const changedHere = touched(id);
      if (changedHere && !mine.has(id)) conflicts.push({ id, said, mine: strips.get(id) ?? null });
      // What was changed here after it was sent stays, and is sent next.
      return !changedHere || !mine.has(id) || refused.has(id);
    };
    for (const strip of answer.strips) {
      if (theirs(strip.id, "changed")) strips.set(strip.id, strip);
      kept.set(strip.id, strip);
    }
    for (const { id, version: takenOffAt } of answer.gone) {
      if (theirs(id, "taken off")) strips.delete(id);
      kept.delete(id);
      gone.set(id, takenOffAt);
    }
    set({
      strips: [...strips.values()],
      asks: { ...state.asks, ...answer.asks },
      given: new Map([...state.given, ...answer.strips.map(({ id, onStands }) => [id, onStands] as const)]),
      conflicts: [
        ...state.conflicts.filter(({ id }) => !conflicts.some((each) => each.id === id)),
        ...conflicts,
      ],
    });
  };

  /** @param doing  what is being done, where a row of changes such as a word that is typed counts as one step of undo */
  const change = (next: readonly Strip[], doing = "") => {
    const step = stepBetween(state.strips, next);
    if (step.length === 0) return;
    const before = past.at(-1);
    const goesOn = before && doing !== "" && doing === last.doing && Date.now() - last.at < ONE_ACT_MS;
    past = goesOn ? [...past.slice(0, -1), joinSteps(before, step)] : [...past, step].slice(-LONGEST_HISTORY);
    last = { doing, at: Date.now() };
    future = [];
    set({ strips: next });
    soon();
  };

  return {
    subscribe: (told: () => void) => {
      listeners.add(told);
      return () => {
        listeners.delete(told);
      };
    },
    state: () => state,
    change,
    undo: () => {
      const step = past.at(-1);
      if (!step) return;
      last = { doing: "", at: 0 };
      past = past.slice(0, -1);
      future = [step, ...future];
      set({ strips: applyStep(state.strips, step, "undo") });
      soon();
    },
    redo: () => {
      const [step, ...rest] = future;
      if (!step) return;
      future = rest;
      past = [...past, step];
      set({ strips: applyStep(state.strips, step, "redo") });
      soon();
    },
    /** Saves what is not saved yet, and looks what others did. */
    look: () => keep(true),
    /** Saves now what would be saved in a moment: the page is being left. */
    leave: () => {
      if (timer !== undefined) keep();
    },
    addAsks: (asks: Asks) => set({ asks: { ...state.asks, ...asks } }),
    /** Ends a conflict: as the others have it, or as it was wanted here. */
    settle: (id: string, way: "theirs" | "mine") => {
      const conflict = state.conflicts.find((each) => each.id === id);
      set({ conflicts: state.conflicts.filter((each) => each.id !== id) });
      if (way === "theirs" || !conflict) return;
      const others = state.strips.filter((strip) => strip.id !== id);
      change(conflict.mine === null ? others : [...others, conflict.mine]);
    },
  };
}

/** Refusals that pass by themselves. */
const PASSING = new Set(["offline", "failed", "busy"]);

/** A strip as it is sent: without what the server adds. */
function bare(strip: Strip): Strip {
  const { version: _version, assignmentId: _task, onStands: _given, ...rest } = strip as StripView;
  return rest;
}

function same(a: Strip, b: Strip | null | undefined): boolean {
  return b != null && (a === b || JSON.stringify(sorted(a)) === JSON.stringify(sorted(b)));
}

const sorted = (strip: Strip) => Object.entries(bare(strip)).sort(([a], [b]) => (a < b ? -1 : 1));
