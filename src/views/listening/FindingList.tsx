import type { ReactNode } from "react";
import type { CauseKind } from "../../core/progress";
import type { Finding, Spot } from "../../ui/wording";
import { Key } from "./Key";

interface Props {
  found: readonly Finding[];
  /** What the director heard otherwise. */
  dropped: readonly Finding[];
  /** The place that is heard now. */
  chosen: Spot | undefined;
  goTo: (spot: Spot, loop: boolean) => void;
  /** Says that a finding is not so, or takes that back. */
  overrule: (finding: Finding) => void;
  /** What helps against the open finding; nothing while it is folded. */
  help: ReactNode;
  toggleHelp: () => void;
  /** Kinds in which the bench was too often wrong. */
  distrusted: readonly CauseKind[];
  /** What was found to be clean; null where that cannot be said. */
  clean: "note" | "stroke" | null;
}

/** So many places of one finding are named; the others are on the notation. */
const MOST_PLACES = 8;

/** What asks for an ear, each cause once, the most important first: a click on a place goes there, Loop stays there. */
export function FindingList({
  found,
  dropped,
  chosen,
  goTo,
  overrule,
  help,
  toggleHelp,
  distrusted,
  clean,
}: Props) {
  if (found.length === 0 && dropped.length === 0)
    return clean ? <p className="panel p-3">Nothing stands out: every {clean} was found in place.</p> : null;
  return (
    <ol className="panel divide-y divide-base-300" data-testid="findings">
      {found.map((finding, index) => {
        const { cause, sentence, times, spots } = finding;
        const here = spots.find((spot) => spot === chosen);
        return (
          <li
            key={cause.id}
            className={`flex flex-wrap items-center gap-2 px-3 py-1 ${here ? "bg-reed/50" : ""}`}
          >
            <span className="flex h-6 w-6 shrink-0 items-center justify-center rounded-full bg-felt text-sm font-bold text-white">
              {index + 1}
            </span>
            <div className="flex flex-1 flex-wrap items-baseline gap-x-3 gap-y-1">
              <button type="button" className="text-left" onClick={() => goTo(spots[0]!, false)}>
                {sentence}
                {times > 1 && <b> {times} times</b>}
                {distrusted.includes(cause.kind) && (
                  <span className="text-sm text-felt"> Hear for yourself: often not so in this band.</span>
                )}
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
              className="btn btn-xs border-base-300 bg-base-100"
              onClick={() => goTo(here ?? spots[0]!, true)}
              aria-label={`Loop finding ${index + 1}`}
            >
              Loop {here && <Key of="L" />}
            </button>
            <button
              type="button"
              className="btn btn-xs border-base-300 bg-base-100"
              onClick={() => overrule(finding)}
              aria-label={`Finding ${index + 1} is not so`}
            >
              Not so {here && <Key of="O" />}
            </button>
            {here && (
              <button
                type="button"
                className="btn btn-xs border-base-300 bg-base-100"
                aria-expanded={help !== null}
                onClick={toggleHelp}
              >
                What helps <Key of="H" />
              </button>
            )}
            {here && help}
          </li>
        );
      })}
      {dropped.map((finding) => (
        <li
          key={finding.cause.id}
          className="flex items-center gap-3 px-3 py-0.5 text-sm text-quiet"
          data-testid="dropped"
        >
          <span className="flex-1">
            <s>{finding.sentence}</s> Not so, by your ear.
          </span>
          <button type="button" className="btn btn-ghost btn-xs" onClick={() => overrule(finding)}>
            Take it back
          </button>
        </li>
      ))}
    </ol>
  );
}
