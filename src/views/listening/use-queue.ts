import { useCallback, useRef, useState } from "react";
import { call } from "../../client/api";
import type { HeardItem, QueueItem, QueuePage } from "../../services/listening/wire";

/** Which part of the queue is looked at; as it stands in the address. */
export interface QueueAsk {
  order: "worst" | "line" | "player" | "due" | "newest";
  group: string | null;
  instrument: string | null;
  line: string | null;
  need: "ear" | "asked" | "unsure" | "anew" | "clean" | null;
}

/** Below so many listed ones the next page is fetched. */
const FEW_LEFT = 20;

/** What differs from the usual stands in the address. */
export function addressOf(ask: QueueAsk, takeId: string | null): string {
  const said = Object.entries(ask).filter(
    ([name, value]) => value !== null && !(name === "order" && value === "worst"),
  );
  const params = new URLSearchParams(said as [string, string][]);
  if (takeId) params.set("take", takeId);
  const search = params.toString();
  return `/listen${search ? `?${search}` : ""}`;
}

function fetchPage(which: QueueAsk, after: number): Promise<QueuePage> {
  const asked = Object.entries({ ...which, after: String(after) }).filter(([, value]) => value !== null);
  return call<QueuePage>("GET", `/api/takes?${new URLSearchParams(asked as [string, string][])}`);
}

/** The takes that wait, page by page, in the asked order; and those on which a word was said. */
export function useQueue(first: { ask: QueueAsk; page: QueuePage }) {
  const [ask, setAsk] = useState(first.ask);
  const [page, setPage] = useState(first.page);
  const [heard, setHeard] = useState<HeardItem[] | null>(null);
  const fetching = useRef(false);
  const more = useCallback(async (which: QueueAsk, now: QueuePage) => {
    if (fetching.current || now.items.length >= now.total) return;
    fetching.current = true;
    try {
      const next = await fetchPage(which, now.items.length);
      setPage((before) => {
        const known = new Set(before.items.map(({ taskId }) => taskId));
        const fresh = next.items.filter(({ taskId }) => !known.has(taskId));
        return { ...next, items: [...before.items, ...fresh] };
      });
    } catch {
      // What is listed stays; the next take that is heard asks again.
    } finally {
      fetching.current = false;
    }
  }, []);
  const change = (now: QueuePage) => {
    setPage(now);
    if (now.items.length < FEW_LEFT) void more(ask, now);
  };
  return {
    ask,
    items: page.items,
    total: page.total,
    needEar: page.needEar,
    heard,
    /** Looks at another part of the queue. @returns its first page */
    async look(changed: Partial<QueueAsk>): Promise<QueuePage> {
      const now = { ...ask, ...changed };
      const found = await fetchPage(now, 0);
      setAsk(now);
      setPage(found);
      return found;
    },
    more: () => more(ask, page),
    remove(item: QueueItem) {
      change({
        items: page.items.filter(({ taskId }) => taskId !== item.taskId),
        total: page.total - 1,
        needEar: page.needEar - (item.needsEar ? 1 : 0),
      });
    },
    putBack(item: QueueItem, place: number) {
      setPage((now) => ({
        items: [...now.items.slice(0, place), item, ...now.items.slice(place)],
        total: now.total + 1,
        needEar: now.needEar + (item.needsEar ? 1 : 0),
      }));
    },
    async showHeard(on: boolean) {
      if (!on) return setHeard(null);
      setHeard((await call<{ items: HeardItem[] }>("GET", "/api/takes/heard")).items);
    },
    async moreHeard() {
      const next = await call<{ items: HeardItem[] }>("GET", `/api/takes/heard?after=${heard?.length ?? 0}`);
      setHeard((before) => [...(before ?? []), ...next.items]);
    },
  };
}
