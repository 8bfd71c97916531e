import FFT from "fft.js";
import { type Pcm, resample } from "../audio";
import { hzToMidi, midiToHz } from "../music";
import { makeBarPitchFinder, makePitchFinder } from "./pitch";

/** Rate at which everything is analysed, Hz. */
export const ANALYSIS_RATE = 22050;
/** Samples between level and onset frames: 5 ms. */
const FINE_HOP = 110;
/** Fine frames to one pitch frame: pitch every 10 ms. */
const FINE_PER_PITCH = 2;
const FLUX_SIZE = 512;
/** Bins above this say nothing more about attacks, Hz. */
const FLUX_TOP_HZ = 8000;
/** Flux compares with this many fine frames earlier: 15 ms. */
const FLUX_LAG = 3;
/** Pitches up to here are found as well at half the rate, in half the time, Hz. */
const HALF_RATE_BELOW_HZ = 1100;
/** Above this nothing a beginner plays has its fundamental, Hz. */
const HIGHEST_HZ = 4500;

/** Which pitches are worth finding, as MIDI numbers, and how. */
export interface PitchReach {
  lowest: number;
  highest: number;
  /** Bells and the like: ringing, inharmonic. */
  struckBars?: boolean;
}

/** Fixed-hop features of a take. Frame f of the pitch track is centred on f * pitchHopSec, of the fine curves on f * fineHopSec. */
export interface Features {
  durationSec: number;
  fineHopSec: number;
  pitchHopSec: number;
  /** RMS level of 5 ms, dB relative to full scale, -100 at least. */
  levelDb: Float32Array;
  /** Onset strength: mean rise of the compressed spectrum, 0 and up. */
  flux: Float32Array;
  /** Sounding pitch as a MIDI number with fraction, 0 where there is none. */
  midi: Float32Array;
  /** 0 to 1: how periodic the frame is. */
  clarity: Float32Array;
}

/**
 * Level, onset strength and pitch at fixed hops.
 *
 * Onset strength is spectral flux of the square-rooted magnitude (a cheap stand-in for its logarithm) against the maximum of neighbouring bins 15 ms earlier, which
 * keeps vibrato quiet (S. Boeck, G. Widmer, "Maximum filter vibrato suppression for onset detection", DAFx 2013).
 *
 * @param reach  sets window length, rate and method of the pitch track; null skips it
 */
export function extractFeatures(pcm: Pcm, reach: PitchReach | null): Features {
  const { samples } = resample(pcm, ANALYSIS_RATE);
  const fineFrames = Math.max(1, Math.floor(samples.length / FINE_HOP));
  const levelDb = levels(samples, fineFrames);
  const pitch = reach
    ? pitchTrack(samples, fineFrames, levelDb, reach)
    : { midi: new Float32Array(0), clarity: new Float32Array(0) };
  return {
    durationSec: pcm.samples.length / pcm.sampleRate,
    fineHopSec: FINE_HOP / ANALYSIS_RATE,
    pitchHopSec: (FINE_HOP * FINE_PER_PITCH) / ANALYSIS_RATE,
    levelDb,
    flux: spectralFlux(samples, fineFrames),
    ...pitch,
  };
}

function levels(samples: Float32Array, frames: number): Float32Array {
  const levelDb = new Float32Array(frames);
  for (let f = 0; f < frames; f++) {
    let energy = 0;
    const from = f * FINE_HOP - FINE_HOP / 2;
    for (let i = Math.max(0, from); i < from + FINE_HOP && i < samples.length; i++)
      energy += samples[i]! ** 2;
    levelDb[f] = Math.max(-100, 10 * Math.log10(energy / FINE_HOP + 1e-12));
  }
  return levelDb;
}

function spectralFlux(samples: Float32Array, frames: number): Float32Array {
  const fft = new FFT(FLUX_SIZE);
  const bins = Math.floor((FLUX_TOP_HZ * FLUX_SIZE) / ANALYSIS_RATE);
  const window = Float64Array.from(
    { length: FLUX_SIZE },
    (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / FLUX_SIZE),
  );
  const frame = new Float64Array(FLUX_SIZE);
  const spectrum = new Float64Array(2 * FLUX_SIZE);
  const history = Array.from({ length: FLUX_LAG + 1 }, () => new Float32Array(bins));
  const flux = new Float32Array(frames);
  for (let f = 0; f < frames; f++) {
    const from = f * FINE_HOP - FLUX_SIZE / 2;
    for (let i = 0; i < FLUX_SIZE; i++) frame[i] = (samples[from + i] ?? 0) * window[i]!;
    fft.realTransform(spectrum, frame);
    const now = history[f % (FLUX_LAG + 1)]!;
    const before = history[(f + 1) % (FLUX_LAG + 1)]!;
    let rise = 0;
    for (let k = 1; k < bins; k++) {
      const [re, im] = [spectrum[2 * k]!, spectrum[2 * k + 1]!];
      now[k] = Math.sqrt(Math.sqrt(re * re + im * im));
      const earlier = Math.max(before[k - 1]!, before[k]!, before[k + 1] ?? 0);
      if (now[k]! > earlier) rise += now[k]! - earlier;
    }
    flux[f] = f < FLUX_LAG ? 0 : rise / bins;
  }
  return flux;
}

function pitchTrack(samples: Float32Array, fineFrames: number, levelDb: Float32Array, reach: PitchReach) {
  const lowestHz = Math.max(30, midiToHz(reach.lowest));
  const halve = midiToHz(reach.highest) < HALF_RATE_BELOW_HZ && !reach.struckBars;
  const source = halve
    ? resample({ samples, sampleRate: ANALYSIS_RATE }, ANALYSIS_RATE / 2).samples
    : samples;
  const rate = halve ? ANALYSIS_RATE / 2 : ANALYSIS_RATE;
  const size = (lowestHz * 1024 >= 2.6 * ANALYSIS_RATE ? 1024 : 2048) / (halve ? 2 : 1);
  const find = reach.struckBars
    ? makeBarPitchFinder(2048, rate, lowestHz, midiToHz(reach.highest))
    : makePitchFinder(size, rate, lowestHz);
  const centre = (reach.struckBars ? 2048 : size) / 2;
  const frames = Math.ceil(fineFrames / FINE_PER_PITCH);
  const midi = new Float32Array(frames);
  const clarity = new Float32Array(frames);
  for (let f = 0; f < frames; f++) {
    if (levelDb[f * FINE_PER_PITCH]! < -75) continue;
    const found = find(source, (f * FINE_HOP * FINE_PER_PITCH) / (halve ? 2 : 1) - centre);
    if (found.hz > 0 && found.hz < HIGHEST_HZ) {
      midi[f] = hzToMidi(found.hz);
      clarity[f] = found.clarity;
    }
  }
  return { midi, clarity };
}
