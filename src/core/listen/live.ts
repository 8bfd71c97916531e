import { hzToMidi } from "../music";
import { makePitchFinder } from "./pitch";
import { hann, powerSpectrum } from "./spectrum";

/** What is heard at a moment, for a picture that moves with the sound. */
export interface LiveFrame {
  /** Sounding MIDI number with fraction; null where nothing has a pitch. */
  midi: number | null;
  /** dB below full scale; relative, never sound pressure. */
  levelDb: number;
  /** Where the spectrum has its weight, Hz; 0 in silence. */
  brightHz: number;
}

/** Samples of a frame: 46 ms at 44.1 kHz, 2.2 periods of 47 Hz. Longer is surer and later. */
export const LIVE_FRAME = 2048;
/** Frames less periodic than this have no pitch; softer ones are silence. */
const CLEAR = 0.85;
const SILENT_DB = -58;
/** Nothing a beginner plays has its weight above this, Hz. */
const TOP_HZ = 8000;

/**
 * Makes a reader of single frames: pitch (as the take's own finder has it), level and brightness. Buffers are made once.
 *
 * @param sampleRate  Hz
 * @param a4Hz  what A is tuned to
 * @returns reads LIVE_FRAME samples from a place on
 */
export function makeLiveReader(
  sampleRate: number,
  a4Hz = 440,
): (samples: Float32Array, from: number) => LiveFrame {
  const finder = makePitchFinder(LIVE_FRAME, sampleRate, 47);
  const powerOf = powerSpectrum(LIVE_FRAME);
  const window = hann(LIVE_FRAME);
  const padded = new Float64Array(LIVE_FRAME);
  const power = new Float64Array(Math.min(LIVE_FRAME / 2, Math.floor((TOP_HZ * LIVE_FRAME) / sampleRate)));
  return (samples, from) => {
    let energy = 0;
    for (let i = 0; i < LIVE_FRAME; i++) {
      const sample = samples[from + i] ?? 0;
      energy += sample * sample;
      padded[i] = sample * window[i]!;
    }
    const levelDb = 10 * Math.log10(energy / LIVE_FRAME + 1e-12);
    if (levelDb < SILENT_DB) return { midi: null, levelDb, brightHz: 0 };
    const { hz, clarity } = finder(samples, from);
    powerOf(padded, power);
    let weighed = 0;
    let sum = 0;
    for (let bin = 1; bin < power.length; bin++) {
      weighed += bin * power[bin]!;
      sum += power[bin]!;
    }
    return {
      midi: hz > 0 && clarity >= CLEAR ? hzToMidi(hz, a4Hz) : null,
      levelDb,
      brightHz: sum > 0 ? ((weighed / sum) * sampleRate) / LIVE_FRAME : 0,
    };
  };
}

/** The sound that is held now: how long, and from where to where its pitch went. */
export interface Held {
  seconds: number;
  /** Semitones from its lowest to its highest pitch. */
  spanSemitones: number;
  lowest: number;
  highest: number;
}

/** A gap shorter than this is no end of a sound, seconds. */
const GAP_SEC = 0.15;

/**
 * Follows a sound frame by frame: seconds held without a break, and the span of its pitch (a siren's).
 * @returns takes the next frame with its second; answers what is held, null in silence
 */
export function makeHoldFollower(): (frame: LiveFrame, atSec: number) => Held | null {
  let began: number | null = null;
  let lastSec = 0;
  let lowest = Number.POSITIVE_INFINITY;
  let highest = Number.NEGATIVE_INFINITY;
  return (frame, atSec) => {
    if (frame.levelDb >= SILENT_DB + 6) {
      began ??= atSec;
      lastSec = atSec;
      if (frame.midi !== null) {
        lowest = Math.min(lowest, frame.midi);
        highest = Math.max(highest, frame.midi);
      }
    } else if (began !== null && atSec - lastSec > GAP_SEC) {
      began = null;
      lowest = Number.POSITIVE_INFINITY;
      highest = Number.NEGATIVE_INFINITY;
    }
    if (began === null) return null;
    const pitched = highest >= lowest;
    return {
      seconds: lastSec - began,
      spanSemitones: pitched ? highest - lowest : 0,
      lowest: pitched ? lowest : 0,
      highest: pitched ? highest : 0,
    };
  };
}
