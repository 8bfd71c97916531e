import type { BarRelation, Form } from "../../core/score";

/** The bars of a line as cells: which come again note for note, which share a rhythm only. */
export function BarMap({ bars, form }: { bars: BarRelation[]; form: Form | null }) {
  if (bars.length < 2) return null;
  const look = {
    same: "border-done bg-info/15",
    "same rhythm": "border-dashed border-neutral bg-base-100",
    new: "border-base-300 bg-base-100",
  };
  return (
    <section>
      <h2 className="text-xl">Same and different bars</h2>
      <p className="mb-2 text-sm text-quiet">
        {form && `Form ${form.letters.join(" ")} in phrases of ${form.phraseBars} bars. `}
        Filled: the same notes as the bar named; dashed: the same rhythm.
      </p>
      <ol className="flex flex-wrap gap-1">
        {bars.map((bar) => (
          <li
            key={bar.measureIndex}
            className={`min-w-14 rounded border px-2 py-1 text-center text-sm ${look[bar.relation]}`}
          >
            <span className="block font-bold">{bar.number === "0" ? "pickup" : bar.number}</span>
            <span className="block text-quiet">
              {bar.like === null ? "new" : `${bar.relation === "same" ? "=" : "like"} ${bar.like}`}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
