import FFT from "fft.js";
import { halveRate, type Pcm, resample } from "../audio";
import { hzToMidi, midiToHz } from "../music";
import { makePitchFinder, RIVAL, RIVAL_SEMITONES } from "./pitch";
import { circularMean } from "./statistics";

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
/** Frames less periodic than this end a chain of octaves. */
const STEADY_CLARITY = 0.6;
/** Frames this periodic tell the take's own tuning. */
const TUNING_CLARITY = 0.9;
/** Heights of one sound lie further apart than it wavers, semitones. */
const HEIGHT_APART = 2;
/** A written height counts for so many frames that are not. */
const WRITTEN_WEIGHS = 3;
/** So much of a sound has to be heard in another octave before it may be that octave. */
const GOOD_PART = 0.2;
/** A heard pitch this near a written one, in the take's own tuning, is taken for it when octaves are settled; semitones. */
const NEAR_WRITTEN = 0.5;
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
  const sound = atAnalysisRate(pcm);
  const hop = Math.round(FINE_HOP_SEC * sound.sampleRate);
  const fineFrames = Math.max(1, Math.floor(sound.samples.length / hop));
  const levelDb = levels(sound.samples, fineFrames, hop);
  const pitch =
    reach && !reach.struckBars
      ? pitchTrack(sound, hop, levelDb, reach)
      : { midi: new Float32Array(0), clarity: new Float32Array(0), rivals: new Uint8Array(0) };
  return {
    durationSec: pcm.samples.length / pcm.sampleRate,
    sound,
    fineHopSec: hop / sound.sampleRate,
    pitchHopSec: (hop * FINE_PER_PITCH) / sound.sampleRate,
    levelDb,
    outlineDb: outline(levelDb, reach ? midiToHz(Math.min(...(reach.expected ?? [reach.lowest + 12]))) : 100),
    ...spectralCurves(sound, fineFrames, hop),
    ...pitch,
  };
}

function atAnalysisRate(pcm: Pcm): Pcm {
  if (pcm.sampleRate < LEAST_RATE) return resample(pcm, UPSAMPLED_RATE);
  let sound = pcm;
  while (sound.sampleRate / 2 >= LEAST_RATE) sound = halveRate(sound);
  return sound;
}

