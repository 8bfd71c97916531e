import { createHash } from "node:crypto";
import { availableParallelism } from "node:os";
import { join } from "node:path";
import { LRUCache } from "lru-cache";
import { config } from "./config";
import { mediaStore } from "./media-store";
import { type ThreadPool, threadPool } from "./threads";

export interface EngraveRequest {
  musicXml: string;
  width: EngravingWidth;
}
/** "phone" and "phone-large" are made for a child's hand: a staff space of 8 and 11 px on a screen of 390. */
export const ENGRAVING_WIDTHS = ["phone-large", "phone", "narrow", "medium", "wide"] as const;
export type EngravingWidth = (typeof ENGRAVING_WIDTHS)[number];

/** Raised when the engraver or its settings change, so that older pictures are not shown any more. */
const LOOK = "3";
/** The longest score that is accepted takes about 10 s, cold and beside other work. */
const LONGEST_MS = 30_000;
const MEMORY_MB = 512;

let pool: ThreadPool<EngraveRequest, string> | undefined;
/** Pictures of the last while, so that a class opening one task reads no file sixty times. Characters. */
const recent = new LRUCache<string, string>({ maxSize: 24_000_000, sizeCalculation: (svg) => svg.length });
/** Pictures under way: who asks for the same one waits for it. */
const underWay = new Map<string, Promise<string>>();

/**
 * Engraves a part as SVG whose note groups carry the score's event ids. The picture is kept under the hash of its
 * MusicXML and LOOK, so that a part is engraved once.
 * @param patient  one of many, as in a printed set: single pictures go first
 */
export async function engrave(musicXml: string, width: EngravingWidth, patient = false): Promise<string> {
  const key = `engraved/${LOOK}/${createHash("sha256").update(musicXml).digest("hex")}-${width}.svg`;
  const remembered = recent.get(key);
  if (remembered) return remembered;
  const started = underWay.get(key);
  if (started) return started;
  const picture = keptOrMade(key, () => engraveOnce(musicXml, width, patient));
  underWay.set(key, picture);
  return picture.finally(() => underWay.delete(key));
}

async function keptOrMade(key: string, make: () => Promise<string>): Promise<string> {
  const store = mediaStore();
  const kept = (await store.has(key)) ? Buffer.from(await store.read(key)).toString("utf8") : null;
  const svg = kept ?? (await make());
  if (kept === null) await store.put(key, Buffer.from(svg));
  recent.set(key, svg);
  return svg;
}

/** Engraves without keeping the picture. */
export function engraveOnce(musicXml: string, width: EngravingWidth, patient = false): Promise<string> {
  pool ??= threadPool(join(config().distFolder, "engrave-thread.mjs"), {
    size: Math.max(2, availableParallelism() - 1),
    longestMs: LONGEST_MS,
    memoryMb: MEMORY_MB,
  });
  return pool.run({ musicXml, width }, patient);
}
