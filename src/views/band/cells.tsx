import { INSTRUMENTS, instrumentById, type Stage } from "../../core/music";
import type { BandOverview, PARTS, PlayerRow } from "../../services/band/schema";
import { STAGE_NAMES } from "../../ui/wording";

/** A column of the table of players that can be changed in place. */
export type EditableField = "name" | "calledName" | "instruments" | "part" | "stage" | "groupIds" | "kit";

export const COLUMN_NAMES: Record<EditableField, string> = {
  name: "Name",
  calledName: "Called",
  instruments: "Plays",
  part: "Part",
  stage: "Stage",
  groupIds: "Groups",
  kit: "Kit",
};
export const EDITABLE = Object.keys(COLUMN_NAMES) as EditableField[];

export const PART_NAMES: Record<(typeof PARTS)[number], string> = {
  first: "first",
  second: "second",
  bass: "bass line",
  easy: "easy",
};

/** Groups that players are put into by hand. */
export function handGroups(band: BandOverview) {
  return band.groups.filter((group) => !group.everyone && group.rule.length === 0);
}

/** What a cell says. */
export function cellText(row: PlayerRow, field: EditableField, band: BandOverview): string {
  switch (field) {
    case "instruments":
      return row.instruments.map((id) => instrumentText(row, id)).join(", ");
    case "part":
      return row.part ? PART_NAMES[row.part] : "";
    case "stage":
      return STAGE_NAMES[row.stage];
    case "groupIds":
      return band.groups
        .filter((group) => !group.everyone && row.groupIds.includes(group.id))
        .map(({ name }) => name)
        .join(", ");
    default:
      return row[field];
  }
}

function instrumentText(row: PlayerRow, id: string): string {
  const instrument = instrumentById(id);
  const build = instrument.variants?.find((each) => each.id === row.builds[id])?.name;
  const stage = row.stages[id];
  const about = [build, stage && STAGE_NAMES[stage]].filter(Boolean).join(", ");
  return about ? `${instrument.name} (${about})` : instrument.name;
}

interface EditorProps {
  row: PlayerRow;
  field: EditableField;
  band: BandOverview;
  save: (
    is: unknown,
    also?: { builds: Record<string, string | null>; stages: Record<string, Stage | null> },
  ) => void;
  cancel: () => void;
}

