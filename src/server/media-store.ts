import { createReadStream } from "node:fs";
import { mkdir, open, readFile, rename, rm, stat, writeFile } from "node:fs/promises";
import { dirname, join } from "node:path";
import { Readable } from "node:stream";
import { config } from "./config";

/**
 * Where sound and engraved pages lie. Keys are relative paths made by us, never by a person.
 * An object store can stand behind the same functions; the folder is the default.
 */
export interface MediaStore {
  /** Writes whole and at once: a reader never sees half a file. */
  put(key: string, bytes: Uint8Array): Promise<void>;
  read(key: string): Promise<Uint8Array>;
  has(key: string): Promise<boolean>;
  /** Bytes from..to (inclusive) as a stream. */
  stream(key: string, from: number, to: number): ReadableStream<Uint8Array>;
  /** Bytes so far of a growing upload, 0 when there is none. */
  size(key: string): Promise<number>;
  /** Adds a chunk at an offset that must be the present size. */
  append(key: string, offset: number, bytes: Uint8Array): Promise<number>;
  move(from: string, to: string): Promise<void>;
  remove(key: string): Promise<void>;
}

/** Children's recordings: nobody else on the machine opens them. */
const OWN_FILE = 0o600;
const OWN_FOLDER = { recursive: true, mode: 0o700 } as const;

export function folderStore(folder: string): MediaStore {
  const path = (key: string) => {
    if (!/^[\w./-]+$/.test(key) || key.includes(".."))
      throw new Error("A media key holds letters, digits, dots, dashes and slashes only");
    return join(folder, key);
  };
  const size = async (key: string) => {
    try {
      return (await stat(path(key))).size;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === "ENOENT") return 0;
      throw error;
    }
  };
  return {
    size,
    async put(key, bytes) {
      const target = path(key);
      const draft = `${target}.${process.pid}-${Math.random().toString(36).slice(2)}.part`;
      await mkdir(dirname(target), OWN_FOLDER);
      await writeFile(draft, bytes, { flush: true, mode: OWN_FILE });
      await rename(draft, target);
    },
    read: (key) => readFile(path(key)),
    has: async (key) => (await size(key)) > 0,
    stream: (key, from, to) =>
      Readable.toWeb(createReadStream(path(key), { start: from, end: to })) as ReadableStream<Uint8Array>,
    async append(key, offset, bytes) {
      const target = path(key);
      await mkdir(dirname(target), OWN_FOLDER);
      const file = await open(target, offset === 0 ? "w" : "r+", OWN_FILE);
      try {
        await file.write(bytes, 0, bytes.length, offset);
        await file.truncate(offset + bytes.length);
        await file.sync();
      } finally {
        await file.close();
      }
      return offset + bytes.length;
    },
    async move(from, to) {
      await mkdir(dirname(path(to)), OWN_FOLDER);
      await rename(path(from), path(to));
    },
    remove: (key) => rm(path(key), { force: true }),
  };
}

let store: MediaStore | undefined;

export function mediaStore(): MediaStore {
  store ??= folderStore(config().mediaFolder);
  return store;
}
