import { useCallback, useEffect, useState } from "react";
import { call } from "../../client/api";
import type { BandOverview, Changed, PlayerEdit, PlayerRow } from "../../services/band/schema";
import { useCall } from "../../ui/use-call";

export interface BandState {
  band: BandOverview;
  busy: boolean;
  problem: string;
  fields: Record<string, string>;
  /** Runs an act that changes people, then shows the band as it is now, also when it was refused. @returns whether it was done */
  act(work: () => Promise<unknown>, otherwise: string): Promise<boolean>;
  /** Changes cells, all as one step. */
  edit(changes: PlayerEdit[]): Promise<boolean>;
  undo(): Promise<void>;
  reload(): Promise<void>;
}

/** The band on the page: changed by one act after another, each of which can be taken back. */
export function useBand(first: BandOverview): BandState {
  const [band, setBand] = useState(first);
  const { busy, problem, fields, run } = useCall();
  const reload = useCallback(async () => setBand(await call<BandOverview>("GET", "/api/players")), []);
  const act = useCallback(
    async (work: () => Promise<unknown>, otherwise: string) => {
      const done = await run(async () => {
        try {
          await work();
          return true;
        } finally {
          // What somebody else changed is shown too.
          await reload().catch(() => undefined);
        }
      }, otherwise);
      return done === true;
    },
    [run, reload],
  );
  const edit = useCallback(
    (changes: PlayerEdit[]) =>
      act(() => call<Changed>("PUT", "/api/players", { changes }), "This could not be saved."),
    [act],
  );
  const last = band.lastChange?.id;
  const undo = useCallback(async () => {
    if (last) await act(() => call("DELETE", `/api/changes/${last}`), "This could not be taken back.");
  }, [act, last]);

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z" || event.repeat) return;
      if ((event.target as HTMLElement).closest("input, select, textarea")) return;
      event.preventDefault();
      void undo();
    };
    addEventListener("keydown", keys);
    return () => removeEventListener("keydown", keys);
  }, [undo]);

  return { band, busy, problem, fields, act, edit, undo, reload };
}

/** A cell as it stands in the table, in the form the server compares it in. */
export function cellOf(row: PlayerRow, field: PlayerEdit["field"]): unknown {
  return field === "left" ? row.leftOn !== null : row[field];
}
