import type { Finding, Spot } from "../../ui/wording";

interface Props {
  found: readonly Finding[];
  /** The place that is heard now. */
  chosen: Spot | undefined;
  goTo: (spot: Spot, loop: boolean) => void;
  /** What was found to be clean; null where that cannot be said. */
  clean: "note" | "stroke" | null;
}

/** So many places of one finding are named; the others are on the notation. */
const MOST_PLACES = 8;

/** What asks for an ear, each cause once, the most important first: a click on a place goes there, Loop stays there. */
export function FindingList({ found, chosen, goTo, clean }: Props) {
  if (found.length === 0)
    return clean ? <p className="panel p-3">Nothing stands out: every {clean} was found in place.</p> : null;
  return (
    <ol className="panel divide-y divide-base-300" data-testid="findings">
      {found.map(({ sentence, spots }, index) => {
        const here = spots.find((spot) => spot === chosen);
        return (
          <li
            key={`${sentence} ${spots[0]!.place}`}
            className={`flex items-center gap-3 px-3 py-2 ${here ? "bg-reed/50" : ""}`}
          >
            <span className="flex h-6 w-6 shrink-0 items-center justify-center rounded-full bg-felt text-sm font-bold text-white">
              {index + 1}
            </span>
            <div className="flex flex-1 flex-wrap items-baseline gap-x-3 gap-y-1">
              <button type="button" className="text-left" onClick={() => goTo(spots[0]!, false)}>
                {sentence}
                {spots.length > 1 && <b> {spots.length} times</b>}
              </button>
              <span className="flex flex-wrap gap-1 text-sm">
                {spots.slice(0, MOST_PLACES).map((spot) => (
                  <button
                    key={`${spot.place} ${spot.atSec}`}
                    type="button"
                    className={`rounded border px-1.5 ${spot === chosen ? "border-accent bg-base-100 font-bold" : "border-base-300 hover:bg-reed/50"}`}
                    onClick={() => goTo(spot, false)}
                  >
                    {spot.place}
                  </button>
                ))}
                {spots.length > MOST_PLACES && <span>and {spots.length - MOST_PLACES} more</span>}
              </span>
            </div>
            <button
              type="button"
              className="btn btn-sm border-base-300 bg-base-100"
              onClick={() => goTo(here ?? spots[0]!, true)}
              aria-label={`Loop finding ${index + 1}`}
            >
              Loop {here && <kbd className="key">L</kbd>}
            </button>
          </li>
        );
      })}
    </ol>
  );
}
