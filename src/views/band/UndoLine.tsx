import type { BandState } from "./use-band";

/** What was done last, and the way back. */
export function UndoLine({ desk }: { desk: BandState }) {
  const { lastChange } = desk.band;
  return (
    <output className="no-print block min-h-8 text-sm text-quiet" aria-live="polite">
      {lastChange && (
        <>
          {lastChange.said}{" "}
          <button
            type="button"
            className="btn btn-ghost btn-xs text-sm"
            disabled={desk.busy}
            onClick={desk.undo}
          >
            {lastChange.said.startsWith("Taken back: ") ? "Do it again" : "Undo"}{" "}
            <kbd className="key">Ctrl Z</kbd>
          </button>
        </>
      )}
    </output>
  );
}
