import type { TakeDetail } from "../../services/listening/wire";
import { Problem } from "../../ui/Problem";
import { Key } from "./Key";
import type { BesideDesk } from "./use-beside";

interface Props {
  take: Pick<TakeDetail, "id" | "takes">;
  beside: BesideDesk;
}

/** What is heard beside the take: the line as written, or another take; how loud each, and bar by bar turn about. */
export function BesideRow({ take, beside }: Props) {
  const { which, balance, turns, busy, problem, choose, setBalance, takeTurns } = beside;
  const others = take.takes
    .map((each, index) => ({ ...each, number: index + 1 }))
    .filter(({ id }) => id !== take.id);
  return (
    <div className="flex flex-wrap items-center gap-2 text-sm">
      <label className="flex items-center gap-2">
        Beside it
        <select
          aria-label="Beside it"
          className="select select-sm w-auto border-neutral"
          value={which ?? ""}
          disabled={busy}
          onChange={(event) => choose(event.target.value || null)}
        >
          <option value="">nothing</option>
          <option value="written">the line as written</option>
          {others.map(({ id, number, remark }) => (
            <option key={id} value={id}>
              take {number}: {remark}
            </option>
          ))}
        </select>
      </label>
      {which && (
        <>
          <label className="flex items-center gap-2">
            this one
            <input
              type="range"
              aria-label="Balance"
              className="range range-xs w-28"
              min={0}
              max={1}
              step={0.05}
              value={balance}
              disabled={turns}
              onChange={(event) => setBalance(Number(event.target.value))}
            />
            the other <Key of="B" />
          </label>
          <button
            type="button"
            className={`btn btn-sm ${turns ? "btn-secondary" : "border-base-300 bg-base-100"}`}
            aria-pressed={turns}
            onClick={takeTurns}
          >
            In turn <Key of="R" />
          </button>
          {turns && <output className="text-quiet">{balance < 0.5 ? "this one" : "the other"}</output>}
        </>
      )}
      <Problem text={problem} />
    </div>
  );
}
