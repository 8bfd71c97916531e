import { useCallback, useEffect, useRef, useState, useSyncExternalStore } from "react";
import { openRoomLog, tellWall, watchRoom } from "../../client/room";
import { bpmOf, lessonClock, ROOM_WAYS, tapTempo, WALL_VIEWS, type WallCommand } from "../../core/room";
import type { RoomView } from "../../services/room/wire";
import { type Packed, unpacked } from "../../ui/packed";
import { clockText, FIRST_NOTE_NAMES, minutesLeft, VIEW_NAMES, WAY_NAMES } from "../../ui/wording";
import { BarPad } from "./BarPad";
import { RemoteLog } from "./RemoteLog";
import { RunSheet } from "./RunSheet";
import { useClock } from "./use-wall";

/** After so long without an answer of the wall it counts as not reached, ms. */
const NO_ANSWER_MS = 3_000;

/** The phone in the pocket: steers the wall and keeps the log. */
export function Remote({ data }: { data: Packed<RoomView> }) {
  const [view] = useState(() => unpacked(data));
  const { sheet } = view;
  const [state, setState] = useState(view.state);
  const [heard, setHeard] = useState(view.heard);
  const [reached, setReached] = useState(true);
  const [closed, setClosed] = useState(view.closed);
  const [problem, setProblem] = useState("");
  const [sent, setSent] = useState({ seq: view.heard, at: 0 });
  const [log] = useState(() => openRoomLog(view.id, view.entries));
  const { entries, waiting, problem: logProblem } = useSyncExternalStore(log.subscribe, log.state, log.state);
  const now = useClock();
  const versions = useRef({ told: view.told, stateVersion: view.stateVersion });
  useEffect(
    () =>
      watchRoom(
        view.id,
        () => versions.current,
        (news) => {
          if (news.state) setState(news.state);
          if (news.stateVersion) versions.current.stateVersion = news.stateVersion;
          const last = news.told?.at(-1);
          if (last) versions.current.told = last.seq;
          if (news.heard !== undefined) setHeard((before) => Math.max(before, news.heard!));
          if (news.entries) log.heard(news.entries);
          if (news.closed) setClosed(true);
        },
        (yes) => {
          setReached(yes);
          if (yes) log.send();
        },
      ),
    [view.id, log],
  );
  // Words go out one after the other, in the order they were pressed.
  const line = useRef(Promise.resolve());
  const say = useCallback(
    (command: WallCommand) => {
      setProblem("");
      line.current = line.current.then(async () => {
        try {
          const seq = await tellWall(view.id, command);
          setSent({ seq, at: Date.now() });
        } catch (error) {
          setProblem((error as Error).message);
        }
      });
    },
    [view.id],
  );
  const block = sheet.blocks.find(({ id }) => id === state.at);
  const clock = lessonClock(state, sheet.blocks, sheet.changeoverMin, now);
  const next = sheet.blocks.find(({ id }) => id === clock.next);
  const bpm = bpmOf(state, block);
  const silent = heard < sent.seq && sent.at > 0 && now - sent.at > NO_ANSWER_MS;
  if (closed)
    return (
      <p className="panel m-4 p-4">
        This lesson is over.{" "}
        {waiting > 0 ? `${waiting} notes are still on their way.` : "Everything noted is on the bench."}
      </p>
    );
  return (
    <main className="mx-auto flex max-w-md flex-col gap-3 p-3 pb-10">
      <header>
        <h1 className="text-xl leading-tight">{block?.title ?? sheet.groupName}</h1>
        <p className="flex justify-between text-sm">
          <span>
            <b className={clock.blockLeftSec < 0 ? "text-felt" : ""}>{minutesLeft(clock.blockLeftSec)}</b>{" "}
            left
            {next && `, then ${next.title}`}
          </span>
          <span>ends {clockText(clock.endsAtMs)}</span>
        </p>
        {block?.note && <p className="text-sm text-brass">{block.note}</p>}
        <output className="block text-sm text-felt">
          {problem ||
            logProblem ||
            (!reached
              ? "No connection: the wall goes on alone; what you note is kept here."
              : silent
                ? "The wall does not answer. It goes on by itself."
                : "")}
          {waiting > 0 && ` ${waiting} notes wait to be sent.`}
        </output>
      </header>
      <div className="grid grid-cols-3 gap-2">
        <Big onClick={() => say({ kind: "back" })}>Back</Big>
        <Big primary onClick={() => say({ kind: state.playing === null ? "play" : "stop" })}>
          {state.playing === null ? "Play" : "Stop"}
        </Big>
        <Big onClick={() => say({ kind: "next" })}>Next</Big>
        <Big onClick={() => say({ kind: "faster", by: -4 })}>Slower</Big>
        <TapKey bpm={bpm} tap={(tapped) => say({ kind: "tempo", bpm: tapped })} />
        <Big onClick={() => say({ kind: "faster", by: 4 })}>Faster</Big>
      </div>
      {block?.tune && (
        <>
          <BarPad
            key={state.at + state.bars}
            bars={state.bars}
            numbers={block.tune.numbers}
            set={(bars) => say({ kind: "bars", bars })}
          />
          <details>
            <summary className="cursor-pointer py-2">How it is done, and what the wall shows</summary>
            <div className="grid grid-cols-2 gap-2">
              <Choice
                label="How"
                value={state.way}
                names={WAY_NAMES}
                all={ROOM_WAYS}
                choose={(way) => say({ kind: "way", way })}
              />
              <Choice
                label="The wall shows"
                value={state.view}
                names={VIEW_NAMES}
                all={WALL_VIEWS}
                choose={(shown) => say({ kind: "view", view: shown })}
              />
              <Choice
                label="First note"
                value={state.firstNote}
                names={FIRST_NOTE_NAMES}
                all={["none", "two", "three-one"] as const}
                choose={(how) => say({ kind: "first-note", how })}
              />
              <button
                type="button"
                className="btn border-base-300 bg-base-100"
                aria-pressed={state.loop}
                onClick={() => say({ kind: "loop" })}
              >
                {state.loop ? "Round and round ✓" : "Round and round"}
              </button>
              <button
                type="button"
                className="btn border-base-300 bg-base-100"
                onClick={() =>
                  say(
                    state.ramp
                      ? { kind: "clean" }
                      : { kind: "ramp", ramp: { by: 4, to: Math.min(208, bpm + 40) } },
                  )
                }
              >
                {state.ramp ? "Clean: a step faster" : "Faster by steps"}
              </button>
              <button
                type="button"
                className="btn border-base-300 bg-base-100"
                onClick={() => say({ kind: "timer", seconds: 15 })}
              >
                15 s, each alone
              </button>
              <button
                type="button"
                className="btn border-base-300 bg-base-100"
                onClick={() => say({ kind: "extend", minutes: 1 })}
              >
                A minute more
              </button>
              <button
                type="button"
                className="btn border-base-300 bg-base-100"
                onClick={() => say({ kind: "skip" })}
              >
                Leave it out
              </button>
            </div>
          </details>
        </>
      )}
      <RunSheet sheet={sheet} state={state} say={say} />
      <RemoteLog
        sheet={sheet}
        state={state}
        block={block}
        log={log}
        entries={entries}
        call={(instruments) => say({ kind: "call", instruments })}
        show={(instruments) => say({ kind: "rows", instruments })}
      />
    </main>
  );
}

