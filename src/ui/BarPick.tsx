import type { TimelineMeasure } from "../core/score";

interface Props {
  label: string;
  /** Measures in played-out order. */
  bars: readonly TimelineMeasure[];
  /** Earlier ones are not offered. */
  from: number;
  /** Place of the chosen one. */
  value: number;
  choose: (place: number) => void;
}

/** One bar of a line as it is played, by its printed number and which time through it is. */
export function BarPick({ label, bars, from, value, choose }: Props) {
  return (
    <label className="flex flex-col text-sm font-bold">
      {label}
      <select
        className="select w-auto border-neutral font-normal"
        value={value}
        onChange={(event) => choose(Number(event.target.value))}
      >
        {bars.map(
          (bar, index) =>
            index >= from && (
              <option key={`${bar.measureId}-${bar.pass}`} value={index}>
                {bar.number === "0" ? "pickup" : bar.number}
                {bar.pass > 1 ? ` (time ${bar.pass})` : ""}
              </option>
            ),
        )}
      </select>
    </label>
  );
}
