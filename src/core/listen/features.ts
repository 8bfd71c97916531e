import {
  append,
  type Growing,
  makeHalver,
  makeHighPass,
  makeResampler,
  makeRoom,
  type Pcm,
  type Stage,
} from "../audio";
import { hzToMidi, midiToHz } from "../music";
import { settleHeights } from "./heights";
import { makePitchFinder } from "./pitch";
import { hann, powerSpectrum } from "./spectrum";

/** Recordings are halved in rate down to no less than this, Hz; slower ones are brought up to UPSAMPLED_RATE. */
const LEAST_RATE = 20_000;
const UPSAMPLED_RATE = 22_050;
/** Level and onset frames lie about this far apart, seconds; the exact hop is a whole number of samples. */
const FINE_HOP_SEC = 0.005;
/** Fine frames to one pitch frame: pitch every 10 ms. */
const FINE_PER_PITCH = 2;
const FLUX_SIZE = 512;
/** Bins above this say nothing more about attacks, Hz. */
const FLUX_TOP_HZ = 8000;
/** Flux compares with this many fine frames earlier: 15 ms. */
const FLUX_LAG = 3;
/** A pitch is found as well at a lower rate, in less time, as long as this many samples make its period. */
const SAMPLES_A_PERIOD = 6;
const MOST_HALVINGS = 2;
/** A pitch frame holds this many periods of the lowest pitch, and lasts at least this long. */
const PERIODS_A_FRAME = 2.6;
const SHORTEST_FRAME_SEC = 0.046;
/**
 * Wind, handling and the rumble of a building lie below the line: what is so much lower than its lowest note is taken away before
 * anything is heard, as a share of that note's frequency; the least of it where strokes are heard, Hz ("wind outdoors" of the combined bench).
 */
const RUMBLE = { share: 0.62, strokesHz: 80 };
/** Above this nothing a beginner plays has its fundamental, Hz. */
const HIGHEST_HZ = 4500;

/** Which pitches are worth finding, as MIDI numbers, and how. */
export interface PitchReach {
  lowest: number;
  highest: number;
  /** Bells and the like, ringing and inharmonic: no pitch track, see `barSegments`. */
  struckBars?: boolean;
  /** Pitches the line contains; where a frame may be heard in two octaves, the one that is written here is taken. */
  expected?: readonly number[];
}

/** Fixed-hop features of a take. Frame f of the pitch track is centred on f * pitchHopSec, of the fine curves on f * fineHopSec. */
export interface Features {
  durationSec: number;
  /** The take at the rate it is analysed at. */
  sound: Pcm;
  fineHopSec: number;
  pitchHopSec: number;
  /** RMS level of 5 ms, dB relative to full scale, -100 at least. */
  levelDb: Float32Array;
  /** The same over a whole period of the lowest pitch of the line, 15 ms at least, so that single periods make no dips. */
  outlineDb: Float32Array;
  /** Onset strength: mean rise of the compressed spectrum, 0 and up. */
  flux: Float32Array;
  /** Where the spectrum has its weight (of its power), Hz: how bright a frame is. */
  brightHz: Float32Array;
  /** Sounding pitch as a MIDI number with fraction, 0 where there is none. */
  midi: Float32Array;
  /** 0 to 1: how periodic the frame is. */
  clarity: Float32Array;
  /** Which other octaves or twelfths a frame may be heard in: bits of RIVAL, seen from `midi`. */
  rivals: Uint8Array;
}

/** Features of a sound that is still going on. */
export interface FeatureFollower {
  /** The next samples, in blocks of any size. */
  add(block: Float32Array): void;
  /** Nothing comes any more: the features of all of it. */
  end(): Features;
}

/**
 * Level, onset strength and pitch at fixed hops.
 *
 * Onset strength is spectral flux of the square-rooted magnitude (a cheap stand-in for its logarithm) against the
 * maximum of neighbouring bins 15 ms earlier, which keeps vibrato quiet (S. Boeck, G. Widmer, "Maximum filter vibrato
 * suppression for onset detection", DAFx 2013).
 *
 * @param reach  sets window length, rate and method of the pitch track; null skips it
 */
export function extractFeatures(pcm: Pcm, reach: PitchReach | null): Features {
  const follower = followFeatures(pcm.sampleRate, reach);
  follower.add(pcm.samples);
  return follower.end();
}

/**
 * The same while the sound comes in, so that little is left to do when it ends: every frame is computed once all its samples
 * are there. What is found does not depend on how the sound was cut into blocks.
 *
 * @param sampleRate  of what comes, Hz
 */
