import { useState } from "react";
import { call } from "../../client/api";
import type { RoomStart } from "../../services/room/wire";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

interface Props {
  passes: RoomStart["passes"];
  today: string;
}

/** Leave for somebody who stands in: a code for some days, and what they do with it. */
export function StandIns({ passes: first, today }: Props) {
  const [passes, setPasses] = useState(first);
  const [name, setName] = useState("");
  const [from, setFrom] = useState(today);
  const [to, setTo] = useState(today);
  const [made, setMade] = useState<{ name: string; code: string } | null>(null);
  const { run, busy, problem } = useCall();
  const make = async () => {
    const pass = await run(
      () => call<{ id: string; code: string }>("POST", "/api/room/passes", { name, from, to }),
      "No code could be made. Try again in a moment.",
    );
    if (!pass) return;
    setMade({ name, code: pass.code });
    setPasses((all) => [...all, { id: pass.id, name, fromLabel: from, toLabel: to }]);
    setName("");
  };
  const shut = async (id: string) => {
    const gone = await run(
      () => call("DELETE", `/api/room/passes/${id}`),
      "This could not be ended. Try again in a moment.",
    );
    if (gone) setPasses((all) => all.filter((pass) => pass.id !== id));
  };
  return (
    <section className="panel flex flex-col gap-3 p-3" aria-label="Somebody stands in">
      <h2 className="text-xl">Somebody stands in for you</h2>
      <p>
        They need no account and read no music: the lesson leads them step by step, waits for them, and you
        get the log. They see the run sheets of these days and nothing else.
      </p>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void make();
        }}
      >
        <label className="flex flex-col text-sm">
          Who
          <input
            className="input input-sm border-neutral"
            value={name}
            maxLength={80}
            onChange={({ target }) => setName(target.value)}
          />
        </label>
        <label className="flex flex-col text-sm">
          From
          <input
            type="date"
            className="input input-sm border-neutral"
            value={from}
            onChange={({ target }) => setFrom(target.value)}
          />
        </label>
        <label className="flex flex-col text-sm">
          To
          <input
            type="date"
            className="input input-sm border-neutral"
            value={to}
            onChange={({ target }) => setTo(target.value)}
          />
        </label>
        <button
          type="submit"
          className="btn btn-sm border-base-300 bg-base-100"
          disabled={busy || name.trim() === ""}
        >
          Make a code
        </button>
      </form>
      {made && (
        <output className="block border-l-4 border-l-accent pl-3">
          For {made.name}: <b>{location.host}/lead</b>, code <b className="text-xl">{made.code}</b>. Write it
          down now; it is not shown again.
        </output>
      )}
      {passes.length > 0 && (
        <ul>
          {passes.map((pass) => (
            <li key={pass.id} className="flex items-center gap-3">
              {pass.name}, {pass.fromLabel} to {pass.toLabel}
              <button
                type="button"
                className="btn btn-ghost btn-sm"
                disabled={busy}
                onClick={() => shut(pass.id)}
              >
                End it now
              </button>
            </li>
          ))}
        </ul>
      )}
      <Problem text={problem} />
    </section>
  );
}
