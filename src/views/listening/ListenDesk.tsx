import { useCallback, useEffect, useRef, useState } from "react";
import { call } from "../../client/api";
import type { QueueChoices, QueueItem, QueuePage, TakeDetail } from "../../services/listening/wire";
import { Problem } from "../../ui/Problem";
import { type Packed, unpacked } from "../../ui/packed";
import { useCall } from "../../ui/use-call";
import { HeldBack } from "./HeldBack";
import { Key } from "./Key";
import { Queue } from "./Queue";
import { TakeView } from "./TakeView";
import { useClaim } from "./use-claim";
import { keepReviewDraft, type ReviewDraft } from "./use-draft";
import { useKeys } from "./use-keys";
import { addressOf, type QueueAsk, useQueue } from "./use-queue";

export interface ListenData {
  ask: QueueAsk;
  page: QueuePage;
  choices: QueueChoices;
  first: TakeDetail | null;
}

/** So many takes are fetched before they are opened. */
const FETCHED_AHEAD = 2;

/** A word said of a take, and all that is needed to take it back. */
interface Said {
  takeId: string;
  /** The takes that were accepted together with it, unheard. */
  together?: string[];
  word: string;
  draft: ReviewDraft;
  /** Where the task stood in the queue; null for a take that was opened from elsewhere. */
  from: { item: QueueItem; place: number } | null;
}

/** The director's listening desk: the takes that wait, in the order that was asked for, and the one that is open. */
export function ListenDesk({ data }: { data: Packed<ListenData> }) {
  const [first] = useState(() => unpacked(data));
  const queue = useQueue(first);
  const { items, ask } = queue;
  const [take, setTake] = useState(first.first);
  const [opened, setOpened] = useState(false);
  const [said, setSaid] = useState<Said[]>([]);
  const { problem, run } = useCall();
  /** Taking back waits for nothing else that is under way. */
  const undoing = useCall();
  const heardBy = useClaim(take?.taskId);
  /** The takes after the open one are fetched while it is heard. */
  const ahead = useRef(new Map<string, Promise<TakeDetail>>());
  useEffect(() => {
    const place = items.findIndex((item) => item.taskId === take?.taskId);
    for (const { takeId } of items.slice(place + 1, place + 1 + FETCHED_AHEAD)) {
      if (ahead.current.has(takeId)) continue;
      const coming = call<TakeDetail>("GET", `/api/takes/${takeId}`);
      ahead.current.set(takeId, coming);
      // What is still being heard is asked for again when it is opened.
      coming.then(
        ({ state }) => state === "waiting" && ahead.current.delete(takeId),
        () => ahead.current.delete(takeId),
      );
    }
  }, [items, take]);

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
      history.replaceState(null, "", addressOf(ask, takeId));
      scrollTo(0, 0);
    },
    [run, ask],
  );

  const look = async (changed: Partial<QueueAsk>) => {
    const page = await run(() => queue.look(changed), "The queue could not be fetched.");
    if (!page) return;
    history.replaceState(null, "", addressOf({ ...ask, ...changed }, take?.id ?? null));
    if (page.items[0] && !page.items.some(({ taskId }) => taskId === take?.taskId))
      await open(page.items[0].takeId);
  };

  /** The task to hear after one: further down, else from the top; not what a colleague is hearing. */
  const after = (taskId: string): QueueItem | undefined => {
    const place = items.findIndex((item) => item.taskId === taskId);
    const others = [...items.slice(place + 1), ...items.slice(0, Math.max(0, place))];
    return others.find((item) => item.taskId !== taskId && !item.claimedBy);
  };

  const reviewed = async (done: TakeDetail, word: string, draft: ReviewDraft) => {
    const place = items.findIndex((item) => item.taskId === done.taskId);
    const item = items[place];
    const next = after(done.taskId);
    setSaid((all) => [...all, { takeId: done.id, word, draft, from: item ? { item, place } : null }]);
    if (item) queue.remove(item);
    if (next) await open(next.takeId);
    else {
      setTake(null);
      history.replaceState(null, "", addressOf(ask, null));
    }
  };

  const last = said.at(-1);
  const undo = async () => {
    if (!last) return;
    const { together } = last;
    const undone = await undoing.run(async () => {
      if (!together) return call("DELETE", `/api/takes/${last.takeId}/review`);
      await call("PUT", "/api/takes/together", { takeIds: together, accepted: false });
      return queue.look({});
    }, "This could not be undone.");
    if (!undone) return;
    if (together) return setSaid((all) => all.slice(0, -1));
    const { from } = last;
    keepReviewDraft(last.takeId, last.draft);
    if (from) queue.putBack(from.item, from.place);
    setSaid((all) => all.slice(0, -1));
    await open(last.takeId);
  };

  const acceptedTogether = async (takeIds: string[]) => {
    const word =
      takeIds.length === 1 ? "1 clean take accepted" : `${takeIds.length} clean takes accepted together`;
    const none: ReviewDraft = { comment: "", marks: {}, forFamily: "", asks: null };
    if (takeIds[0])
      setSaid((all) => [...all, { takeId: takeIds[0]!, together: takeIds, word, draft: none, from: null }]);
    if (takeIds.includes(take?.id ?? "")) setTake(null);
    await look({ need: null });
  };
  const moved = async () => {
    if (!take) return;
    ahead.current.clear();
    await look({});
    await open(take.id);
  };

  const step = (by: number) => {
    const to = items[items.findIndex((item) => item.taskId === take?.taskId) + by];
    if (to) void open(to.takeId);
  };
  useKeys({ u: () => void undo(), j: () => step(1), k: () => step(-1) });

  return (
    <div className="grid gap-4 lg:h-[calc(100vh-40px)] lg:grid-cols-[240px_1fr] lg:grid-rows-[minmax(0,1fr)]">
      <Queue
        {...{ items, ask }}
        total={queue.total}
        needEar={queue.needEar}
        choices={first.choices}
        said={said.length}
        together={(takeIds) => void acceptedTogether(takeIds)}
        look={(changed) => void look(changed)}
        more={() => void queue.more()}
        heard={queue.heard}
        showHeard={(on) => void run(() => queue.showHeard(on), "What was heard could not be fetched.")}
        moreHeard={() => void run(queue.moreHeard, "Earlier ones could not be fetched.")}
        openTaskId={take?.taskId}
        open={open}
      />
      <div className="flex min-h-0 min-w-0 flex-col">
        <HeldBack waiting={first.choices.heldBack} said={said.length} />
        <output className="block">
          {last && (
            <span className="panel mb-3 flex items-center justify-between gap-3 px-3 py-1 text-sm">
              {last.word}
              <button type="button" className="btn btn-ghost btn-sm" onClick={undo}>
                Undo{said.length > 1 ? ` (${said.length})` : ""} <Key of="U" />
              </button>
            </span>
          )}
          {heardBy && (
            <span
              className="panel mb-3 block border-l-4 border-l-accent px-3 py-1 text-sm"
              data-testid="claimed"
            >
              {heardBy} is hearing this one just now.
            </span>
          )}
        </output>
        <Problem text={problem || undoing.problem} className="mb-2" />
        {take ? (
          <TakeView
            key={take.id}
            take={take}
            distrusted={first.choices.distrusted}
            focused={opened}
            open={open}
            moved={() => void moved()}
            reviewed={reviewed}
          />
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
