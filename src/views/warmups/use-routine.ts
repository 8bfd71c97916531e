import { useCallback, useEffect, useState } from "react";
import { ApiError, call } from "../../client/api";
import type { Block, Routine } from "../../core/warmup";
import type { RoutineDetail } from "../../services/warmups/schema";

const LONGEST_HISTORY = 200;

/** A routine while it is worked on: every change can be taken back, a save makes the next version. */
export function useRoutine(opened: RoutineDetail) {
  const [history, setHistory] = useState<{ past: Routine[]; now: Routine; future: Routine[] }>({
    past: [],
    now: opened.content,
    future: [],
  });
  const [kept, setKept] = useState({ version: opened.version, content: opened.content });
  const [versions, setVersions] = useState(opened.versions);
  const [problem, setProblem] = useState("");
  const [saving, setSaving] = useState(false);
  const { now } = history;
  const changed = now !== kept.content && JSON.stringify(now) !== JSON.stringify(kept.content);

  // What is not saved is not left by mistake.
  useEffect(() => {
    if (!changed) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    addEventListener("beforeunload", ask);
    return () => removeEventListener("beforeunload", ask);
  }, [changed]);

  const change = useCallback((next: Routine) => {
    setHistory(({ past, now: before }) => ({
      past: [...past, before].slice(-LONGEST_HISTORY),
      now: next,
      future: [],
    }));
  }, []);
  const undo = () =>
    setHistory(({ past, now: before, future }) => {
      const last = past.at(-1);
      return last
        ? { past: past.slice(0, -1), now: last, future: [before, ...future] }
        : { past, now: before, future };
    });
  const redo = () =>
    setHistory(({ past, now: before, future: [next, ...rest] }) =>
      next ? { past: [...past, before], now: next, future: rest } : { past, now: before, future: [] },
    );

  const save = async () => {
    setSaving(true);
    setProblem("");
    try {
      const { version } = await call<{ version: number }>("PUT", `/api/routines/${opened.id}`, {
        basedOn: kept.version,
        content: now,
      });
      setKept({ version, content: now });
      if (version !== kept.version)
        setVersions((all) => [
          { number: version, at: new Date().toISOString(), title: now.title, blocks: now.blocks.length },
          ...all,
        ]);
      return true;
    } catch (error) {
      setProblem(
        error instanceof ApiError ? error.message : "The routine could not be saved. Try again in a moment.",
      );
      return false;
    } finally {
      setSaving(false);
    }
  };

  return {
    now,
    change,
    changeBlock: (block: Block) =>
      change({ ...now, blocks: now.blocks.map((each) => (each.id === block.id ? block : each)) }),
    undo,
    redo,
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
    changed,
    save,
    saving,
    problem,
    setProblem,
    version: kept.version,
    versions,
  };
}
