import { useState } from "react";
import { ApiError, call } from "../../client/api";
import type { SavedViewRow, ShelfFilter } from "../../services/shelf/schema";
import { useReady } from "../../ui/use-ready";

interface Props {
  views: SavedViewRow[];
  filter: ShelfFilter;
  filtered: boolean;
  apply: (filter: ShelfFilter) => void;
}

/** Questions a director asks again and again, kept under a name. */
export function SavedViews({ views: first, filter, filtered, apply }: Props) {
  const ready = useReady();
  const [views, setViews] = useState(first);
  const [name, setName] = useState("");
  const [problem, setProblem] = useState("");

  const attempt = async (work: () => Promise<unknown>) => {
    setProblem("");
    try {
      await work();
      setViews((await call<{ views: SavedViewRow[] }>("GET", "/api/views")).views);
      return true;
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "The view could not be kept.");
      return false;
    }
  };
  const keep = async (event: React.FormEvent) => {
    event.preventDefault();
    if (await attempt(() => call("POST", "/api/views", { name, filter }))) setName("");
  };
  if (views.length === 0 && !filtered) return null;
  return (
    <section aria-label="Saved views" className="flex flex-wrap items-center gap-2 text-sm">
      {views.map((view) => (
        <span key={view.id} className="flex items-center">
          <button
            type="button"
            disabled={!ready}
            className="btn btn-sm rounded-r-none border-base-300 bg-base-100"
            onClick={() => apply(view.filter)}
          >
            {view.name}
          </button>
          <button
            type="button"
            disabled={!ready}
            className="btn btn-sm rounded-l-none border-l-0 border-base-300 bg-base-100 px-2"
            aria-label={`Forget the view ${view.name}`}
            onClick={() => attempt(() => call("DELETE", `/api/views/${view.id}`))}
          >
            ×
          </button>
        </span>
      ))}
      {filtered && (
        <form onSubmit={keep} className="flex items-center gap-2">
          <input
            className="input input-sm w-44 border-neutral"
            aria-label="Name for this view"
            placeholder="name for this view"
            maxLength={60}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <button
            type="submit"
            className="btn btn-sm border-base-300 bg-base-100"
            disabled={!ready || name.trim() === ""}
          >
            Keep this view
          </button>
        </form>
      )}
      {problem && (
        <p role="alert" className="font-bold text-felt">
          {problem}
        </p>
      )}
    </section>
  );
}
