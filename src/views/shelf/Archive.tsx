import { useState } from "react";
import { call } from "../../client/api";
import type { ArchivedLine } from "../../services/shelf/schema";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

/** Lines off the shelf: to put back, or to delete when nobody was ever given them. */
export function Archive({ lines: initial }: { lines: ArchivedLine[] }) {
  const [lines, setLines] = useState(initial);
  const { busy, problem, run } = useCall();
  const [asked, setAsked] = useState("");

  const gone = (id: string) => setLines((all) => all.filter((line) => line.id !== id));
  const putBack = async (id: string) => {
    const done = await run(
      () => call("POST", `/api/lines/${id}/removed`, { removed: false }),
      "This line could not be put back.",
    );
    if (done) gone(id);
  };
  const remove = async (id: string) => {
    if (asked !== id) return setAsked(id);
    setAsked("");
    if (await run(() => call("DELETE", `/api/lines/${id}`), "This line could not be deleted.")) gone(id);
  };

  if (lines.length === 0)
    return (
      <p className="panel p-4">
        The archive is empty. A line comes here when you choose “Take it off the shelf” on its page, under
        “Book and parts”.
      </p>
    );
  return (
    <>
      <Problem text={problem} className="mb-2" />
      <ul className="panel divide-y divide-base-300">
        {lines.map((line) => (
          <li key={line.id} className="flex flex-wrap items-center gap-3 px-3 py-2">
            <span className="flex-1">
              <a className="font-bold hover:underline" href={`/shelf/${line.id}`}>
                {line.number ? `No. ${line.number} · ` : ""}
                {line.title}
              </a>
              <span className="block text-sm text-quiet">
                {line.book || "no book"}
                {line.given ? " · given before: it stays here with what players sent" : " · never given"}
              </span>
            </span>
            <button
              type="button"
              className="btn btn-sm border-base-300 bg-base-100"
              disabled={busy}
              onClick={() => putBack(line.id)}
            >
              Put it back
            </button>
            {!line.given && (
              <button
                type="button"
                className={`btn btn-sm ${asked === line.id ? "btn-error" : "border-base-300 bg-base-100"}`}
                disabled={busy}
                onClick={() => remove(line.id)}
              >
                {asked === line.id ? "Delete it for good" : "Delete"}
              </button>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}
