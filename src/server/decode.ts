import { execFile } from "node:child_process";
import { mkdtemp, readdir, rm, stat, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { promisify } from "node:util";
import { AudioReadError, mixToMono, type Pcm, readWav } from "../core/audio";
import { HEARD_RATES, LONGEST_TAKE_SEC } from "../core/listen";
import { type SoundKind, sniffSound } from "./sniff";
import { readWebmOpus } from "./webm";

interface Decoded {
  channelData: Float32Array[];
  samplesDecoded: number;
  sampleRate: number;
}

/** What a decoder of the registry gives when it is fed piece by piece. */
interface StreamDecoder {
  decode(bytes: Uint8Array): Decoded | Promise<Decoded>;
  flush?(): Promise<Decoded>;
  free(): void;
}

/** Fifteen minutes at 48 kHz; a higher rate may hold so many samples too, in less time. */
const MOST_SAMPLES = LONGEST_TAKE_SEC * 48_000;

const tooLong = () =>
  new AudioReadError(`This take is longer than ${LONGEST_TAKE_SEC / 60} minutes; send a shorter one.`);

/**
 * Decodes a recording to mono PCM by what its bytes say it is. Each decoder is loaded when it is first needed. Length is
 * checked while decoding, so that a megabyte that unfolds to hours is given up after fifteen minutes of sound.
 * @throws AudioReadError with one sentence when it is no sound, damaged, empty or too long
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
  if (!(pcm.sampleRate >= HEARD_RATES.least && pcm.sampleRate <= HEARD_RATES.most))
    throw new AudioReadError(
      `This recording has ${pcm.sampleRate} samples a second; from 8,000 to 192,000 can be heard.`,
    );
  if (pcm.samples.length < pcm.sampleRate * 0.1) throw new AudioReadError("This recording holds no sound.");
  return pcm;
}

const DECODERS: Record<SoundKind, (bytes: Uint8Array) => Promise<Pcm>> = {
  wav: async (bytes) => withinLimits(readWav(bytes, MOST_SAMPLES)),
  flac: async (bytes) => {
    const { FLACDecoder } = await import("@wasm-audio-decoders/flac");
    const decoder = new FLACDecoder();
    await decoder.ready;
    // The library can lose a short last frame unless something follows it.
    return decodeInPieces(decoder, bytes, new Uint8Array(64));
  },
  mp3: async (bytes) => {
    const { MPEGDecoder } = await import("mpg123-decoder");
    const decoder = new MPEGDecoder();
    await decoder.ready;
    return decodeInPieces(decoder, bytes);
  },
  ogg: async (bytes) => {
    const opus = Buffer.from(bytes.subarray(0, 64)).includes("OpusHead");
    const decoder = opus
      ? new (await import("ogg-opus-decoder")).OggOpusDecoder()
      : new (await import("@wasm-audio-decoders/ogg-vorbis")).OggVorbisDecoder();
    await decoder.ready;
    return decodeInPieces(decoder, bytes);
  },
  webm: decodeWebm,
  m4a: decodeWithFfmpeg,
};

const FIRST_PIECE = 1024;
const LARGEST_PIECE = 65_536;
/** So much sound at most is wanted from one piece, samples of all channels: the next piece is cut to fit. */
const SAMPLES_A_PIECE = 4_000_000;

/** Feeds a decoder and stops as soon as there is more sound than a take may have. */
async function decodeInPieces(
  decoder: StreamDecoder,
  bytes: Uint8Array,
  tail: Uint8Array = new Uint8Array(0),
): Promise<Pcm> {
  const collected = collector();
  try {
    let piece = FIRST_PIECE;
    for (let at = 0; at < bytes.length; ) {
      const end = Math.min(bytes.length, at + piece);
      const decoded = await decoder.decode(bytes.subarray(at, end));
      const perByte = (decoded.samplesDecoded * Math.max(1, decoded.channelData.length)) / (end - at);
      collected.add(decoded);
      at = end;
      piece = Math.max(64, Math.min(LARGEST_PIECE, 2 * piece, Math.floor(SAMPLES_A_PIECE / (perByte || 1))));
    }
    if (tail.length > 0) collected.add(await decoder.decode(tail));
    if (decoder.flush) collected.add(await decoder.flush());
    return collected.whole();
  } finally {
    decoder.free();
  }
}

/** Mixes pieces to mono and counts them. */
function collector() {
  const pieces: Float32Array[] = [];
  let length = 0;
  let sampleRate = 0;
  return {
    add(decoded: Decoded) {
      if (decoded.samplesDecoded === 0) return;
      sampleRate ||= decoded.sampleRate;
      const mono = mixToMono(decoded.channelData);
      length += mono.length;
      if (length > Math.min(MOST_SAMPLES, LONGEST_TAKE_SEC * sampleRate)) throw tooLong();
      pieces.push(mono);
    },
    whole(): Pcm {
      if (length === 0) throw new AudioReadError("This recording holds no sound.");
      const samples = new Float32Array(length);
      let at = 0;
      for (const piece of pieces) {
        samples.set(piece, at);
        at += piece.length;
      }
      return { samples, sampleRate };
    },
  };
}

function withinLimits(pcm: Pcm | null): Pcm {
  if (!pcm || pcm.samples.length > LONGEST_TAKE_SEC * pcm.sampleRate) throw tooLong();
  return pcm;
}

/** Opus packets last 2.5 ms at least. */
const MOST_PACKETS = LONGEST_TAKE_SEC / 0.0025;
const PACKETS_A_PIECE = 500;

async function decodeWebm(bytes: Uint8Array): Promise<Pcm> {
  const { OpusDecoder } = await import("opus-decoder");
  const opus = readWebmOpus(bytes, MOST_PACKETS);
  if (!opus) throw new AudioReadError("This WebM file holds no Opus sound.");
  const decoder = new OpusDecoder({ channels: opus.channels, preSkip: opus.preSkip });
  await decoder.ready;
  const collected = collector();
  try {
    for (let at = 0; at < opus.packets.length; at += PACKETS_A_PIECE)
      collected.add(decoder.decodeFrames(opus.packets.slice(at, at + PACKETS_A_PIECE)));
    return collected.whole();
  } finally {
    decoder.free();
  }
}

const LONGEST_FFMPEG_MS = 60_000;
const FFMPEG_RATE = 44_100;
const FFMPEG_FOLDER = "ulu-decode-";
/** Seconds that ffmpeg is asked for: a little more than a take may have, so that too long is told from long. */
const FFMPEG_SEC = LONGEST_TAKE_SEC + 1;

/**
 * M4A (AAC) is decoded by the system's ffmpeg, a separate program, where there is one. It reads one file in the one
 * format that was sniffed, opens nothing else, and is bounded in time, memory, seconds and bytes.
 */
async function decodeWithFfmpeg(bytes: Uint8Array): Promise<Pcm> {
  const folder = await mkdtemp(join(tmpdir(), FFMPEG_FOLDER));
  try {
    await writeFile(join(folder, "in"), bytes, { mode: 0o600 });
    const { stdout } = await promisify(execFile)(
      "ffmpeg",
      [
        ["-v", "error", "-nostdin", "-threads", "1", "-max_alloc", "200000000"],
        ["-protocol_whitelist", "file,pipe", "-f", "mov", "-i", join(folder, "in")],
        [
          "-vn",
          "-sn",
          "-dn",
          "-map_metadata",
          "-1",
          "-t",
          String(FFMPEG_SEC),
          "-ac",
          "1",
          "-ar",
          String(FFMPEG_RATE),
        ],
        ["-fs", String(2 * FFMPEG_SEC * FFMPEG_RATE), "-f", "s16le", "pipe:1"],
      ].flat(),
      {
        timeout: LONGEST_FFMPEG_MS,
        killSignal: "SIGKILL",
        encoding: "buffer",
        maxBuffer: 2 * FFMPEG_SEC * FFMPEG_RATE + 65_536,
      },
    );
    const samples = new Float32Array(stdout.length >> 1);
    for (let i = 0; i < samples.length; i++) samples[i] = stdout.readInt16LE(2 * i) / 32768;
    return withinLimits({ samples, sampleRate: FFMPEG_RATE });
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

const LEFT_BEHIND_MS = 3600_000;

/** Takes away what a killed process left in the folder for temporary files. @returns how many folders there were */
export async function sweepDecoding(now = Date.now()): Promise<number> {
  let swept = 0;
  for (const name of await readdir(tmpdir())) {
    if (!name.startsWith(FFMPEG_FOLDER)) continue;
    const folder = join(tmpdir(), name);
    const about = await stat(folder).catch(() => null);
    if (!about || now - about.mtimeMs < LEFT_BEHIND_MS) continue;
    await rm(folder, { recursive: true, force: true });
    swept++;
  }
  return swept;
}
