import type { Standing } from "../../../core/practice";

/** The tempo ladder as steps: climbed, where one is, still to climb. The one control of the tempo in this step. */
export function LadderRow({ rungs, standing }: { rungs: readonly number[]; standing: Standing }) {
  return (
    <div>
      <ol className="flex flex-wrap gap-2" aria-label="Tempo ladder, beats a minute">
        {rungs.map((bpm, index) => {
          const climbed = index < standing.rung;
          const here = index === standing.rung;
          return (
            <li
              key={bpm}
              aria-current={here ? "step" : undefined}
              className={`flex h-11 min-w-16 flex-1 items-center justify-center rounded border text-base font-bold ${
                here
                  ? "border-2 border-accent bg-reed"
                  : climbed
                    ? "border-done bg-done/10"
                    : "border-base-300 bg-base-100"
              }`}
            >
              {bpm}
              {climbed && <span className="ml-1 text-done">✓</span>}
            </li>
          );
        })}
      </ol>
    </div>
  );
}
