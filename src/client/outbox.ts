import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import { v7 as uuid } from "uuid";
import { CHUNK_BYTES, type TakeSummary } from "../services/practice/wire";
import { ApiError, call } from "./api";

/** A take on this device, kept until the server has confirmed its checksum. */
export interface KeptTake {
  id: string;
  taskId: string;
  /** Whose it is: several players may share a device. */
  owner: string;
  recordedAt: string;
  sound: Blob;
  /** A draft is listened to first; a sending one goes out by itself, after a reload too. */
  state: "draft" | "sending";
}

interface Shelf extends DBSchema {
  takes: { key: string; value: KeptTake };
}

let opened: Promise<IDBPDatabase<Shelf>> | undefined;
function shelf() {
  opened ??= openDB<Shelf>("ulu-outbox", 1, {
    upgrade: (db) => void db.createObjectStore("takes", { keyPath: "id" }),
  });
  return opened;
}

export async function keepDraft(taskId: string, owner: string, sound: Blob): Promise<KeptTake> {
  const take: KeptTake = {
    id: uuid(),
    taskId,
    owner,
    recordedAt: new Date().toISOString(),
    sound,
    state: "draft",
  };
  await (await shelf()).put("takes", take);
  return take;
}

export async function keptTakes(owner: string): Promise<KeptTake[]> {
  return (await (await shelf()).getAll("takes")).filter((take) => take.owner === owner);
}

export async function dropTake(id: string): Promise<void> {
  await (await shelf()).delete("takes", id);
}

export async function markSending(take: KeptTake): Promise<KeptTake> {
  const sending: KeptTake = { ...take, state: "sending" };
  await (await shelf()).put("takes", sending);
  return sending;
}

/**
 * Sends a kept take: announces it, sends what the server lacks, asks it to confirm the checksum, and only then lets go
 * of it here. Every step may be repeated; a broken connection costs at most one chunk.
 * @param progress  share sent, 0 to 1
 * @throws ApiError; the take stays kept unless the server refused it for good
 */
export async function sendTake(take: KeptTake, progress: (share: number) => void): Promise<TakeSummary> {
  const bytes = new Uint8Array(await take.sound.arrayBuffer());
  const announced = {
    id: take.id,
    taskId: take.taskId,
    bytes: bytes.length,
    sha256: await sha256(bytes),
    recordedAt: take.recordedAt,
  };
  const { received, complete } = await call<{ received: number; complete: boolean }>(
    "POST",
    "/api/uploads",
    announced,
  );
  let at = received;
  while (!complete && at < bytes.length) {
    const chunk = bytes.subarray(at, at + CHUNK_BYTES);
    at = (
      await call<{ received: number }>("PUT", `/api/uploads/${take.id}/chunk?offset=${at}`, new Blob([chunk]))
    ).received;
    progress(at / bytes.length);
  }
  const sent = await call<TakeSummary>("POST", `/api/uploads/${take.id}/complete`);
  await dropTake(take.id);
  return sent;
}

/** Sends again and again until it arrives or the server refuses it; waits a little longer after each failure. */
export async function sendUntilDone(
  take: KeptTake,
  progress: (share: number) => void,
  waiting: (reason: string) => void,
): Promise<TakeSummary> {
  for (let wait = 1000; ; wait = Math.min(15_000, wait * 1.7)) {
    try {
      return await sendTake(take, progress);
    } catch (error) {
      const known = error instanceof ApiError ? error : new ApiError("The take could not be sent.", "failed");
      if (!["offline", "failed", "conflict"].includes(known.code)) throw known;
      waiting(
        known.offline
          ? "No connection. Your take is safe on this device and goes out by itself."
          : known.message,
      );
      await new Promise((resolve) => setTimeout(resolve, wait));
    }
  }
}

async function sha256(bytes: Uint8Array<ArrayBuffer>): Promise<string> {
  const digest = new Uint8Array(await crypto.subtle.digest("SHA-256", bytes));
  return [...digest].map((byte) => byte.toString(16).padStart(2, "0")).join("");
}
