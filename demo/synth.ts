import type { Pcm } from "../src/core/audio";
import { seededRandom } from "../src/core/rhythm";
import { bell } from "./random";

/** One note as somebody plays it: when, how high, how long, how loud, and how it begins. */
export interface PlayedNote {
  atSec: number;
  lengthSec: number;
  /** Sounding pitch, MIDI with fraction; null for a struck drum. */
  midi: number | null;
  /** 0 to 1. */
  loudness: number;
  /** Slurred into: no attack, the pitch glides over. */
  legato?: boolean;
  /** The attack lands on this pitch first. */
  crackMidi?: number;
}

interface Voice {
  /** Strength of each harmonic, from the fundamental. */
  partials: number[];
  attackSec: number;
  releaseSec: number;
  /** Breath noise against the tone, 0 to 1. */
  breath: number;
  vibratoCents: number;
  /** Bars and plates: a decay time in seconds, with stretched upper partials. */
  decaySec?: number;
}

const reed: Voice = {
  partials: [1, 0.7, 0.55, 0.4, 0.28, 0.2, 0.14, 0.1],
  attackSec: 0.03,
  releaseSec: 0.05,
  breath: 0.02,
  vibratoCents: 0,
};
const brass: Voice = {
  partials: [0.8, 1, 0.8, 0.6, 0.42, 0.3, 0.2, 0.13, 0.08],
  attackSec: 0.035,
  releaseSec: 0.06,
  breath: 0.012,
  vibratoCents: 0,
};
const VOICES: Record<string, Voice> = {
  flute: {
    partials: [1, 0.35, 0.12, 0.05],
    attackSec: 0.05,
    releaseSec: 0.06,
    breath: 0.06,
    vibratoCents: 6,
  },
  oboe: {
    partials: [0.5, 0.8, 1, 0.7, 0.5, 0.35, 0.2, 0.12],
    attackSec: 0.02,
    releaseSec: 0.04,
    breath: 0.01,
    vibratoCents: 4,
  },
  clarinet: {
    partials: [1, 0.06, 0.6, 0.08, 0.4, 0.1, 0.25, 0.08],
    attackSec: 0.03,
    releaseSec: 0.05,
    breath: 0.02,
    vibratoCents: 0,
  },
  "clarinet-bass": {
    partials: [1, 0.08, 0.7, 0.1, 0.45, 0.12, 0.3, 0.1, 0.2],
    attackSec: 0.04,
    releaseSec: 0.05,
    breath: 0.03,
    vibratoCents: 0,
  },
  "sax-alto": reed,
  "sax-tenor": { ...reed, breath: 0.035 },
  "sax-bari": { ...reed, partials: [0.7, 1, 0.8, 0.6, 0.5, 0.35, 0.25, 0.2, 0.12], attackSec: 0.04 },
  trumpet: { ...brass, attackSec: 0.025 },
  horn: { ...brass, partials: [1, 0.8, 0.45, 0.25, 0.14, 0.08], attackSec: 0.045 },
  trombone: brass,
  euphonium: { ...brass, partials: [1, 0.75, 0.4, 0.22, 0.12, 0.07] },
  tuba: { ...brass, partials: [0.8, 1, 0.6, 0.35, 0.2, 0.1], attackSec: 0.05 },
  bells: {
    partials: [1, 0.25, 0.08],
    attackSec: 0.002,
    releaseSec: 0.3,
    breath: 0,
    vibratoCents: 0,
    decaySec: 0.9,
  },
};

/** Stretched partials of a struck bar (1 : 2.76 : 5.4, free bar; from memory of acoustics handbooks). */
const BAR_RATIOS = [1, 2.756, 5.404];

export interface Room {
  /** Level of background noise, 0 to 1. */
  noise: number;
  /** Share of early reflections, 0 to 1. */
  echo: number;
}

/**
 * Renders played notes as one mono recording.
 * @param instrumentId  one of the demo band's instruments, "snare" included
 * @param seed          same seed, same samples
 */
export function synthesise(
  notes: readonly PlayedNote[],
  instrumentId: string,
  seconds: number,
  room: Room,
  seed: number,
  sampleRate = 44100,
): Pcm {
  const random = seededRandom(seed);
  const samples = new Float32Array(Math.ceil(seconds * sampleRate));
  let before: PlayedNote | undefined;
  for (const note of notes) {
    if (note.midi === null) strike(samples, note, sampleRate, random);
    else blow(samples, note, before, VOICES[instrumentId] ?? reed, sampleRate, random);
    before = note;
  }
  return { samples: inRoom(samples, room, sampleRate, random), sampleRate };
}

