import { useCallback, useState } from "react";
import { beginHistory, type History, redo, remember, undo } from "../core/history";

/** What is worked on in a view, with undo and redo. */
export function useHistory<T>(first: () => T) {
  const [history, setHistory] = useState<History<T>>(() => beginHistory(first()));
  return {
    now: history.now,
    change: useCallback((next: T) => setHistory((before) => remember(before, next)), []),
    undo: useCallback(() => setHistory(undo), []),
    redo: useCallback(() => setHistory(redo), []),
    /** Begins anew with something else: nothing before it can be taken back. */
    replace: useCallback((now: T) => setHistory(beginHistory(now)), []),
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
  };
}
