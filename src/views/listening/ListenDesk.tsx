import { useCallback, useState } from "react";
import { ApiError, call } from "../../client/api";
import type { QueueItem, TakeDetail } from "../../services/listening/wire";
import { TakeView } from "./TakeView";

/** The director's listening desk: the waiting takes, worst first, and the one that is open. */
export function ListenDesk({ queue: initial, first }: { queue: QueueItem[]; first: TakeDetail | null }) {
  const [queue, setQueue] = useState(initial);
  const [take, setTake] = useState(first);
  const [problem, setProblem] = useState("");
  const [last, setLast] = useState<{ item: QueueItem; place: number; word: string } | null>(null);

  const open = useCallback(async (takeId: string) => {
    setProblem("");
    try {
      setTake(await call<TakeDetail>("GET", `/api/takes/${takeId}`));
      history.replaceState(null, "", `/listen?take=${takeId}`);
      scrollTo(0, 0);
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "This take could not be opened.");
    }
  }, []);

  const reviewed = async (takeId: string, next: string | null, word: string) => {
    const place = queue.findIndex((item) => item.takeId === takeId);
    if (queue[place]) setLast({ item: queue[place], place, word });
    setQueue((all) => all.filter((item) => item.takeId !== takeId));
    if (next) await open(next);
    else setTake(null);
  };

  const undo = async () => {
    if (!last) return;
    setProblem("");
    try {
      await call("DELETE", `/api/takes/${last.item.takeId}/review`);
      setQueue((all) => [...all.slice(0, last.place), last.item, ...all.slice(last.place)]);
      setLast(null);
      await open(last.item.takeId);
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "This could not be undone.");
    }
  };

  const step = (by: number) => {
    const at = queue.findIndex((item) => item.takeId === take?.id);
    const to = queue[at + by];
    if (to) void open(to.takeId);
  };

  const needEar = queue.filter((item) => item.needsEar).length;
  return (
    <div className="grid gap-4 xl:grid-cols-[240px_1fr]">
      <aside
        className="panel sticky top-5 flex h-fit max-h-[calc(100vh-40px)] flex-col"
        aria-label="Takes that wait"
      >
        <div className="border-b border-base-300 px-3 py-2">
          <h1 className="text-xl">
            {queue.length === 1 ? "1 take to hear" : `${queue.length} takes to hear`}
          </h1>
          <p className="text-sm text-quiet">
            {queue.length === 0
              ? "nothing waits"
              : `${needEar} ${needEar === 1 ? "needs" : "need"} your ear · worst first`}
          </p>
        </div>
        <ol className="overflow-y-auto">
          {queue.map((item) => (
            <li key={item.takeId}>
              <QueueRow item={item} chosen={item.takeId === take?.id} open={() => open(item.takeId)} />
            </li>
          ))}
        </ol>
        {queue.length === 0 && (
          <p className="p-3">Nothing waits. Takes appear here as soon as a player sends one.</p>
        )}
      </aside>
      <div className="min-w-0">
        <output className="block">
          {last && (
            <span className="panel mb-3 flex items-center justify-between gap-3 px-3 py-1 text-sm">
              {last.word}
              <button type="button" className="btn btn-ghost btn-sm" onClick={undo}>
                Undo <kbd className="key">U</kbd>
              </button>
            </span>
          )}
        </output>
        {problem && (
          <p role="alert" className="mb-2 text-felt">
            {problem}
          </p>
        )}
        {take ? (
          <TakeView key={take.id} take={take} step={step} reviewed={reviewed} undo={undo} />
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

function QueueRow({ item, chosen, open }: { item: QueueItem; chosen: boolean; open: () => void }) {
  return (
    <a
      href={`/listen?take=${item.takeId}`}
      onClick={(event) => {
        event.preventDefault();
        open();
      }}
      aria-current={chosen}
      className={`block w-full border-b border-l-4 border-b-base-300 px-3 py-2 text-left -outline-offset-3 ${chosen ? "border-l-accent bg-reed" : "border-l-transparent hover:bg-secondary/30"}`}
    >
      <span className="flex items-baseline justify-between gap-2">
        <span className="truncate font-bold">{item.playerName}</span>
        <span className={`shrink-0 text-sm ${item.needsEar ? "font-bold text-felt" : ""}`}>
          {item.remark}
        </span>
      </span>
      <span className="flex items-center justify-between gap-2 text-sm text-quiet">
        <span className="truncate">
          {item.instrumentName} · {item.lineNumber ? `No. ${item.lineNumber}` : item.lineTitle}
        </span>
        <BarDots bars={item.bars} />
      </span>
    </a>
  );
}

/** One dot a bar: small when clean, brass when untimely, felt and large when notes went wrong. */
function BarDots({ bars }: { bars: QueueItem["bars"] }) {
  return (
    <svg
      width={Math.min(72, bars.length * 7)}
      height="10"
      viewBox={`0 0 ${bars.length * 7} 10`}
      aria-hidden="true"
      className="shrink-0"
    >
      {bars.map((bar, i) => (
        <circle
          key={i}
          cx={i * 7 + 3.5}
          cy="5"
          r={bar.wrong > 0 ? 3.2 : bar.untimely > 0 ? 2.4 : 1.3}
          fill={bar.wrong > 0 ? "#7A2E5D" : bar.untimely > 0 ? "#B4791B" : "#52615E"}
        />
      ))}
    </svg>
  );
}
