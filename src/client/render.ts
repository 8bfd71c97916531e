import type { Bank, Mix, PlayAlong, Spoken } from "../core/playalong";

export type FileFormat = "mp3" | "wav";
export interface RenderRequest {
  id: number;
  plan: PlayAlong;
  mix: Mix;
  bank: Bank;
  spoken: readonly Spoken[];
  format: FileFormat;
}
export interface RenderAnswer {
  id: number;
  bytes?: Uint8Array;
  problem?: string;
}

const waiting = new Map<number, { resolve: (bytes: Uint8Array) => void; reject: (error: Error) => void }>();
let worker: Worker | undefined;
let asked = 0;

/** Renders a play-along to a file in the background of this page. @throws Error with a sentence when it cannot */
export function renderFile(request: Omit<RenderRequest, "id">): Promise<Uint8Array> {
  worker ??= startWorker();
  const renderer = worker;
  const id = ++asked;
  return new Promise((resolve, reject) => {
    waiting.set(id, { resolve, reject });
    renderer.postMessage({ ...request, id });
  });
}

function startWorker(): Worker {
  const renderer = new Worker(new URL("../workers/render.worker.ts", import.meta.url), { type: "module" });
  renderer.onmessage = ({ data }: MessageEvent<RenderAnswer>) => {
    const turn = waiting.get(data.id);
    waiting.delete(data.id);
    if (data.bytes) turn?.resolve(data.bytes);
    else turn?.reject(new Error(`The file could not be made: ${data.problem}`));
  };
  renderer.onerror = () => {
    for (const turn of waiting.values()) turn.reject(new Error("The files cannot be made in this browser."));
    waiting.clear();
    worker = undefined;
  };
  return renderer;
}

/** Hands bytes to the browser as a file to keep. */
export function saveFile(name: string, bytes: Uint8Array, type: string): void {
  const url = URL.createObjectURL(new Blob([new Uint8Array(bytes)], { type }));
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}
