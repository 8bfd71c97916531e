import type { QueueItem } from "../../services/listening/wire";

interface Props {
  queue: QueueItem[];
  /** The task whose take is open. */
  openTaskId: string | undefined;
  open: (takeId: string) => void;
}

/** The takes that wait, worst first, one a task. */
export function Queue({ queue, openTaskId, open }: Props) {
  const needEar = queue.filter((item) => item.needsEar).length;
  return (
    <aside
      className="panel sticky top-5 flex h-fit max-h-[calc(100vh-40px)] flex-col"
      aria-label="Takes that wait"
    >
      <div className="border-b border-base-300 px-3 py-2">
        <h1 className="text-xl">{queue.length === 1 ? "1 take to hear" : `${queue.length} takes to hear`}</h1>
        <p className="text-sm text-quiet">
          {queue.length === 0
            ? "nothing waits"
            : `${needEar} ${needEar === 1 ? "needs" : "need"} your ear · worst first`}
        </p>
      </div>
      <ol className="overflow-y-auto">
        {queue.map((item) => (
          <li key={item.taskId}>
            <QueueRow item={item} chosen={item.taskId === openTaskId} open={() => open(item.takeId)} />
          </li>
        ))}
      </ol>
      {queue.length === 0 && (
        <p className="p-3">Nothing waits. Takes appear here as soon as a player sends one.</p>
      )}
    </aside>
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
          {item.sight && ", at sight"}
          {item.chosen && ", own choice"}
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
