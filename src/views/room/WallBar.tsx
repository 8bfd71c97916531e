import { ROOM_WAYS, WALL_VIEWS } from "../../core/room";
import type { RoomView } from "../../services/room/wire";
import { VIEW_NAMES, WAY_NAMES } from "../../ui/wording";
import { useTries } from "./use-tries";
import type { Wall } from "./use-wall";
import { WordsForHome } from "./WordsForHome";

interface Props {
  wall: Wall;
  /** Who stands in, or is alone at home, goes on by the steps above. */
  led: RoomView["led"];
  toggleHelp: () => void;
}

/** What a hand at the laptop needs, in one row; everything else is on keys and on the phone. */
export function WallBar({ wall, led, toggleHelp }: Props) {
  const { state, tune, command, reached, waiting } = wall;
  const tries = useTries();
  const button = "btn btn-sm border-base-300 bg-base-100 text-base-content";
  const playing = state.playing !== null || state.drone;
  return (
    <footer className="flex flex-wrap items-center gap-2 border-t-2 border-base-300 px-[2vw] py-2 text-base">
      {led === "director" && (
        <>
          <button type="button" className={button} onClick={() => command({ kind: "back" })}>
            Back
          </button>
          <button
            type="button"
            className="btn btn-primary btn-sm w-20"
            disabled={!tune && !playing}
            onClick={() => command({ kind: playing ? "stop" : "play" })}
          >
            {playing ? "Stop" : "Play"}
          </button>
          <button type="button" className={button} onClick={() => command({ kind: "next" })}>
            Next
          </button>
        </>
      )}
      {tune && (
        <>
          <label className="flex items-center gap-1">
            Bars
            <input
              key={`${state.at}/${state.bars}`}
              className="input input-sm w-24 border-neutral"
              defaultValue={state.bars}
              placeholder="all"
              maxLength={40}
              onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
              onBlur={({ target }) =>
                target.value !== state.bars &&
                command({ kind: "bars", bars: target.value.replace(/[^\d\s,;+–.to-]/gi, "") })
              }
            />
          </label>
          <button
            type="button"
            className={button}
            aria-label="Slower"
            onClick={() => command({ kind: "faster", by: -4 })}
          >
            −
          </button>
          <span className="tabular-nums" data-testid="wall-tempo">
            ♩ {wall.bpm}
          </span>
          <button
            type="button"
            className={button}
            aria-label="Faster"
            onClick={() => command({ kind: "faster", by: 4 })}
          >
            +
          </button>
          <select
            className="select select-sm w-auto border-neutral"
            aria-label="How it is done"
            value={state.way}
            onChange={({ target }) =>
              command({ kind: "way", way: target.value as (typeof ROOM_WAYS)[number] })
            }
          >
            {ROOM_WAYS.map((way) => (
              <option key={way} value={way}>
                {WAY_NAMES[way]}
              </option>
            ))}
          </select>
        </>
      )}
      <select
        className="select select-sm w-auto border-neutral"
        aria-label="What the wall shows"
        value={state.view}
        onChange={({ target }) =>
          command({ kind: "view", view: target.value as (typeof WALL_VIEWS)[number] })
        }
      >
        {WALL_VIEWS.map((view) => (
          <option key={view} value={view}>
            {VIEW_NAMES[view]}
          </option>
        ))}
      </select>
      {tune && led !== "player" && (
        <span className="join" title="Two tries of the class: held by this page only, gone with it">
          {[0, 1].map((which) => (
            <button
              key={which}
              type="button"
              className={`btn join-item btn-sm ${tries.on === which ? "btn-error" : "border-base-300 bg-base-100 text-base-content"}`}
              onClick={() => void tries.toggle(which)}
            >
              {tries.on === which ? "Stop" : `Try ${which + 1}${tries.made[which] ? " ✓" : ""}`}
            </button>
          ))}
          {tries.ready && (
            <button
              type="button"
              className="btn join-item btn-sm border-base-300 bg-base-100 text-base-content"
              onClick={() => void tries.hear()}
            >
              Hear both
            </button>
          )}
        </span>
      )}
      {tries.problem && <span role="alert">{tries.problem}</span>}
      {tries.on !== null && (
        <span>
          Recording the class: only this page holds it, nobody else hears it, and it is gone when the page is
          closed.
        </span>
      )}
      <output className="ml-auto">
        {reached ? "" : "Without network: the lesson goes on. "}
        {waiting > 0 && `${waiting} notes wait to be sent.`}
      </output>
      {led === "player" && (
        <a className={button} href="/stand">
          Back to my stand
        </a>
      )}
      {led === "director" && tune && (
        <WordsForHome title={wall.block?.title ?? ""} label={wall.sheet.label} />
      )}
      <button
        type="button"
        className={button}
        onClick={() => void document.documentElement.requestFullscreen?.()}
      >
        Full screen
      </button>
      <button type="button" className={button} onClick={toggleHelp}>
        Keys ?
      </button>
    </footer>
  );
}
