import { type Score, type Timeline, timeline } from "../score";
import { align } from "./align";
import { strokesBeyond } from "./extras";
import type { Features } from "./features";
import { soundsToFollow } from "./followed";
import { besideGaps } from "./gaps";
import { isThisRhythm } from "./gates";
import { judge } from "./judge";
import { tempoOf, withoutGaps } from "./melody-take";
import type { Segment } from "./segments";
import { struckSegments } from "./strikes";
import { stillness, tapSegments } from "./taps";
import type { Assessment, AssessOptions } from "./types";
import { unassessed } from "./unassessed";

/** One sound behind the last stroke may be a door or the device put down; two in the player's beat are not. A tap is always the player's. */
const LEAST_BEYOND = 2;

/**
 * Assesses taps on a key or a screen as the same rhythm clapped would be: nothing sounds, each tap is an attack.
 *
 * @param tapsSec  times of the taps in order, seconds from any moment
 * @throws RangeError when the score has no note
 */
export function assessTaps(
  score: Score,
  tapsSec: readonly number[],
  options: AssessOptions = {},
): Assessment {
  const line = timeline(score, options.bpm ? { bpm: options.bpm } : {});
  if (line.notes.length === 0) throw new RangeError("The score has no sounding note");
  const still = stillness((tapsSec.at(-1) ?? 0) + 1);
  return judgeStrokes(line, [tapSegments(tapsSec)], still, options, 1);
}

export function assessRhythm(line: Timeline, features: Features, options: AssessOptions): Assessment {
  const strokes = struckSegments(features);
  const ways = soundsToFollow(strokes, features, line.notes.length);
  return judgeStrokes(line, ways, features, options, LEAST_BEYOND);
}

/**
 * @param ways  the strokes as they may be heard; the way that fits the line best counts
 * @param leastBeyond  so many strokes behind the end at least are told
 */
function judgeStrokes(
  line: Timeline,
  ways: readonly (readonly Segment[])[],
  features: Features,
  options: AssessOptions,
  leastBeyond: number,
): Assessment {
  if (ways[0]!.length < 2) return unassessed("no-music");
  const markedSecPerQuarter = line.totalSec / line.totalQuarters;
  const unpitched = { ...line, notes: line.notes.map((note) => ({ ...note, midi: null })) };
  const heardAs = (strokes: readonly Segment[]) => align(unpitched.notes, strokes, markedSecPerQuarter);
  let { segments, alignment } = { segments: ways[0]!, alignment: heardAs(ways[0]!) };
  if (alignment.matches.length === 0) return unassessed("no-match");
  for (const way of ways.slice(1)) {
    const other = heardAs(way);
    if (other.cost < alignment.cost) [segments, alignment] = [way, other];
  }
  const judged = judge(unpitched, segments, alignment, features, 0, options);
  if (!isThisRhythm(alignment, unpitched.notes, segments, judged, markedSecPerQuarter))
    return unassessed("no-match");
  const beyond = strokesBeyond(line.notes, segments, alignment.matches, judged.beat.secPerQuarter);
  const extras = beyond.length < leastBeyond ? judged.extras : [...judged.extras, ...beyond];
  return {
    ...unassessed("assessed"),
    take: {
      status: "assessed",
      ...tempoOf(judged.beat, line),
      tuningCents: null,
      flags: judged.uneven ? ["uneven"] : [],
    },
    notes: [...withoutGaps(line, judged.notes, judged.beat.secPerQuarter, options)],
    ...besideGaps({ ...judged, extras }, options.gaps),
  };
}
