import { hzToMidi, midiToHz } from "../music";
import type { Features, PitchReach } from "./features";
import { AUDIBLE_DB, audibleAttack, loudest, riseDb, soundFloorDb } from "./levels";
import { nearEnough, type Segment } from "./segments";
import { makeSpectrum } from "./spectrum";
import { percentile } from "./statistics";

/** A stroke rises by so many dB; one on a bar may be covered by what still rings. */
const LEAST_RISE_DB = { dry: 6, ringing: 2.5 };
/** Strokes lie this many fine frames apart at least: 50 ms. */
const LEAST_GAP = 10;
/**
 * A bar is struck within so many fine frames, 15 ms. Going back to where it is audible leads into what still rings (bells in a tiled room: 100 ms
 * too early, and the pitch was that of the ringing).
 */
const LONGEST_STROKE = 3;
/** Spectra before and after a stroke. */
const BAR_FRAME = 2048;
/** The frame before ends, and the frame after begins, this near the attack, seconds. */
const BEFORE_SEC = 0.004;
const AFTER_SEC = 0.004;
/** A bar keeps its pitch; a voice has glided this much later. */
const LATER_SEC = 0.09;
/** The highest of some hundred bins of noise stands so far above their mean; a bar stands out by twice as much. */
const NOISE_PROMINENCE_DB = 8;
const CLEAR_PROMINENCE_DB = 16;
/** What rings on is taken off a little more than once, so that its beating leaves nothing. */
const RINGING = 1.3;
/** Other peaks of a stroke count as where it may be heard when they are no more than so much below the highest, dB. */
const RIVAL_DB = 10;

/**
 * Attacks of unpitched playing: claps, taps, snare.
 * @returns one segment an attack, lasting until its level has fallen by 20 dB or the next attack comes
 */
export function struckSegments(features: Features): Segment[] {
  const struck = strokes(features, false);
  return struck.filter(nearEnough(struck));
}

/**
 * Strokes on bars (bells, xylophone), which ring into one another and whose upper partials are no multiples of the
 * lowest: the pitch of a stroke is the strongest peak of what the spectrum *gains* at it, so that an earlier, louder bar
 * that rings on is not heard again. Other strong peaks are its rivals.
 */
export function barSegments(features: Features, reach: PitchReach): Segment[] {
  const { samples, sampleRate } = features.sound;
  const spectrumAt = makeSpectrum(samples, BAR_FRAME);
  const before = new Float64Array(BAR_FRAME / 2);
  const gained = new Float64Array(BAR_FRAME / 2);
  const bin = (hz: number) => (hz * BAR_FRAME) / sampleRate;
  const lowest = Math.max(3, Math.floor(bin(midiToHz(reach.lowest))));
  const highest = Math.min(BAR_FRAME / 2 - 4, Math.ceil(bin(midiToHz(reach.highest))));
  const struck = strokes(features, true).flatMap((stroke): Segment[] => {
    const at = Math.round(stroke.onsetSec * sampleRate);
    spectrumAt(at - Math.round(BEFORE_SEC * sampleRate) - BAR_FRAME, before);
    spectrumAt(at + Math.round(AFTER_SEC * sampleRate), gained);
    let total = 1e-12;
    for (let k = lowest - 2; k <= highest + 2; k++) {
      gained[k] = Math.max(0, gained[k]! - RINGING * before[k]!);
      total += gained[k]!;
    }
    const peaks: { midi: number; power: number; at: number }[] = [];
    for (let k = lowest; k <= highest; k++) {
      const power = gained[k]!;
      if (power === 0 || power < gained[k - 1]! || power <= gained[k + 1]!) continue;
      peaks.push({ midi: hzToMidi(((k + bend(gained, k)) * sampleRate) / BAR_FRAME), power, at: k });
    }
    peaks.sort((a, b) => b.power - a.power);
    const top = peaks[0];
    if (!top) return [];
    const prominence = 10 * Math.log10((top.power * (highest - lowest)) / total);
    spectrumAt(at + Math.round(LATER_SEC * sampleRate), before);
    let later = Math.max(2, top.at - 3);
    for (let k = later; k <= top.at + 3; k++) if (before[k]! > before[later]!) later = k;
    return [
      {
        ...stroke,
        midi: top.midi,
        clarity: Math.max(
          0,
          Math.min(1, (prominence - NOISE_PROMINENCE_DB) / (CLEAR_PROMINENCE_DB - NOISE_PROMINENCE_DB)),
        ),
        spread: Math.abs(top.midi - hzToMidi(((later + bend(before, later)) * sampleRate) / BAR_FRAME)),
        rivals: peaks
          .slice(1, 6)
          .filter((peak) => peak.power > top.power / 10 ** (RIVAL_DB / 10))
          .map((peak) => peak.midi - top.midi),
      },
    ];
  });
  return struck.filter(nearEnough(struck));
}

/** Offset of a peak from its bin, by a parabola through the logarithms. */
function bend(power: Float64Array, k: number): number {
  const [a, b, c] = [k - 1, k, k + 1].map((each) => Math.log(power[each]! + 1e-20)) as [
    number,
    number,
    number,
  ];
  const curve = a - 2 * b + c;
  return curve < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / curve)) : 0;
}

/** Peaks of onset strength with a rise in level; one segment each. */
function strokes(features: Features, ringing: boolean): Segment[] {
  const leastRiseDb = LEAST_RISE_DB[ringing ? "ringing" : "dry"];
  const { flux, levelDb, outlineDb, fineHopSec } = features;
  const floor = soundFloorDb(features);
  const base = percentile(flux, 60);
  const strong = percentile(flux, 99);
  const threshold = Math.max(0.02, base * 2.5, strong * 0.18);
  const attacks: number[] = [];
  for (let g = 2; g + 2 < flux.length; g++) {
    let highest = true;
    for (let h = g - 6; h <= g + 6 && highest; h++)
      if ((flux[h] ?? 0) > flux[g]! || ((flux[h] ?? 0) === flux[g]! && h < g)) highest = false;
    if (
      !highest ||
      flux[g]! < threshold ||
      loudest(levelDb, g - 4, g + 10) < floor ||
      riseDb(outlineDb, g) < leastRiseDb
    )
      continue;
    const { fine: audible } = audibleAttack(levelDb, g, g + 24, floor - 6, true);
    if (audible - (attacks.at(-1) ?? -100) >= LEAST_GAP)
      attacks.push(ringing ? Math.max(audible, g - LONGEST_STROKE) : audible);
  }
  return attacks.map((fine, i) => {
    const limit = Math.min(attacks[i + 1] ?? levelDb.length, fine + 400);
    const peakDb = loudest(levelDb, fine, Math.min(limit, fine + 16));
    let end = fine + 2;
    while (end < limit && levelDb[end]! > Math.max(peakDb - AUDIBLE_DB, floor)) end++;
    const before = attacks[i - 1];
    return {
      onsetSec: fine * fineHopSec,
      offsetSec: end * fineHopSec,
      midi: null,
      spread: 0,
      glide: 0,
      peakDb,
      attackDb: riseDb(outlineDb, fine),
      dipDb: riseDb(outlineDb, fine),
      gapSec: before === undefined ? fine * fineHopSec : (fine - before) * fineHopSec,
      clarity: 1,
      rivals: [],
      seams: [],
    };
  });
}
