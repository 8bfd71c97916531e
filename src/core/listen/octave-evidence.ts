import type { Pcm } from "../audio";
import { midiToHz } from "../music";
import { makeSpectrum } from "./spectrum";
import { median } from "./statistics";

/**
 * Spectra of a note, within its sound: at most so many samples, no longer than the note; where, as shares of its length, and where
 * what rang before it has faded.
 */
const FRAME = { longest: 4096, shortest: 1024, at: [0.35, 0.5, 0.65], late: [0.6, 0.7, 0.8] };
/** Partials above this tell nothing more, Hz. */
const HIGHEST_HZ = 6000;
/** A partial is looked for so near to its place, in bins and as a share of it. */
const NEAR = { bins: 1.5, share: 0.012 };
/** What lies around a partial, as shares of the distance between partials; a partial counts by what it has beyond so many times that. */
const AROUND = { from: 0.2, to: 0.3, leastBins: 4, mostBins: 7, times: 3, standsOut: 10 };
/**
 * Without its odd partials, a sound is an octave up: they lie so far below the even ones ("overlooked octave" of the combined bench: of
 * 2664 right notes the weakest, an oboe's, had them 22 dB below; of 43 played an octave up 40 had less than this).
 */
const UP = { oddDb: -24, apartBins: 5 };
/**
 * Odd partials so strong belong to a sound as written, though its periods say an octave up (of 44 notes played and heard an octave up the
 * strongest had them 21 dB below; a right note of an oboe in a tiled room 17).
 */
const STAND_DB = -18;
/** Partials of the written note, and what lies halfway between them. */
const [ODD, EVEN, LOWEST, HALFWAY] = [
  [1, 3, 5, 7],
  [2, 4, 6, 8],
  [1, 2, 3, 4, 5],
  [0.5, 1.5, 2.5, 3.5],
];
/**
 * Beside so many other notes of the player, odd partials so weak and so much weaker than theirs will do (of 32 notes played an octave up 25
 * where 23 were found by `UP` alone, of 5,091 right ones none); weak ones are measured late in the note for that.
 */
const BESIDE = { least: 3, oddDb: -17, weakerDb: 20, weakDb: -8 };
/**
 * Partials halfway between those of the written note belong to a sound an octave down: all four of them, or three where they are as strong
 * (of 2664 right notes none of the length asked for; of 22 played an octave down, 18).
 */
const DOWN = { halfDb: -12, all: 4, most: { count: 3, halfDb: -5 }, leastSec: 0.2, apartBins: 8 };
const SILENT = 1e-12;

export interface OctaveEvidence {
  /** Semitones from the written pitch to where it sounds: 0 where nothing speaks against it. */
  away: 0 | 12 | -12;
  /** Its odd partials against its even ones, dB, of a note that seems to sound as written; null where they are not heard. */
  oddDb: number | null;
}

/**
 * In which octave a note really sounds that was taken for the written one. Periods do not tell: a sound repeats in twice its period as
 * well, and one with weak odd partials nearly in half of it. Partials do.
 *
 * @param midi  sounding pitch it was taken for, MIDI number with fraction
 */
export function octaveEvidence(sound: Pcm, midi: number, fromSec: number, toSec: number): OctaveEvidence {
  const { sampleRate, samples } = sound;
  const hz = midiToHz(midi);
  let size = FRAME.longest;
  while (size > FRAME.shortest && size / sampleRate > toSec - fromSec) size /= 2;
  const apart = (hz * size) / sampleRate;
  if (apart < UP.apartBins) return { away: 0, oddDb: null };
  const spectrumAt = makeSpectrum(samples, size);
  const within = (shares: readonly number[]) => {
    const power = new Float64Array(size / 2);
    const frame = new Float64Array(size / 2);
    for (const share of shares) {
      spectrumAt(Math.round((fromSec + share * (toSec - fromSec)) * sampleRate) - size / 2, frame);
      for (let k = 0; k < power.length; k++) power[k]! += frame[k]!;
    }
    return power;
  };
  const group = (power: Float64Array, multiples: readonly number[]) => {
    let [sum, plain] = [SILENT, 0];
    for (const multiple of multiples) {
      if (multiple * hz > Math.min(HIGHEST_HZ, 0.45 * sampleRate)) break;
      const [peak, around] = partialAt(power, multiple * apart, apart);
      sum += Math.max(0, peak - AROUND.times * around);
      if (peak > AROUND.standsOut * around) plain++;
    }
    return { db: 10 * Math.log10(sum), plain };
  };
  const oddAgainstEven = (power: Float64Array) => {
    const even = group(power, EVEN);
    return even.plain > 0 ? group(power, ODD).db - even.db : null;
  };
  const power = within(FRAME.at);
  let oddDb = oddAgainstEven(power);
  if (oddDb !== null && oddDb < UP.oddDb) return { away: 12, oddDb: null };
  if (oddDb !== null && oddDb < BESIDE.weakDb) oddDb = oddAgainstEven(within(FRAME.late)) ?? oddDb;
  if (apart < DOWN.apartBins || toSec - fromSec < DOWN.leastSec) return { away: 0, oddDb };
  const half = group(power, HALFWAY);
  const halfDb = half.db - group(power, LOWEST).db;
  const below =
    (half.plain >= DOWN.all && halfDb > DOWN.halfDb) ||
    (half.plain >= DOWN.most.count && halfDb > DOWN.most.halfDb);
  return below ? { away: -12, oddDb: null } : { away: 0, oddDb };
}

/** Whether a sound that was heard an octave up has odd partials of the written note after all. */
export function oddPartialsStand(oddDb: number): boolean {
  return oddDb > STAND_DB;
}

/** Whether a note's odd partials are weak enough to be held against those of other notes at all. */
export function oddPartialsWeak(oddDb: number): boolean {
  return oddDb < BESIDE.oddDb;
}

/**
 * Whether a note whose odd partials are weak, but not weak enough by themselves, has far weaker ones than the same player's other notes near
 * it: then it sounds an octave up.
 *
 * @param others  the same measure of notes within a fourth of it
 */
export function oddPartialsLack(oddDb: number, others: readonly number[]): boolean {
  return oddPartialsWeak(oddDb) && others.length >= BESIDE.least && oddDb < median(others) - BESIDE.weakerDb;
}

/** The highest bin near a place of the spectrum, and the middle of what lies around it. */
function partialAt(power: Float64Array, bin: number, apart: number): [peak: number, around: number] {
  const near = Math.max(NEAR.bins, NEAR.share * bin);
  let peak = 0;
  for (let k = Math.max(1, Math.floor(bin - near)); k <= Math.ceil(bin + near) && k < power.length; k++)
    peak = Math.max(peak, power[k]!);
  const around: number[] = [];
  const [from, to] = [
    Math.max(AROUND.leastBins, Math.round(AROUND.from * apart)),
    Math.max(AROUND.mostBins, AROUND.to * apart),
  ];
  for (let away = from; away <= to; away++)
    around.push(power[Math.round(bin) - away] ?? 0, power[Math.round(bin) + away] ?? 0);
  return [peak, median(around)];
}
