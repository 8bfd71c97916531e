import { useRef, useState } from "react";
import { takeSeconds } from "../../../client/activity";
import { tell } from "../../../client/practice-log";
import { FingeringCard } from "../../../ui/Fingering";
import type { ToolProps } from "./props";
import { useLive } from "./use-live";

/** A note speaks when it was held near its pitch for so long. */
const HELD_SEC = 2;
const NEAR_CENTS = 60;

/** From a comfortable note one semitone further at a time, up or down. Never forcing: it ends where it stops being easy. */
export function RangeLadder({ view, instrument, playerId }: ToolProps) {
  const known = instrument.chart.map((note, index) => ({ note, index })).filter(({ note }) => note.known);
  const [way, setWay] = useState<"up" | "down">("up");
  const edge = way === "up" ? known.at(-1) : known[0];
  const [steps, setSteps] = useState(0);
  const [heldSec, setHeldSec] = useState(0);
  const since = useRef<number | null>(null);
  const done = useRef(false);
  const at = edge ? edge.index + (way === "up" ? steps : -steps) : -1;
  const target = instrument.chart[at];
  const live = useLive(view.a4Hz, ({ midi }, atSec) => {
    if (!target || done.current) return;
    const wanted = target.midi + instrument.soundsBySemitones;
    const near = midi !== null && Math.abs(midi - wanted) * 100 < NEAR_CENTS;
    since.current = near ? (since.current ?? atSec) : null;
    const held = since.current === null ? 0 : atSec - since.current;
    setHeldSec(Math.min(HELD_SEC, Math.round(held * 10) / 10));
    if (held >= HELD_SEC) {
      done.current = true;
      live.stop();
      void tell(
        playerId,
        { kind: "range", instrumentId: instrument.id, note: target.name, way, seconds: takeSeconds() },
        view.today,
      );
    }
  });
  const start = () => {
    since.current = null;
    done.current = false;
    setHeldSec(0);
    void live.start();
  };
  const move = (next: number) => {
    live.stop();
    done.current = false;
    setHeldSec(0);
    setSteps(next);
  };
  if (!edge) return <p className="panel p-4">Your first notes come before the range. Ask your director.</p>;
  const spoke = done.current && heldSec >= HELD_SEC;
  return (
    <section className="panel flex flex-col gap-3 p-4">
      <div className="flex gap-2">
        {(["up", "down"] as const).map((each) => (
          <button
            key={each}
            type="button"
            className={`btn h-11 ${way === each ? "btn-secondary" : "border-base-300 bg-base-100"}`}
            aria-pressed={way === each}
            onClick={() => {
              setWay(each);
              move(0);
            }}
          >
            {each === "up" ? "Higher" : "Lower"}
          </button>
        ))}
      </div>
      {target ? <FingeringCard note={target} forDirector={false} /> : <p>That is the end of the chart.</p>}
      <progress
        className="progress progress-success w-full"
        value={heldSec}
        max={HELD_SEC}
        aria-label="Held"
      />
      {spoke && (
        <p className="font-bold text-done">{target?.name} speaks. Rest, then one semitone further.</p>
      )}
      {live.problem && <p className="text-felt">{live.problem}</p>}
      <div className="flex flex-wrap gap-2">
        <button
          type="button"
          className="btn btn-primary h-14 flex-1"
          disabled={!target}
          onClick={live.on ? live.stop : start}
        >
          {live.on ? "Stop" : `Hold ${target?.name ?? "it"}`}
        </button>
        {spoke && target && (
          <button
            type="button"
            className="btn h-14 flex-1 border-base-300 bg-base-100"
            onClick={() => move(steps + 1)}
          >
            One semitone further
          </button>
        )}
        {steps > 0 && (
          <button
            type="button"
            className="btn h-14 flex-1 border-base-300 bg-base-100"
            onClick={() => move(steps - 1)}
          >
            One back
          </button>
        )}
      </div>
      <p className="text-sm text-brass">
        Never force it and never press the mouthpiece. Where it stops being easy it is enough for today; a
        doctor or your director comes before any pain.
      </p>
    </section>
  );
}
