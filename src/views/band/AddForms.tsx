import { call } from "../../client/api";
import type { BandOverview } from "../../services/band/schema";
import { Field } from "../../ui/Field";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { useReady } from "../../ui/use-ready";
import { STAGE_NAMES } from "../../ui/wording";

function useSubmit(path: string, shape: (form: FormData) => unknown) {
  const { problem, fields, run } = useCall();
  const submit = async (event: React.FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    if (await run(() => call("POST", path, shape(form)), "This could not be saved.")) location.reload();
  };
  return { submit, problem, fields, ready: useReady() };
}

/** A new player, with the first instrument and the groups. */
export function AddPlayerForm({
  band,
  instruments,
}: {
  band: BandOverview;
  instruments: { id: string; name: string }[];
}) {
  const { submit, problem, fields, ready } = useSubmit("/api/players", (form) => ({
    name: form.get("name"),
    instruments: [form.get("instrument")],
    stage: form.get("stage"),
    groupIds: form.getAll("group"),
  }));
  return (
    <form onSubmit={submit} className="panel flex flex-col gap-1 p-4" noValidate>
      <h2 className="text-xl">Add a player</h2>
      <Field label="Name" error={fields.name}>
        <input name="name" className="input w-full border-neutral" maxLength={120} />
      </Field>
      <Field label="Instrument">
        <select name="instrument" className="select w-full border-neutral">
          {instruments.map((instrument) => (
            <option key={instrument.id} value={instrument.id}>
              {instrument.name}
            </option>
          ))}
        </select>
      </Field>
      <Field label="Stage">
        <select name="stage" className="select w-full border-neutral" defaultValue="five-notes">
          {Object.entries(STAGE_NAMES).map(([id, name]) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </Field>
      <fieldset className="mb-2">
        <legend className="font-bold">Groups</legend>
        {band.groups.map((group) => (
          <label key={group.id} className="flex items-center gap-2 py-0.5">
            <input type="checkbox" name="group" value={group.id} className="checkbox checkbox-sm" />
            {group.name} ({group.players})
          </label>
        ))}
      </fieldset>
      <Problem text={problem} className="text-sm" />
      <button type="submit" className="btn btn-primary" disabled={!ready}>
        Add to the band
      </button>
    </form>
  );
}

/** A new group of players. */
export function AddGroupForm({ band }: { band: BandOverview }) {
  const { submit, problem, fields, ready } = useSubmit("/api/groups", (form) => ({ name: form.get("name") }));
  return (
    <form onSubmit={submit} className="panel flex flex-col gap-1 p-4" noValidate>
      <h2 className="text-xl">Add a group</h2>
      <Field
        label="Name"
        error={fields.name ?? (problem || undefined)}
        hint={band.groups.length < 2 ? "For example Reeds or Low Brass" : ""}
      >
        <input name="name" className="input w-full border-neutral" maxLength={80} />
      </Field>
      <button type="submit" className="btn border-base-300 bg-base-100" disabled={!ready}>
        Add
      </button>
    </form>
  );
}
