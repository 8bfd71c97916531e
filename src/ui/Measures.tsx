import type { Assessment } from "../core/listen";
import type { Score } from "../core/score";
import { type Family, warmUpMeasures } from "../core/warmup";

/** What a warm-up take is measured by, each with whether it is where it should be; nothing for any other take. */
export function Measures({
  score,
  assessment,
  goalBpm,
}: {
  score: Score;
  assessment: Assessment;
  goalBpm: number;
}) {
  const { purpose } = score;
  if (purpose?.kind !== "warm-up") return null;
  const measures = warmUpMeasures(purpose.family as Family, assessment, goalBpm);
  if (measures.length === 0) return null;
  return (
    <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1" data-testid="measures">
      {measures.map(({ name, value, good }) => (
        <div key={name} className="contents">
          <dt className="text-quiet">{name}</dt>
          <dd
            className={
              good === true ? "font-bold text-done" : good === false ? "font-bold text-felt" : "font-bold"
            }
          >
            {value}
            {good === true ? " ✓" : ""}
          </dd>
        </div>
      ))}
    </dl>
  );
}
