import { execFile } from "node:child_process";
import { mkdtemp, readFile, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { promisify } from "node:util";
import { AudioReadError, mixToMono, type Pcm, readWav } from "../core/audio";
import { type SoundKind, sniffSound } from "./sniff";
import { readWebmOpus } from "./webm";

interface Decoded {
  channelData: Float32Array[];
  samplesDecoded: number;
  sampleRate: number;
}

/**
 * Decodes a recording to mono PCM by what its bytes say it is. Each decoder is loaded when it is first needed.
 * @throws AudioReadError with one sentence when it is no sound, damaged or empty
 */
export async function decodeSound(bytes: Uint8Array): Promise<Pcm> {
  const kind = sniffSound(bytes);
  if (!kind)
    throw new AudioReadError(
      "This file is not a sound recording that can be read (WAV, FLAC, MP3, Ogg, WebM or M4A).",
    );
  let pcm: Pcm;
  try {
    pcm = await DECODERS[kind](bytes);
  } catch (error) {
    if (error instanceof AudioReadError) throw error;
    throw new AudioReadError(`This ${kind.toUpperCase()} file is damaged and cannot be played.`);
  }
  if (pcm.samples.length < pcm.sampleRate * 0.1) throw new AudioReadError("This recording holds no sound.");
  return pcm;
}

const DECODERS: Record<SoundKind, (bytes: Uint8Array) => Promise<Pcm>> = {
  wav: async (bytes) => readWav(bytes),
  flac: async (bytes) => {
    const { FLACDecoder } = await import("@wasm-audio-decoders/flac");
    const decoder = new FLACDecoder();
    await decoder.ready;
    // The library can lose a short last frame unless something follows it.
    const padded = new Uint8Array(bytes.length + 64);
    padded.set(bytes);
    return toPcm(await decoder.decodeFile(padded), () => decoder.free());
  },
  mp3: async (bytes) => {
    const { MPEGDecoder } = await import("mpg123-decoder");
    const decoder = new MPEGDecoder();
    await decoder.ready;
    return toPcm(decoder.decode(bytes), () => decoder.free());
  },
  ogg: async (bytes) => {
    const opus = Buffer.from(bytes.subarray(0, 64)).includes("OpusHead");
    const decoder = opus
      ? new (await import("ogg-opus-decoder")).OggOpusDecoder()
      : new (await import("@wasm-audio-decoders/ogg-vorbis")).OggVorbisDecoder();
    await decoder.ready;
    return toPcm(await decoder.decodeFile(bytes), () => decoder.free());
  },
  webm: decodeWebm,
  m4a: decodeWithFfmpeg,
};

function toPcm(decoded: Decoded, free: () => void): Pcm {
  free();
  if (!decoded.samplesDecoded) throw new AudioReadError("This recording holds no sound.");
  return { samples: mixToMono(decoded.channelData), sampleRate: decoded.sampleRate };
}

async function decodeWebm(bytes: Uint8Array): Promise<Pcm> {
  const { OpusDecoder } = await import("opus-decoder");
  const opus = readWebmOpus(bytes);
  if (!opus) throw new AudioReadError("This WebM file holds no Opus sound.");
  const decoder = new OpusDecoder({ channels: opus.channels, preSkip: opus.preSkip });
  await decoder.ready;
  return toPcm(decoder.decodeFrames(opus.packets), () => decoder.free());
}

const LONGEST_FFMPEG_MS = 120_000;

/** M4A (AAC) is decoded by the system's ffmpeg, a separate program, where there is one. */
async function decodeWithFfmpeg(bytes: Uint8Array): Promise<Pcm> {
  const folder = await mkdtemp(join(tmpdir(), "ulu-"));
  try {
    await writeFile(join(folder, "in.m4a"), bytes);
    await promisify(execFile)(
      "ffmpeg",
      ["-v", "error", "-i", join(folder, "in.m4a"), "-ac", "1", join(folder, "out.wav")],
      { timeout: LONGEST_FFMPEG_MS },
    );
    return readWav(await readFile(join(folder, "out.wav")));
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT")
      throw new AudioReadError(
        "M4A files need the program ffmpeg, which is not installed here; send WAV, FLAC, MP3, Ogg or WebM.",
      );
    throw error;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
