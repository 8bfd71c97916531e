import { useEffect, useMemo, useState } from "react";
import type { RoomView } from "../../services/room/wire";
import { type Packed, unpacked } from "../../ui/packed";
import { barsProblem, fromBarToBar, minutesLeft, WAY_ASKS } from "../../ui/wording";
import { AloneSteps } from "./AloneSteps";
import { Board } from "./Board";
import { placeOf } from "./place";
import { Tuning } from "./Tuning";
import { useWall, type Wall } from "./use-wall";
import { useWallKeys, WALL_KEYS } from "./use-wall-keys";
import { useWallSound } from "./use-wall-sound";
import { WallBar } from "./WallBar";
import { WallHead } from "./WallHead";
import { pictureOf, WallNotes } from "./WallNotes";
import { WhoPlays } from "./WhoPlays";

/** The wall of the band room: what the class reads while it plays. Everything it needs came with it; without network it goes on. */
export function WallDesk({ data }: { data: Packed<RoomView> }) {
  const [view] = useState(() => unpacked(data));
  const wall = useWall(view);
  const { state, sheet, block, tune, stretches } = wall;
  const sound = useWallSound(wall);
  const [help, setHelp] = useState(false);
  const typed = useWallKeys(wall, () => setHelp((shown) => !shown));
  const place = useMemo(
    () => (tune ? placeOf(tune, sound.plan, sound.moment, stretches) : null),
    [tune, sound.plan, sound.moment, stretches],
  );
  useEffect(() => {
    document.documentElement.dataset.theme = state.dark && view.led !== "player" ? "bench-dim" : "bench";
  }, [state.dark, view.led]);
  // The pictures come one after the other, so that what is played first is not kept waiting.
  useEffect(() => {
    void (async () => {
      for (const { tune: each } of sheet.blocks)
        if (each?.lineId)
          for (const part of ["concert", ...each.rows.flatMap(({ instrumentIds }) => instrumentIds)])
            await pictureOf(view.id, each.lineId, part).catch(() => "");
    })();
  }, [sheet, view.id]);

  return (
    <div className="wall flex flex-col bg-base-200 text-base-content">
      <WallHead wall={wall} />
      <main className="relative flex min-h-0 flex-1 flex-col gap-[1vh] px-[2vw] py-[1vh]">
        {wall.closed ? (
          <p className="wall-huge m-auto font-heading">This lesson is over.</p>
        ) : (
          <>
            {tune && place && (
              <StartLine
                wall={wall}
                place={place.stretch}
                counting={sound.moment?.counting ? sound.moment.beat : null}
              />
            )}
            <div className="min-h-0 flex-1 overflow-hidden">
              {state.view === "tuning" ? (
                <Tuning wall={wall} />
              ) : tune && place ? (
                state.view === "who" ? (
                  <WhoPlays wall={wall} place={place} />
                ) : state.view === "notes" || tune.slide ? (
                  <WallNotes wall={wall} place={place} roomId={view.id} />
                ) : (
                  <Board wall={wall} place={place} />
                )
              ) : (
                <Words wall={wall} />
              )}
            </div>
          </>
        )}
        {state.timer && <Timer wall={wall} />}
        {typed && (
          <p className="wall-huge absolute inset-x-0 bottom-[2vh] text-center" data-testid="typed">
            <span className="rounded-md bg-primary px-[2vw] text-primary-content">bars {typed}</span>
          </p>
        )}
        {help && <Keys />}
      </main>
      <output className="sr-only">{block?.title}</output>
      {(sound.note || sound.problem || wall.barsProblem) && (
        <p role="alert" className="px-[2vw] text-error">
          {wall.barsProblem ? barsProblem(wall.barsProblem) : sound.problem || sound.note}
        </p>
      )}
      {view.led !== "director" && !wall.closed && (
        <AloneSteps wall={wall} byOneself={view.led === "player"} />
      )}
      <WallBar wall={wall} led={view.led} toggleHelp={() => setHelp(!help)} />
    </div>
  );
}

/** Large before every start: from where to where, at which tempo, and the count. */
function StartLine({
  wall,
  place,
  counting,
}: {
  wall: Wall;
  place: readonly [number, number];
  counting: number | null;
}) {
  const { tune, state, stretches, bpm } = wall;
  const text =
    stretches.length > 1
      ? stretches.map(([from, to]) => fromBarToBar(tune!.numbers, from, to)).join(", then ")
      : fromBarToBar(tune!.numbers, ...place);
  return (
    <div className="flex items-baseline gap-[2vw]" data-testid="start-line">
      <p className="wall-large font-bold">
        {text}
        {state.loop && ", round and round"}
      </p>
      <p>
        ♩ {bpm}
        {state.ramp && ` to ${state.ramp.to}`}
      </p>
      <p className="min-w-0 flex-1 truncate">{WAY_ASKS[state.way]}</p>
      {counting !== null && (
        <p className="wall-huge font-heading font-bold leading-none" data-testid="count">
          {counting}
        </p>
      )}
    </div>
  );
}

/** A block without notes: its name, and what comes after it. */
function Words({ wall }: { wall: Wall }) {
  const { block, sheet, state } = wall;
  const coming = state.order
    .slice(state.order.indexOf(state.at) + 1)
    .flatMap((id) => sheet.blocks.find((each) => each.id === id) ?? [])
    .slice(0, 5);
  return (
    <div className="flex h-full flex-col justify-center gap-[4vh]">
      {sheet.goal && <p className="wall-large">Today: {sheet.goal}</p>}
      <p className="wall-huge font-heading font-bold">
        {block?.title ?? "Nothing is planned for this class yet."}
      </p>
      {coming.length > 0 && (
        <ol className="list-decimal pl-[1.4em]">
          {coming.map(({ id, title }) => (
            <li key={id}>{title}</li>
          ))}
        </ol>
      )}
    </div>
  );
}

function Timer({ wall }: { wall: Wall }) {
  const { timer } = wall.state;
  const left = Math.max(0, (timer!.untilMs - wall.nowMs) / 1000);
  return (
    <div
      className="absolute inset-0 flex flex-col items-center justify-center gap-[2vh] bg-base-200"
      data-testid="timer"
    >
      <p className="wall-huge font-heading font-bold">{left > 0 ? "Each alone" : "Instruments down"}</p>
      <p className="font-heading font-bold tabular-nums" style={{ fontSize: "calc(14 * var(--w))" }}>
        {minutesLeft(left)}
      </p>
    </div>
  );
}

function Keys() {
  return (
    <dl className="absolute inset-x-[2vw] top-[1vh] z-10 grid grid-cols-[auto_1fr_auto_1fr] gap-x-[1.5vw] rounded-md border-2 border-base-300 bg-base-100 p-[1.5vw] text-[1.6vw]">
      {WALL_KEYS.map(([key, meaning]) => (
        <div key={key} className="contents">
          <dt>
            <kbd className="font-bold">{key}</kbd>
          </dt>
          <dd>{meaning}</dd>
        </div>
      ))}
    </dl>
  );
}