export function followFeatures(sampleRate: number, reach: PitchReach | null): FeatureFollower {
  const { toAnalysis, analysisRate } = stageFor(sampleRate);
  const withoutRumble = makeHighPass(analysisRate, reach ? RUMBLE.share * lowestHz(reach) : RUMBLE.strokesHz);
  const hop = Math.round(FINE_HOP_SEC * analysisRate);
  const sound = empty();
  const level = followLevel(sound, hop);
  const spectrum = followSpectrum(sound, hop, analysisRate);
  const pitch =
    reach && !reach.struckBars ? followPitch(sound, hop, analysisRate, level.values, reach) : null;
  let given = 0;
  const take = (block: Float32Array, last: boolean) => {
    given += block.length;
    const fresh = withoutRumble(toAnalysis(block, last), last);
    append(sound, fresh);
    // As many fine frames as the sound has hops; before the end those whose samples are all there.
    const frames = last ? Math.max(1, Math.floor(sound.length / hop)) : null;
    level.to(frames);
    spectrum.to(frames);
    pitch?.to(fresh, frames);
  };
  return {
    add: (block) => take(block, false),
    end: () => {
      take(new Float32Array(0), true);
      const levelDb = valuesOf(level.values);
      return {
        durationSec: given / sampleRate,
        sound: { samples: valuesOf(sound), sampleRate: analysisRate },
        fineHopSec: hop / analysisRate,
        pitchHopSec: (hop * FINE_PER_PITCH) / analysisRate,
        levelDb,
        outlineDb: outline(levelDb, reach ? lowestHz(reach) : 100),
        ...spectrum.found(),
        ...(pitch?.found() ?? {
          midi: new Float32Array(0),
          clarity: new Float32Array(0),
          rivals: new Uint8Array(0),
        }),
      };
    },
  };
}

/** The lowest pitch of the line; an octave above the lowest that is looked for where no line is known. */
function lowestHz({ lowest, expected }: PitchReach): number {
  return midiToHz(expected ? Math.min(...expected) : lowest + 12);
}

/** The way from the rate of the take to the one it is analysed at. */
function stageFor(sampleRate: number): { toAnalysis: Stage; analysisRate: number } {
  if (sampleRate < LEAST_RATE)
    return { toAnalysis: makeResampler(sampleRate, UPSAMPLED_RATE), analysisRate: UPSAMPLED_RATE };
  let halvings = 0;
  while (sampleRate / 2 ** (halvings + 1) >= LEAST_RATE) halvings++;
  return { toAnalysis: halved(halvings), analysisRate: sampleRate / 2 ** halvings };
}

function halved(times: number): Stage {
  const halvers = Array.from({ length: times }, makeHalver);
  return (block, last) => halvers.reduce((samples, halver) => halver(samples, last), block);
}

function valuesOf({ samples, length }: Growing): Float32Array {
  return samples.subarray(0, length);
}

/** Frames of a curve that grows with the sound: those that are complete, or so many as there are at the end. */
function framesUpTo(frames: number | null, complete: number, curve: Growing): number {
  const until = Math.max(curve.length, frames ?? complete);
  makeRoom(curve, until);
  return until;
}

const empty = (): Growing => ({ samples: new Float32Array(0), length: 0 });

function followLevel(sound: Growing, hop: number) {
  const values = empty();
  return {
    values,
    to(frames: number | null) {
      const until = framesUpTo(frames, Math.floor((sound.length - hop / 2) / hop), values);
      const { samples } = sound;
      for (let f = values.length; f < until; f++) {
        let energy = 0;
        const from = f * hop - hop / 2;
        for (let i = Math.max(0, from); i < from + hop && i < sound.length; i++) energy += samples[i]! ** 2;
        values.samples[f] = Math.max(-100, 10 * Math.log10(energy / hop + 1e-12));
      }
      values.length = until;
    },
  };
}

function outline(levelDb: Float32Array, lowestHz: number): Float32Array {
  const half = Math.min(3, Math.max(1, Math.ceil((1 / lowestHz / FINE_HOP_SEC - 1) / 2)));
  const power = levelDb.map((each) => 10 ** (each / 10));
  let sum = 0;
  for (let g = 0; g < half; g++) sum += power[g] ?? 0;
  return power.map((_, f) => {
    sum += power[f + half] ?? 0;
    if (f > half) sum -= power[f - half - 1]!;
    return Math.max(-100, 10 * Math.log10(Math.max(1e-12, sum / (2 * half + 1))));
  });
}

