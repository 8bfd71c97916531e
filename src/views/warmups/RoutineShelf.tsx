import { useState } from "react";
import { ApiError, call } from "../../client/api";
import { clockOf, clockText, type Routine, TEMPLATES } from "../../core/warmup";
import type { RoutineSummary } from "../../services/warmups/schema";
import { useReady } from "../../ui/use-ready";
import { STAGE_NAMES } from "../../ui/wording";

/** Own routines, and the ones to start from. */
export function RoutineShelf({ routines }: { routines: RoutineSummary[] }) {
  const ready = useReady();
  const [problem, setProblem] = useState("");
  const begin = async (content: Routine) => {
    setProblem("");
    try {
      const { id } = await call<{ id: string }>("POST", "/api/routines", { content });
      location.assign(`/shelf/warm-ups/${id}`);
    } catch (error) {
      setProblem(
        error instanceof ApiError ? error.message : "The routine could not be made. Try again in a moment.",
      );
    }
  };
  return (
    <div className="grid gap-5 lg:grid-cols-[1fr_380px]">
      <section className="flex min-w-0 flex-col gap-2">
        <h2 className="text-xl">Your routines</h2>
        {routines.length === 0 && (
          <p className="panel p-4">
            None yet. Start from the one on the right that fits your band's stage: you can change every block,
            and the clock tells whether it ends on time.
          </p>
        )}
        {routines.length > 0 && (
          <table className="panel table">
            <thead>
              <tr>
                <th scope="col">Routine</th>
                <th scope="col">Minutes</th>
                <th scope="col">Blocks</th>
                <th scope="col">Version</th>
                <th scope="col">Changed</th>
              </tr>
            </thead>
            <tbody>
              {routines.map((routine) => (
                <tr key={routine.id}>
                  <td>
                    <a className="link font-bold" href={`/shelf/warm-ups/${routine.id}`}>
                      {routine.title}
                    </a>
                  </td>
                  <td>{routine.minutes}</td>
                  <td>{routine.blocks}</td>
                  <td>{routine.version}</td>
                  <td>
                    {new Date(routine.changed).toLocaleDateString("en-GB", {
                      day: "numeric",
                      month: "short",
                    })}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </section>
      <section className="flex flex-col gap-2">
        <h2 className="text-xl">Start from</h2>
        {problem && (
          <p role="alert" className="text-felt">
            {problem}
          </p>
        )}
        {TEMPLATES.map(({ stage, name, why, routine }) => (
          <article key={stage} className="panel flex flex-col gap-1 p-3">
            <div className="flex items-baseline justify-between gap-2">
              <h3 className="text-base">{name}</h3>
              <span className="text-sm text-quiet">
                {clockText(clockOf(routine).totalSec)} · {STAGE_NAMES[stage]}
              </span>
            </div>
            <p className="text-sm">{why}</p>
            <button
              type="button"
              className="btn btn-sm mt-1 self-start border-base-300 bg-base-100"
              disabled={!ready}
              onClick={() => begin(routine)}
            >
              Start from {name}
            </button>
          </article>
        ))}
        <button
          type="button"
          className="btn btn-sm self-start border-base-300 bg-base-100"
          disabled={!ready}
          onClick={() =>
            begin({ title: "My warm-up", blocks: [], changeoverSec: 10, budgetSec: 600, pieceBpm: 80 })
          }
        >
          Start empty
        </button>
      </section>
    </div>
  );
}
