import type { HeardItem, QueueChoices, QueueItem } from "../../services/listening/wire";
import { CleanTogether } from "./CleanTogether";
import type { QueueAsk } from "./use-queue";

interface Props {
  items: readonly QueueItem[];
  total: number;
  needEar: number;
  ask: QueueAsk;
  choices: QueueChoices;
  /** Words said since the page was opened. */
  said: number;
  together: (takeIds: string[]) => void;
  look: (changed: Partial<QueueAsk>) => void;
  more: () => void;
  /** Takes on which a word was said, instead of those that wait; null for those that wait. */
  heard: readonly HeardItem[] | null;
  showHeard: (on: boolean) => void;
  moreHeard: () => void;
  /** The task whose take is open. */
  openTaskId: string | undefined;
  open: (takeId: string) => void;
}

const ORDERS: Record<QueueAsk["order"], string> = {
  worst: "worst first",
  line: "by line",
  player: "by player",
  due: "by due date",
  newest: "newest first",
};

/** The takes that wait, one a task, in the order that was asked for; or those that were heard, to open them again. */
export function Queue(props: Props) {
  const { items, total, needEar, heard, showHeard, moreHeard, openTaskId, open } = props;
  return (
    <aside
      className="panel flex max-h-[calc(100vh-40px)] min-h-0 flex-col lg:max-h-full"
      aria-label={heard ? "Takes that were heard" : "Takes that wait"}
    >
      <div className="flex flex-col gap-2 border-b border-base-300 px-3 py-2">
        <div className="flex items-baseline justify-between gap-2">
          <h1 className="text-xl">{total === 1 ? "1 take to hear" : `${total} takes to hear`}</h1>
          <button
            type="button"
            className="link text-sm"
            aria-pressed={heard !== null}
            onClick={() => showHeard(heard === null)}
          >
            {heard ? "Waiting" : "Heard"}
          </button>
        </div>
        {heard === null && (
          <>
            <p className="text-sm text-quiet">
              {total === 0 ? "nothing waits" : `${needEar} ${needEar === 1 ? "needs" : "need"} your ear`}
            </p>
            <Narrow {...props} />
            {props.ask.need === "clean" && <CleanTogether said={props.said} done={props.together} />}
            <p className="flex flex-wrap gap-x-3 text-sm">
              <a className="link" href="/listen/pattern">
                In common
              </a>
              <a className="link" href="/listen/live">
                In class
              </a>
              <a className="link" href="/listen/folder">
                From a folder
              </a>
              <a className="link" href="/listen/words">
                Own words
              </a>
            </p>
          </>
        )}
      </div>
      <ol className="relative overflow-y-auto">
        {heard
          ? heard.map((item) => (
              <li key={item.takeId}>
                <Row
                  item={item}
                  chosen={item.taskId === openTaskId}
                  open={() => open(item.takeId)}
                  remark={`${item.decision === "accepted" ? "accepted" : "asked again"}${item.released ? "" : ", held back"}`}
                  loud={false}
                  beside={<span className="shrink-0">{item.heardLabel}</span>}
                />
              </li>
            ))
          : items.map((item) => (
              <li key={item.taskId}>
                <Row
                  item={item}
                  chosen={item.taskId === openTaskId}
                  open={() => open(item.takeId)}
                  remark={item.remark}
                  also={alsoOf(item)}
                  loud={item.needsEar}
                  beside={alsoOf(item) ? null : <BarDots bars={item.bars} />}
                />
              </li>
            ))}
      </ol>
      {heard ? (
        heard.length > 0 && (
          <button type="button" className="btn btn-ghost btn-sm" onClick={moreHeard}>
            Earlier ones
          </button>
        )
      ) : items.length < total ? (
        <button type="button" className="btn btn-ghost btn-sm" onClick={props.more}>
          {total - items.length} more
        </button>
      ) : null}
      {heard?.length === 0 && <p className="p-3">Nothing was heard yet.</p>}
      {heard === null && total === 0 && (
        <p className="p-3">Nothing waits. Takes appear here as soon as a player sends one.</p>
      )}
    </aside>
  );
}

/** What else is to be known before it is opened. */
function alsoOf({ sight, chosen, asked, claimedBy }: QueueItem): string {
  return [sight && "at sight", chosen && "own choice", asked && "asks", claimedBy && `${claimedBy} hears it`]
    .filter(Boolean)
    .join(", ");
}

/** In which order, and of whom. */
function Narrow({ ask, choices, look }: Pick<Props, "ask" | "choices" | "look">) {
  const { groups, instruments, lines } = choices;
  const field = "select select-sm w-full border-neutral pl-2 text-sm";
  const only = (
    name: "group" | "instrument" | "line",
    all: string,
    options: { id: string; name: string; tasks: number }[],
  ) =>
    (options.length > 1 || ask[name] !== null) && (
      <select
        className={field}
        aria-label={all}
        value={ask[name] ?? ""}
        onChange={(event) => look({ [name]: event.target.value || null })}
      >
        <option value="">{all}</option>
        {options.map(({ id, name: label, tasks }) => (
          <option key={id} value={id}>
            {label} ({tasks})
          </option>
        ))}
      </select>
    );
  const narrowed = [ask.group, ask.instrument, ask.line].filter((each) => each !== null).length;
  return (
    <div className="flex flex-col gap-1">
      <div className="grid grid-cols-2 gap-1">
        <select
          className={field}
          aria-label="Order"
          value={ask.order}
          onChange={(event) => look({ order: event.target.value as QueueAsk["order"] })}
        >
          {Object.entries(ORDERS).map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
        <select
          className={field}
          aria-label="Which"
          value={ask.need ?? ""}
          onChange={(event) => look({ need: (event.target.value || null) as QueueAsk["need"] })}
        >
          <option value="">all of them</option>
          <option value="ear">need an ear</option>
          <option value="asked">who asked</option>
          <option value="unsure">unsure of it</option>
          <option value="anew">played anew</option>
          <option value="clean">found clean</option>
        </select>
      </div>
      <details open={narrowed > 0}>
        <summary className="cursor-pointer text-sm">Only some{narrowed > 0 ? ` (${narrowed})` : ""}</summary>
        <div className="mt-1 flex flex-col gap-1">
          {only("group", "every group", groups)}
          {only("instrument", "every instrument", instruments)}
          {only("line", "every line", lines)}
        </div>
      </details>
    </div>
  );
}

interface RowProps {
  item: Pick<QueueItem, "takeId" | "playerName" | "instrumentName" | "lineNumber" | "lineTitle">;
  chosen: boolean;
  open: () => void;
  remark: string;
  also?: string;
  loud: boolean;
  beside: React.ReactNode;
}

function Row({ item, chosen, open, remark, also, loud, beside }: RowProps) {
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
        <span className={`shrink-0 text-sm ${loud ? "font-bold text-felt" : ""}`}>{remark}</span>
      </span>
      <span className="flex items-center justify-between gap-2 text-sm text-quiet">
        <span className="truncate">
          {item.instrumentName} · {item.lineNumber ? `No. ${item.lineNumber}` : item.lineTitle}
          {also && <b> · {also}</b>}
        </span>
        {beside}
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