function strike(samples: Float32Array, note: PlayedNote, rate: number, random: () => number) {
  const from = Math.round(note.atSec * rate);
  let low = 0;
  for (let i = 0; i < 0.16 * rate && from + i < samples.length; i++) {
    const t = i / rate;
    low += 0.45 * (random() * 2 - 1 - low);
    samples[from + i]! +=
      note.loudness *
      (0.7 * (random() * 2 - 1 - low) * Math.exp(-t / 0.03) +
        0.5 * Math.sin(2 * Math.PI * 190 * t) * Math.exp(-t / 0.05)) *
      Math.min(1, t / 0.001);
  }
}

function blow(
  samples: Float32Array,
  note: PlayedNote,
  before: PlayedNote | undefined,
  voice: Voice,
  rate: number,
  random: () => number,
) {
  const from = Math.round(note.atSec * rate);
  const hold = voice.decaySec ? note.lengthSec + 0.4 : note.lengthSec;
  const count = Math.min(samples.length - from, Math.round((hold + voice.releaseSec) * rate));
  const attack = note.legato ? 0.012 : voice.attackSec * (0.8 + 0.5 * random());
  const vibratoPhase = random() * 6.28;
  const wobble = 4 * bell(random);
  const wave = voice.decaySec
    ? null
    : oneCycle(voice.partials, 0.75 + 0.25 * note.loudness, 440 * 2 ** ((note.midi! - 69) / 12), rate);
  let phase = 0;
  let breathTone = 0;
  let glide = note.legato && before?.midi ? before.midi : (note.crackMidi ?? note.midi!);
  let hz = 0;
  for (let i = 0; i < count; i++) {
    const t = i / rate;
    if (i % 32 === 0) {
      const cracked = note.crackMidi !== undefined && t < 0.07;
      const goal = cracked
        ? note.crackMidi!
        : note.midi! +
          (voice.vibratoCents / 100) * Math.sin(2 * Math.PI * 5 * t + vibratoPhase) * Math.min(1, t / 0.4) +
          (wobble / 100) * Math.sin(2 * Math.PI * 0.7 * t);
      glide += (goal - glide) * (note.legato || note.crackMidi !== undefined ? 0.08 : 1);
      hz = 440 * 2 ** ((glide - 69) / 12);
    }
    phase += hz / rate;
    const rising = Math.min(1, t / attack);
    const falling = t < hold ? 1 : Math.max(0, 1 - (t - hold) / voice.releaseSec);
    breathTone += 0.2 * (random() * 2 - 1 - breathTone);
    const tone = wave ? wave[Math.floor((phase % 1) * CYCLE)]! : struckBar(voice, phase, t);
    samples[from + i]! +=
      0.16 *
      note.loudness *
      rising *
      rising *
      falling *
      (tone + 6 * voice.breath * breathTone * (1 + (t < 0.2 ? 2 * Math.exp(-t / 0.04) : 0)));
  }
}

const CYCLE = 4096;

/** One cycle of a tone with these harmonics, leaving out those the sample rate cannot carry. */
function oneCycle(partials: number[], bright: number, hz: number, rate: number): Float32Array {
  const wave = new Float32Array(CYCLE);
  partials.forEach((strength, k) => {
    if (hz * (k + 1) > rate * 0.45) return;
    const shift = k * k * 1.3;
    for (let i = 0; i < CYCLE; i++)
      wave[i]! += strength * bright ** k * Math.sin((2 * Math.PI * (k + 1) * i) / CYCLE + shift);
  });
  return wave;
}

function struckBar(voice: Voice, phase: number, t: number): number {
  let value = 0;
  voice.partials.forEach((strength, k) => {
    value += strength * Math.sin(2 * Math.PI * phase * BAR_RATIOS[k]!) * Math.exp((-t * k) / 0.25);
  });
  return value * Math.exp(-t / voice.decaySec!);
}

/** A few early reflections and quiet low noise: a bedroom, a kitchen, a corridor. */
function inRoom(dry: Float32Array, room: Room, rate: number, random: () => number): Float32Array {
  const wet = Float32Array.from(dry);
  [0.011, 0.019, 0.031, 0.047, 0.071].forEach((seconds, k) => {
    const delay = Math.round(seconds * rate * (0.9 + 0.2 * random()));
    const gain = room.echo * 0.5 ** (k + 1);
    for (let i = delay; i < dry.length; i++) wet[i]! += gain * dry[i - delay]!;
  });
  let hum = 0;
  for (let i = 0; i < wet.length; i++) {
    const hiss = random() * 2 - 1;
    hum += 0.05 * (hiss - hum);
    wet[i] = Math.max(-1, Math.min(1, wet[i]! + room.noise * (hum * 3 + 0.15 * hiss)));
  }
  return wet;
}
