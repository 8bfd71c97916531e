import { useEffect, useRef } from "react";
import { type Leg, STEP_KINDS, type Standing } from "../../../core/practice";
import { STEP_SHORT } from "../../../ui/wording";

interface Props {
  path: readonly Leg[];
  standing: Standing;
  now: number;
  possible: (leg: Leg) => boolean;
  go: (leg: Leg) => void;
}

/** The path as a row: what is done, where one is, what comes. Any step can be gone to. */
export function Steps({ path, standing, now, possible, go }: Props) {
  const row = useRef<HTMLOListElement>(null);
  const here = useRef<HTMLLIElement>(null);
  // On a phone the row is longer than the screen: where one is stays in sight.
  useEffect(() => {
    const [list, item] = [row.current, now >= 0 ? here.current : null];
    if (list && item) list.scrollLeft = item.offsetLeft - list.offsetLeft - list.clientWidth / 3;
  }, [now]);
  if (path.length < 2) return null;
  return (
    <nav aria-label="Steps of this line">
      <ol ref={row} className="-mx-4 flex gap-1 overflow-x-auto px-4 pb-1">
        {path.map((leg, index) => {
          const done = standing.done.has(leg.id);
          const current = index === now;
          const colour = current ? "bg-accent" : done ? "bg-done" : "bg-base-300";
          return (
            <li key={leg.id} ref={current ? here : null} className="min-w-fit flex-1">
              <button
                type="button"
                className="flex min-h-11 w-full flex-col justify-start gap-1 px-0.5 pt-2 text-sm"
                aria-current={current ? "step" : undefined}
                disabled={!possible(leg)}
                onClick={() => go(leg)}
              >
                <span
                  className={`block h-1.5 w-full rounded-full ${colour} ${possible(leg) ? "" : "opacity-40"}`}
                />
                <span className={`whitespace-nowrap ${current ? "font-bold" : "text-quiet"}`}>
                  {STEP_SHORT[leg.step]}
                  {done && <span aria-hidden="true"> ✓</span>}
                  {done && <span className="sr-only"> (done)</span>}
                </span>
              </button>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}

/** About how long what is left takes, minutes. */
export function minutesLeft(path: readonly Leg[], standing: Standing): number {
  return path.reduce((sum, leg) => sum + (standing.done.has(leg.id) ? 0 : STEP_KINDS[leg.step].minutes), 0);
}
