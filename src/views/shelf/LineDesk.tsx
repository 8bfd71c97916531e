import { addDays, format } from "date-fns";
import { useRef, useState } from "react";
import { ApiError, call } from "../../client/api";
import type { LineDetail, PartView, ReadinessRow } from "../../services/shelf/schema";
import { Field } from "../../ui/Field";
import { FingeringList } from "../../ui/Fingering";
import { Notation } from "../../ui/Notation";
import { useReady } from "../../ui/use-ready";
import { BarMap } from "./BarMap";
import { Readiness } from "./Readiness";

interface Props {
  line: LineDetail;
  first: PartView;
  instruments: { id: string; name: string }[];
  readiness: ReadinessRow[];
  groups: { id: string; name: string; players: number; instruments: string[] }[];
}

const STAGES = [
  ["five-notes", "Five notes"],
  ["small-tunes", "Small tunes"],
  ["widening", "Widening"],
] as const;

export function LineDesk({ line, first, instruments, groups, readiness }: Props) {
  const ready = useReady();
  const [part, setPart] = useState(first);
  const [stage, setStage] = useState<string>("small-tunes");
  const [problem, setProblem] = useState("");
  const asked = useRef(0);

  const show = async (instrumentId: string, newStage: string) => {
    const turn = ++asked.current;
    setProblem("");
    setStage(newStage);
    try {
      const view = await call<PartView>(
        "GET",
        `/api/lines/${line.id}/parts/${instrumentId}?stage=${newStage}&width=wide`,
      );
      if (turn === asked.current) setPart(view);
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "This part could not be shown.");
    }
  };

  return (
    <div className="grid gap-4 lg:grid-cols-[1fr_300px]">
      <div className="flex min-w-0 flex-col gap-3">
        <div className="no-print flex flex-wrap items-center gap-3">
          <label className="flex items-center gap-2">
            <span className="font-bold">Part</span>
            <select
              className="select border-neutral"
              disabled={!ready}
              value={part.instrumentId}
              onChange={(event) => show(event.target.value, stage)}
            >
              <option value="concert">Concert pitch</option>
              {instruments.map((instrument) => (
                <option key={instrument.id} value={instrument.id}>
                  {instrument.name}
                </option>
              ))}
            </select>
          </label>
          <label className="flex items-center gap-2">
            <span className="font-bold">Stage</span>
            <select
              className="select border-neutral"
              disabled={!ready}
              value={stage}
              onChange={(event) => show(part.instrumentId, event.target.value)}
            >
              {STAGES.map(([id, name]) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
          </label>
          <p className="text-quiet" aria-live="polite">
            {part.instrumentName}: {part.key}
            {part.octaveShift !== 0 &&
              `, ${Math.abs(part.octaveShift)} octave${Math.abs(part.octaveShift) > 1 ? "s" : ""} ${part.octaveShift > 0 ? "higher" : "lower"} to fit the stage`}
          </p>
        </div>
        {problem && (
          <p role="alert" className="text-felt">
            {problem}
          </p>
        )}
        {part.outOfRange.length > 0 && (
          <p className="rounded border border-felt p-2 text-felt">
            Outside this stage's range for {part.instrumentName}: {part.outOfRange.join(", ")}. Choose a later
            stage, another line, or wait.
          </p>
        )}
        <div className="panel p-3">
          <Notation
            svg={part.svg}
            label={`${line.title}, ${part.instrumentName}, ${part.key}`}
            brackets={part.snags
              .filter((snag) => snag.kind !== "accidental" && snag.kind !== "out-of-range")
              .map(({ fromEventId, toEventId, reason }) => ({ fromEventId, toEventId, label: reason }))}
          />
          <PartNotes part={part} />
          <p className="no-print mt-2 flex flex-wrap gap-2">
            <button type="button" className="btn btn-sm border-base-300 bg-base-100" onClick={() => print()}>
              Print this part
            </button>
            <a className="btn btn-sm border-base-300 bg-base-100" href={`/shelf/print/${line.id}`}>
              Print everybody's
            </a>
            {[
              ["musicxml", "MusicXML"],
              ["mid", "MIDI"],
            ].map(([kind, name]) => (
              <a
                key={kind}
                className="btn btn-sm border-base-300 bg-base-100"
                href={`/api/lines/${line.id}/files/${part.instrumentId}.${kind}?stage=${stage}`}
              >
                {name} of this part
              </a>
            ))}
          </p>
        </div>
        {part.newNotes.length > 0 && (
          <section>
            <h2 className="mb-2 text-xl">New at this stage</h2>
            <FingeringList notes={part.newNotes} forDirector />
          </section>
        )}
        <BarMap bars={line.barRelations} form={line.form} />
        <Readiness
          rows={readiness}
          show={(instrumentId, newStage) => {
            void show(instrumentId, newStage);
            scrollTo({ top: 0 });
          }}
        />
        {line.notUnderstood.length > 0 && (
          <p className="text-sm text-quiet">
            Left out of {line.sourceName}: {line.notUnderstood.join("; ")}.
          </p>
        )}
      </div>
      <AssignForm line={line} groups={groups} />
    </div>
  );
}

/** What this part asks of its players, in words under the notation. */
function PartNotes({ part }: { part: PartView }) {
  const fresh = [...part.newRhythms, ...part.newSigns];
  const snags = part.snags.filter((snag) => snag.kind !== "out-of-range");
  if (part.difficulty === null) return null;
  return (
    <div className="mt-2 flex flex-col gap-1 text-sm">
      {snags.length > 0 && (
        <ul>
          {snags.map((snag) => (
            <li key={`${snag.fromEventId}-${snag.toEventId}-${snag.kind}`}>
              <span className="font-bold">bar {snag.measure}:</span> {snag.reason}
            </li>
          ))}
        </ul>
      )}
      <p className="text-quiet">
        {fresh.length > 0 && `New rhythms and signs: ${fresh.join(", ")}. `}
        Difficulty {part.difficulty.total.toFixed(1)}:{" "}
        {Object.entries(part.difficulty.parts)
          .filter(([, value]) => value > 0)
          .map(([name, value]) => `${name} ${value.toFixed(1)}`)
          .join(", ") || "nothing beyond a first line"}
        .
      </p>
    </div>
  );
}

function AssignForm({ line, groups }: { line: LineDetail; groups: Props["groups"] }) {
  const [fields, setFields] = useState<Record<string, string>>({});
  const [problem, setProblem] = useState("");
  const ready = useReady();
  const [busy, setBusy] = useState(false);
  const [done, setDone] = useState<{ tasks: number; leftOut: string[]; group: string } | null>(null);

  const submit = async (event: React.FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = Object.fromEntries(new FormData(event.currentTarget));
    setBusy(true);
    setProblem("");
    setFields({});
    try {
      const answer = await call<{ tasks: number; leftOut: string[] }>("POST", "/api/assignments", {
        ...form,
        lineId: line.id,
      });
      setDone({ ...answer, group: groups.find((group) => group.id === form.groupId)!.name });
    } catch (error) {
      const known =
        error instanceof ApiError ? error : new ApiError("The line could not be assigned.", "failed");
      setProblem(known.message);
      setFields(known.fields);
    } finally {
      setBusy(false);
    }
  };

  if (done) {
    return (
      <section className="panel h-fit p-4" aria-live="polite">
        <h2 className="text-xl">Given to {done.group}</h2>
        <p className="mt-1">
          It is on {done.tasks} {done.tasks === 1 ? "stand" : "stands"} now.
        </p>
        {done.leftOut.map((each) => (
          <p key={each} className="text-sm text-quiet">
            {each}.
          </p>
        ))}
        <div className="mt-3 flex gap-2">
          <a className="btn btn-primary" href="/week">
            See the week
          </a>
          <button type="button" className="btn border-base-300 bg-base-100" onClick={() => setDone(null)}>
            Give it again
          </button>
        </div>
      </section>
    );
  }
  return (
    <form onSubmit={submit} className="no-print panel flex h-fit flex-col gap-1 p-4" noValidate>
      <h2 className="text-xl">Assign</h2>
      <Field label="To" error={fields.groupId}>
        <select name="groupId" className="select w-full border-neutral">
          {groups.map((group) => (
            <option key={group.id} value={group.id}>
              {group.name} ({group.players})
            </option>
          ))}
        </select>
      </Field>
      <div className="grid grid-cols-2 gap-2">
        <Field label="Goal tempo" error={fields.goalBpm} hint={`marked ${line.bpm}`}>
          <input
            name="goalBpm"
            inputMode="numeric"
            defaultValue={line.bpm}
            className="input w-full border-neutral"
          />
        </Field>
        <Field label="Times a week" error={fields.timesPerWeek}>
          <input
            name="timesPerWeek"
            inputMode="numeric"
            defaultValue={5}
            className="input w-full border-neutral"
          />
        </Field>
      </div>
      <Field label="Due" error={fields.dueDate}>
        <input
          name="dueDate"
          type="date"
          defaultValue={format(addDays(new Date(), 7), "yyyy-MM-dd")}
          className="input w-full border-neutral"
        />
      </Field>
      <Field label="Note to the players" error={fields.note}>
        <textarea name="note" className="textarea w-full border-neutral" rows={2} maxLength={500} />
      </Field>
      {problem && (
        <p role="alert" className="text-sm font-bold text-felt">
          {problem}
        </p>
      )}
      <button type="submit" className="btn btn-primary" disabled={busy || !ready}>
        {busy ? "Assigning …" : "Put it on their stands"}
      </button>
    </form>
  );
}
