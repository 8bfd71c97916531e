import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { Marks } from "../core/progress";
import { ApiError, call } from "./api";

/** A take heard in class, with the director's word on it, until the server has both. */
export interface LiveTake {
  id: string;
  /** The director who heard it: another one on this device sends only what is the own. */
  owner: string;
  taskId: string;
  playerName: string;
  recordedAt: string;
  sound: Blob;
  word: { decision: "accepted" | "again"; comment: string; marks: Marks };
  /** Why the server will never take it; nothing while it waits. */
  refused?: string;
}

interface Shelf extends DBSchema {
  takes: { key: string; value: LiveTake };
}

let opened: Promise<IDBPDatabase<Shelf>> | undefined;
const shelf = () => {
  opened ??= openDB<Shelf>("ulu-live", 1, {
    upgrade: (db) => void db.createObjectStore("takes", { keyPath: "id" }),
  });
  return opened;
};

export async function keepLiveTake(take: LiveTake): Promise<void> {
  await (await shelf()).put("takes", take);
}

export async function dropLiveTake(id: string): Promise<void> {
  await (await shelf()).delete("takes", id);
}

/** What the server refused is tried once more. */
export async function tryLiveTakeAgain({ refused: _, ...take }: LiveTake): Promise<void> {
  await keepLiveTake(take);
}

/** What of a director's is still on this device, the oldest first. */
export async function liveTakesHere(owner: string): Promise<LiveTake[]> {
  const all = await (await shelf()).getAll("takes");
  return all.filter((take) => take.owner === owner).sort((a, b) => a.recordedAt.localeCompare(b.recordedAt));
}

let sending: Promise<void> | null = null;

/**
 * Sends what is here, the oldest first; the sound, then the word on it. Stops at the first that cannot go out now and leaves it
 * here; what the server refuses is kept with its sentence, nothing is thrown away.
 */
export function sendLiveTakes(owner: string): Promise<void> {
  sending ??= (async () => {
    for (const take of await liveTakesHere(owner)) {
      if (take.refused) continue;
      try {
        const { takeId } = await call<{ takeId: string }>(
          "PUT",
          `/api/tasks/${take.taskId}/brought?at=${encodeURIComponent(take.recordedAt)}`,
          take.sound,
        );
        await call("PUT", `/api/takes/${takeId}/review`, take.word);
        await dropLiveTake(take.id);
      } catch (error) {
        const passing = !(error instanceof ApiError) || PASSING.has(error.code);
        if (passing) return;
        await keepLiveTake({ ...take, refused: error.message });
      }
    }
  })().finally(() => {
    sending = null;
  });
  return sending;
}

const PASSING: ReadonlySet<string> = new Set([
  "offline",
  "busy",
  "no-room",
  "failed",
  "sign-in-needed",
  "too-many-tries",
]);
