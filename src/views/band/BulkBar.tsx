import type { PlayerEdit, PlayerRow } from "../../services/band/schema";
import { STAGE_NAMES } from "../../ui/wording";
import { handGroups, PART_NAMES } from "./cells";
import { type BandState, cellOf } from "./use-band";

interface Props {
  desk: BandState;
  chosen: PlayerRow[];
  drawCards: () => void;
  done: () => void;
}

/** What can be done to several players at once. */
export function BulkBar({ desk, chosen, drawCards, done }: Props) {
  const groups = handGroups(desk.band);
  const set = async (field: PlayerEdit["field"], toBe: (row: PlayerRow) => unknown) => {
    const changes = chosen.flatMap((row) => {
      const [was, is] = [cellOf(row, field), toBe(row)];
      return JSON.stringify(was) === JSON.stringify(is)
        ? []
        : [{ playerId: row.id, field, was, is } as PlayerEdit];
    });
    if (changes.length > 0 && (await desk.edit(changes)) && field === "left") done();
  };
  const names = chosen.length === 1 ? chosen[0]!.name : `${chosen.length} players`;
  const select = "select select-sm w-auto border-neutral text-sm";
  return (
    <div
      className="no-print panel flex flex-wrap items-center gap-2 px-3 py-2 text-sm"
      role="toolbar"
      aria-label={`For ${names}`}
    >
      <b className="mr-1">{names}:</b>
      <Choice
        label="Stage"
        className={select}
        options={STAGE_NAMES}
        choose={(stage) => set("stage", () => stage)}
      />
      <Choice
        label="Part"
        className={select}
        options={{ none: "as the instrument has it", ...PART_NAMES }}
        choose={(part) => set("part", () => (part === "none" ? null : part))}
      />
      {groups.length > 0 && (
        <>
          <Choice
            label="Into group"
            className={select}
            options={Object.fromEntries(groups.map(({ id, name }) => [id, name]))}
            choose={(id) => set("groupIds", (row) => [...new Set([...row.groupIds, id])])}
          />
          <Choice
            label="Out of group"
            className={select}
            options={Object.fromEntries(groups.map(({ id, name }) => [id, name]))}
            choose={(id) => set("groupIds", (row) => row.groupIds.filter((each) => each !== id))}
          />
        </>
      )}
      <button
        type="button"
        className="btn btn-sm border-base-300 bg-base-100"
        disabled={desk.busy}
        onClick={drawCards}
      >
        Draw {chosen.length === 1 ? "a new card" : `${chosen.length} new cards`}
      </button>
      <button
        type="button"
        className="btn btn-sm border-base-300 bg-base-100"
        disabled={desk.busy}
        onClick={() => set("left", () => true)}
      >
        {chosen.length === 1 ? "Has left the band" : "Have left the band"}
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={done}>
        Choose nobody
      </button>
    </div>
  );
}

interface ChoiceProps {
  label: string;
  className: string;
  options: Record<string, string>;
  choose: (id: string) => void;
}

/** A list of which one entry is done at once. */
function Choice({ label, className, options, choose }: ChoiceProps) {
  return (
    <select
      className={className}
      aria-label={label}
      value=""
      onChange={(event) => choose(event.target.value)}
    >
      <option value="" disabled>
        {label} …
      </option>
      {Object.entries(options).map(([id, name]) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
  );
}
