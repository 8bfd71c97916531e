import { execFileSync } from "node:child_process";
import FFT from "fft.js";
import { type Pcm, readWav, resample } from "../../src/core/audio";
import type { Instrument } from "../../src/core/music";
import { seededRandom } from "../../src/core/rhythm";
import type { Score } from "../../src/core/score";
import { decodeSound } from "../../src/server/decode";
import { encodeWith } from "./formats";
import { CAREFUL, type PlayedTake, perform } from "./performer";
import { type Bank, RATE, rootMeanSquare } from "./sounds";

/** What is played where, for conditions that need to know. */
export interface Scene {
  take: PlayedTake;
  part: Score;
  instrument: Instrument;
  bank: Bank;
  askedBpm: number;
  seed: number;
}
/** The take as a microphone gives it; everything in it lies so much later than in the performance. */
export interface Heard {
  pcm: Pcm;
  delaySec: number;
}
type Condition = (scene: Scene) => Heard | Promise<Heard>;
const plain =
  (change: (pcm: Pcm, scene: Scene) => Pcm): Condition =>
  (scene): Heard => ({ pcm: change(scene.take.pcm, scene), delaySec: 0 });

/** What a room, a device or a neighbour does to a take; each alone. */
export const CONDITIONS: Record<string, Condition> = {
  clean: plain((pcm) => pcm),
  "a hall (0.7 s)": plain((pcm, { seed }) => reverberant(pcm, 0.7, 0.5, seed)),
  "a tiled room (1.2 s)": plain((pcm, { seed }) => reverberant(pcm, 1.2, 0.8, seed)),
  "noise 10 dB below": plain((pcm, { seed }) => noisy(pcm, 10, seed)),
  "noise 20 dB below": plain((pcm, { seed }) => noisy(pcm, 20, seed)),
  "a click bleeding in": plain((pcm, { take }) => withClick(pcm, take.bpm)),
  "play-along 26 dB below": plain((pcm, scene) => withPlayAlong(pcm, scene, -26)),
  "talk before": (scene) => withTalk(scene),
  clipped: plain((pcm) => ({
    ...pcm,
    samples: pcm.samples.map((each) => Math.max(-0.12, Math.min(0.12, each))),
  })),
  "very quiet": plain((pcm) => ({
    ...pcm,
    samples: pcm.samples.map((each) => Math.round(327 * each) / 32768),
  })),
  "a phone line (8 kHz)": plain(phoneLine),
  "Opus 24 kb/s": async ({ take }) => ({ pcm: await throughCodec(take.pcm, "ogg"), delaySec: 0 }),
  "AAC 24 kb/s": async ({ take }) => ({ pcm: await throughCodec(take.pcm, "m4a"), delaySec: 0 }),
  "96 kHz": plain((pcm) => resample(pcm, 96_000)),
  "somebody else practising faintly": plain((pcm, scene) => withNeighbour(pcm, scene)),
};

/** Direct sound and an exponentially dying noise tail (convolution by FFT in blocks). */
export function reverberant(pcm: Pcm, seconds: number, wet: number, seed: number): Pcm {
  const random = seededRandom(5 + (seed % 7));
  const size = 65_536;
  const tail = new Float64Array(size);
  const start = Math.round(0.006 * pcm.sampleRate);
  const length = Math.min(size / 2, Math.round(seconds * pcm.sampleRate));
  let power = 0;
  for (let i = start; i < length; i++) {
    tail[i] =
      (2 * random() - 1) *
      10 ** ((-3 * i) / (seconds * pcm.sampleRate)) *
      (i < 0.08 * RATE && random() > 0.02 ? 0.4 : 1);
    power += tail[i]! ** 2;
  }
  for (let i = 0; i < length; i++) tail[i]! *= wet / Math.sqrt(power);
  tail[0] = 1;
  const fft = new FFT(size);
  const response = fft.createComplexArray();
  fft.realTransform(response, tail);
  fft.completeSpectrum(response);
  const block = size / 2;
  const out = new Float32Array(pcm.samples.length + block);
  const frame = new Float64Array(size);
  const spectrum = fft.createComplexArray();
  const product = fft.createComplexArray();
  for (let from = 0; from < pcm.samples.length; from += block) {
    for (let i = 0; i < size; i++) frame[i] = i < block ? (pcm.samples[from + i] ?? 0) : 0;
    fft.realTransform(spectrum, frame);
    fft.completeSpectrum(spectrum);
    for (let k = 0; k < 2 * size; k += 2) {
      const [a, b, c, d] = [spectrum[k]!, spectrum[k + 1]!, response[k]!, response[k + 1]!];
      product[k] = a * c - b * d;
      product[k + 1] = a * d + b * c;
    }
    fft.inverseTransform(spectrum, product);
    for (let i = 0; i < size && from + i < out.length; i++) out[from + i]! += spectrum[2 * i]!;
  }
  return { ...pcm, samples: out.subarray(0, pcm.samples.length) };
}

