import { useRef, useState } from "react";
import { ApiError, call } from "../../client/api";
import { within } from "../../core/practice";
import type { WeekItem } from "../../services/week/schema";
import { TextField } from "../../ui/Field";
import { TermsFields } from "../../ui/TermsFields";

interface Props {
  item: WeekItem;
  close: () => void;
  changed: (item: WeekItem) => void;
}

/** Changes what was given: what players began is kept, and they are told what changed. */
export function ChangeItem({ item, close, changed }: Props) {
  const [problem, setProblem] = useState("");
  const [fields, setFields] = useState<Record<string, string>>({});
  const [doubt, setDoubt] = useState("");
  const [busy, setBusy] = useState(false);
  const sure = useRef<string[]>([]);
  const last = item.bars.length - 1;
  const [bars, setBars] = useState<[number, number]>([item.firstBar ?? 0, item.lastBar ?? last]);
  const [terms, setTerms] = useState(item.terms);
  const [goalBpm, setGoalBpm] = useState(item.goalBpm);
  const whole = bars[0] === 0 && bars[1] === last;
  const submit = async (event: React.FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const typed = Object.fromEntries(new FormData(event.currentTarget)) as Record<string, string>;
    sure.current = doubt ? [...sure.current, doubt] : [];
    setDoubt("");
    setProblem("");
    setFields({});
    setBusy(true);
    const range = { firstBar: whole ? null : bars[0], lastBar: whole ? null : bars[1] };
    try {
      await call("PUT", `/api/assignments/${item.assignmentId}`, {
        ...typed,
        ...range,
        terms: within(terms, bars),
        sure: sure.current,
      });
      changed({
        ...item,
        ...range,
        terms: within(terms, bars),
        opensOn: typed.opensOn || null,
        goalBpm: Number(typed.goalBpm),
        timesPerWeek: Number(typed.timesPerWeek),
        note: typed.note ?? "",
        dueDate: typed.dueDate!,
        dueLabel: typed.dueDate === item.dueDate ? item.dueLabel : dayOf(typed.dueDate!),
        overdue: typed.dueDate === item.dueDate && item.overdue,
      });
    } catch (error) {
      const known = error instanceof ApiError ? error : new ApiError("It could not be changed.", "failed");
      setProblem(known.message);
      if (known.fields.sure) setDoubt(known.fields.sure);
      else setFields(known.fields);
    } finally {
      setBusy(false);
    }
  };
  const bar = (place: 0 | 1, label: string) => (
    <select
      aria-label={label}
      className="select w-20 border-neutral"
      value={bars[place]}
      onChange={(event) => {
        const value = Number(event.target.value);
        setBars(place === 0 ? [value, Math.max(value, bars[1])] : [Math.min(value, bars[0]), value]);
      }}
    >
      {item.bars.map((number, index) => (
        <option key={index} value={index}>
          {number}
        </option>
      ))}
    </select>
  );
  return (
    <form
      onSubmit={submit}
      className="flex flex-col gap-2"
      noValidate
      aria-label={`Change ${item.lineTitle}`}
    >
      <div className="flex flex-wrap items-start gap-3">
        <TextField
          label="Goal tempo"
          name="goalBpm"
          inputMode="numeric"
          defaultValue={item.goalBpm}
          onChange={(event) => setGoalBpm(Number(event.target.value) || item.goalBpm)}
          error={fields.goalBpm}
        />
        <TextField
          label="Times a week"
          name="timesPerWeek"
          inputMode="numeric"
          defaultValue={item.timesPerWeek}
          error={fields.timesPerWeek}
        />
        <TextField
          label="Opens"
          name="opensOn"
          type="date"
          defaultValue={item.opensOn ?? ""}
          hint="at once"
          error={fields.opensOn}
        />
        <TextField
          label="Due"
          name="dueDate"
          type="date"
          defaultValue={item.dueDate}
          error={fields.dueDate}
        />
        <TextField
          label="Note to the players"
          name="note"
          defaultValue={item.note}
          maxLength={500}
          error={fields.note}
        />
        {item.bars.length > 1 && (
          <fieldset>
            <legend className="font-bold">Bars</legend>
            <span className="flex items-center gap-2">
              {bar(0, "From bar")} to {bar(1, "To bar")}
            </span>
            <p className="text-sm text-quiet">
              {whole ? "the whole line" : "takes sent before keep their bars"}
            </p>
          </fieldset>
        )}
      </div>
      <details className="rounded border border-base-300 p-2">
        <summary className="cursor-pointer font-bold">Tempo, style, recording, marks</summary>
        <div className="mt-2 max-w-xl">
          <TermsFields
            terms={within(terms, bars)}
            change={setTerms}
            bars={item.bars}
            range={bars}
            goalBpm={goalBpm}
            problemOf={(name) => fields[`terms.${name}`] ?? fields[name]}
          />
        </div>
      </details>
      {problem && (
        <p role="alert" className="text-sm font-bold text-felt">
          {problem}
        </p>
      )}
      <div className="flex gap-2">
        <button type="submit" className="btn btn-primary btn-sm" disabled={busy}>
          {doubt ? "Change it all the same" : "Change it"}
        </button>
        <button type="button" className="btn btn-ghost btn-sm" onClick={close}>
          Leave as it was
        </button>
      </div>
    </form>
  );
}

/** "Mon 3 Nov". */
export function dayOf(date: string): string {
  const day = new Date(`${date}T00:00:00Z`);
  const part = (options: Intl.DateTimeFormatOptions) =>
    new Intl.DateTimeFormat("en-GB", { ...options, timeZone: "UTC" }).format(day);
  return `${part({ weekday: "short" })} ${part({ day: "numeric" })} ${part({ month: "short" })}`;
}
