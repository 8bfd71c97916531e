import { useRef, useState } from "react";
import { call } from "../../client/api";
import { INSTRUMENTS } from "../../core/music";
import { Field } from "../../ui/Field";
import { Problem } from "../../ui/Problem";
import { useReady } from "../../ui/use-ready";
import { STAGE_NAMES } from "../../ui/wording";
import { handGroups } from "./cells";
import type { BandState } from "./use-band";

/** A new player, with the first instrument and the groups. Stays open for the next one. */
export function AddPlayerForm({ desk }: { desk: BandState }) {
  const form = useRef<HTMLFormElement>(null);
  const ready = useReady();
  const [told, setTold] = useState("");
  const groups = handGroups(desk.band);
  const submit = async (event: React.FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const typed = new FormData(event.currentTarget);
    const name = String(typed.get("name"));
    let sameName = false;
    setTold("");
    const done = await desk.act(async () => {
      const answer = await call<{ sameName: boolean }>("POST", "/api/players", {
        name,
        instruments: [typed.get("instrument")],
        stage: typed.get("stage"),
        groupIds: typed.getAll("group"),
      });
      sameName = answer.sameName;
    }, "This could not be saved.");
    if (!done) return;
    setTold(
      sameName
        ? `${name} is in the band. There is another ${name}; their cards tell them apart.`
        : `${name} is in the band.`,
    );
    const field = form.current?.elements.namedItem("name") as HTMLInputElement;
    field.value = "";
    field.focus();
  };
  return (
    <form ref={form} onSubmit={submit} className="no-print panel flex flex-col gap-2 p-4" noValidate>
      <h2 className="text-xl">Add a player</h2>
      <div className="grid gap-3 sm:grid-cols-3">
        <Field label="Name" error={desk.fields.name}>
          <input name="name" className="input w-full border-neutral" maxLength={120} />
        </Field>
        <Field label="Instrument">
          <select name="instrument" className="select w-full border-neutral">
            {INSTRUMENTS.map((instrument) => (
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
      </div>
      {groups.length > 0 && (
        <fieldset className="flex flex-wrap gap-x-4">
          <legend className="font-bold">Groups</legend>
          {groups.map((group) => (
            <label key={group.id} className="flex items-center gap-2 py-0.5">
              <input type="checkbox" name="group" value={group.id} className="checkbox checkbox-sm" />
              {group.name} ({group.players})
            </label>
          ))}
        </fieldset>
      )}
      <Problem text={desk.problem} className="text-sm" />
      <div className="flex items-center gap-3">
        <button type="submit" className="btn btn-primary" disabled={!ready || desk.busy}>
          Add to the band
        </button>
        <output className="text-sm text-done">{told}</output>
      </div>
    </form>
  );
}
