import { useState } from "react";
import { takeSeconds } from "../../../client/activity";
import { tell } from "../../../client/practice-log";
import type { OwnInstrument } from "../../../services/practice/wire";
import { setUpList } from "../../../ui/wording";

/** Before the first sound: what to check, in order, with its cautions. */
export function SetUp({ instrument, playerId }: { instrument: OwnInstrument; playerId: string }) {
  const steps = setUpList(instrument.id);
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const tick = (step: string) => {
    const now = new Set(ticked);
    if (!now.delete(step)) now.add(step);
    setTicked(now);
    if (now.size === steps.length)
      void tell(playerId, { kind: "tool", tool: "set-up", seconds: takeSeconds() });
  };
  return (
    <section className="panel flex flex-col p-4">
      {steps.map((step) => (
        <label key={step} className="flex min-h-12 items-center gap-3 border-b border-base-300 last:border-0">
          <input
            type="checkbox"
            className="checkbox"
            checked={ticked.has(step)}
            onChange={() => tick(step)}
          />
          <span className={ticked.has(step) ? "text-quiet line-through" : ""}>{step}</span>
        </label>
      ))}
      {ticked.size === steps.length && <p className="pt-3 font-bold text-done">Ready to play.</p>}
      <p className="pt-3 text-sm text-brass">
        Nothing is forced: a stuck mouthpiece is for a repair technician. Your school's rules come first.
      </p>
    </section>
  );
}
