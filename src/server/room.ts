import { mkdir, statfs } from "node:fs/promises";
import { config } from "./config";

/** Asked at most so often, ms: a class that sends at once asks once. */
const ASK_EVERY_MS = 2_000;
let last: { at: number; free: number } | undefined;

/** Whether so many bytes more leave the disk with what it must keep free (`MIN_FREE_MB`). */
export async function hasRoomFor(bytes: number): Promise<boolean> {
  const { mediaFolder, minFreeBytes } = config();
  if (!last || Date.now() - last.at > ASK_EVERY_MS) {
    await mkdir(mediaFolder, { recursive: true, mode: 0o700 });
    const { bavail, bsize } = await statfs(mediaFolder);
    last = { at: Date.now(), free: Number(bavail) * Number(bsize) };
  }
  return last.free - bytes >= minFreeBytes;
}
