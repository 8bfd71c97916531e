import { Count } from "../../ui/Pick";
import { TempoField } from "../../ui/TempoField";
import type { useRoutine } from "./use-routine";

interface Props {
  desk: ReturnType<typeof useRoutine>;
  /** It can be saved as it is. */
  ready: boolean;
}

/** Name, time and tempo of a routine; undo, redo and save. */
export function RoutineHead({ desk, ready }: Props) {
  const { now, change } = desk;
  return (
    <div className="flex flex-wrap items-end gap-3">
      <label className="flex min-w-56 flex-1 flex-col text-sm font-bold">
        Name
        <input
          className="input w-full border-neutral font-normal"
          value={now.title}
          maxLength={160}
          onChange={(event) => change({ ...now, title: event.target.value })}
        />
      </label>
      <Count
        label="Minutes"
        value={now.budgetSec / 60}
        least={1}
        most={60}
        change={(minutes) => Number.isFinite(minutes) && change({ ...now, budgetSec: 60 * minutes })}
      />
      <Count
        label="Seconds between"
        value={now.changeoverSec}
        least={0}
        most={60}
        change={(changeoverSec) => Number.isFinite(changeoverSec) && change({ ...now, changeoverSec })}
      />
      <TempoField
        label="Tempo of the piece"
        bpm={now.pieceBpm}
        least={30}
        most={240}
        change={(pieceBpm) => Number.isFinite(pieceBpm) && change({ ...now, pieceBpm })}
      />
      <div className="flex gap-2">
        <button
          type="button"
          className="btn border-base-300 bg-base-100"
          disabled={!desk.canUndo}
          onClick={desk.undo}
        >
          Undo
        </button>
        <button
          type="button"
          className="btn border-base-300 bg-base-100"
          disabled={!desk.canRedo}
          onClick={desk.redo}
        >
          Redo
        </button>
        <button
          type="button"
          className="btn btn-primary"
          disabled={!ready || !desk.changed || desk.saving}
          onClick={desk.save}
        >
          {desk.saving
            ? "Saving …"
            : desk.changed
              ? `Save as version ${desk.version + 1}`
              : `Version ${desk.version}, saved`}
        </button>
      </div>
    </div>
  );
}
