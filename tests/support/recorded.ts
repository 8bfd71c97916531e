import { readdirSync, readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { dirname, join } from "node:path";
import { seededRandom } from "../../demo/random";
import { mixToMono, type Pcm } from "../../src/core/audio";
import { parsePitch, pitchToMidi } from "../../src/core/music";
import { type Score, timeline } from "../../src/core/score";

// Performances put together from recorded notes: the registry packages tonejs-instrument-*-mp3 (samples CC-BY 3.0), each
// file named by its sounding pitch. The truth of an attack is the audible attack of the recorded note, measured on it.
const require = createRequire(import.meta.url);
const RATE = 44_100;

/** Files that sound another pitch than their name says (found with the pitch library pitchy). */
const MISNAMED = new Set(["trumpet As3.mp3", "trumpet C3.mp3", "clarinet Fs6.mp3"]);

interface RecordedNote {
  midi: number;
  samples: Float32Array;
  /** Audible attack: the first 5 ms within 20 dB of the attack's loudest, seconds. */
  attackSec: number;
  /** Loudness of the first half second, RMS. */
  rms: number;
}
export type Bank = RecordedNote[];

function folderOf(name: string): string {
  return dirname(require.resolve(`tonejs-instrument-${name}-mp3/package.json`));
}

/** One recorded note as it is on file, such as "As3.mp3". */
export async function decodeNote(name: string, file: string): Promise<Pcm> {
  const { MPEGDecoder } = await import("mpg123-decoder");
  const decoder = new MPEGDecoder();
  await decoder.ready;
  const { channelData, sampleRate } = decoder.decode(readFileSync(join(folderOf(name), file)));
  decoder.free();
  return { samples: mixToMono(channelData), sampleRate };
}

export async function loadBank(name: string): Promise<Bank> {
  const bank: Bank = [];
  for (const file of readdirSync(folderOf(name)).filter((each) => each.endsWith(".mp3"))) {
    const { samples } = await decodeNote(name, file);
    const named = pitchToMidi(parsePitch(file.replace(".mp3", "").replace("s", "#")));
    if (MISNAMED.has(`${name} ${file}`)) continue;
    const attackSec = audibleAttack(samples, RATE);
    const from = Math.round(attackSec * RATE);
    bank.push({
      midi: named,
      samples,
      attackSec,
      rms: rootMeanSquare(samples.subarray(from, from + RATE / 2)),
    });
  }
  return bank.sort((a, b) => a.midi - b.midi);
}

/** The attack by the contract's own words: the first 5 ms within 20 dB of the loudest of the first quarter second. */
export function audibleAttack(samples: Float32Array, rate: number): number {
  const frame = Math.round(0.005 * rate);
  const levels = Array.from({ length: Math.min(120, Math.floor(samples.length / frame)) }, (_, f) =>
    rootMeanSquare(samples.subarray(f * frame, (f + 1) * frame)),
  );
  const loudest = Math.max(...levels.slice(0, 50));
  return levels.findIndex((level) => level > loudest / 10) * 0.005;
}

function rootMeanSquare(samples: Float32Array): number {
  let sum = 0;
  for (const sample of samples) sum += sample * sample;
  return Math.sqrt(sum / Math.max(1, samples.length)) + 1e-9;
}

export interface Playing {
  bpm: number;
  /** Share of notes played a semitone off, and left out. */
  wrong: number;
  missed: number;
  /** Standard deviation of the attacks around the beat, seconds. */
  unsteadySec: number;
  seed: number;
  /** Stops after so many notes and waits, begins again, or ends. */
  pauseAfter?: number;
  restartAfter?: number;
  stopAfter?: number;
}
export interface PlayedTruth {
  index: number;
  atSec: number;
  mistake: "wrong" | null;
}
export interface RecordedTake {
  pcm: Pcm;
  /** What was played of the pass that counts, by note of the timeline; a note that is not here was missed. */
  played: PlayedTruth[];
}

const LEAD_SEC = 0.8;

/** Plays a part with recorded notes. */
export function perform(part: Score, bank: Bank, playing: Playing): RecordedTake {
  const random = seededRandom(playing.seed);
  const gauss = () => random() + random() + random() + random() - 2;
  const { notes, totalSec } = timeline(part, { bpm: playing.bpm });
  const samples = new Float32Array(Math.ceil((2 * totalSec + 8) * RATE));
  const played: PlayedTruth[] = [];
  let shift = LEAD_SEC;
  let end = 0;
  const sound = (place: number, count: boolean) => {
    const note = notes[place]!;
    const roll = random();
    if (roll < playing.missed) return;
    const wrong = roll < playing.missed + playing.wrong;
    const midi = note.midi! + (wrong ? (random() < 0.5 ? 1 : -1) : 0);
    const atSec = shift + note.onsetSec + playing.unsteadySec * gauss();
    mixIn(samples, bank, midi, atSec, note.durationSec * 0.92);
    end = Math.max(end, atSec + note.durationSec);
    if (count) played.push({ index: place, atSec, mistake: wrong ? "wrong" : null });
  };
  if (playing.restartAfter) {
    for (let place = 0; place < playing.restartAfter; place++) sound(place, false);
    shift += notes[playing.restartAfter]!.onsetSec + 1.4;
  }
  for (let place = 0; place < (playing.stopAfter ?? notes.length); place++) {
    if (place === playing.pauseAfter) shift += 1.8;
    sound(place, true);
  }
  return { pcm: { samples: samples.slice(0, Math.ceil((end + 1) * RATE)), sampleRate: RATE }, played };
}

/** Adds one note so that its audible attack falls on the moment asked for. */
function mixIn(into: Float32Array, bank: Bank, midi: number, atSec: number, lengthSec: number): void {
  const source = bank.reduce((best, each) =>
    Math.abs(each.midi - midi) < Math.abs(best.midi - midi) ? each : best,
  );
  const speed = 2 ** ((midi - source.midi) / 12);
  const gain = 0.12 / source.rms;
  const from = Math.round((atSec - source.attackSec / speed) * RATE);
  const length = Math.round((lengthSec + source.attackSec / speed) * RATE);
  const fade = Math.round(0.04 * RATE);
  for (let i = 0; i < length + fade; i++) {
    const place = i * speed;
    const below = Math.floor(place);
    if (below + 1 >= source.samples.length || from + i < 0 || from + i >= into.length) continue;
    const value =
      source.samples[below]! + (source.samples[below + 1]! - source.samples[below]!) * (place - below);
    into[from + i]! += gain * value * (i < length ? 1 : 1 - (i - length) / fade);
  }
}

/** What a room, a device or a neighbour does to a take; each alone. */
export const CONDITIONS: Record<string, (take: RecordedTake, bank: Bank, bpm: number) => Pcm> = {
  clean: ({ pcm }) => pcm,
  "a hall (reverberation 0.7 s)": ({ pcm }) => reverberant(pcm, 0.7, 0.5),
  "noise 10 dB below": ({ pcm }) => noisy(pcm, 10),
  "a click bleeding in": ({ pcm }, _bank, bpm) => withClick(pcm, bpm),
  "very quiet": ({ pcm }) => scaled(pcm, 0.01),
  clipped: ({ pcm }) => ({
    ...pcm,
    samples: pcm.samples.map((each) => Math.max(-0.12, Math.min(0.12, each))),
  }),
  "a phone line (8 kHz, 300 to 3400 Hz)": ({ pcm }) => phoneLine(pcm),
  "somebody else practising faintly": ({ pcm }, bank) => withNeighbour(pcm, bank),
};

function scaled(pcm: Pcm, gain: number): Pcm {
  return { ...pcm, samples: pcm.samples.map((each) => each * gain) };
}

/** Direct sound and an exponentially dying noise tail, convolved sparsely. */
function reverberant(pcm: Pcm, seconds: number, wet: number): Pcm {
  const random = seededRandom(5);
  const echoes = Array.from({ length: 220 }, () => {
    const at = 0.008 + seconds * random() ** 1.5;
    return {
      delay: Math.round(at * pcm.sampleRate),
      gain: (random() < 0.5 ? -1 : 1) * 10 ** ((-3 * at) / seconds),
    };
  });
  const norm = wet / Math.sqrt(echoes.reduce((sum, echo) => sum + echo.gain ** 2, 0));
  const out = Float32Array.from(pcm.samples);
  for (const { delay, gain } of echoes)
    for (let i = delay; i < out.length; i++) out[i]! += norm * gain * pcm.samples[i - delay]!;
  return { ...pcm, samples: out };
}

function noisy(pcm: Pcm, snrDb: number): Pcm {
  const random = seededRandom(9);
  const level = rootMeanSquare(pcm.samples) / 10 ** (snrDb / 20);
  let [slow, last] = [0, 0];
  // Between white and brown, as rooms are.
  const raw = pcm.samples.map(() => {
    const white = 2 * random() - 1;
    slow = 0.97 * slow + 0.3 * white;
    last = 0.5 * white + slow;
    return last;
  });
  const gain = level / rootMeanSquare(raw);
  return { ...pcm, samples: pcm.samples.map((each, i) => each + gain * raw[i]!) };
}

function withClick(pcm: Pcm, bpm: number): Pcm {
  const out = Float32Array.from(pcm.samples);
  const level = 0.25 * rootMeanSquare(pcm.samples) * 4;
  for (let at = LEAD_SEC; at < out.length / pcm.sampleRate; at += 60 / bpm) {
    const from = Math.round(at * pcm.sampleRate);
    for (let i = 0; i < 0.04 * pcm.sampleRate && from + i < out.length; i++)
      out[from + i]! +=
        level * Math.sin((2 * Math.PI * 1320 * i) / pcm.sampleRate) * Math.exp((-120 * i) / pcm.sampleRate);
  }
  return { ...pcm, samples: out };
}

/** Band-passed by two one-pole filters each way and kept at every so many samples. */
function phoneLine(pcm: Pcm): Pcm {
  const onePole = (samples: Float32Array, hz: number, high: boolean) => {
    const a = Math.exp((-2 * Math.PI * hz) / pcm.sampleRate);
    let low = 0;
    return samples.map((each) => {
      low = (1 - a) * each + a * low;
      return high ? each - low : low;
    });
  };
  let samples = onePole(onePole(pcm.samples, 300, true), 300, true);
  for (let pass = 0; pass < 4; pass++) samples = onePole(samples, 3400, false);
  const step = pcm.sampleRate / 8000;
  return {
    samples: Float32Array.from(
      { length: Math.floor(samples.length / step) },
      (_, i) => samples[Math.round(i * step)]!,
    ),
    sampleRate: 8000,
  };
}

/** The same instrument, other notes, about 26 dB below. */
function withNeighbour(pcm: Pcm, bank: Bank): Pcm {
  const random = seededRandom(21);
  const other = new Float32Array(pcm.samples.length);
  for (let at = 0.3; at < pcm.samples.length / pcm.sampleRate - 1; at += 0.35 + 0.4 * random())
    mixIn(other, bank, bank[Math.floor(random() * bank.length)]!.midi + Math.floor(4 * random()), at, 0.4);
  return { ...pcm, samples: pcm.samples.map((each, i) => each + 0.05 * other[i]!) };
}