function Big({
  primary = false,
  onClick,
  children,
}: {
  primary?: boolean;
  onClick: () => void;
  children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      className={`btn h-14 text-base ${primary ? "btn-primary" : "border-base-300 bg-base-100"}`}
      onClick={onClick}
    >
      {children}
    </button>
  );
}

/** The tempo, tapped with the thumb. */
function TapKey({ bpm, tap }: { bpm: number; tap: (bpm: number) => void }) {
  const taps = useRef<number[]>([]);
  return (
    <button
      type="button"
      className="btn h-14 border-base-300 bg-base-100 text-base"
      onClick={({ timeStamp }) => {
        taps.current = [...taps.current.slice(-7), timeStamp];
        const tapped = tapTempo(taps.current);
        if (tapped !== null) tap(tapped);
      }}
    >
      ♩ {bpm}, tap
    </button>
  );
}

interface ChoiceProps<T extends string> {
  label: string;
  value: T;
  names: Record<T, string>;
  all: readonly T[];
  choose: (value: T) => void;
}

function Choice<T extends string>({ label, value, names, all, choose }: ChoiceProps<T>) {
  return (
    <label className="flex flex-col text-sm">
      {label}
      <select
        className="select w-full border-neutral"
        value={value}
        onChange={({ target }) => choose(target.value as T)}
      >
        {all.map((each) => (
          <option key={each} value={each}>
            {names[each]}
          </option>
        ))}
      </select>
    </label>
  );
}
