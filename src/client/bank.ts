import { type Bank, plainSounds, type Sound, type SoundTable, soundsFor } from "../core/playalong";

const loaded = new Map<string, Sound>(plainSounds());
let tables: Promise<Record<string, SoundTable>> | undefined;

/** What could be had of the sounds asked for. */
export interface LoadedBank {
  bank: Bank;
  /** A sentence when recorded sounds could not be loaded and plain ones stand in. */
  note: string;
}

/** Fetches the recorded sounds of instruments, each once a page; plain ones stand in for what cannot be had. */
export async function loadBank(instrumentIds: readonly string[]): Promise<LoadedBank> {
  const wanted = soundsFor(instrumentIds).filter((id) => !recorded.has(id));
  const failed: string[] = [];
  await Promise.all(
    wanted.map(async (id) => {
      try {
        loaded.set(id, await fetchSound(id));
        recorded.add(id);
      } catch {
        failed.push(id);
      }
    }),
  );
  return {
    bank: loaded,
    note: failed.length > 0 ? "The recorded sounds could not be loaded; a plain tone plays instead." : "",
  };
}

const recorded = new Set<string>();

async function fetchSound(id: string): Promise<Sound> {
  tables ??= fetchJson();
  const table = (
    await tables.catch((error) => {
      tables = undefined;
      throw error;
    })
  )[id];
  if (!table) throw new Error(`There is no sound "${id}"`);
  const response = await fetch(`/sounds/${id}.flac`);
  if (!response.ok) throw new Error(`The sound "${id}" did not come`);
  const decoder = new OfflineAudioContext(1, 1, table.rate);
  const buffer = await decoder.decodeAudioData(await response.arrayBuffer());
  return { ...table, pcm: buffer.getChannelData(0).slice() };
}

async function fetchJson(): Promise<Record<string, SoundTable>> {
  const response = await fetch("/sounds/sounds.json");
  if (!response.ok) throw new Error("The table of sounds did not come");
  return (await response.json()) as Record<string, SoundTable>;
}
