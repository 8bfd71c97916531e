import type { Features } from "./features";
import type { Segment } from "./segments";
import { median } from "./statistics";

/** How bright a stroke is, is measured over so long from its attack on, seconds. */
const COLOUR_SEC = 0.04;
/**
 * Strokes of one sound are alike in brightness: so many octaves on either side of their middle, within which they are sought, and beyond
 * which a stroke is of another sound ("claps, counted aloud" of the rhythm bench: claps lie within 0.1, the voice 0.4 and more away).
 */
const ONE_SOUND = { sought: 0.2, beyond: 0.35 };
/** A sound that is followed has so many strokes at least, and so many of those written. */
const LEAST = { strokes: 4, share: 0.4 };
/** Two sounds at most are tried: those who clap, and somebody who counts. */
const MOST_SOUNDS = 2;

/** How bright a stroke is from so much after its attack on: the logarithm of its frequency, in octaves. */
type ColourOf = (stroke: Segment, laterSec: number) => number;

/** A stroke may begin with another sound, and its own colour comes within so much, seconds; and not far softer than its loudest, dB. */
const HIDDEN = { withinSec: 0.08, stepSec: 0.01, softerDb: 8, within: 0.12 };
/** How clearly a stroke of another sound speaks for a written one, 0 to 1. */
const FOREIGN_CLARITY = 0.4;

/**
 * The ways to hear strokes that may come from several sounds: all of them as the player's, or those of one sound, the others marked as
 * foreign to it. Who counts aloud while clapping makes two, and so does a metronome.
 *
 * @param written  how many strokes are written
 * @returns the strokes as they are first; each list in the same order
 */
export function soundsToFollow(
  segments: readonly Segment[],
  features: Features,
  written: number,
): (readonly Segment[])[] {
  const { brightHz, levelDb, fineHopSec } = features;
  const colourOf: ColourOf = ({ onsetSec }, laterSec) => {
    const from = Math.round((onsetSec + laterSec) / fineHopSec);
    return Math.log2(Math.max(1, median(brightHz.subarray(from, from + COLOUR_SEC / fineHopSec))));
  };
  const hides = (stroke: Segment, centre: number) => {
    for (let later = 0; later <= HIDDEN.withinSec; later += HIDDEN.stepSec) {
      const level = levelDb[Math.round((stroke.onsetSec + later) / fineHopSec)] ?? -100;
      if (level < stroke.peakDb - HIDDEN.softerDb) continue;
      if (Math.abs(colourOf(stroke, later) - centre) <= HIDDEN.within) return true;
    }
    return false;
  };
  const all = segments.map((stroke) => colourOf(stroke, 0));
  const ways: (readonly Segment[])[] = [segments];
  let left = all.toSorted((a, b) => a - b);
  while (ways.length <= MOST_SOUNDS) {
    const own = densest(left, 2 * ONE_SOUND.sought);
    if (own.length < Math.max(LEAST.strokes, LEAST.share * written)) break;
    const centre = median(own);
    const foreign = segments.map(
      (stroke, i) => Math.abs(all[i]! - centre) > ONE_SOUND.beyond && !hides(stroke, centre),
    );
    if (foreign.includes(true))
      ways.push(
        segments.map((stroke, i) =>
          foreign[i] ? { ...stroke, foreign: true, clarity: FOREIGN_CLARITY } : stroke,
        ),
      );
    left = left.filter((each) => Math.abs(each - centre) > ONE_SOUND.beyond);
  }
  return ways;
}

/** Of sorted values the most that lie within so much of one another. */
function densest(sorted: readonly number[], span: number): readonly number[] {
  let [from, most, first] = [0, 0, 0];
  sorted.forEach((value, i) => {
    while (value - sorted[first]! > span) first++;
    if (i + 1 - first > most) [from, most] = [first, i + 1 - first];
  });
  return sorted.slice(from, from + most);
}
