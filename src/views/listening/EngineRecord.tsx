import { groupBy } from "../../core/lists";
import { instrumentById } from "../../core/music";
import { type CauseKind, shareOf, type Told } from "../../core/progress";
import type { PatternView } from "../../services/listening/wire";
import { CAUSE_NAMES } from "../../ui/wording";

/** How often the bench was right by the director's ear, by kind of finding, with the interval that so few cases leave open. */
export function EngineRecord({
  view,
}: {
  view: Pick<PatternView, "record" | "distrusted" | "trustPercent">;
}) {
  const kinds = [...groupBy(view.record, ({ kind }) => kind)].map(([kind, rows]) => ({
    kind: kind as CauseKind,
    ...summed(rows),
    worst: rows
      .filter(({ overruled }) => overruled > 0)
      .sort((a, b) => b.overruled / b.told - a.overruled / a.told)[0],
  }));
  return (
    <section>
      <h2 className="text-xl">How often the bench was right</h2>
      <p className="text-sm text-quiet">
        From takes you said a word on: what you did not call “not so” counts as right. Below{" "}
        {view.trustPercent} % it stops suggesting words for a kind; the limit is yours, in Band, Settings.
      </p>
      {kinds.length === 0 ? (
        <p>Nothing was heard yet.</p>
      ) : (
        <table className="mt-1 text-left" data-testid="record">
          <thead className="text-sm text-quiet">
            <tr>
              <th className="pr-6 font-normal">kind of finding</th>
              <th className="pr-6 font-normal">told</th>
              <th className="pr-6 font-normal">not so</th>
              <th className="pr-6 font-normal">right</th>
              <th className="font-normal">most often wrong</th>
            </tr>
          </thead>
          <tbody>
            {kinds
              .sort((a, b) => b.told - a.told)
              .map(({ kind, told, overruled, worst }) => {
                const { share, low, high } = shareOf(told - overruled, told);
                return (
                  <tr key={kind}>
                    <th className="pr-6 font-bold">{CAUSE_NAMES[kind] ?? kind}</th>
                    <td className="pr-6 tabular-nums">{told}</td>
                    <td className="pr-6 tabular-nums">{overruled}</td>
                    <td className="pr-6 tabular-nums">
                      {Math.round(100 * share)} %{" "}
                      <span className="text-quiet">
                        ({Math.round(100 * low)} to {Math.round(100 * high)})
                      </span>
                    </td>
                    <td>
                      {worst
                        ? `${instrumentById(worst.instrumentId).name}, ${worst.overruled} of ${worst.told}`
                        : ""}
                      {view.distrusted.includes(kind) && (
                        <b className="text-felt"> The bench suggests nothing here any more.</b>
                      )}
                    </td>
                  </tr>
                );
              })}
          </tbody>
        </table>
      )}
    </section>
  );
}

function summed(rows: readonly Told[]): { told: number; overruled: number } {
  return {
    told: rows.reduce((sum, { told }) => sum + told, 0),
    overruled: rows.reduce((sum, { overruled }) => sum + overruled, 0),
  };
}
