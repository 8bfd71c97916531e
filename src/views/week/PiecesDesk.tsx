import { useMemo, useState } from "react";
import { call } from "../../client/api";
import { barsByState, PASSAGE_STATES, type PassageState } from "../../core/plan";
import type { PiecesView, PieceView } from "../../services/pieces/schema";
import { Problem } from "../../ui/Problem";
import { type Packed, unpacked } from "../../ui/packed";
import { useCall } from "../../ui/use-call";
import { Handouts } from "./Handouts";
import { StateBar } from "./StateBar";

/** Pieces with how far each passage is, and the sheets and recordings that go home. */
export function PiecesDesk({ data }: { data: Packed<PiecesView> }) {
  const view = useMemo(() => unpacked(data), [data]);
  const [pieces, setPieces] = useState(view.pieces);
  const [gone, setGone] = useState<PieceView | null>(null);
  const { run, problem } = useCall();
  const put = (piece: PieceView) =>
    setPieces((all) =>
      all.some(({ id }) => id === piece.id)
        ? all.map((each) => (each.id === piece.id ? piece : each))
        : [...all, piece],
    );
  const setRemoved = async (piece: PieceView, removed: boolean) => {
    const done = await run(
      () => call(removed ? "PUT" : "DELETE", `/api/pieces/${piece.id}/removed`),
      "This did not work. Try again in a moment.",
    );
    if (done === undefined) return;
    setPieces((all) => (removed ? all.filter(({ id }) => id !== piece.id) : [...all, piece]));
    setGone(removed ? piece : null);
  };
  return (
    <div className="grid gap-4 lg:grid-cols-[1fr_22rem]">
      <div className="flex flex-col gap-3">
        {pieces.length === 0 && (
          <p className="panel p-4">
            No piece yet. Type a title such as Harbour Overture and how many bars it has; cut it into passages
            and say of each how far it is.
          </p>
        )}
        {pieces.map((piece) => (
          <Piece
            key={piece.id}
            piece={piece}
            lines={view.lines}
            put={put}
            remove={() => setRemoved(piece, true)}
          />
        ))}
        {gone && (
          <output className="panel p-3 text-sm">
            {gone.title} was set away; programmes keep it.{" "}
            <button type="button" className="link" onClick={() => setRemoved(gone, false)}>
              Undo
            </button>
          </output>
        )}
        <Problem text={problem} />
        <NewPiece put={put} />
      </div>
      <Handouts first={view.handouts} />
    </div>
  );
}

const STATE_LOOK: Record<PassageState, string> = {
  unseen: "border-base-300 bg-base-100",
  "sight-read": "border-accent bg-reed/60",
  rehearsed: "border-accent bg-reed",
  ready: "border-done bg-done text-white",
};

interface PieceProps {
  piece: PieceView;
  lines: PiecesView["lines"];
  put: (piece: PieceView) => void;
  remove: () => void;
}

