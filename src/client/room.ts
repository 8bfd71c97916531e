import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { RoomEntry, RoomNote, WallCommand, WallState } from "../core/room";
import type { RoomNews } from "../services/room/wire";
import { ApiError, call } from "./api";

interface Shelf extends DBSchema {
  entries: { key: string; value: RoomEntry & { roomId: string } };
}

let opened: Promise<IDBPDatabase<Shelf>> | undefined;
const shelf = () => {
  opened ??= openDB<Shelf>("ulu-room", 1, {
    upgrade: (db) => void db.createObjectStore("entries", { keyPath: "id" }),
  });
  return opened;
};

/** Waits before it tries again, ms. */
const RETRY_MS = 4_000;
/** So many taps go out at once. */
const AT_ONCE = 100;

/** A lesson's log as this device holds it. */
export interface RoomLogState {
  entries: readonly RoomEntry[];
  /** Taps that the bench does not have yet. */
  waiting: number;
  /** Why some will never be taken; empty while all is well. */
  problem: string;
}

/**
 * The log of a lesson on one device: a tap counts at once and is kept here until the bench has it, whatever happens to the network or
 * the page; each has an id of its own, so that it arrives once.
 */
export function openRoomLog(roomId: string, known: readonly RoomEntry[]) {
  let state: RoomLogState = { entries: known, waiting: 0, problem: "" };
  const mine = new Map<string, RoomEntry>();
  const listeners = new Set<() => void>();
  let timer: ReturnType<typeof setTimeout> | undefined;
  let sending = false;
  let bench = new Map(known.map((entry) => [entry.id, entry]));
  const show = (changed: Partial<RoomLogState> = {}) => {
    const all = new Map(bench);
    for (const [id, entry] of mine) all.set(id, entry);
    const entries = [...all.values()].sort((a, b) => a.atMs - b.atMs);
    state = { ...state, ...changed, entries, waiting: mine.size };
    for (const told of listeners) told();
  };
  const keep = async (entry: RoomEntry) => {
    mine.set(entry.id, entry);
    show();
    await (await shelf()).put("entries", { ...entry, roomId }).catch(() => undefined);
    void send();
  };
  const drop = async (sent: readonly RoomEntry[]) => {
    const db = await shelf();
    for (const entry of sent) {
      bench.set(entry.id, entry);
      // What was undone while it was on its way goes out once more.
      if (mine.get(entry.id) !== entry) continue;
      mine.delete(entry.id);
      await db.delete("entries", entry.id);
    }
  };
  const send = async (): Promise<void> => {
    if (sending || mine.size === 0) return;
    clearTimeout(timer);
    sending = true;
    const batch = [...mine.values()].slice(0, AT_ONCE);
    try {
      await call("POST", `/api/room/${roomId}/log`, { entries: batch }, { keepalive: true });
      await drop(batch);
      show({ problem: "" });
    } catch (error) {
      const passing = !(error instanceof ApiError) || PASSING.has(error.code);
      show({ problem: passing ? "" : (error as Error).message });
      timer = setTimeout(() => void send(), RETRY_MS);
      return;
    } finally {
      sending = false;
    }
    if (mine.size > 0) void send();
  };
  const begin = async () => {
    const here = await (await shelf()).getAll("entries").catch(() => []);
    for (const { roomId: own, ...entry } of here)
      if (own === roomId && !mine.has(entry.id)) mine.set(entry.id, entry);
    show();
    await send();
  };
  void begin();
  return {
    subscribe: (told: () => void) => {
      listeners.add(told);
      return () => {
        listeners.delete(told);
      };
    },
    state: () => state,
    note: (note: RoomNote, blockId: string | null) => {
      const entry: RoomEntry = { id: crypto.randomUUID(), atMs: Date.now(), blockId, note, undone: false };
      void keep(entry);
      return entry.id;
    },
    undo: (id: string) => {
      const entry = mine.get(id) ?? bench.get(id);
      if (entry && !entry.undone) void keep({ ...entry, undone: true });
    },
    /** What the bench has now. */
    heard: (entries: readonly RoomEntry[]) => {
      bench = new Map(entries.map((entry) => [entry.id, entry]));
      show();
    },
    send: () => void send(),
  };
}

export type RoomLogBox = ReturnType<typeof openRoomLog>;

const PASSING = new Set(["offline", "failed", "busy", "sign-in-needed"]);

/**
 * What happens in a lesson, as it happens; it comes back by itself when the network does.
 * @param since  what is known already, asked for at every new beginning
 * @param reach  whether the bench is reached
 * @returns ends it
 */
export function watchRoom(
  roomId: string,
  since: () => { told: number; stateVersion: number },
  news: (news: RoomNews) => void,
  reach: (reached: boolean) => void,
): () => void {
  let source: EventSource | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let over = false;
  const begin = () => {
    if (over) return;
    const { told, stateVersion } = since();
    source = new EventSource(`/api/room/${roomId}/stream?told=${told}&state=${stateVersion}`);
    source.onopen = () => reach(true);
    source.onmessage = ({ data }) => news(JSON.parse(data as string) as RoomNews);
    source.onerror = () => {
      reach(false);
      source?.close();
      clearTimeout(timer);
      timer = setTimeout(begin, AGAIN_MS);
    };
  };
  begin();
  // The browser knows first when the network is back.
  const back = () => {
    if (source?.readyState === EventSource.OPEN) return;
    source?.close();
    clearTimeout(timer);
    begin();
  };
  addEventListener("online", back);
  return () => {
    over = true;
    clearTimeout(timer);
    source?.close();
    removeEventListener("online", back);
  };
}

const AGAIN_MS = 1_500;

/** Sends a word to the wall. @returns its number */
export async function tellWall(roomId: string, command: WallCommand): Promise<number> {
  const { seq } = await call<{ seq: number }>("POST", `/api/room/${roomId}/commands`, {
    id: crypto.randomUUID(),
    command,
  });
  return seq;
}

/** Between two states that are kept at least so much time passes, ms; the last one always is. */
const REST_MS = 120;

/** Keeps what the wall shows on the bench, the newest state only; what cannot be kept now is kept as soon as it can. */
export function stateKeeper(roomId: string, firstVersion: number) {
  let version = firstVersion;
  let next: { state: WallState; heard: number } | null = null;
  let underWay = false;
  const send = async () => {
    if (underWay || !next) return;
    underWay = true;
    const { state, heard } = next;
    next = null;
    try {
      version = Math.max(version + 1, 1);
      await call("PUT", `/api/room/${roomId}/state`, { state, heard, version }, { keepalive: true });
      await new Promise((resolve) => setTimeout(resolve, REST_MS));
    } catch {
      // The wall goes on alone; the newest state is kept when the bench is back.
      next ??= { state, heard };
      await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
    } finally {
      underWay = false;
    }
    void send();
  };
  return {
    keep: (state: WallState, heard: number) => {
      next = { state, heard };
      void send();
    },
    /** Another wall of the same lesson has come so far. */
    seen: (other: number) => {
      version = Math.max(version, other);
    },
    version: () => version,
  };
}
