import { addDays, format } from "date-fns";
import { useState } from "react";
import { ApiError, call } from "../../client/api";
import type { LineDetail } from "../../services/shelf/schema";
import { Field, TextField } from "../../ui/Field";
import { useReady } from "../../ui/use-ready";

interface Props {
  line: LineDetail;
  groups: { id: string; name: string; players: number; instruments: string[] }[];
}

/** Gives a line to a group. */
export function AssignForm({ line, groups }: Props) {
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
      {line.catalogued && (
        <p className="mb-1 text-sm text-quiet">
          The notes are in the book only: takes are answered with rhythm, level and tuning.
        </p>
      )}
      <Field label="To" error={fields.groupId}>
        <select name="groupId" className="select w-full border-neutral">
          {groups.map((group) => (
            <option key={group.id} value={group.id}>
              {group.name} ({group.players})
            </option>
          ))}
        </select>
      </Field>
      {line.parts.length > 1 && (
        <Field label="Part" error={fields.partId}>
          <select name="partId" className="select w-full border-neutral">
            <option value="">each instrument's own, else the line</option>
            {line.parts.slice(1).map((part) => (
              <option key={part.id} value={part.id}>
                {part.name} for everybody in the group
              </option>
            ))}
          </select>
        </Field>
      )}
      <div className="grid grid-cols-2 gap-2">
        <Field label="Goal tempo" error={fields.goalBpm} hint={`marked ${line.bpm}`}>
          <input
            name="goalBpm"
            inputMode="numeric"
            defaultValue={line.bpm}
            className="input w-full border-neutral"
          />
        </Field>
        <TextField
          label="Times a week"
          error={fields.timesPerWeek}
          name="timesPerWeek"
          inputMode="numeric"
          defaultValue={5}
        />
      </div>
      <TextField
        label="Due"
        error={fields.dueDate}
        name="dueDate"
        type="date"
        defaultValue={format(addDays(new Date(), 7), "yyyy-MM-dd")}
      />
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
