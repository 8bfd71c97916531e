import { useState } from "react";
import { ApiError, call } from "../../client/api";
import { DYNAMICS } from "../../core/score";
import type { PencilView } from "../../services/shelf/schema";
import { useReady } from "../../ui/use-ready";

const KINDS: Record<PencilView["kind"], { name: string; hint: string; ready: string[] }> = {
  reminder: { name: "Reminder", hint: "count", ready: ["count", "listen", "slow air"] },
  name: { name: "Note name", hint: "B♭", ready: [] },
  accidental: { name: "Accidental", hint: "♭", ready: ["♭", "♮", "♯"] },
  position: { name: "Fingering or position", hint: "1-3", ready: [] },
  breath: { name: "Breath", hint: "", ready: [] },
  dynamic: { name: "Dynamic", hint: "", ready: [...DYNAMICS] },
};

export interface PencilNote {
  eventId: string;
  /** "bar 3, beat 1: B♭4" */
  label: string;
}

interface Props {
  lineId: string;
  /** The notes one can write at, in playing order. */
  notes: PencilNote[];
  chosen: string;
  choose: (eventId: string) => void;
  marks: PencilView[];
  /** Noteheads after which a breath is proposed. */
  breaths: string[];
  /** Whose part is open: a mark can be for this instrument only. */
  instrument: { id: string; name: string } | null;
  forDirector: boolean;
  changed: () => void;
}

/** Writes with a pencil on a part: choose a note, choose what, write. Marks stay with the note and are printed. */
export function PencilPanel({
  lineId,
  notes,
  chosen,
  choose,
  marks,
  breaths,
  instrument,
  forDirector,
  changed,
}: Props) {
  const ready = useReady();
  const [kind, setKind] = useState<PencilView["kind"]>("reminder");
  const [text, setText] = useState("");
  const [shared, setShared] = useState(forDirector);
  const [everyone, setEveryone] = useState(false);
  const [problem, setProblem] = useState("");

  const attempt = async (work: () => Promise<unknown>) => {
    setProblem("");
    try {
      await work();
      changed();
      return true;
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "This could not be written.");
      return false;
    }
  };
  const write = async (event: React.FormEvent) => {
    event.preventDefault();
    const written = await attempt(() =>
      call("POST", `/api/lines/${lineId}/pencil`, {
        eventId: chosen || notes[0]?.eventId,
        instrumentId: instrument && !everyone ? instrument.id : null,
        kind,
        text: kind === "breath" ? "" : text,
        shared,
      }),
    );
    if (written) setText("");
  };
  const unmarked = breaths.filter(
    (eventId) => !marks.some((mark) => mark.eventId === eventId && mark.kind === "breath"),
  );
  const pencilBreaths = () =>
    attempt(async () => {
      for (const eventId of unmarked)
        await call("POST", `/api/lines/${lineId}/pencil`, {
          eventId,
          instrumentId: instrument?.id ?? null,
          kind: "breath",
          text: "",
          shared,
        });
    });
  const labelOf = (eventId: string) =>
    notes.find((note) => note.eventId === eventId)?.label ?? "another part";

  return (
    <div className="flex flex-col gap-3">
      <form onSubmit={write} className="flex flex-wrap items-end gap-3">
        <label className="flex flex-col text-sm font-bold">
          At
          <select
            className="select max-w-56 border-neutral font-normal"
            disabled={!ready}
            value={chosen}
            onChange={(event) => choose(event.target.value)}
          >
            {notes.map((note) => (
              <option key={note.eventId} value={note.eventId}>
                {note.label}
              </option>
            ))}
          </select>
        </label>
        <label className="flex flex-col text-sm font-bold">
          Write
          <select
            className="select w-auto border-neutral font-normal"
            disabled={!ready}
            value={kind}
            onChange={(event) => {
              setKind(event.target.value as PencilView["kind"]);
              setText("");
            }}
          >
            {Object.entries(KINDS).map(([id, { name }]) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
        {kind === "dynamic" && (
          <label className="flex flex-col text-sm font-bold">
            From soft to loud
            <select
              className="select w-auto border-neutral font-normal"
              value={text}
              onChange={(event) => setText(event.target.value)}
            >
              <option value="">Choose</option>
              {DYNAMICS.map((each) => (
                <option key={each}>{each}</option>
              ))}
            </select>
          </label>
        )}
        {kind !== "breath" && kind !== "dynamic" && (
          <label className="flex flex-col text-sm font-bold">
            Text
            <input
              className="input w-40 border-neutral font-normal"
              maxLength={60}
              placeholder={KINDS[kind].hint}
              value={text}
              list={`pencil-${kind}`}
              onChange={(event) => setText(event.target.value)}
            />
            <datalist id={`pencil-${kind}`}>
              {KINDS[kind].ready.map((word) => (
                <option key={word}>{word}</option>
              ))}
            </datalist>
          </label>
        )}
        {forDirector && instrument && (
          <label className="flex h-10 items-center gap-2 text-sm">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={everyone}
              onChange={(event) => setEveryone(event.target.checked)}
            />
            on every instrument's part
          </label>
        )}
        <label className="flex h-10 items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={shared}
            onChange={(event) => setShared(event.target.checked)}
          />
          {!forDirector
            ? "my director sees it"
            : kind === "dynamic"
              ? "players see it, and takes are heard by it"
              : "players see it"}
        </label>
        <button
          type="submit"
          className="btn border-base-300 bg-base-100"
          disabled={!ready || notes.length === 0}
        >
          Pencil it in
        </button>
      </form>
      {unmarked.length > 0 && (
        <p className="flex flex-wrap items-center gap-3 text-sm">
          Phrases here are longer than a breath.
          <button type="button" className="link" disabled={!ready} onClick={pencilBreaths}>
            Pencil in {unmarked.length === 1 ? "a breath" : `${unmarked.length} breaths`} where phrases end
          </button>
        </p>
      )}
      {problem && (
        <p role="alert" className="text-sm font-bold text-felt">
          {problem}
        </p>
      )}
      {marks.length === 0 ? (
        <p className="text-sm text-quiet">
          Nothing is written yet. Choose a note above, or click it in the music.
        </p>
      ) : (
        <ul className="flex flex-col gap-1 text-sm">
          {marks.map((mark) => (
            <li key={mark.id} className="flex flex-wrap items-center gap-x-3">
              <span className="font-bold">{labelOf(mark.eventId)}</span>
              <span>
                {KINDS[mark.kind].name.toLowerCase()}
                {mark.text && `: ${mark.text}`}
              </span>
              <span className="text-quiet">
                {mark.own
                  ? mark.shared
                    ? "shared"
                    : "only you"
                  : mark.author === "director"
                    ? "your director"
                    : mark.author}
              </span>
              {mark.own && (
                <button
                  type="button"
                  className="link"
                  onClick={() => attempt(() => call("DELETE", `/api/pencil/${mark.id}`))}
                >
                  rub out
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
