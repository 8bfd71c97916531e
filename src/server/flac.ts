import Flac from "libflacjs/dist/libflac.js";
import type { Pcm } from "../core/audio";

/** Encodes mono PCM as 16-bit FLAC, lossless for 16-bit sources: the one canonical form of every take. */
export async function encodeFlac(pcm: Pcm): Promise<Uint8Array> {
  if (!Flac.isReady()) await new Promise<void>((ready) => Flac.on("ready", () => ready()));
  const { samples, sampleRate } = pcm;
  const whole = Int32Array.from(samples, (sample) =>
    Math.max(-32768, Math.min(32767, Math.round(sample * 32768))),
  );
  const encoder = Flac.create_libflac_encoder(sampleRate, 1, 16, 5, whole.length, false);
  const chunks: Uint8Array[] = [];
  const refused = Flac.init_encoder_stream(encoder, (chunk) => chunks.push(Uint8Array.from(chunk)));
  if (refused !== 0 || !Flac.FLAC__stream_encoder_process_interleaved(encoder, whole, whole.length))
    throw new Error("The FLAC encoder refused this sound");
  Flac.FLAC__stream_encoder_finish(encoder);
  Flac.FLAC__stream_encoder_delete(encoder);
  return new Uint8Array(Buffer.concat(chunks));
}
