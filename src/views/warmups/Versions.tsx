import { useState } from "react";
import { ApiError, call } from "../../client/api";
import type { Routine } from "../../core/warmup";
import type { RoutineDetail } from "../../services/warmups/schema";

interface Props {
  routineId: string;
  versions: RoutineDetail["versions"];
  current: number;
  /** Puts an older version on the desk as a change that can be undone. */
  bring: (content: Routine) => void;
}

/** Older versions, and the ways to keep, copy or put away the routine. */
export function Versions({ routineId, versions, current, bring }: Props) {
  const [problem, setProblem] = useState("");
  const [removed, setRemoved] = useState(false);
  const doing = (act: () => Promise<unknown>) => {
    setProblem("");
    act().catch((error: unknown) =>
      setProblem(error instanceof ApiError ? error.message : "That did not work. Try again."),
    );
  };
  const get = async (number: number) =>
    (await call<{ content: Routine }>("GET", `/api/routines/${routineId}/versions/${number}`)).content;
  const copy = async () => {
    const content = await get(current);
    const { id } = await call<{ id: string }>("POST", "/api/routines", {
      content: { ...content, title: `${content.title.slice(0, 150)}, copy` },
    });
    location.assign(`/shelf/warm-ups/${id}`);
  };
  const setAway = async (away: boolean) => {
    await call("POST", `/api/routines/${routineId}/removed`, { removed: away });
    setRemoved(away);
  };
  return (
    <details className="panel p-3 text-sm">
      <summary className="cursor-pointer font-bold">Versions, copy, print</summary>
      <div className="mt-2 flex flex-wrap gap-2">
        <a
          className="btn btn-sm border-base-300 bg-base-100"
          href={`/shelf/warm-ups/print/${routineId}?form=wall`}
        >
          Wall card
        </a>
        <a
          className="btn btn-sm border-base-300 bg-base-100"
          href={`/shelf/warm-ups/print/${routineId}?form=student`}
        >
          Student cards
        </a>
        <a
          className="btn btn-sm border-base-300 bg-base-100"
          href={`/shelf/warm-ups/print/${routineId}?form=set`}
        >
          Full set of parts
        </a>
        <button type="button" className="btn btn-sm border-base-300 bg-base-100" onClick={() => doing(copy)}>
          Copy
        </button>
        <button
          type="button"
          className="btn btn-sm border-base-300 bg-base-100"
          onClick={() => doing(() => setAway(!removed))}
        >
          {removed ? "Put it back" : "Put away"}
        </button>
      </div>
      {removed && <p className="mt-2">It is off the shelf; what was given stays given.</p>}
      {problem && (
        <p role="alert" className="mt-2 text-felt">
          {problem}
        </p>
      )}
      <ul className="mt-2 flex flex-col gap-1">
        {versions.map(({ number, at, blocks }) => (
          <li key={number} className="flex items-center justify-between gap-2">
            <span>
              Version {number} ·{" "}
              {new Date(at).toLocaleDateString("en-GB", { day: "numeric", month: "short" })} · {blocks}{" "}
              {blocks === 1 ? "block" : "blocks"}
            </span>
            {number !== current && (
              <button
                type="button"
                className="btn btn-xs border-base-300 bg-base-100"
                onClick={() => doing(async () => bring(await get(number)))}
              >
                Bring back
              </button>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
