import { type Score, type Timeline, timeline } from "../score";
import { align } from "./align";
import type { Features } from "./features";
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
  return judgeStrokes(line, tapSegments(tapsSec), stillness((tapsSec.at(-1) ?? 0) + 1), options);
}

export function assessRhythm(line: Timeline, features: Features, options: AssessOptions): Assessment {
  return judgeStrokes(line, struckSegments(features), features, options);
}

function judgeStrokes(
  line: Timeline,
  segments: readonly Segment[],
  features: Features,
  options: AssessOptions,
): Assessment {
  if (segments.length < 2) return unassessed("no-music");
  const unpitched = { ...line, notes: line.notes.map((note) => ({ ...note, midi: null })) };
  const alignment = align(unpitched.notes, segments, line.totalSec / line.totalQuarters);
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
    extras: judged.extras,
    breaks: judged.breaks,
  };
}
