import type { Leg, Outcome } from "../../../core/practice";
import { ThumbBar } from "../ThumbBar";
import type { Desk } from "./desk";
import type { Follow } from "./use-round";

interface Props {
  leg: Leg;
  desk: Desk;
  follow: Follow;
  /** It was sung or fingered along: how did it go? */
  asked: boolean;
  leftHanded: boolean;
  hear: (() => void) | null;
  main: (() => void) | null;
  stop: () => void;
  /** Drops a round that goes on: nothing of it counts. */
  giveUp: () => void;
  slower: (() => void) | null;
  skip: () => void;
  skipWords: string;
  went: (outcome: Outcome) => void;
}

const PLAIN = "btn h-14 flex-1 whitespace-nowrap border-base-300 bg-base-100 px-2";
const MAIN = "btn btn-primary h-14 flex-[2] px-2";

/** What can be done now, at the thumb. A held key does nothing twice: every act changes what stands here. */
export function RoomBar({
  leg,
  desk,
  follow,
  asked,
  leftHanded,
  hear,
  main,
  stop,
  giveUp,
  slower,
  skip,
  skipWords,
  went,
}: Props) {
  const once = (act: () => void) => ({
    onClick: act,
    onKeyDown: (event: React.KeyboardEvent) => {
      if (event.repeat) event.preventDefault();
    },
  });
  return (
    <ThumbBar leftHanded={leftHanded}>
      {desk.at === "ready" && asked && (
        <>
          <button type="button" className={PLAIN} {...once(() => went("nearly"))}>
            Not yet
          </button>
          <button type="button" className={MAIN} {...once(() => went("clean"))}>
            It went
          </button>
        </>
      )}
      {desk.at === "ready" && !asked && (
        <>
          {hear && (
            <button type="button" className={PLAIN} {...once(hear)}>
              Hear it
            </button>
          )}
          {main && (
            <button type="button" className={MAIN} data-testid="main" {...once(main)}>
              {mainWords(leg)}
            </button>
          )}
          {slower ? (
            <button type="button" className={PLAIN} {...once(slower)}>
              Slower
            </button>
          ) : null}
          <button
            type="button"
            className="btn btn-ghost h-14 max-w-20 px-1 text-sm font-normal leading-tight sm:max-w-none sm:px-3"
            {...once(skip)}
          >
            {skipWords}
          </button>
        </>
      )}
      {desk.at === "hearing" && (
        <button type="button" className={MAIN} {...once(stop)}>
          {follow.count > 0
            ? `${follow.count} …`
            : follow.phase.startsWith("response")
              ? "Your turn · Stop"
              : "Stop"}
        </button>
      )}
      {desk.at === "starting" && (
        <button type="button" className={MAIN} disabled>
          Getting ready …
        </button>
      )}
      {desk.at === "playing" && (
        <>
          <button type="button" className={PLAIN} {...once(giveUp)}>
            Give it up
          </button>
          <button type="button" className="btn btn-error h-14 flex-[2]" {...once(stop)}>
            {follow.count > 0 ? `Count ${follow.count} …` : "Stop"}
            <meter
              className="ml-3 w-24"
              min={0}
              max={1}
              high={0.95}
              value={follow.level}
              aria-label="Level"
            />
          </button>
        </>
      )}
      {desk.at === "judging" && (
        <button type="button" className={MAIN} disabled>
          Listening …
        </button>
      )}
    </ThumbBar>
  );
}

function mainWords(leg: Leg): string {
  switch (leg.step) {
    case "listen":
      return "Hear it";
    case "count":
      return "Clap it";
    case "sing":
      return "Sing it";
    case "finger":
      return "Start";
    case "accompaniment":
      return "Play along";
    case "perform":
      return "I played it";
    default:
      return "Play it";
  }
}
