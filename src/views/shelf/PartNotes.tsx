import type { PartView } from "../../services/shelf/schema";
import { snagReason } from "../../ui/wording";

/** What this part asks of its players, in words under the notation. */
export function PartNotes({ part }: { part: PartView }) {
  const fresh = [...part.newRhythms, ...part.newSigns];
  const snags = part.snags.filter((snag) => snag.kind !== "out-of-range");
  if (part.difficulty === null) return null;
  return (
    <div className="mt-2 flex flex-col gap-1 text-sm">
      {snags.length > 0 && (
        <ul>
          {snags.map((snag) => (
            <li key={`${snag.fromEventId}-${snag.toEventId}-${snag.kind}`}>
              <span className="font-bold">bar {snag.measure}:</span> {snagReason(snag)}
            </li>
          ))}
        </ul>
      )}
      <p className="text-quiet">
        {fresh.length > 0 && `New rhythms and signs: ${fresh.join(", ")}. `}
        Difficulty {part.difficulty.total.toFixed(1)}:{" "}
        {Object.entries(part.difficulty.parts)
          .filter(([, value]) => value > 0)
          .map(([name, value]) => `${name} ${value.toFixed(1)}`)
          .join(", ") || "nothing beyond a first line"}
        .
      </p>
    </div>
  );
}
