import Flac from "libflacjs/dist/libflac.js";
import type { Pcm } from "../core/audio";

/** Samples that are handed over at once: the encoder's own memory grows by what it is given. */
const BLOCK = 1 << 16;

/** Encodes mono PCM as 16-bit FLAC, lossless for 16-bit sources: the one canonical form of every take. */
export async function encodeFlac(pcm: Pcm): Promise<Uint8Array> {
  if (!Flac.isReady()) await new Promise<void>((ready) => Flac.on("ready", () => ready()));
  const { samples, sampleRate } = pcm;
  const encoder = Flac.create_libflac_encoder(sampleRate, 1, 16, 5, samples.length, false);
  const chunks: Uint8Array[] = [];
  const refused = Flac.init_encoder_stream(encoder, (chunk) => chunks.push(chunk.slice()));
  if (refused !== 0) throw new Error("The FLAC encoder refused this sound");
  const block = new Int32Array(BLOCK);
  for (let from = 0; from < samples.length; from += BLOCK) {
    const length = Math.min(BLOCK, samples.length - from);
    for (let i = 0; i < length; i++)
      block[i] = Math.max(-32768, Math.min(32767, Math.round(samples[from + i]! * 32768)));
    const given = length === BLOCK ? block : block.subarray(0, length);
    if (!Flac.FLAC__stream_encoder_process_interleaved(encoder, given, length))
      throw new Error("The FLAC encoder refused this sound");
  }
  Flac.FLAC__stream_encoder_finish(encoder);
  Flac.FLAC__stream_encoder_delete(encoder);
  return new Uint8Array(Buffer.concat(chunks));
}
