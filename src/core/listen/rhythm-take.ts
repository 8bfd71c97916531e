import { type Score, type Timeline, timeline } from "../score";
import { type Alignment, align } from "./align";
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
  return judgeStrokes(line, [tapSegments(tapsSec)], still, options);
}

export function assessRhythm(line: Timeline, features: Features, options: AssessOptions): Assessment {
  const strokes = struckSegments(features);
  return judgeStrokes(line, soundsToFollow(strokes, features, line.notes.length), features, options);
}

/** @param ways  the strokes as they may be heard; the way that fits the line best counts */
function judgeStrokes(
  line: Timeline,
  ways: readonly (readonly Segment[])[],
  features: Features,
  options: AssessOptions,
): Assessment {
  if (ways[0]!.length < 2) return unassessed("no-music");
  const unpitched = { ...line, notes: line.notes.map((note) => ({ ...note, midi: null })) };
  const [{ segments, alignment }] = ways
    .map((segments) => ({
      segments,
      alignment: align(unpitched.notes, segments, line.totalSec / line.totalQuarters),
    }))
    .sort((a, b) => a.alignment.cost - b.alignment.cost) as [
    { segments: readonly Segment[]; alignment: Alignment },
  ];
  const judged = judge(unpitched, segments, alignment, features, 0, options);
  if (!isThisRhythm(alignment, unpitched.notes, segments, judged)) return unassessed("no-match");
  return {
    ...unassessed("assessed"),
    take: {
      status: "assessed",
      ...tempoOf(judged.beat, line),
      tuningCents: null,
      flags: [],
    },
    notes: [...withoutGaps(line, judged.notes, judged.beat.secPerQuarter, options)],
    ...besideGaps(judged, options.gaps),
  };
}
