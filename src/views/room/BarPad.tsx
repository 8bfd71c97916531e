import { useState } from "react";

/** Bars by tapping the first and the last. */
export function BarPad({
  bars,
  numbers,
  set,
}: {
  bars: string;
  numbers: readonly string[];
  set: (bars: string) => void;
}) {
  const [first, setFirst] = useState<string | null>(null);
  const tap = (number: string) => {
    if (first === null) return setFirst(number);
    setFirst(null);
    const [a, b] = numbers.indexOf(first) <= numbers.indexOf(number) ? [first, number] : [number, first];
    set(a === b ? a : `${a}-${b}`);
  };
  return (
    <section aria-label="Bars">
      <p className="flex items-center justify-between text-sm">
        <span>
          {first !== null
            ? `From ${first}: tap the last bar`
            : bars
              ? `Bars ${bars}`
              : "All of it. For some bars tap the first, then the last."}
        </span>
        {bars !== "" && (
          <button type="button" className="btn btn-ghost btn-sm" onClick={() => set("")}>
            All of it
          </button>
        )}
      </p>
      <div className="flex flex-wrap gap-1">
        {numbers.map((number, i) => (
          <button
            // A written bar is a place: numbers may come twice.
            key={`${i}/${number}`}
            type="button"
            className={`btn h-11 w-11 border-base-300 p-0 ${first === number ? "bg-reed" : "bg-base-100"}`}
            aria-label={number === "0" ? "Pickup" : `Bar ${number}`}
            onClick={() => tap(number)}
          >
            {number}
          </button>
        ))}
      </div>
    </section>
  );
}