function followSpectrum(sound: Growing, hop: number, sampleRate: number) {
  const powerOf = powerSpectrum(FLUX_SIZE);
  const bins = Math.min(FLUX_SIZE / 2 - 1, Math.floor((FLUX_TOP_HZ * FLUX_SIZE) / sampleRate));
  const window = hann(FLUX_SIZE);
  const frame = new Float64Array(FLUX_SIZE);
  const power = new Float64Array(bins + 1);
  const now = new Float64Array(bins + 1);
  // The last frames with every bin raised to the highest of its neighbours.
  const history = Array.from({ length: FLUX_LAG }, () => new Float64Array(bins));
  const flux = empty();
  const brightHz = empty();
  return {
    found: () => ({ flux: valuesOf(flux), brightHz: valuesOf(brightHz) }),
    to(frames: number | null) {
      const complete = Math.floor((sound.length - FLUX_SIZE / 2) / hop) + 1;
      const until = framesUpTo(frames, complete, flux);
      framesUpTo(frames, complete, brightHz);
      const { samples } = sound;
      for (let f = flux.length; f < until; f++) {
        const from = f * hop - FLUX_SIZE / 2;
        if (from >= 0 && from + FLUX_SIZE <= sound.length) {
          for (let i = 0; i < FLUX_SIZE; i++) frame[i] = samples[from + i]! * window[i]!;
        } else {
          for (let i = 0; i < FLUX_SIZE; i++) frame[i] = (samples[from + i] ?? 0) * window[i]!;
        }
        powerOf(frame, power);
        for (let k = 0; k <= bins; k++) now[k] = Math.sqrt(Math.sqrt(power[k]!));
        const earlier = history[f % FLUX_LAG]!;
        let rise = 0;
        let [weight, moment] = [1e-9, 0];
        let [below, here] = [now[0]!, now[1]!];
        for (let k = 1; k < bins; k++) {
          const above = now[k + 1]!;
          // No branches: which bin is the higher cannot be foretold, and guessing wrong costs more than both.
          rise += Math.max(0, here - earlier[k]!);
          earlier[k] = Math.max(below, here, above);
          weight += power[k]!;
          moment += k * power[k]!;
          below = here;
          here = above;
        }
        flux.samples[f] = f < FLUX_LAG ? 0 : rise / bins;
        brightHz.samples[f] = ((moment / weight) * sampleRate) / FLUX_SIZE;
      }
      flux.length = until;
      brightHz.length = until;
    },
  };
}

function followPitch(sound: Growing, hop: number, soundRate: number, levelDb: Growing, reach: PitchReach) {
  const lowestHz = Math.max(30, midiToHz(reach.lowest));
  const highestHz = midiToHz(reach.highest);
  let halvings = 0;
  while (halvings < MOST_HALVINGS && soundRate / 2 ** (halvings + 1) >= SAMPLES_A_PERIOD * highestHz)
    halvings++;
  const sampleRate = soundRate / 2 ** halvings;
  const toSource = halved(halvings);
  const source = halvings === 0 ? sound : empty();
  const size = powerOfTwo(Math.max(SHORTEST_FRAME_SEC, PERIODS_A_FRAME / lowestHz) * sampleRate);
  const find = makePitchFinder(size, sampleRate, lowestHz);
  const midi = empty();
  const clarity = empty();
  const rivals = empty();
  return {
    found() {
      const bits = Uint8Array.from(valuesOf(rivals));
      settleHeights(valuesOf(midi), valuesOf(clarity), bits, reach.expected ?? []);
      return { midi: valuesOf(midi), clarity: valuesOf(clarity), rivals: bits };
    },
    to(fresh: Float32Array, frames: number | null) {
      if (halvings > 0) append(source, toSource(fresh, frames !== null));
      const perHop = (hop * FINE_PER_PITCH) / 2 ** halvings;
      const complete = Math.min(
        Math.floor((source.length - size / 2) / perHop),
        Math.floor(levelDb.length / FINE_PER_PITCH),
      );
      const all = frames === null ? null : Math.ceil(frames / FINE_PER_PITCH);
      const until = framesUpTo(all, complete, midi);
      framesUpTo(all, complete, clarity);
      framesUpTo(all, complete, rivals);
      for (let f = midi.length; f < until; f++) {
        if (levelDb.samples[f * FINE_PER_PITCH]! < -75) continue;
        const found = find(source.samples, Math.round(f * perHop) - size / 2);
        if (found.hz > 0 && found.hz < HIGHEST_HZ) {
          midi.samples[f] = hzToMidi(found.hz);
          rivals.samples[f] = found.rivals;
          clarity.samples[f] = found.clarity;
        }
      }
      for (const curve of [midi, clarity, rivals]) curve.length = until;
    },
  };
}

/** The next power of two, or the one just below when it lacks less than a tenth. */
function powerOfTwo(value: number): number {
  return 2 ** Math.ceil(Math.log2(value / 1.1));
}