/** One piece; every change is kept at once. */
function Piece({ piece, lines, put, remove }: PieceProps) {
  const { run, busy, problem } = useCall();
  const save = (part: Partial<PieceView>) =>
    run(async () => {
      const { id, version, states: _states, ...content } = { ...piece, ...part };
      const kept = await call<{ version: number }>("PUT", `/api/pieces/${id}`, { ...content, version });
      const now = { ...piece, ...part, version: kept.version };
      put({ ...now, states: barsByState(now.bars, now.passages) });
    }, "This was not kept. Try again in a moment.");
  const setPassage = (index: number, part: Partial<PieceView["passages"][number]> | null) =>
    save({
      passages: piece.passages.flatMap((each, i) =>
        i === index ? (part ? { ...each, ...part } : []) : each,
      ),
    });
  const last = Math.max(0, ...piece.passages.map(({ lastBar }) => lastBar));
  return (
    <section className="panel flex flex-col gap-2 p-4" aria-label={piece.title}>
      <div className="flex flex-wrap items-baseline justify-between gap-2">
        <h2 className="text-xl">{piece.title}</h2>
        <span className="text-sm text-quiet">
          {[piece.composer, `${piece.bars} bars`, piece.bpm ? `${piece.bpm} bpm` : ""]
            .filter(Boolean)
            .join(" · ")}
        </span>
      </div>
      <StateBar bars={piece.bars} states={piece.states} />
      <ul className="flex flex-col gap-1">
        {piece.passages.map((passage, index) => (
          <li key={index} className="flex flex-wrap items-center gap-2">
            <span className="w-56 text-sm">
              <b>{passage.name || "passage"}</b>, bars {passage.firstBar} to {passage.lastBar}
            </span>
            <fieldset aria-label={`How far ${passage.name || "the passage"} is`} className="flex gap-1">
              {PASSAGE_STATES.map((state) => (
                <button
                  key={state}
                  type="button"
                  disabled={busy}
                  aria-pressed={passage.state === state}
                  className={`btn btn-xs ${passage.state === state ? STATE_LOOK[state] : "border-base-300 bg-base-100 font-normal"}`}
                  onClick={() => passage.state !== state && setPassage(index, { state })}
                >
                  {state}
                </button>
              ))}
            </fieldset>
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              aria-label={`Take out ${passage.name || "the passage"}`}
              onClick={() => setPassage(index, null)}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      {last < piece.bars && (
        <NewPassage
          key={last}
          first={last + 1}
          bars={piece.bars}
          busy={busy}
          add={(passage) => save({ passages: [...piece.passages, passage] })}
        />
      )}
      <Problem text={problem} />
      <div className="flex flex-wrap items-center gap-3 text-sm">
        <label>
          its parts
          <select
            className="select select-sm ml-1 w-auto border-neutral"
            value={piece.lineId ?? ""}
            disabled={busy}
            onChange={(event) => save({ lineId: event.target.value || null })}
          >
            <option value="">on paper only</option>
            {lines.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
        {piece.lineId && (
          <a className="link" href={`/shelf/${piece.lineId}`}>
            open the parts
          </a>
        )}
        <button type="button" className="btn btn-ghost btn-sm ml-auto" onClick={remove}>
          Set it away
        </button>
      </div>
    </section>
  );
}

function NewPassage({
  first,
  bars,
  busy,
  add,
}: {
  first: number;
  bars: number;
  busy: boolean;
  add: (passage: PieceView["passages"][number]) => void;
}) {
  const [name, setName] = useState("");
  const [from, setFrom] = useState(first);
  const [to, setTo] = useState(Math.min(bars, first + 7));
  const number = "input input-sm w-18 border-neutral";
  return (
    <form
      className="flex flex-wrap items-center gap-2 text-sm"
      onSubmit={(event) => {
        event.preventDefault();
        if (!busy) add({ name: name.trim(), firstBar: from, lastBar: to, state: "unseen" });
      }}
    >
      <input
        aria-label="Name of the passage"
        placeholder="A, trio, the canon"
        className="input input-sm w-40 border-neutral"
        maxLength={60}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      bars
      <input
        type="number"
        aria-label="From bar"
        className={number}
        value={from || ""}
        onChange={(event) => setFrom(Number(event.target.value))}
      />
      to
      <input
        type="number"
        aria-label="To bar"
        className={number}
        value={to || ""}
        onChange={(event) => setTo(Number(event.target.value))}
      />
      <button type="submit" className="btn btn-sm" disabled={busy}>
        Add the passage
      </button>
    </form>
  );
}

function NewPiece({ put }: { put: (piece: PieceView) => void }) {
  const [title, setTitle] = useState("");
  const [composer, setComposer] = useState("");
  const [bars, setBars] = useState("");
  const { run, busy, problem } = useCall();
  const add = () =>
    run(async () => {
      const id = crypto.randomUUID();
      const content = { title, composer, bars: Number(bars), bpm: null, lineId: null, passages: [] };
      const { version } = await call<{ version: number }>("PUT", `/api/pieces/${id}`, {
        ...content,
        version: null,
      });
      put({ ...content, id, version, states: barsByState(content.bars, []) });
      setTitle("");
      setComposer("");
      setBars("");
    }, "The piece was not kept. Try again in a moment.");
  return (
    <form
      className="panel flex flex-wrap items-end gap-3 p-4"
      onSubmit={(event) => {
        event.preventDefault();
        void add();
      }}
    >
      <h2 className="w-full text-xl">A new piece</h2>
      <Labelled label="Title" value={title} set={setTitle} wide />
      <Labelled label="Composer" value={composer} set={setComposer} wide />
      <Labelled label="Bars" value={bars} set={setBars} />
      <button type="submit" className="btn btn-primary" disabled={busy || title.trim() === "" || bars === ""}>
        Add it
      </button>
      <Problem text={problem} />
    </form>
  );
}

function Labelled({
  label,
  value,
  set,
  wide = false,
}: {
  label: string;
  value: string;
  set: (value: string) => void;
  wide?: boolean;
}) {
  return (
    <label className="flex flex-col text-sm font-bold">
      {label}
      <input
        className={`input border-neutral font-normal ${wide ? "w-56" : "w-24"}`}
        inputMode={wide ? "text" : "numeric"}
        maxLength={160}
        value={value}
        onChange={(event) => set(event.target.value)}
      />
    </label>
  );
}
