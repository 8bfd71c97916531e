import { useEffect, useState } from "react";
import type { Help } from "../../../core/practice";
import { HELP_NAMES } from "../../../ui/wording";

/** What may be tried when it does not work: offered once, kindly, and it can be waved away. */
export function Helping({
  offers,
  choose,
  close,
}: {
  offers: readonly Help[];
  choose: (help: Help) => void;
  close: () => void;
}) {
  return (
    <section className="panel border-l-4 border-l-accent p-4" aria-label="Something easier">
      <h2 className="text-xl">This is a hard place. Make it easier:</h2>
      <div className="mt-2 flex flex-wrap gap-2">
        {offers.map((help) => (
          <button
            key={help}
            type="button"
            className="btn h-11 border-base-300 bg-base-100"
            onClick={() => choose(help)}
          >
            {HELP_NAMES[help]}
          </button>
        ))}
        <button type="button" className="btn btn-ghost h-11" onClick={close}>
          I go on
        </button>
      </div>
    </section>
  );
}

/** A minute without the instrument at the lips. */
export function Resting({ over }: { over: () => void }) {
  const [left, setLeft] = useState(60);
  useEffect(() => {
    const until = Date.now() + 60_000;
    const timer = setInterval(() => {
      const seconds = Math.max(0, Math.ceil((until - Date.now()) / 1000));
      setLeft(seconds);
      if (seconds === 0) over();
    }, 250);
    return () => clearInterval(timer);
  }, [over]);
  return (
    <section className="panel flex items-center gap-4 p-4">
      <p className="text-3xl font-bold tabular-nums">{left}</p>
      <p className="flex-1">Put the instrument down. Shake your hands out, breathe, look at the bars.</p>
      <button type="button" className="btn h-11 border-base-300 bg-base-100" onClick={over}>
        Go on now
      </button>
    </section>
  );
}