function levels(samples: Float32Array, frames: number, hop: number): Float32Array {
  const levelDb = new Float32Array(frames);
  for (let f = 0; f < frames; f++) {
    let energy = 0;
    const from = f * hop - hop / 2;
    for (let i = Math.max(0, from); i < from + hop && i < samples.length; i++) energy += samples[i]! ** 2;
    levelDb[f] = Math.max(-100, 10 * Math.log10(energy / hop + 1e-12));
  }
  return levelDb;
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

function spectralCurves({ samples, sampleRate }: Pcm, frames: number, hop: number) {
  const fft = new FFT(FLUX_SIZE);
  const bins = Math.min(FLUX_SIZE / 2 - 1, Math.floor((FLUX_TOP_HZ * FLUX_SIZE) / sampleRate));
  const window = Float64Array.from(
    { length: FLUX_SIZE },
    (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / FLUX_SIZE),
  );
  const frame = new Float64Array(FLUX_SIZE);
  const spectrum = new Float64Array(2 * FLUX_SIZE);
  const now = new Float64Array(bins + 1);
  // The last frames with every bin raised to the highest of its neighbours.
  const history = Array.from({ length: FLUX_LAG }, () => new Float64Array(bins));
  const flux = new Float32Array(frames);
  const brightHz = new Float32Array(frames);
  for (let f = 0; f < frames; f++) {
    const from = f * hop - FLUX_SIZE / 2;
    if (from >= 0 && from + FLUX_SIZE <= samples.length) {
      for (let i = 0; i < FLUX_SIZE; i++) frame[i] = samples[from + i]! * window[i]!;
    } else {
      for (let i = 0; i < FLUX_SIZE; i++) frame[i] = (samples[from + i] ?? 0) * window[i]!;
    }
    fft.realTransform(spectrum, frame);
    for (let k = 0; k <= bins; k++) {
      const re = spectrum[2 * k]!;
      const im = spectrum[2 * k + 1]!;
      now[k] = Math.sqrt(Math.sqrt(re * re + im * im));
    }
    const earlier = history[f % FLUX_LAG]!;
    let rise = 0;
    let [weight, moment] = [1e-9, 0];
    for (let k = 1; k < bins; k++) {
      const over = now[k]! - earlier[k]!;
      if (over > 0) rise += over;
      const power = now[k]! ** 4;
      weight += power;
      moment += k * power;
      earlier[k] = Math.max(now[k - 1]!, now[k]!, now[k + 1]!);
    }
    flux[f] = f < FLUX_LAG ? 0 : rise / bins;
    brightHz[f] = ((moment / weight) * sampleRate) / FLUX_SIZE;
  }
  return { flux, brightHz };
}

function pitchTrack(sound: Pcm, hop: number, levelDb: Float32Array, reach: PitchReach) {
  const lowestHz = Math.max(30, midiToHz(reach.lowest));
  const highestHz = midiToHz(reach.highest);
  let source = sound;
  let halvings = 0;
  while (halvings < MOST_HALVINGS && source.sampleRate / 2 >= SAMPLES_A_PERIOD * highestHz) {
    source = halveRate(source);
    halvings++;
  }
  const { samples, sampleRate } = source;
  const size = powerOfTwo(Math.max(SHORTEST_FRAME_SEC, PERIODS_A_FRAME / lowestHz) * sampleRate);
  const find = makePitchFinder(size, sampleRate, lowestHz);
  const frames = Math.ceil(levelDb.length / FINE_PER_PITCH);
  const midi = new Float32Array(frames);
  const clarity = new Float32Array(frames);
  const rivals = new Uint8Array(frames);
  for (let f = 0; f < frames; f++) {
    if (levelDb[f * FINE_PER_PITCH]! < -75) continue;
    const found = find(samples, Math.round((f * hop * FINE_PER_PITCH) / 2 ** halvings) - size / 2);
    if (found.hz > 0 && found.hz < HIGHEST_HZ) {
      midi[f] = hzToMidi(found.hz);
      rivals[f] = found.rivals;
      clarity[f] = found.clarity;
    }
  }
  settleHeights(midi, clarity, rivals, reach.expected ?? []);
  return { midi, clarity, rivals };
}

/**
 * Settles in which octave each frame is heard, where more than one explains it.
 *
 * A single frame takes the rival that is written where its own pitch is not. A held sound whose frames are heard now in
 * one octave, now in another, is one sound: all of it is put where most of its frames are, a written pitch before another;
 * an octave that holds a good part of the frames is noted as a rival. One leap between two written pitches stays a leap.
 */
function settleHeights(
  midi: Float32Array,
  clarity: Float32Array,
  rivals: Uint8Array,
  expected: readonly number[],
): void {
  const clear = Array.from(midi.keys()).filter((f) => midi[f] !== 0 && clarity[f]! >= TUNING_CLARITY);
  const tuning = circularMean(clear.map((f) => [midi[f]!, 1]));
  const written = (pitch: number) => expected.some((each) => Math.abs(each + tuning - pitch) < NEAR_WRITTEN);
  for (let f = 0; f < midi.length; f++) {
    if (rivals[f] === 0 || written(midi[f]!)) continue;
    const better = RIVAL_SEMITONES.find(
      ([bit, semitones]) => rivals[f]! & bit && written(midi[f]! + semitones),
    );
    if (!better) continue;
    midi[f]! += better[1];
    rivals[f] = opposite(better[0]);
  }
  const flips = (from: number, to: number) =>
    RIVAL_SEMITONES.some(
      ([bit, semitones]) =>
        Math.abs(midi[to]! - midi[from]! - semitones) < 0.6 &&
        (rivals[from]! & bit || rivals[to]! & opposite(bit)),
    );
  for (let f = 1; f < midi.length; f++) {
    if (midi[f] === 0 || midi[f - 1] === 0 || !flips(f - 1, f)) continue;
    // Everything around, as far as it goes on in either octave.
    let times = 1;
    const goesOn = (from: number, to: number) => {
      if (midi[to] === 0 || clarity[to]! < STEADY_CLARITY) return false;
      if (Math.abs(midi[to]! - midi[from]!) < 0.6) return true;
      if (!flips(from, to)) return false;
      times++;
      return true;
    };
    let [start, end] = [f - 1, f];
    while (start > 0 && goesOn(start, start - 1)) start--;
    while (end + 1 < midi.length && goesOn(end, end + 1)) end++;
    if (times > 1 || !(written(midi[f - 1]!) && written(midi[f]!)))
      settleChain(midi.subarray(start, end + 1), rivals.subarray(start, end + 1), written);
    f = end;
  }
}

function settleChain(midi: Float32Array, rivals: Uint8Array, written: (pitch: number) => boolean): void {
  const heights: { pitch: number; frames: number[] }[] = [];
  midi.forEach((pitch, f) => {
    const own = heights.find((each) => Math.abs(each.pitch - pitch) < HEIGHT_APART);
    if (own) own.frames.push(f);
    else heights.push({ pitch, frames: [f] });
  });
  const weight = ({ pitch, frames }: (typeof heights)[number]) =>
    frames.length * (written(pitch) ? WRITTEN_WEIGHS : 1);
  const home = heights.reduce((best, each) => (weight(each) > weight(best) ? each : best));
  for (const other of heights) {
    if (other === home) continue;
    const [bit, semitones] = RIVAL_SEMITONES.reduce((best, each) =>
      Math.abs(other.pitch - home.pitch - each[1]) < Math.abs(other.pitch - home.pitch - best[1])
        ? each
        : best,
    );
    if (Math.abs(other.pitch - home.pitch - semitones) > HEIGHT_APART) continue;
    for (const f of other.frames) {
      midi[f]! -= semitones;
      rivals[f] = 0;
    }
    if (other.frames.length >= GOOD_PART * midi.length)
      for (let f = 0; f < rivals.length; f++) rivals[f]! |= bit;
  }
}

/** Seen from the rival, what was found is its rival. */
function opposite(bit: number): number {
  return {
    [RIVAL.double]: RIVAL.half,
    [RIVAL.half]: RIVAL.double,
    [RIVAL.triple]: RIVAL.third,
    [RIVAL.third]: RIVAL.triple,
  }[bit]!;
}

/** The next power of two, or the one just below when it lacks less than a tenth. */
function powerOfTwo(value: number): number {
  return 2 ** Math.ceil(Math.log2(value / 1.1));
}
