import type { RefObject } from "react";
import type { Asks } from "../../core/practice";
import { FASTEST_BPM, SLOWEST_BPM } from "../../core/score";
import type { TakeDetail } from "../../services/listening/wire";
import { Key } from "./Key";

interface Props {
  take: Pick<TakeDetail, "given" | "goalBpm">;
  asks: Asks | null;
  change: (asks: Asks | null) => void;
  tempo: RefObject<HTMLInputElement | null>;
  open: boolean;
  toggle: () => void;
}

/** The next take, where it is asked for at another tempo or of some bars only. */
export function NextTake({ take, asks, change, tempo, open, toggle }: Props) {
  const { firstBar, bars } = take.given;
  const range = asks?.bars ?? null;
  const set = (part: Partial<Asks>) => {
    const now = { goalBpm: null, bars: null, ...asks, ...part };
    change(now.goalBpm === null && now.bars === null ? null : now);
  };
  const from = range ? range.firstBar - firstBar : 0;
  const to = range ? range.lastBar - firstBar : bars.length - 1;
  const setRange = (first: number, last: number) =>
    set({
      bars:
        first === 0 && last === bars.length - 1
          ? null
          : { firstBar: firstBar + first, lastBar: firstBar + Math.max(first, last) },
    });
  const barSelect = (label: string, value: number, choose: (index: number) => void) => (
    <select
      aria-label={label}
      className="select select-sm w-16 border-neutral pl-2"
      value={value}
      onChange={(event) => choose(Number(event.target.value))}
    >
      {bars.map((number, index) => (
        <option key={number + index} value={index}>
          {number}
        </option>
      ))}
    </select>
  );
  return (
    <div className="text-sm">
      <button type="button" className="underline" aria-expanded={open} onClick={toggle}>
        {asks ? "Another tempo or bars are asked" : "Another tempo, or some bars"} <Key of="T" />
      </button>
      {open && (
        <div className="mt-1 flex flex-col gap-1">
          <label className="flex items-center gap-2">
            at
            <input
              ref={tempo}
              type="number"
              aria-label="Tempo of the next take"
              className="input input-sm w-18 border-neutral"
              min={SLOWEST_BPM}
              max={FASTEST_BPM}
              placeholder={String(take.goalBpm)}
              value={asks?.goalBpm ?? ""}
              onChange={({ target }) =>
                set({ goalBpm: target.value === "" ? null : Math.min(FASTEST_BPM, Number(target.value)) })
              }
              onKeyDown={(event) => event.key === "Escape" && event.currentTarget.blur()}
            />
            bpm
          </label>
          {bars.length > 1 && (
            <span className="flex items-center gap-2">
              bars
              {barSelect("First bar of the next take", from, (index) => setRange(index, to))}
              to
              {barSelect("Last bar of the next take", to, (index) => setRange(Math.min(from, index), index))}
            </span>
          )}
        </div>
      )}
    </div>
  );
}
