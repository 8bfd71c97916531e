import { useMemo } from "react";
import { doingIn } from "../../core/room";
import { doingText } from "../../ui/wording";
import type { Place } from "./place";
import type { Wall } from "./use-wall";

/** Who plays, rests and enters in the chosen bars, by instrument and by name. */
export function WhoPlays({ wall, place }: { wall: Wall; place: Place }) {
  const { tune, sheet, state } = wall;
  const absent = useMemo(() => new Set(sheet.absent), [sheet]);
  if (!tune) return null;
  return (
    <ul className="grid h-full auto-rows-fr grid-cols-2 gap-x-[3vw] overflow-hidden" data-testid="who-plays">
      {tune.rows.map((row) => {
        const called =
          state.playingOnes === null || row.instrumentIds.some((id) => state.playingOnes!.includes(id));
        const doing = doingIn(row, ...place.stretch);
        const players = sheet.players.filter(
          ({ id, instrumentIds }) =>
            !absent.has(id) && instrumentIds.some((own) => row.instrumentIds.includes(own)),
        );
        const plays = called && doing.kind !== "rests";
        return (
          <li
            key={row.labels.join()}
            className={`min-h-0 overflow-hidden border-t-2 border-base-300 ${plays ? "" : "opacity-50"}`}
          >
            <p>
              <b>{row.labels.join(", ")}</b> {called ? doingText(doing, tune.numbers) : "rest"}
            </p>
            <p className="truncate">{players.map(({ name }) => name.split(" ")[0]).join(", ")}</p>
          </li>
        );
      })}
    </ul>
  );
}
