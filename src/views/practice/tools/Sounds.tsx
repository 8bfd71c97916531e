import { useRef, useState } from "react";
import { takeSeconds } from "../../../client/activity";
import { tell } from "../../../client/practice-log";
import { makeHoldFollower } from "../../../core/listen";
import { SOUND_TASKS } from "../../../ui/wording";
import type { ToolProps } from "./props";
import { useLive } from "./use-live";

/** Sounds before there are notes: a steady one, a siren; measured as they go. */
export function Sounds({ view, instrument, playerId }: ToolProps) {
  const [best, setBest] = useState({ seconds: 0, span: 0 });
  const [now, setNow] = useState({ seconds: 0, span: 0 });
  const follower = useRef(makeHoldFollower());
  const live = useLive(view.a4Hz, (frame, atSec) => {
    const held = follower.current(frame, atSec);
    const seen = held
      ? { seconds: Math.round(held.seconds * 10) / 10, span: Math.round(held.spanSemitones) }
      : { seconds: 0, span: 0 };
    setNow((before) => (before.seconds === seen.seconds && before.span === seen.span ? before : seen));
    setBest((before) =>
      seen.seconds > before.seconds || seen.span > before.span
        ? { seconds: Math.max(before.seconds, seen.seconds), span: Math.max(before.span, seen.span) }
        : before,
    );
  });
  const end = () => {
    live.stop();
    void tell(playerId, { kind: "tool", tool: "sound", seconds: takeSeconds() }, view.today);
  };
  const tasks = SOUND_TASKS[instrument.brass ? "brass" : instrument.id === "flute" ? "flute" : "reed"];
  return (
    <section className="panel flex flex-col gap-3 p-4">
      <ol className="flex list-decimal flex-col gap-1 pl-6">
        {tasks.map((each) => (
          <li key={each}>{each}</li>
        ))}
      </ol>
      <dl className="grid grid-cols-2 gap-2 text-center">
        <div className="rounded border border-base-300 p-2">
          <dt className="text-sm text-quiet">held</dt>
          <dd className="font-heading text-4xl font-bold tabular-nums" data-testid="sound-held">
            {now.seconds.toFixed(1)} s
          </dd>
          <dd className="text-sm text-quiet">longest {best.seconds.toFixed(1)} s</dd>
        </div>
        <div className="rounded border border-base-300 p-2">
          <dt className="text-sm text-quiet">siren</dt>
          <dd className="font-heading text-4xl font-bold tabular-nums">{now.span}</dd>
          <dd className="text-sm text-quiet">half steps, widest {best.span}</dd>
        </div>
      </dl>
      {live.problem && <p className="text-felt">{live.problem}</p>}
      <button
        type="button"
        className="btn btn-primary h-14"
        onClick={() => {
          follower.current = makeHoldFollower();
          if (live.on) end();
          else void live.start();
        }}
      >
        {live.on ? "That is enough" : "Listen to me"}
      </button>
      <p className="text-sm text-quiet">
        Odd noises are normal now. Sit, breathe low, and stop when your head gets light or your lips are
        tired.
      </p>
    </section>
  );
}
