import { useState } from "react";
import { call } from "../../client/api";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

interface Props {
  /** Answers that waited when the page was opened; null where players see them at once. */
  waiting: number | null;
  /** Words said since. */
  said: number;
}

/** Answers that wait to be released together, where the band decided so. */
export function HeldBack({ waiting, said }: Props) {
  const [released, setReleased] = useState<{ count: number; at: number } | null>(null);
  const { run, busy, problem } = useCall();
  if (waiting === null || waiting + said === 0) return null;
  const release = async () => {
    const done = await run(
      () => call<{ released: number }>("POST", "/api/takes/release"),
      "The answers could not be released. Try again in a moment.",
    );
    if (done) setReleased({ count: done.released, at: said });
  };
  const open = released === null || said > released.at;
  return (
    <div className="panel mb-3 flex flex-wrap items-center justify-between gap-3 px-3 py-1 text-sm">
      {open ? (
        <>
          Answers wait to be released; the players see nothing of them yet.
          <button type="button" className="btn btn-sm" disabled={busy} onClick={release}>
            Release all answers
          </button>
        </>
      ) : (
        <output>
          {released.count === 1 ? "1 answer is" : `${released.count} answers are`} on the stands, and a letter
          to the families lies in the{" "}
          <a className="link" href="/band/outbox">
            outbox
          </a>
          .
        </output>
      )}
      <Problem text={problem} />
    </div>
  );
}
