import { join } from "node:path";
import { config } from "./config";
import { mediaStore } from "./media-store";
import { type ThreadPool, threadPool } from "./threads";

export interface EngraveRequest {
  musicXml: string;
  width: EngravingWidth;
}
export type EngravingWidth = "narrow" | "medium" | "wide";

let pool: ThreadPool<EngraveRequest, string> | undefined;

/**
 * Engraves a part as SVG whose note groups carry the score's event ids; kept by content, so that a part is engraved once.
 * @param cacheKey  names the revision and the part: same key, same picture
 */
export async function engrave(musicXml: string, width: EngravingWidth, cacheKey: string): Promise<string> {
  const key = `engraved/v1/${cacheKey}-${width}.svg`;
  const store = mediaStore();
  if (await store.has(key)) return Buffer.from(await store.read(key)).toString("utf8");
  pool ??= threadPool(join(config().distFolder, "engrave-thread.mjs"), 1);
  const svg = await pool.run({ musicXml, width });
  await store.put(key, Buffer.from(svg));
  return svg;
}
