import type { Spot } from "../../ui/wording";

/** What asks for an ear, in playing order: a click goes there, Loop stays there. */
export function SpotList({
  found,
  chosen,
  goTo,
  clean,
}: {
  found: Spot[];
  chosen: number;
  goTo: (index: number, loop: boolean) => void;
  clean: boolean;
}) {
  if (found.length === 0)
    return clean ? <p className="panel p-3">Nothing stands out: every note was found in place.</p> : null;
  return (
    <ol className="panel divide-y divide-base-300">
      {found.map((spot, index) => (
        <li
          key={`${spot.place}-${spot.atSec}-${spot.sentence}`}
          className={`flex items-center gap-3 px-3 py-2 ${chosen === index ? "bg-reed/50" : ""}`}
        >
          <span className="flex h-6 w-6 shrink-0 items-center justify-center rounded-full bg-felt text-sm font-bold text-white">
            {index + 1}
          </span>
          <button
            type="button"
            className="flex flex-1 flex-wrap gap-x-3 text-left"
            onClick={() => goTo(index, false)}
          >
            <span className="w-28 font-bold">{spot.place}</span>
            <span>{spot.sentence}</span>
          </button>
          <button
            type="button"
            className="btn btn-sm border-base-300 bg-base-100"
            onClick={() => goTo(index, true)}
            aria-label={`Loop spot ${index + 1}`}
          >
            Loop {chosen === index && <kbd className="key">L</kbd>}
          </button>
        </li>
      ))}
    </ol>
  );
}
