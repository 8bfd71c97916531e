import { createMp3Encoder } from "wasm-media-encoders";
import type { RenderAnswer, RenderRequest } from "../client/render";
import { writeWav } from "../core/audio";
import { renderPlan } from "../core/playalong";

const RATE = 44100;

/** Mixes a play-along as fast as it can and writes it as a file. */
self.onmessage = async ({ data: { id, plan, mix, bank, spoken, format } }: MessageEvent<RenderRequest>) => {
  const answer = (said: RenderAnswer) => self.postMessage(said);
  try {
    const samples = renderPlan(plan, { mix, bank, spoken, sampleRate: RATE });
    const bytes = format === "wav" ? writeWav({ samples, sampleRate: RATE }) : await asMp3(samples);
    answer({ id, bytes });
  } catch (error) {
    answer({ id, problem: (error as Error).message });
  }
};

/** MP3 at a constant 128 kbit/s: small enough to mail, good enough for a phone. */
async function asMp3(samples: Float32Array): Promise<Uint8Array> {
  const encoder = await createMp3Encoder();
  encoder.configure({ sampleRate: RATE, channels: 1, bitrate: 128 });
  // The encoder gives a view of its own memory each time: what it said is copied at once.
  const parts: Uint8Array[] = [];
  const block = 11520;
  for (let at = 0; at < samples.length; at += block)
    parts.push(encoder.encode([samples.subarray(at, at + block)]).slice());
  parts.push(encoder.finalize().slice());
  const bytes = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    bytes.set(part, at);
    at += part.length;
  }
  return bytes;
}
