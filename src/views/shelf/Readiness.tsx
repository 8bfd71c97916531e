import { instrumentById } from "../../core/music";
import { isReady, type ReadyRow } from "../../core/ready";

/** A row with the names of its players. */
export type NamedReadyRow = ReadyRow & { people: { id: string; name: string }[] };

import { STAGE_NAMES, snagReason } from "../../ui/wording";

/** Who is ready for a line: every instrument and stage of the band against what is new for it. */
export function Readiness({
  rows,
  show,
}: {
  rows: NamedReadyRow[];
  show: (instrumentId: string, stage: string) => void;
}) {
  if (rows.length === 0) return null;
  const notes = distinct(rows.flatMap((row) => row.newConcert)).sort();
  const others = distinct(rows.flatMap((row) => [...row.newRhythms, ...row.newSigns].map(columnOf)));
  const players = rows.reduce((sum, row) => sum + row.players, 0);
  const ready = rows
    .filter((row) => isReady({ ...row, inRange: row.outOfRange.length === 0 }))
    .reduce((sum, row) => sum + row.players, 0);
  return (
    <section>
      <h2 className="text-xl">Who is ready</h2>
      <p className="mb-2 text-sm text-quiet">
        {ready} of {players} players meet no new note or rhythm and nothing out of range. It goes by what each
        of them knows. Choose an instrument to see its part. Difficulty begins at 0; range, leaps, rhythm,
        snags and signs add to it.
      </p>
      <div className="panel overflow-x-auto">
        <table className="table table-sm [&_td]:align-top [&_td]:px-2 [&_th]:px-2">
          <thead className="text-base-content">
            <tr>
              <th rowSpan={2}>Instrument</th>
              {notes.length > 0 && (
                <th colSpan={notes.length} className="border-b-0 pb-0">
                  New notes, by concert pitch
                </th>
              )}
              {others.length > 0 && (
                <th colSpan={others.length} className="border-b-0 pb-0">
                  New rhythms and signs
                </th>
              )}
              <th rowSpan={2}>Snags</th>
              <th rowSpan={2} className="text-right">
                Difficulty
              </th>
            </tr>
            <tr>
              {[...notes, ...others].map((thing) => (
                <th key={thing} scope="col" className="pt-0 font-normal">
                  {thing}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={`${row.instrumentId}/${row.stage}/${row.playerIds[0]}`}>
                <th scope="row" className="font-normal">
                  <button
                    type="button"
                    className="text-left font-bold hover:underline"
                    onClick={() => show(row.instrumentId, row.stage)}
                  >
                    {instrumentById(row.instrumentId).name}
                  </button>
                  <details className="text-quiet">
                    <summary className="cursor-pointer whitespace-nowrap">
                      {STAGE_NAMES[row.stage]}, {row.players === 1 ? "1 player" : `${row.players} players`}
                    </summary>
                    {row.people.map(({ id, name }) => (
                      <a key={id} className="block hover:underline" href={`/band/${id}`}>
                        {name}
                      </a>
                    ))}
                  </details>
                  {row.outOfRange.length > 0 && (
                    <span className="block text-felt">out of range: {row.outOfRange.join(" ")}</span>
                  )}
                </th>
                {notes.map((concert) => (
                  <td key={concert} className="font-bold text-felt">
                    {row.newNotes.filter((_, i) => row.newConcert[i] === concert).join(" ")}
                  </td>
                ))}
                {others.map((thing) => (
                  <td key={thing}>
                    {[...row.newRhythms, ...row.newSigns].some((each) => columnOf(each) === thing) && (
                      <>
                        <span aria-hidden="true">●</span>
                        <span className="sr-only">new</span>
                      </>
                    )}
                  </td>
                ))}
                <td className="min-w-52">
                  {row.snag ? (
                    `bar ${row.snag.measure}: ${snagReason(row.snag)}`
                  ) : (
                    <span className="text-quiet">none</span>
                  )}
                  {row.snags > 1 && <span className="text-quiet"> and {row.snags - 1} more</span>}
                </td>
                <td className="text-right">{row.difficulty.toFixed(1)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

/** Every instrument reads another signature; what is new is that there is one. */
function columnOf(thing: string): string {
  return thing.startsWith("key of") ? "its key" : thing;
}

/** Different values in the order in which they first come. */
function distinct(values: string[]): string[] {
  return [...new Set(values)];
}