/** The editor of one cell: opened by Enter or a click, kept by Enter or leaving, left by Escape. */
export function CellEditor({ row, field, band, save, cancel }: EditorProps) {
  const label = `${COLUMN_NAMES[field]} of ${row.name}`;
  const leave = (event: React.KeyboardEvent) => {
    if (event.key !== "Escape") return;
    event.stopPropagation();
    cancel();
  };
  if (field === "instruments") return <InstrumentsEditor {...{ row, save, cancel }} />;
  if (field === "groupIds") return <GroupsEditor {...{ row, band, save, cancel }} />;
  if (field === "part" || field === "stage") {
    const options: [string, string][] =
      field === "stage"
        ? Object.entries(STAGE_NAMES)
        : [["", "as the instrument has it"], ...Object.entries(PART_NAMES)];
    return (
      <select
        className="select select-sm w-full border-neutral text-sm"
        aria-label={label}
        // biome-ignore lint/a11y/noAutofocus: the cell was just opened to be typed in
        autoFocus
        defaultValue={(field === "stage" ? row.stage : row.part) ?? ""}
        onChange={(event) => save(event.target.value || null)}
        onBlur={cancel}
        onKeyDown={leave}
      >
        {options.map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    );
  }
  return (
    <input
      className="input input-sm w-full border-neutral text-sm"
      aria-label={label}
      // biome-ignore lint/a11y/noAutofocus: the cell was just opened to be typed in
      autoFocus
      defaultValue={row[field]}
      maxLength={{ name: 120, calledName: 60, kit: 200 }[field]}
      onFocus={(event) => event.target.select()}
      onBlur={(event) => save(event.target.value)}
      onKeyDown={(event) => {
        leave(event);
        if (event.key === "Enter" && !event.repeat) {
          event.preventDefault();
          event.stopPropagation();
          save(event.currentTarget.value);
        }
      }}
    />
  );
}

/** A small form over the table, which closes on Escape. */
function Sheet({
  label,
  keep,
  cancel,
  children,
}: {
  label: string;
  keep: (form: FormData) => void;
  cancel: () => void;
  children: React.ReactNode;
}) {
  return (
    <form
      aria-label={label}
      className="panel absolute left-0 top-full z-20 flex w-72 flex-col gap-2 p-3 shadow-lg"
      onSubmit={(event) => {
        event.preventDefault();
        keep(new FormData(event.currentTarget));
      }}
      onKeyDown={(event) => {
        if (event.key === "Escape") cancel();
        event.stopPropagation();
      }}
    >
      {children}
      <div className="flex gap-2">
        <button type="submit" className="btn btn-primary btn-sm">
          Keep
        </button>
        <button type="button" className="btn btn-ghost btn-sm" onClick={cancel}>
          Leave as it was
        </button>
      </div>
    </form>
  );
}

function InstrumentsEditor({ row, save, cancel }: Pick<EditorProps, "row" | "save" | "cancel">) {
  const keep = (form: FormData) => {
    const instruments = [...new Set(form.getAll("instrument").map(String).filter(Boolean))];
    const builds: Record<string, string | null> = {};
    for (const id of instruments) {
      const build = String(form.get(`build-${id}`) ?? "");
      if (build) builds[id] = build;
    }
    const stages: Record<string, Stage | null> = {};
    for (const id of instruments) {
      const stage = row.instruments.includes(id) ? form.get(`stage-${id}`) : null;
      if (stage) stages[id] = stage as Stage;
    }
    save(instruments.length > 0 ? instruments : row.instruments, { builds, stages });
  };
  return (
    <Sheet label={`Instruments of ${row.name}`} keep={keep} cancel={cancel}>
      {[0, 1, 2].map((place) => (
        <label key={place} className="flex flex-col text-sm font-bold">
          {["Instrument", "and", "and"][place]}
          <select
            name="instrument"
            className="select select-sm w-full border-neutral text-sm font-normal"
            // biome-ignore lint/a11y/noAutofocus: the cell was just opened to be typed in
            autoFocus={place === 0}
            defaultValue={row.instruments[place] ?? ""}
          >
            {place > 0 && <option value="">none</option>}
            {INSTRUMENTS.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
      ))}
      {row.instruments.map((id) => {
        const { variants = [], name } = instrumentById(id);
        return variants.length === 0 ? null : (
          <label key={id} className="flex flex-col text-sm font-bold">
            {name}, build
            <select
              name={`build-${id}`}
              className="select select-sm w-full border-neutral text-sm font-normal"
              defaultValue={row.builds[id] ?? ""}
            >
              <option value="">usual: {variants[0]!.name}</option>
              {variants.slice(1).map((each) => (
                <option key={each.id} value={each.id}>
                  {each.name}
                </option>
              ))}
            </select>
          </label>
        );
      })}
      {row.instruments.map((id) => (
        <label key={id} className="flex flex-col text-sm font-bold">
          {instrumentById(id).name}, stage
          <select
            name={`stage-${id}`}
            className="select select-sm w-full border-neutral text-sm font-normal"
            defaultValue={row.stages[id] ?? ""}
          >
            <option value="">as the player: {STAGE_NAMES[row.stage]}</option>
            {Object.entries(STAGE_NAMES).map(([stage, name]) => (
              <option key={stage} value={stage}>
                {name}
              </option>
            ))}
          </select>
        </label>
      ))}
      <p className="text-sm text-quiet">
        A change counts from today. What was shown on the old instrument stays with it; a new one of another
        family begins at making a sound.
      </p>
    </Sheet>
  );
}

function GroupsEditor({ row, band, save, cancel }: Omit<EditorProps, "field">) {
  const groups = handGroups(band);
  return (
    <Sheet
      label={`Groups of ${row.name}`}
      keep={(form) => save(form.getAll("group").map(String))}
      cancel={cancel}
    >
      {groups.length === 0 && <p className="text-sm">There is no group to choose by hand yet.</p>}
      {groups.map(({ id, name }, place) => (
        <label key={id} className="flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            name="group"
            value={id}
            className="checkbox checkbox-sm"
            // biome-ignore lint/a11y/noAutofocus: the cell was just opened to be typed in
            autoFocus={place === 0}
            defaultChecked={row.groupIds.includes(id)}
          />
          {name}
        </label>
      ))}
      <p className="text-sm text-quiet">
        Work of a new group that is still due comes to the stand; work of a group left goes from it. What was
        sent stays.
      </p>
    </Sheet>
  );
}
