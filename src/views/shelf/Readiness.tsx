import type { ReadinessRow } from "../../services/shelf/schema";

const STAGE_WORDS: Record<ReadinessRow["stage"], string> = {
  "making-a-sound": "making a sound",
  "five-notes": "five notes",
  "small-tunes": "small tunes",
  widening: "widening",
};

/** Who is ready for a line: every instrument and stage of the band against what is new for it. */
export function Readiness({
  rows,
  show,
}: {
  rows: ReadinessRow[];
  show: (instrumentId: string, stage: string) => void;
}) {
  if (rows.length === 0) return null;
  const players = rows.reduce((sum, row) => sum + row.players, 0);
  const ready = rows.filter(isReady).reduce((sum, row) => sum + row.players, 0);
  return (
    <section>
      <h2 className="text-xl">Who is ready</h2>
      <p className="mb-2 text-sm text-quiet">
        {ready} of {players} players meet no new note or rhythm and nothing out of range. Choose a row to see
        its part.
      </p>
      <div className="panel overflow-x-auto">
        <table className="table table-sm [&_td]:align-top">
          <thead className="text-base-content">
            <tr>
              <th>Instrument</th>
              <th>New notes</th>
              <th>New rhythms and signs</th>
              <th>Snags</th>
              <th className="text-right">Difficulty</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={`${row.instrumentId}/${row.stage}`}>
                <th scope="row" className="font-normal">
                  <button
                    type="button"
                    className="text-left font-bold hover:underline"
                    onClick={() => show(row.instrumentId, row.stage)}
                  >
                    {row.instrument}
                  </button>
                  <span className="block whitespace-nowrap text-quiet">
                    {STAGE_WORDS[row.stage]}, {row.players === 1 ? "1 player" : `${row.players} players`}
                  </span>
                </th>
                <td>
                  {row.newNotes.length > 0 ? (
                    <span className="text-felt">{row.newNotes.join(" ")}</span>
                  ) : (
                    <span className="text-quiet">none</span>
                  )}
                  {row.outOfRange.length > 0 && (
                    <span className="block text-felt">out of range: {row.outOfRange.join(" ")}</span>
                  )}
                </td>
                <td>
                  {[...row.newRhythms, ...row.newSigns].join(", ") || (
                    <span className="text-quiet">none</span>
                  )}
                </td>
                <td>
                  {row.snag ?? <span className="text-quiet">none</span>}
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

/** The same measure as on the shelf: signs and signatures are told, but nobody waits for them. */
function isReady(row: ReadinessRow): boolean {
  return row.newNotes.length + row.newRhythms.length + row.outOfRange.length === 0;
}
