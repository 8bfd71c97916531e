import { useMemo, useState } from "react";
import { call } from "../../client/api";
import { INSTRUMENTS, instrumentById } from "../../core/music";
import type { BandOverview, GroupRow } from "../../services/band/schema";
import { Problem } from "../../ui/Problem";
import { type Packed, unpacked } from "../../ui/packed";
import { useReady } from "../../ui/use-ready";
import { UndoLine } from "./UndoLine";
import { type BandState, useBand } from "./use-band";

/** Rules that schools ask for by name. */
const RULES: Record<string, string[]> = {
  "all reeds": familiesOf("double reeds", "clarinets", "saxes"),
  "all woodwinds": familiesOf("flutes", "double reeds", "clarinets", "saxes"),
  "all high brass": familiesOf("high brass"),
  "all low brass": familiesOf("low brass"),
  "all brass": familiesOf("high brass", "low brass"),
  "all percussion": familiesOf("mallets", "drums"),
};

function familiesOf(...families: string[]): string[] {
  return INSTRUMENTS.filter(({ family }) => families.includes(family)).map(({ id }) => id);
}

/** Groups: by an instrument rule that new players follow, or by hand. */
export function GroupsDesk({ data }: { data: Packed<BandOverview> }) {
  const first = useMemo(() => unpacked(data), [data]);
  const desk = useBand(first);
  const [open, setOpen] = useState<string | null>(null);
  const { band } = desk;
  return (
    <div className="flex max-w-4xl flex-col gap-3">
      <Problem text={desk.problem} />
      <UndoLine desk={desk} />
      <ul className="flex flex-col gap-2">
        {band.groups.map((group) => (
          <li key={group.id} className="panel p-3">
            <div className="flex flex-wrap items-baseline gap-x-3">
              <h2 className="text-xl">{group.name}</h2>
              <span>{group.players === 1 ? "1 player" : `${group.players} players`}</span>
              <span className="text-sm text-quiet">{kindOf(group)}</span>
              <button
                type="button"
                className="btn btn-sm ml-auto border-base-300 bg-base-100"
                aria-expanded={open === group.id}
                onClick={() => setOpen(open === group.id ? null : group.id)}
              >
                {open === group.id ? "Close" : "Change"}
              </button>
            </div>
            <p className="text-sm text-quiet">{group.instruments.join(", ")}</p>
            {open === group.id && <ChangeGroup desk={desk} group={group} done={() => setOpen(null)} />}
          </li>
        ))}
      </ul>
      <NewGroup desk={desk} />
      {band.archivedGroups.length > 0 && (
        <details className="panel p-3">
          <summary className="cursor-pointer font-bold">
            Archived groups ({band.archivedGroups.length})
          </summary>
          <ul className="mt-2 flex flex-col gap-1">
            {band.archivedGroups.map(({ id, name }) => (
              <li key={id} className="flex items-center gap-3">
                {name}
                <button
                  type="button"
                  className="btn btn-xs border-base-300 bg-base-100 text-sm"
                  disabled={desk.busy}
                  onClick={() =>
                    desk.act(() => call("PUT", `/api/groups/${id}/restored`), "This did not work.")
                  }
                >
                  Bring back
                </button>
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}

function kindOf(group: GroupRow): string {
  if (group.everyone) return "everybody is in it";
  if (group.rule.length === 0) return "members by hand";
  const named = Object.entries(RULES).find(([, rule]) => sameSet(rule, group.rule))?.[0];
  return `by instrument: ${named ?? group.rule.map((id) => instrumentById(id).name).join(", ")}`;
}

function sameSet(a: readonly string[], b: readonly string[]): boolean {
  return a.length === b.length && a.every((each) => b.includes(each));
}

function RulePick({ rule, change }: { rule: string[]; change: (rule: string[]) => void }) {
  const named = Object.entries(RULES).find(([, each]) => sameSet(each, rule))?.[0];
  return (
    <div className="flex flex-col gap-2">
      <label className="flex w-fit flex-col text-sm font-bold">
        Who belongs to it
        <select
          className="select select-sm w-auto border-neutral font-normal"
          value={rule.length === 0 ? "hand" : (named ?? "own")}
          onChange={(event) => {
            const { value } = event.target;
            change(
              value === "hand" ? [] : value === "own" ? (rule.length > 0 ? rule : ["flute"]) : RULES[value]!,
            );
          }}
        >
          <option value="hand">chosen by hand</option>
          {Object.keys(RULES).map((name) => (
            <option key={name} value={name}>
              {name}
            </option>
          ))}
          <option value="own">players of these instruments</option>
        </select>
      </label>
      {rule.length > 0 && (
        <details open={!named}>
          <summary className="cursor-pointer text-sm">Instruments ({rule.length})</summary>
          <div className="mt-1 grid grid-cols-2 gap-x-4 text-sm sm:grid-cols-4">
            {INSTRUMENTS.map(({ id, name }) => (
              <label key={id} className="flex items-center gap-2 py-0.5">
                <input
                  type="checkbox"
                  className="checkbox checkbox-sm"
                  checked={rule.includes(id)}
                  onChange={(event) =>
                    change(event.target.checked ? [...rule, id] : rule.filter((each) => each !== id))
                  }
                />
                {name}
              </label>
            ))}
          </div>
        </details>
      )}
    </div>
  );
}

function ChangeGroup({ desk, group, done }: { desk: BandState; group: GroupRow; done: () => void }) {
  const [name, setName] = useState(group.name);
  const [rule, setRule] = useState(group.rule);
  const [members, setMembers] = useState(
    () => new Set(desk.band.players.filter((row) => row.groupIds.includes(group.id)).map(({ id }) => id)),
  );
  const byHand = !group.everyone && group.rule.length === 0 && rule.length === 0;
  const keep = async () => {
    const renamed = name !== group.name || !sameSet(rule, group.rule);
    const kept =
      (!renamed ||
        (await desk.act(
          () => call("PUT", `/api/groups/${group.id}`, { name, rule }),
          "This could not be saved.",
        ))) &&
      (!byHand ||
        (await desk.act(
          () => call("PUT", `/api/groups/${group.id}/members`, { playerIds: [...members] }),
          "This could not be saved.",
        )));
    if (kept) done();
  };
  return (
    <form
      className="mt-3 flex flex-col gap-3 border-t border-base-300 pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <label className="flex w-fit flex-col text-sm font-bold">
        Name
        <input
          className="input input-sm w-60 border-neutral font-normal"
          value={name}
          maxLength={80}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      {!group.everyone && <RulePick rule={rule} change={setRule} />}
      {byHand && (
        <fieldset className="grid max-h-72 grid-cols-2 gap-x-4 overflow-auto text-sm sm:grid-cols-3">
          <legend className="font-bold">Members ({members.size})</legend>
          {desk.band.players.map((row) => (
            <label key={row.id} className="flex items-center gap-2 py-0.5">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={members.has(row.id)}
                onChange={(event) => {
                  const next = new Set(members);
                  if (event.target.checked) next.add(row.id);
                  else next.delete(row.id);
                  setMembers(next);
                }}
              />
              {row.name}
            </label>
          ))}
        </fieldset>
      )}
      <p className="text-sm text-quiet">
        Who comes in gets the work of the group that is still due; who goes out has none of it left. What was
        sent stays.
      </p>
      <div className="flex gap-2">
        <button type="submit" className="btn btn-primary btn-sm" disabled={desk.busy || !name.trim()}>
          Keep
        </button>
        <button type="button" className="btn btn-ghost btn-sm" onClick={done}>
          Leave as it was
        </button>
        {!group.everyone && (
          <button
            type="button"
            className="btn btn-sm ml-auto border-base-300 bg-base-100"
            disabled={desk.busy}
            onClick={() => desk.act(() => call("DELETE", `/api/groups/${group.id}`), "This did not work.")}
          >
            Archive the group
          </button>
        )}
      </div>
    </form>
  );
}

function NewGroup({ desk }: { desk: BandState }) {
  const ready = useReady();
  const [name, setName] = useState("");
  const [rule, setRule] = useState<string[]>([]);
  return (
    <form
      className="panel flex flex-col gap-3 p-3"
      onSubmit={async (event) => {
        event.preventDefault();
        if (await desk.act(() => call("POST", "/api/groups", { name, rule }), "This could not be saved.")) {
          setName("");
          setRule([]);
        }
      }}
    >
      <h2 className="text-xl">Make a group</h2>
      <label className="flex w-fit flex-col text-sm font-bold">
        Name
        <input
          className="input input-sm w-60 border-neutral font-normal"
          value={name}
          placeholder="for example Reeds"
          maxLength={80}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      {desk.fields.name && <p className="text-sm font-bold text-felt">{desk.fields.name}</p>}
      <RulePick rule={rule} change={setRule} />
      <button
        type="submit"
        className="btn btn-primary btn-sm self-start"
        disabled={!ready || desk.busy || !name.trim()}
      >
        Make the group
      </button>
    </form>
  );
}
