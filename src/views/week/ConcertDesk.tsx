import { useRef, useState } from "react";
import { call } from "../../client/api";
import type { ConcertEntry, ConcertView } from "../../services/week/schema";
import { PrintButton } from "../../ui/PrintButton";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { lengthText, readyText } from "../../ui/wording";
import { StateBar } from "./StateBar";

type Entry = Pick<ConcertEntry, "kind" | "refId" | "groupId" | "spoken">;

/** A concert: what is played in which order and by whom, what is said before it, what is ready. Printed, a programme. */
export function ConcertDesk({ first }: { first: ConcertView }) {
  const [view, setView] = useState(first);
  const { run, busy, problem } = useCall();
  /** What was kept last: a field that is left saves, and so may the press that left it. One goes after the other. */
  const kept = useRef({ view: first, saving: Promise.resolve() });
  const save = (change: (entries: Entry[]) => Entry[]) => {
    kept.current.saving = kept.current.saving.then(async () => {
      await run(async () => {
        const { id, version, entries } = kept.current.view;
        const programme = change(
          entries.map(({ kind, refId, groupId, spoken }) => ({ kind, refId, groupId, spoken })),
        );
        await call("PUT", `/api/concerts/${id}`, { version, programme });
        kept.current.view = await call<ConcertView>("GET", `/api/concerts/${id}`);
        setView(kept.current.view);
      }, "The programme was not kept. Try again in a moment.");
    });
  };
  const move = (from: number, to: number) =>
    save((entries) => {
      const moved = [...entries];
      moved.splice(to, 0, ...moved.splice(from, 1));
      return moved;
    });
  const set = (index: number, part: Partial<Entry>) =>
    save((entries) => entries.map((each, i) => (i === index ? { ...each, ...part } : each)));
  const seconds = view.entries.reduce((sum, each) => sum + each.seconds, 0);
  return (
    <div className="flex flex-col gap-3">
      <div className="no-print flex flex-wrap items-center justify-between gap-3">
        <p>
          {view.entries.length === 0
            ? "Nothing is on the programme yet."
            : `${view.entries.length} ${view.entries.length === 1 ? "piece" : "pieces"}, about ${lengthText(seconds)} of music.`}
        </p>
        {view.entries.length > 0 && <PrintButton />}
      </div>
      <ol className="flex flex-col gap-2">
        {view.entries.map((entry, index) => (
          <li key={entry.refId} className="panel flex flex-col gap-2 p-4">
            <div className="flex flex-wrap items-baseline justify-between gap-2">
              <h2 className="text-xl">
                {index + 1}. {entry.name}
              </h2>
              <span className="text-sm text-quiet">
                {entry.who}, about {lengthText(entry.seconds)}
              </span>
            </div>
            {entry.spoken && <p className="hidden whitespace-pre-line print:block">{entry.spoken}</p>}
            <div className="no-print flex flex-col gap-2">
              {entry.states && (
                <StateBar
                  bars={Object.values(entry.states).reduce((a, b) => a + b, 0)}
                  states={entry.states}
                />
              )}
              <p className="text-sm">{readyText(entry)}</p>
              <label className="flex flex-col text-sm">
                Spoken before it
                <textarea
                  className="textarea w-full border-neutral"
                  rows={2}
                  maxLength={1000}
                  defaultValue={entry.spoken}
                  onBlur={(event) =>
                    event.target.value !== entry.spoken && set(index, { spoken: event.target.value })
                  }
                />
              </label>
              <div className="flex flex-wrap items-center gap-2 text-sm">
                <label>
                  played by
                  <select
                    className="select select-sm ml-1 w-auto border-neutral"
                    value={entry.groupId ?? ""}
                    onChange={(event) => set(index, { groupId: event.target.value || null })}
                  >
                    <option value="">whoever the concert is for</option>
                    {view.groups.map(({ id, name }) => (
                      <option key={id} value={id}>
                        {name}
                      </option>
                    ))}
                  </select>
                </label>
                <button
                  type="button"
                  className="btn btn-sm border-base-300 bg-base-100"
                  disabled={busy || index === 0}
                  onClick={() => move(index, index - 1)}
                >
                  Earlier
                </button>
                <button
                  type="button"
                  className="btn btn-sm border-base-300 bg-base-100"
                  disabled={busy || index === view.entries.length - 1}
                  onClick={() => move(index, index + 1)}
                >
                  Later
                </button>
                <button
                  type="button"
                  className="btn btn-ghost btn-sm"
                  disabled={busy}
                  onClick={() => save((entries) => entries.filter((_, i) => i !== index))}
                >
                  Take it off
                </button>
              </div>
            </div>
          </li>
        ))}
      </ol>
      <select
        aria-label="Add to the programme"
        className="no-print select w-fit border-neutral"
        value=""
        disabled={busy}
        onChange={(event) => {
          const added = view.choices.find(({ refId }) => refId === event.target.value);
          if (added)
            save((entries) => [
              ...entries,
              { kind: added.kind, refId: added.refId, groupId: null, spoken: "" },
            ]);
        }}
      >
        <option value="">add a piece or line …</option>
        {view.choices
          .filter(({ refId }) => !view.entries.some((entry) => entry.refId === refId))
          .map(({ refId, name }) => (
            <option key={refId} value={refId}>
              {name}
            </option>
          ))}
      </select>
      <Problem text={problem} />
    </div>
  );
}
