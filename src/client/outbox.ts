import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import { v7 as uuid } from "uuid";
import { writeWav } from "../core/audio";
import type { Gap } from "../core/listen";
import { CHUNK_BYTES, type TakeSummary } from "../services/practice/wire";
import { ApiError, call } from "./api";

/** A take on this device, kept until the server has confirmed its checksum. */
export interface KeptTake {
  id: string;
  taskId: string;
  /** Whose it is: several players may share a device. */
  owner: string;
  /** What the owner is called, for whoever finds it on this device; the take itself opens for its owner only. */
  ownerName?: string;
  recordedAt: string;
  sound: Blob;
  /** What the device left out while recording. */
  gaps?: Gap[];
  /** A draft is listened to first; a sending one goes out by itself, after a reload too. */
  state: "draft" | "sending";
}

/** A recording that goes on: its sound is kept second by second, so that a reload loses a moment at most. */
interface RunningRecording {
  id: string;
  taskId: string;
  owner: string;
  recordedAt: string;
  sampleRate: number;
}

interface Shelf extends DBSchema {
  takes: { key: string; value: KeptTake };
  recordings: { key: string; value: RunningRecording };
  sound: { key: [recording: string, place: number]; value: Int16Array };
}

let opened: Promise<IDBPDatabase<Shelf>> | undefined;
function shelf() {
  opened ??= openDB<Shelf>("ulu-outbox", 2, {
    upgrade: (db, version) => {
      if (version < 1) db.createObjectStore("takes", { keyPath: "id" });
      db.createObjectStore("recordings", { keyPath: "id" });
      db.createObjectStore("sound");
    },
    // Another tab of this device runs a newer page: it may go on, this one opens anew when it needs to.
    blocking: (_current, _wanted, event) => {
      (event.target as IDBDatabase).close();
      opened = undefined;
    },
  });
  return opened;
}

export async function keepDraft(
  taskId: string,
  owner: string,
  sound: Blob,
  about: { recordedAt?: string; gaps?: Gap[]; ownerName?: string } = {},
): Promise<KeptTake> {
  const take: KeptTake = {
    id: uuid(),
    taskId,
    owner,
    recordedAt: about.recordedAt ?? new Date().toISOString(),
    sound,
    ...(about.ownerName ? { ownerName: about.ownerName } : {}),
    ...(about.gaps?.length ? { gaps: about.gaps } : {}),
    state: "draft",
  };
  await (await shelf()).put("takes", take);
  return take;
}

/** Keeps a recording while it goes on. */
export interface SafeRecording {
  add(block: Float32Array, sampleRate: number): void;
  /** The whole take is kept elsewhere, or nobody wants it: what was kept on the way goes. */
  end(): Promise<void>;
}

const lockOf = (id: string) => `ulu-recording-${id}`;

/** @throws Error when this browser keeps nothing */
export async function keepWhileRecording(taskId: string, owner: string): Promise<SafeRecording> {
  const db = await shelf();
  const id = uuid();
  const recordedAt = new Date().toISOString();
  let place = 0;
  let writing: Promise<unknown> = Promise.resolve();
  // Held as long as this page lives: another page knows by it whether the recording still goes on.
  let release: () => void = () => undefined;
  void navigator.locks?.request(lockOf(id), () => new Promise<void>((done) => (release = done)));
  return {
    add(block, sampleRate) {
      const samples = Int16Array.from(block, (each) => Math.round(32767 * Math.max(-1, Math.min(1, each))));
      const at = place++;
      writing = writing
        .then(async () => {
          if (at === 0) await db.put("recordings", { id, taskId, owner, recordedAt, sampleRate });
          await db.put("sound", samples, [id, at]);
        })
        // A full device: the recording itself goes on in memory.
        .catch(() => undefined);
    },
    async end() {
      await writing;
      await forget(id);
      release();
    },
  };
}

async function forget(id: string): Promise<void> {
  const db = await shelf();
  await db.delete("recordings", id);
  await db.delete("sound", IDBKeyRange.bound([id, 0], [id, Number.MAX_SAFE_INTEGER]));
}

/** Turns a recording that was cut off by a reload, a back key or a crash into a draft; null when there is none. */
export async function rescueRecording(taskId: string, owner: string): Promise<KeptTake | null> {
  const db = await shelf();
  for (const cut of await db.getAll("recordings")) {
    if (cut.taskId !== taskId || cut.owner !== owner || (await stillGoesOn(cut.id))) continue;
    const blocks = await db.getAll(
      "sound",
      IDBKeyRange.bound([cut.id, 0], [cut.id, Number.MAX_SAFE_INTEGER]),
    );
    const samples = new Float32Array(blocks.reduce((sum, block) => sum + block.length, 0));
    let at = 0;
    for (const block of blocks) {
      for (let i = 0; i < block.length; i++) samples[at + i] = block[i]! / 32767;
      at += block.length;
    }
    const long = samples.length >= LEAST_RESCUED_SEC * cut.sampleRate;
    const sound = new Blob([writeWav({ samples, sampleRate: cut.sampleRate })], { type: "audio/wav" });
    const draft = long ? await keepDraft(taskId, owner, sound, { recordedAt: cut.recordedAt }) : null;
    await forget(cut.id);
    if (draft) return draft;
  }
  return null;
}

/** Less than this was nothing yet, seconds. */
const LEAST_RESCUED_SEC = 1;

/** Whether the page that records still lives, in another tab perhaps. */
async function stillGoesOn(id: string): Promise<boolean> {
  if (!navigator.locks) return false;
  return navigator.locks.request(lockOf(id), { ifAvailable: true }, async (lock) => lock === null);
}

export async function keptTakes(owner: string): Promise<KeptTake[]> {
  return (await (await shelf()).getAll("takes")).filter((take) => take.owner === owner);
}

/** Whether a take of a task is on this device, or what was recorded of one until it was cut off. */
export async function hasTakeHere(taskId: string, owner: string): Promise<boolean> {
  const db = await shelf();
  const own = (each: { taskId: string; owner: string }) => each.taskId === taskId && each.owner === owner;
  if ((await db.getAll("takes")).some(own)) return true;
  for (const cut of await db.getAll("recordings")) if (own(cut) && !(await stillGoesOn(cut.id))) return true;
  return false;
}

/** Whose takes wait on this device, by name: what the sign-in page tells. */
export async function takesWaiting(): Promise<{ name: string; takes: number }[]> {
  const counts = new Map<string, number>();
  for (const { ownerName } of await (await shelf()).getAll("takes")) {
    const name = ownerName ?? "somebody";
    counts.set(name, (counts.get(name) ?? 0) + 1);
  }
  return [...counts].map(([name, takes]) => ({ name, takes }));
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
    gaps: take.gaps ?? [],
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

/** What passes by itself: no connection, a server that restarts, is busy or full, a chunk that was damaged. */
const PASSING = new Set(["offline", "failed", "conflict", "busy", "no-room"]);

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
      if (!PASSING.has(known.code)) throw known;
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
