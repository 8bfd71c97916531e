import { useState } from "react";
import { call } from "../../client/api";
import { addDays } from "../../core/calendar";
import { copyWeek, type Strip } from "../../core/plan";
import type { RibbonView } from "../../services/week/schema";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import type { Plan } from "./use-plan";

/** Weeks back that can be taken as a pattern. */
const WEEKS_BACK = 12;
const label = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", timeZone: "UTC" });

interface Props {
  view: RibbonView;
  plan: Plan;
  say: (words: string) => void;
}

/** Brings the strips of an earlier week or of a template into the one shown, as one step that undo takes back. */
export function CopyWeek({ view, plan, say }: Props) {
  const { run, busy, problem } = useCall();
  const [templates, setTemplates] = useState(view.templates);
  const [naming, setNaming] = useState(false);
  const open = new Set(
    view.cells
      .filter(({ budget }) => budget > 0)
      .map(({ groupId, where, date }) => `${groupId}/${where}/${date}`),
  );
  const put = (strips: readonly Strip[], monday: string) => {
    const { copies, leftOut } = copyWeek(
      strips,
      monday,
      view.monday,
      () => crypto.randomUUID(),
      ({ groupId, where, date }) => open.has(`${groupId}/${where}/${date}`),
    );
    plan.change([...plan.strips, ...copies]);
    say(
      leftOut.length === 0
        ? copies.length === 1
          ? "1 strip copied."
          : `${copies.length} strips copied.`
        : `${copies.length} strips copied; ${leftOut.length} stood on days that are off or without class: ${leftOut.map(({ title }) => title).join(", ")}.`,
    );
  };
  const bringWeek = async (monday: string) => {
    const found = await run(
      () => call<{ strips: Strip[] }>("GET", `/api/plan/strips?of=${monday}`),
      "That week could not be read. Try again in a moment.",
    );
    if (found) put(found.strips, monday);
  };
  const bringTemplate = async (id: string) => {
    const found = await run(
      () => call<{ monday: string; strips: Strip[] }>("GET", `/api/plan/templates/${id}`),
      "That template could not be read. Try again in a moment.",
    );
    if (found) put(found.strips, found.monday);
  };
  const keep = async (name: string) => {
    const kept = await run(
      () => call<{ id: string }>("POST", "/api/plan/templates", { name, of: view.monday }),
      "The template was not kept. Try again in a moment.",
    );
    if (!kept) return;
    setTemplates([...templates, { id: kept.id, name }]);
    setNaming(false);
    say(`This week is kept as ${name}.`);
  };
  const setAway = async (id: string) => {
    const done = await run(
      () => call("DELETE", `/api/plan/templates/${id}`),
      "This did not work. Try again in a moment.",
    );
    if (done !== undefined) setTemplates(templates.filter((each) => each.id !== id));
  };
  return (
    <>
      <select
        aria-label="Copy a week into this one"
        className="select select-sm w-auto border-base-300 font-bold"
        value=""
        disabled={busy}
        onChange={({ target: { value } }) => {
          const [kind, of] = value.split("/");
          if (kind === "week") void bringWeek(of!);
          else if (kind === "template") void bringTemplate(of!);
          else if (kind === "keep") setNaming(true);
        }}
      >
        <option value="">Copy a week</option>
        {Array.from({ length: WEEKS_BACK }, (_, i) => addDays(view.monday, -7 * (i + 1))).map((monday, i) => (
          <option key={monday} value={`week/${monday}`}>
            {i === 0 ? "the week before" : `week of ${label.format(new Date(`${monday}T12:00:00Z`))}`}
          </option>
        ))}
        {templates.map(({ id, name }) => (
          <option key={id} value={`template/${id}`}>
            template {name}
          </option>
        ))}
        <option value="keep">templates: keep this week, or set one away …</option>
      </select>
      {naming && (
        <Templates
          templates={templates}
          busy={busy || plan.saving !== "kept"}
          keep={keep}
          setAway={setAway}
          close={() => setNaming(false)}
        />
      )}
      <Problem text={problem} />
    </>
  );
}

function Templates({
  templates,
  busy,
  keep,
  setAway,
  close,
}: {
  templates: RibbonView["templates"];
  busy: boolean;
  keep: (name: string) => void;
  setAway: (id: string) => void;
  close: () => void;
}) {
  const [name, setName] = useState("");
  return (
    <form
      className="flex flex-wrap items-center gap-2 rounded border border-base-300 bg-base-100 px-2 py-1 text-sm"
      onSubmit={(event) => {
        event.preventDefault();
        keep(name);
      }}
    >
      <label>
        keep this week as
        <input
          className="input input-sm ml-1 w-40 border-neutral"
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <button type="submit" className="btn btn-sm" disabled={busy || name.trim() === ""}>
        Keep it
      </button>
      {templates.map((each) => (
        <button
          key={each.id}
          type="button"
          className="btn btn-xs border-base-300 bg-base-100"
          aria-label={`Set the template ${each.name} away`}
          disabled={busy}
          onClick={() => setAway(each.id)}
        >
          {each.name} ×
        </button>
      ))}
      <button type="button" className="btn btn-ghost btn-sm" onClick={close}>
        Close
      </button>
    </form>
  );
}
