import { PASSAGE_STATES, type PassageState } from "../../core/plan";

const FILL: Record<PassageState, string> = {
  unseen: "bg-base-300",
  "sight-read": "bg-reed",
  rehearsed: "bg-accent",
  ready: "bg-done",
};

/** How far the bars of a piece are, as a bar and in words. */
export function StateBar({ bars, states }: { bars: number; states: Record<PassageState, number> }) {
  const told = PASSAGE_STATES.filter((state) => states[state] > 0);
  return (
    <div>
      <div className="flex h-2 overflow-hidden rounded" aria-hidden="true">
        {[...told].reverse().map((state) => (
          <div key={state} className={FILL[state]} style={{ width: `${(100 * states[state]) / bars}%` }} />
        ))}
      </div>
      <p className="text-sm text-quiet">
        {[...told]
          .reverse()
          .map((state) => `${states[state]} ${state}`)
          .join(", ")}
        {" of "}
        {bars} bars
      </p>
    </div>
  );
}
