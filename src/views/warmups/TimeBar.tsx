import { type Block, blockTitle, type Clock, clockText } from "../../core/warmup";

/** The routine as a strip of its blocks against the time there is. */
export function TimeBar({
  blocks,
  clock,
  budgetSec,
  choose,
}: {
  blocks: Block[];
  clock: Clock | null;
  budgetSec: number;
  choose: (id: string) => void;
}) {
  if (!clock) return null;
  const whole = Math.max(clock.totalSec, budgetSec, 1);
  const share = (sec: number) => `${(100 * sec) / whole}%`;
  return (
    <div>
      <div className="relative h-9 overflow-hidden rounded border border-base-300 bg-base-100">
        {clock.blocks.map((each, i) => (
          <button
            key={each.id}
            type="button"
            title={`${blockTitle(blocks[i]!)}, ${clockText(each.fromSec)} to ${clockText(each.fromSec + each.seconds)}`}
            className="absolute top-0 h-full overflow-hidden border-r border-base-100 bg-reed px-1 text-left text-sm"
            style={{ left: share(each.fromSec), width: share(each.seconds) }}
            onClick={() => choose(each.id)}
          >
            <span className="block truncate">{blockTitle(blocks[i]!)}</span>
          </button>
        ))}
        <div className="absolute top-0 h-full w-0.5 bg-felt" style={{ left: share(budgetSec) }} />
      </div>
      <p className="mt-1 text-sm" data-testid="clock">
        <span className={clock.overSec > 0 ? "font-bold text-felt" : ""}>
          {clockText(clock.totalSec)} of {clockText(budgetSec)}
          {clock.overSec > 0 ? `, ${clockText(clock.overSec)} too long` : ", ends on time"}
        </span>
        <span className="text-quiet"> · exact from counts and tempi, each block counted off</span>
      </p>
    </div>
  );
}
