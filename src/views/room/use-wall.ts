import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import { openRoomLog, stateKeeper, watchRoom } from "../../client/room";
import {
  begunNow,
  bpmOf,
  lessonClock,
  onSheet,
  readBars,
  type Stretch,
  tell,
  toFollow,
  type WallCommand,
  type WallState,
} from "../../core/room";
import type { RoomView } from "../../services/room/wire";

/** What the wall shows, and every way to change it: by its own keys, and by what phones tell it. */
export function useWall(view: RoomView) {
  /** A child at home leads itself: nothing is told to the class, and nothing noted of it. */
  const byOneself = view.led === "player";
  const { sheet } = view;
  const [state, setState] = useState(() => begunNow(view.state, Date.now()));
  const now = useRef(state);
  const told = useRef(view.told);
  const [reached, setReached] = useState(true);
  const [closed, setClosed] = useState(view.closed);
  const [log] = useState(() => openRoomLog(view.id, view.entries));
  const [keeper] = useState(() => stateKeeper(view.id, view.stateVersion));
  const entries = useSyncExternalStore(log.subscribe, log.state, log.state);

  const change = useCallback(
    (next: WallState) => {
      if (next === now.current) return;
      now.current = next;
      setState(next);
      if (!byOneself) keeper.keep(next, told.current);
    },
    [keeper, byOneself],
  );
  const command = useCallback(
    (word: WallCommand) => {
      const before = now.current;
      const next = tell(before, word, sheet.blocks, Date.now());
      // The tempo that was played is noted by itself when the block is left.
      if (!byOneself && (next.at !== before.at || word.kind === "next")) noteTempo(before, view, log.note);
      change(next);
    },
    [change, sheet, log, view, byOneself],
  );

  useEffect(() => {
    if (byOneself) return;
    if (now.current !== view.state) keeper.keep(now.current, told.current);
    const leave = watchRoom(
      view.id,
      () => ({ told: told.current, stateVersion: keeper.version() }),
      (news) => {
        if (news.told) {
          for (const word of toFollow(news.told, told.current)) command(word);
          told.current = Math.max(told.current, ...news.told.map(({ seq }) => seq));
          keeper.keep(now.current, told.current);
        }
        // Another wall of the lesson went on: this one follows it, and leaves the sound to it.
        if (news.state && news.stateVersion! > keeper.version()) {
          keeper.seen(news.stateVersion!);
          now.current = { ...onSheet(news.state, sheet.blocks), playing: null, drone: false };
          setState(now.current);
        }
        if (news.entries) log.heard(news.entries);
        if (news.closed) setClosed(true);
      },
      (yes) => {
        setReached(yes);
        if (yes) log.send();
      },
    );
    return leave;
  }, [view, command, keeper, log, sheet, byOneself]);

  const block = sheet.blocks.find(({ id }) => id === state.at);
  const tune = block?.tune ?? null;
  const read = useMemo(() => (tune ? readBars(state.bars, tune.numbers) : null), [tune, state.bars]);
  const stretches: readonly Stretch[] = read && "stretches" in read ? read.stretches : [];
  const clockAt = useClock();
  return {
    state,
    sheet,
    led: view.led,
    block,
    tune,
    stretches,
    barsProblem: read && "problem" in read ? read.problem : null,
    bpm: bpmOf(state, block),
    command,
    reached,
    closed,
    log,
    entries: entries.entries,
    waiting: entries.waiting,
    nowMs: clockAt,
    clock: lessonClock(state, sheet.blocks, sheet.changeoverMin, clockAt),
  };
}

export type Wall = ReturnType<typeof useWall>;

function noteTempo(
  state: WallState,
  { sheet }: RoomView,
  note: ReturnType<typeof openRoomLog>["note"],
): void {
  const block = sheet.blocks.find(({ id }) => id === state.at);
  if (block?.tune && state.runs > 0 && state.bpm[block.id] !== undefined)
    note({ kind: "tempo", bpm: bpmOf(state, block) }, block.id);
}

/** The time, once a second. */
export function useClock(): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(timer);
  }, []);
  return now;
}
