import { type ReactNode, useRef, useState } from "react";
import { ApiError, call } from "../client/api";
import { PLAIN_TERMS, within } from "../core/practice";
import { Field, TextField } from "./Field";
import { TermsFields } from "./TermsFields";
import { useReady } from "./use-ready";
import { termsInShort } from "./wording";

interface Props {
  heading: string;
  groups: { id: string; name: string; players: number }[];
  /** Tempo that stands in the form at first. */
  bpm: number;
  /** Where it is sent, and what is sent beside the form. */
  path: string;
  extra: Record<string, unknown>;
  /** The day that stands in the form at first: a school day. */
  due: string;
  /** Printed numbers of its bars, and which of them are asked for; nothing is asked by bars when left out. */
  bars?: readonly string[];
  range?: readonly [number, number];
  /** Above the form. */
  note?: ReactNode;
  /** Further fields after the group; gets the problem of a field by its name. */
  fields?: (problemOf: (name: string) => string | undefined, groupId: string) => ReactNode;
}

/** Whether something in the terms was refused, so that they are opened. */
const fieldOfTerms = (fields: Record<string, string>) =>
  Object.keys(fields).some((name) => name.startsWith("terms.") || name in PLAIN_TERMS);

/** Gives something to a group: to whom, how fast, how often, until when. */
export function GiveForm({
  heading,
  groups,
  bpm,
  path,
  extra,
  due,
  bars = [],
  range = [0, 0],
  note,
  fields: more,
}: Props) {
  const [terms, setTerms] = useState(PLAIN_TERMS);
  const [goalBpm, setGoalBpm] = useState(bpm);
  const [groupId, setGroupId] = useState(groups[0]?.id ?? "");
  const [fields, setFields] = useState<Record<string, string>>({});
  const [problem, setProblem] = useState("");
  const ready = useReady();
  const [busy, setBusy] = useState(false);
  /** What the bench asks about before it is done. */
  const [doubt, setDoubt] = useState("");
  const sure = useRef<string[]>([]);
  const [done, setDone] = useState<{ tasks: number; leftOut: string[]; group: string } | null>(null);

  const submit = async (event: React.FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = Object.fromEntries(new FormData(event.currentTarget));
    sure.current = doubt ? [...sure.current, doubt] : [];
    setDoubt("");
    setBusy(true);
    setProblem("");
    setFields({});
    try {
      const answer = await call<{ tasks: number; leftOut: string[] }>("POST", path, {
        ...form,
        terms: within(terms, range),
        ...extra,
        sure: sure.current,
      });
      setDone({ ...answer, group: groups.find((group) => group.id === form.groupId)!.name });
    } catch (error) {
      const known = error instanceof ApiError ? error : new ApiError("It could not be given.", "failed");
      setProblem(known.message);
      if (known.fields.sure) setDoubt(known.fields.sure);
      else setFields(known.fields);
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
      <h2 className="text-xl">{heading}</h2>
      {note}
      <Field label="To" error={fields.groupId}>
        <select
          name="groupId"
          className="select w-full border-neutral"
          value={groupId}
          onChange={(event) => setGroupId(event.target.value)}
        >
          {groups.map((group) => (
            <option key={group.id} value={group.id}>
              {group.name} ({group.players})
            </option>
          ))}
        </select>
      </Field>
      {more?.((name) => fields[name], groupId)}
      <div className="grid grid-cols-2 gap-2">
        <Field label="Goal tempo" error={fields.goalBpm} hint={`marked ${bpm}`}>
          <input
            name="goalBpm"
            inputMode="numeric"
            defaultValue={bpm}
            onChange={(event) => setGoalBpm(Number(event.target.value) || bpm)}
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
      <div className="grid grid-cols-2 gap-2">
        <TextField label="Opens" error={fields.opensOn} name="opensOn" type="date" hint="at once" />
        <TextField label="Due" error={fields.dueDate} name="dueDate" type="date" defaultValue={due} />
      </div>
      <Field label="Note to the players" error={fields.note}>
        <textarea name="note" className="textarea w-full border-neutral" rows={2} maxLength={500} />
      </Field>
      <details className="mb-2 rounded border border-base-300 p-2" open={fieldOfTerms(fields) || undefined}>
        <summary className="cursor-pointer font-bold">
          Tempo, style, recording, marks
          {termsInShort(terms) && (
            <span className="block text-sm font-normal text-brass">{termsInShort(terms)}</span>
          )}
        </summary>
        <div className="mt-2">
          <TermsFields
            terms={within(terms, range)}
            change={setTerms}
            {...{ bars, range, goalBpm }}
            problemOf={(name) => fields[`terms.${name}`] ?? fields[name]}
          />
        </div>
      </details>
      <label className="mb-2 flex items-start gap-2 text-sm">
        <input type="checkbox" name="teach" className="checkbox checkbox-sm" defaultChecked />
        <span>What is new in it counts as taught from the day it is due.</span>
      </label>
      {problem && (
        <p role="alert" className="text-sm font-bold text-felt">
          {problem}
        </p>
      )}
      <button type="submit" className="btn btn-primary" disabled={busy || !ready}>
        {busy ? "Assigning …" : doubt ? "Give it all the same" : "Put it on their stands"}
      </button>
    </form>
  );
}
