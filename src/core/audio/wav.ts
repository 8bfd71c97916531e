import { mixToMono, type Pcm } from "./pcm";

/** Refused sound file, in one sentence. */
export class AudioReadError extends Error {}

/**
 * Reads RIFF/WAVE: 8, 16, 24 or 32-bit integer or 32-bit float PCM, any number of channels (mixed to mono).
 * @param mostFrames  a longer file is not unfolded: null is answered
 * @throws AudioReadError for anything else or a damaged file
 * Source: Multimedia Programming Interface and Data Specifications 1.0 (IBM, Microsoft, 1991); format tags of RFC 2361.
 */
export function readWav(bytes: Uint8Array): Pcm;
export function readWav(bytes: Uint8Array, mostFrames: number): Pcm | null;
export function readWav(bytes: Uint8Array, mostFrames = Number.POSITIVE_INFINITY): Pcm | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const tag = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < 44 || tag(0) !== "RIFF" || tag(8) !== "WAVE")
    throw new AudioReadError("This is not a WAV file.");
  let format: { code: number; channels: number; rate: number; bits: number } | undefined;
  for (let at = 12; at + 8 <= bytes.length; ) {
    const size = view.getUint32(at + 4, true);
    if (tag(at) === "fmt " && at + 24 <= bytes.length) {
      const declared = view.getUint16(at + 8, true);
      const code = declared === 0xfffe && size >= 26 ? view.getUint16(at + 32, true) : declared;
      format = {
        code,
        channels: view.getUint16(at + 10, true),
        rate: view.getUint32(at + 12, true),
        bits: view.getUint16(at + 22, true),
      };
    }
    if (tag(at) === "data") {
      if (!format) break;
      const held = Math.min(size, bytes.length - at - 8);
      if (Math.floor(held / (format.bits / 8) / format.channels) > mostFrames) return null;
      return { samples: readSamples(view, at + 8, held, format), sampleRate: format.rate };
    }
    at += 8 + size + (size % 2);
  }
  throw new AudioReadError("This WAV file is damaged: it holds no sound.");
}

function readSamples(
  view: DataView,
  from: number,
  size: number,
  format: { code: number; channels: number; rate: number; bits: number },
): Float32Array {
  const { code, channels, bits, rate } = format;
  const readers: Record<string, (at: number) => number> = {
    "1/8": (at: number) => (view.getUint8(at) - 128) / 128,
    "1/16": (at: number) => view.getInt16(at, true) / 32768,
    "1/24": (at: number) => ((view.getInt8(at + 2) << 16) | view.getUint16(at, true)) / 8388608,
    "1/32": (at: number) => view.getInt32(at, true) / 2147483648,
    "3/32": (at: number) => view.getFloat32(at, true),
  };
  const reader = readers[`${code}/${bits}`];
  if (!reader || channels < 1 || rate < 4000 || rate > 384000)
    throw new AudioReadError("This kind of WAV file cannot be read; save it as 16-bit PCM.");
  const bytesEach = bits / 8;
  const frames = Math.floor(size / (bytesEach * channels));
  return mixToMono(
    Array.from({ length: channels }, (_, channel) => {
      const samples = new Float32Array(frames);
      for (let i = 0; i < frames; i++) samples[i] = reader(from + (i * channels + channel) * bytesEach);
      return samples;
    }),
  );
}

/** Writes mono 16-bit PCM WAV; samples beyond full scale are clipped. */
export function writeWav(pcm: Pcm): Uint8Array<ArrayBuffer> {
  const { samples, sampleRate } = pcm;
  const bytes = new Uint8Array(44 + samples.length * 2);
  const view = new DataView(bytes.buffer);
  const tag = (at: number, text: string) =>
    bytes.set(
      [...text].map((sign) => sign.charCodeAt(0)),
      at,
    );
  tag(0, "RIFF");
  view.setUint32(4, bytes.length - 8, true);
  tag(8, "WAVEfmt ");
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, sampleRate, true);
  view.setUint32(28, sampleRate * 2, true);
  view.setUint16(32, 2, true);
  view.setUint16(34, 16, true);
  tag(36, "data");
  view.setUint32(40, samples.length * 2, true);
  for (let i = 0; i < samples.length; i++)
    view.setInt16(44 + 2 * i, Math.max(-32768, Math.min(32767, Math.round(samples[i]! * 32768))), true);
  return bytes;
}
