import { createHash } from "node:crypto";
import { join } from "node:path";
import { config } from "./config";
import { mediaStore } from "./media-store";
import { type ThreadPool, threadPool } from "./threads";

export interface EngraveRequest {
  musicXml: string;
  width: EngravingWidth;
}
export type EngravingWidth = "narrow" | "medium" | "wide";

/** Raised when the engraver or its settings change, so that older pictures are not shown any more. */
const LOOK = "2";

let pool: ThreadPool<EngraveRequest, string> | undefined;

/**
 * Engraves a part as SVG whose note groups carry the score's event ids. The picture is kept under the hash of its
 * MusicXML and LOOK, so that a part is engraved once.
 */
export async function engrave(musicXml: string, width: EngravingWidth): Promise<string> {
  const key = `engraved/${LOOK}/${createHash("sha256").update(musicXml).digest("hex")}-${width}.svg`;
  const store = mediaStore();
  if (await store.has(key)) return Buffer.from(await store.read(key)).toString("utf8");
  const svg = await engraveOnce(musicXml, width);
  await store.put(key, Buffer.from(svg));
  return svg;
}

/** Engraves without keeping the picture. */
export function engraveOnce(musicXml: string, width: EngravingWidth): Promise<string> {
  pool ??= threadPool(join(config().distFolder, "engrave-thread.mjs"), 1);
  return pool.run({ musicXml, width });
}
