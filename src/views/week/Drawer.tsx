import { useDraggable } from "@dnd-kit/core";
import { useEffect, useRef, useState } from "react";
import type { StripKind } from "../../core/plan";
import type { DrawerItem } from "../../services/week/schema";
import { KIND_NAMES } from "../../ui/wording";

/** Something to put on a day: of the shelf, or typed. */
export interface DrawerChoice {
  kind: StripKind;
  refId: string | null;
  title: string;
  seconds: number;
}

const SHOWN = 40;
/** What is typed with a title of its own. */
const TYPED: StripKind[] = ["text", "piece", "cards", "listening", "worksheet", "test"];

interface Props {
  items: DrawerItem[];
  /** False while the shelf is still being fetched. */
  whole: boolean;
  /** The cell it puts things in, in words. */
  where: string;
  put: (item: DrawerChoice) => void;
  close: () => void;
}

/** The shelf beside the ribbon: a click puts something on the chosen day, or it is dragged to any. */
export function Drawer({ items, whole, where, put, close }: Props) {
  const [typed, setTyped] = useState("");
  const [kind, setKind] = useState<StripKind>("text");
  const [own, setOwn] = useState("");
  const search = useRef<HTMLInputElement>(null);
  useEffect(() => search.current?.focus(), []);
  const words = typed.trim().toLowerCase();
  const found = items.filter(({ title }) => title.toLowerCase().includes(words));
  return (
    <aside
      aria-label="Put on a day"
      className="panel sticky top-2 flex max-h-[36rem] w-64 shrink-0 flex-col gap-2 p-3"
      onKeyDown={(event) => event.key === "Escape" && close()}
    >
      <p className="text-sm">
        To <strong>{where}</strong>
      </p>
      <input
        ref={search}
        type="search"
        aria-label="Find something to put on the day"
        placeholder="line, warm-up, page, piece, sheet"
        className="input w-full border-neutral"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <div className="flex min-h-0 flex-1 flex-col gap-1 overflow-y-auto">
        {found.slice(0, SHOWN).map((item) => (
          <Item key={`${item.kind}/${item.refId}`} item={item} put={put} />
        ))}
        {found.length > SHOWN && (
          <p className="text-sm text-quiet">{found.length - SHOWN} more; type to find them.</p>
        )}
        {found.length === 0 && whole && <p className="text-sm">Nothing on the shelf is called so.</p>}
        {!whole && <p className="text-sm text-quiet">The shelf is being fetched …</p>}
      </div>
      <form
        className="flex flex-col gap-1 border-t border-base-300 pt-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (own.trim() === "") return;
          put({ kind, refId: null, title: own.trim(), seconds: 0 });
          setOwn("");
        }}
      >
        <label className="text-sm">
          Something else
          <select
            className="select select-sm mt-1 w-full border-neutral"
            value={kind}
            onChange={(event) => setKind(event.target.value as StripKind)}
          >
            {TYPED.map((each) => (
              <option key={each} value={each}>
                {KIND_NAMES[each]}
              </option>
            ))}
          </select>
        </label>
        <input
          aria-label="What it is"
          className="input input-sm w-full border-neutral"
          maxLength={160}
          value={own}
          onChange={(event) => setOwn(event.target.value)}
        />
        <button type="submit" className="btn btn-sm" disabled={own.trim() === ""}>
          Put it on the day
        </button>
      </form>
      <a className="link text-sm" href="/week/pieces">
        Pieces, sheets and recordings
      </a>
      <button type="button" className="btn btn-ghost btn-sm" onClick={close}>
        Close
      </button>
    </aside>
  );
}

function Item({ item, put }: { item: DrawerItem; put: (item: DrawerChoice) => void }) {
  const drag = useDraggable({ id: `drawer/${item.kind}/${item.refId}`, data: { item } });
  return (
    <button
      type="button"
      ref={drag.setNodeRef}
      {...drag.listeners}
      onClick={() => put(item)}
      className="cursor-grab touch-none rounded border border-base-300 px-2 py-1 text-left text-sm hover:bg-secondary/40"
    >
      {item.title}
      {item.kind !== "line" && <span className="text-quiet"> · {KIND_NAMES[item.kind]}</span>}
    </button>
  );
}
