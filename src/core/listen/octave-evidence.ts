import type { Pcm } from "../audio";
import { midiToHz } from "../music";
import { makeSpectrum } from "./spectrum";
import { median } from "./statistics";

/** Spectra of a note, within its sound: at most so many samples, no longer than the note; where, as shares of its length. */
const FRAME = { longest: 4096, shortest: 1024, at: [0.35, 0.5, 0.65] };
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
 * Partials halfway between those of the written note belong to a sound an octave down: all four of them, or three where they are as strong
 * (of 2664 right notes none of the length asked for; of 22 played an octave down, 18).
 */
const DOWN = { halfDb: -12, all: 4, most: { count: 3, halfDb: -5 }, leastSec: 0.2, apartBins: 8 };
const SILENT = 1e-12;

/**
 * In which octave a note really sounds that was taken for the written one. Periods do not tell: a sound repeats in twice its period as
 * well, and one with weak odd partials nearly in half of it. Partials do.
 *
 * @param midi  sounding pitch it was taken for, MIDI number with fraction
 * @returns semitones from there to where it sounds: 12, -12, or 0 where nothing speaks against the written octave
 */
export function octaveAway(sound: Pcm, midi: number, fromSec: number, toSec: number): 0 | 12 | -12 {
  const { sampleRate, samples } = sound;
  const hz = midiToHz(midi);
  let size = FRAME.longest;
  while (size > FRAME.shortest && size / sampleRate > toSec - fromSec) size /= 2;
  const apart = (hz * size) / sampleRate;
  if (apart < UP.apartBins) return 0;
  const power = powerWithin(samples, size, fromSec * sampleRate, toSec * sampleRate);
  const group = (multiples: readonly number[]) => {
    let [sum, plain] = [SILENT, 0];
    for (const multiple of multiples) {
      if (multiple * hz > Math.min(HIGHEST_HZ, 0.45 * sampleRate)) break;
      const [peak, around] = partialAt(power, multiple * apart, apart);
      sum += Math.max(0, peak - AROUND.times * around);
      if (peak > AROUND.standsOut * around) plain++;
    }
    return { db: 10 * Math.log10(sum), plain };
  };
  const even = group([2, 4, 6, 8]);
  if (even.plain > 0 && group([1, 3, 5, 7]).db - even.db < UP.oddDb) return 12;
  if (apart < DOWN.apartBins || toSec - fromSec < DOWN.leastSec) return 0;
  const half = group([0.5, 1.5, 2.5, 3.5]);
  const halfDb = half.db - group([1, 2, 3, 4, 5]).db;
  const below =
    (half.plain >= DOWN.all && halfDb > DOWN.halfDb) ||
    (half.plain >= DOWN.most.count && halfDb > DOWN.most.halfDb);
  return below ? -12 : 0;
}

function powerWithin(samples: Float32Array, size: number, from: number, to: number): Float64Array {
  const spectrumAt = makeSpectrum(samples, size);
  const frame = new Float64Array(size / 2);
  const sum = new Float64Array(size / 2);
  for (const share of FRAME.at) {
    spectrumAt(Math.round(from + share * (to - from)) - size / 2, frame);
    for (let k = 0; k < sum.length; k++) sum[k]! += frame[k]!;
  }
  return sum;
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
