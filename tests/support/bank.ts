import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { type Bank, plainSounds, type Sound, type SoundTable } from "../../src/core/playalong";
import { decodeSound } from "../../src/server/decode";

const FOLDER = "public/sounds";

/** The sounds that ship, decoded as the browser would. */
export async function shippedBank(): Promise<Bank> {
  const tables = JSON.parse(await readFile(join(FOLDER, "sounds.json"), "utf8")) as Record<
    string,
    SoundTable
  >;
  const bank = new Map<string, Sound>(plainSounds());
  for (const [id, table] of Object.entries(tables)) {
    const { samples, sampleRate } = await decodeSound(await readFile(join(FOLDER, `${id}.flac`)));
    if (sampleRate !== table.rate) throw new Error(`${id}.flac has another rate than its table`);
    bank.set(id, { ...table, pcm: samples });
  }
  return bank;
}
