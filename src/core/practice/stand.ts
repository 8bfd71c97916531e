/** What of a task decides where it lies on the stand. */
export interface OnStand {
  state: "open" | "sent" | "again" | "accepted";
  /** Beside what is required. */
  extra: boolean;
  /** Opened by the player's own choice. */
  chosen: boolean;
  /** It is on the stand, and not only announced for a later day. */
  opened: boolean;
  overdue: boolean;
  timesPerWeek: number;
  /** Local days of this week on which it was practised. */
  practisedOn: readonly string[];
}

/**
 * Where a task lies on the stand: "todo" is required and not done today, "done-today" required and done for today, "extra" for who
 * wants more, "chosen" opened by own choice, "done" sent, accepted, or practised as often as was asked, "later" opens on another
 * day.
 */
export type Heap = "todo" | "done-today" | "extra" | "chosen" | "done" | "later";

/**
 * Lays a task where it belongs: required first, extras after, what the player chose apart. A take that was sent does not end the
 * practising of a line that is asked for on more days; what is asked again comes before everything.
 * @param today  local day
 */
export function heapOf(task: OnStand, today: string): Heap {
  if (!task.opened) return "later";
  if (task.state === "again") return "todo";
  const asked =
    task.state === "open" ||
    (task.state === "sent" && !task.overdue && task.practisedOn.length < task.timesPerWeek);
  if (!asked) return "done";
  if (task.chosen) return "chosen";
  if (task.extra) return "extra";
  return task.practisedOn.includes(today) ? "done-today" : "todo";
}

/** So many lines of a player's own choice are open at once. */
export const MOST_CHOSEN = 3;

/**
 * The line a player may open by own choice: the one that follows the furthest that was given, in the order the band is taught
 * in. Nothing where nothing was given yet: somebody has to say where the book begins.
 *
 * @param inOrder  lines of the book in the order of teaching
 * @param given    lines a director gave to the player
 * @param chosen   lines the player opened before
 * @example
 * nextOwnLine([{ id: "a" }, { id: "b" }, { id: "c" }], new Set(["a"]), new Set(["b"])) // => { id: "c" }
 */
export function nextOwnLine<L extends { id: string }>(
  inOrder: readonly L[],
  given: ReadonlySet<string>,
  chosen: ReadonlySet<string>,
): L | null {
  const furthest = inOrder.findLastIndex(({ id }) => given.has(id));
  if (furthest < 0) return null;
  return inOrder.slice(furthest + 1).find(({ id }) => !chosen.has(id)) ?? null;
}