/** Between white and brown, as rooms are; 10 dB below means below the mean power of the whole take. */
export function noisy(pcm: Pcm, snrDb: number, seed: number): Pcm {
  const random = seededRandom(9 + seed);
  const raw = roomNoise(pcm.samples.length, random);
  const gain = rootMeanSquare(pcm.samples) / 10 ** (snrDb / 20) / rootMeanSquare(raw);
  return { ...pcm, samples: pcm.samples.map((each, i) => each + gain * raw[i]!) };
}

export function roomNoise(length: number, random: () => number): Float32Array {
  let slow = 0;
  return Float32Array.from({ length }, () => {
    const white = 2 * random() - 1;
    slow = 0.97 * slow + 0.3 * white;
    return 0.5 * white + slow;
  });
}

function withClick(pcm: Pcm, bpm: number): Pcm {
  const out = Float32Array.from(pcm.samples);
  const level = rootMeanSquare(pcm.samples);
  for (let at = CAREFUL.leadSec; at < out.length / pcm.sampleRate; at += 60 / bpm) {
    const from = Math.round(at * pcm.sampleRate);
    for (let i = 0; i < 0.04 * pcm.sampleRate && from + i < out.length; i++)
      out[from + i]! +=
        level * Math.sin((2 * Math.PI * 1320 * i) / pcm.sampleRate) * Math.exp((-120 * i) / pcm.sampleRate);
  }
  return { ...pcm, samples: out };
}

/** The reference plays the whole line without mistake, at the player's tempo, from the player's beginning. */
export function withPlayAlong(pcm: Pcm, { part, bank, take, instrument, seed }: Scene, levelDb: number): Pcm {
  const reference = perform(part, bank, take.bpm, instrument, {
    ...CAREFUL,
    seed,
    unsteadySec: 0,
    unevenDb: 0,
  });
  const gain = 10 ** (levelDb / 20);
  return { ...pcm, samples: pcm.samples.map((each, i) => each + gain * (reference.pcm.samples[i] ?? 0)) };
}

const SAYINGS = [
  "One, two, ready, go.",
  "Okay, this is line twenty three, on my trumpet. One, two, three, four.",
  "Mum, I am recording now, please be quiet. Okay. Two, three, four.",
  "Uh, hello, this is my second try of the song for Tuesday.",
];

/** Spoken words by a speech synthesiser, at the working rate. */
export function spoken(text: string, voice: string): Float32Array {
  const wav = execFileSync("espeak-ng", ["-v", voice, "-s", "150", "--stdout", text], { maxBuffer: 1 << 26 });
  // Its header leaves the length open when it writes to a pipe.
  wav.writeUInt32LE(wav.length - 44, 40);
  return Float32Array.from(resample(readWav(wav), RATE).samples);
}

function withTalk({ take, seed }: Scene): Heard {
  const words = spoken(SAYINGS[seed % SAYINGS.length]!, ["en+f2", "en+m3", "en+f4"][seed % 3]!);
  const loud = (0.7 * rootMeanSquare(take.pcm.samples)) / rootMeanSquare(words);
  const samples = new Float32Array(words.length + take.pcm.samples.length);
  words.forEach((each, i) => {
    samples[i] = loud * each;
  });
  samples.set(take.pcm.samples, words.length);
  return { pcm: { samples, sampleRate: RATE }, delaySec: words.length / RATE };
}

/** Band-passed by two one-pole filters each way and kept at 8 kHz. */
export function phoneLine(pcm: Pcm): Pcm {
  const onePole = (samples: Float32Array, hz: number, high: boolean) => {
    const a = Math.exp((-2 * Math.PI * hz) / pcm.sampleRate);
    let low = 0;
    return samples.map((each) => {
      low = (1 - a) * each + a * low;
      return high ? each - low : low;
    });
  };
  const samples = onePole(onePole(pcm.samples, 300, true), 300, true);
  return resample({ samples, sampleRate: pcm.sampleRate }, 8000);
}

export async function throughCodec(pcm: Pcm, extension: "ogg" | "m4a"): Promise<Pcm> {
  return decodeSound(encodeWith(pcm, extension));
}

/** The same instrument on another line, about 26 dB below. */
export function withNeighbour(pcm: Pcm, { part, bank, instrument, take, seed }: Scene): Pcm {
  const other = perform(part, bank, take.bpm * 1.31, instrument, {
    ...CAREFUL,
    seed: seed + 7,
    wrong: 0.5,
    missed: 0.2,
    leadSec: 0.3,
  });
  return { ...pcm, samples: pcm.samples.map((each, i) => each + 0.05 * (other.pcm.samples[i] ?? 0)) };
}
