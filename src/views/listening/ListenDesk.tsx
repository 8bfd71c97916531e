import { useCallback, useEffect, useRef, useState } from "react";
import { call } from "../../client/api";
import type { QueueItem, TakeDetail } from "../../services/listening/wire";
import { Problem } from "../../ui/Problem";
import { type Packed, unpacked } from "../../ui/packed";
import { useCall } from "../../ui/use-call";
import { Queue } from "./Queue";
import { TakeView } from "./TakeView";
import { keepReviewDraft, type ReviewDraft } from "./use-draft";
import { useKeys } from "./use-keys";

export interface ListenData {
  queue: QueueItem[];
  first: TakeDetail | null;
}

/** So many takes are fetched before they are opened. */
const FETCHED_AHEAD = 2;

/** A word said of a take, and all that is needed to take it back. */
interface Said {
  takeId: string;
  word: string;
  draft: ReviewDraft;
  /** Where the task stood in the queue; null for a take that was opened from elsewhere. */
  from: { item: QueueItem; place: number } | null;
}

/** The director's listening desk: the waiting takes, worst first, and the one that is open. */
export function ListenDesk({ data }: { data: Packed<ListenData> }) {
  const [first] = useState(() => unpacked(data));
  const [queue, setQueue] = useState(first.queue);
  const [take, setTake] = useState(first.first);
  const [opened, setOpened] = useState(false);
  const [said, setSaid] = useState<Said[]>([]);
  const { problem, run } = useCall();
  /** The takes after the open one are fetched while it is heard. */
  const ahead = useRef(new Map<string, Promise<TakeDetail>>());
  useEffect(() => {
    const place = queue.findIndex((item) => item.taskId === take?.taskId);
    for (const { takeId } of queue.slice(place + 1, place + 1 + FETCHED_AHEAD)) {
      if (ahead.current.has(takeId)) continue;
      const coming = call<TakeDetail>("GET", `/api/takes/${takeId}`);
      ahead.current.set(takeId, coming);
      // What is still being heard is asked for again when it is opened.
      coming.then(
        ({ state }) => state === "waiting" && ahead.current.delete(takeId),
        () => ahead.current.delete(takeId),
      );
    }
  }, [queue, take]);

  const open = useCallback(
    async (takeId: string) => {
      const found = await run(() => {
        const coming = ahead.current.get(takeId);
        // Fetched once, used once: a take that is opened again is looked at as it is then.
        ahead.current.delete(takeId);
        return coming ?? call<TakeDetail>("GET", `/api/takes/${takeId}`);
      }, "This take could not be opened.");
      if (!found) return;
      setTake(found);
      setOpened(true);
      history.replaceState(null, "", `/listen?take=${takeId}`);
      scrollTo(0, 0);
    },
    [run],
  );

  const reviewed = async (done: TakeDetail, next: string | null, word: string, draft: ReviewDraft) => {
    const place = queue.findIndex((item) => item.taskId === done.taskId);
    const item = queue[place];
    setSaid((all) => [...all, { takeId: done.id, word, draft, from: item ? { item, place } : null }]);
    setQueue((all) => all.filter((each) => each.taskId !== done.taskId));
    if (next) await open(next);
    else {
      setTake(null);
      history.replaceState(null, "", "/listen");
    }
  };

  const last = said.at(-1);
  const undo = async () => {
    if (!last) return;
    const undone = await run(
      () => call("DELETE", `/api/takes/${last.takeId}/review`),
      "This could not be undone.",
    );
    if (!undone) return;
    const { from } = last;
    keepReviewDraft(last.takeId, last.draft);
    if (from) setQueue((all) => [...all.slice(0, from.place), from.item, ...all.slice(from.place)]);
    setSaid((all) => all.slice(0, -1));
    await open(last.takeId);
  };

  const step = (by: number) => {
    const at = queue.findIndex((item) => item.taskId === take?.taskId);
    const to = queue[at + by];
    if (to) void open(to.takeId);
  };
  useKeys({ u: () => void undo(), j: () => step(1), k: () => step(-1) });

  return (
    <div className="grid gap-4 xl:grid-cols-[240px_1fr]">
      <Queue queue={queue} openTaskId={take?.taskId} open={open} />
      <div className="min-w-0">
        <output className="block">
          {last && (
            <span className="panel mb-3 flex items-center justify-between gap-3 px-3 py-1 text-sm">
              {last.word}
              <button type="button" className="btn btn-ghost btn-sm" onClick={undo}>
                Undo{said.length > 1 ? ` (${said.length})` : ""} <kbd className="key">U</kbd>
              </button>
            </span>
          )}
        </output>
        <Problem text={problem} className="mb-2" />
        {take ? (
          <TakeView key={take.id} take={take} focused={opened} open={open} reviewed={reviewed} />
        ) : (
          <div className="panel p-6">
            <p className="font-heading text-xl font-bold">All heard</p>
            <p>
              See what changed in{" "}
              <a className="link" href="/growth">
                Growth
              </a>
              , or what is due in the{" "}
              <a className="link" href="/week">
                Week
              </a>
              .
            </p>
          </div>
        )}
      </div>
    </div>
  );
}
