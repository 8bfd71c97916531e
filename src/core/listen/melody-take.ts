import type { Score, Timeline } from "../score";
import { type Alignment, align } from "./align";
import type { OwnBeat } from "./beat";
import type { Features } from "./features";
import { besideGaps, dueTimes, forgiveGaps } from "./gaps";
import { isThisLine } from "./gates";
import { judge } from "./judge";
import { marksHeard } from "./marks";
import { referenceCents } from "./plan";
import { lasting, type Segment } from "./segments";
import { circularMean, round } from "./statistics";
import { tuningByName, writtenChanges } from "./summary";
import type { Assessment, AssessOptions, NoteVerdict } from "./types";
import { unassessed } from "./unassessed";

/** What the stages between sound and verdict made; `segments` in sounding pitch, before the take's tuning is taken off. */
export interface Trace {
  features: Features;
  segments: readonly Segment[];
  alignment: Alignment;
}
export type Watch = (trace: Trace) => void;

export function assessMelody(
  score: Score,
  line: Timeline,
  heard: readonly Segment[],
  features: Features,
  options: AssessOptions,
  watch: Watch | undefined,
): Assessment {
  const tuning = ownTuning(heard);
  const octave = wholeTakeOctave(line, heard, tuning);
  const segments = heard.map((segment) => ({ ...segment, midi: segment.midi! - tuning - 12 * octave }));
  const alignment = align(line.notes, segments, line.totalSec / line.totalQuarters);
  watch?.({ features, segments: heard, alignment });
  if (!isThisLine(alignment, line.notes, segments)) return unassessed("no-match");
  const judged = judge(line, segments, alignment, features, 100 * tuning + 1200 * octave, options);
  const reference = referenceCents(options);
  const notes = withoutGaps(line, judged.notes, judged.beat.secPerQuarter, options).map((note) => ({
    ...note,
    cents: note.cents === null ? null : round(note.cents - reference, 1),
  }));
  return {
    ...unassessed("assessed"),
    take: {
      status: "assessed",
      ...tempoOf(judged.beat, line),
      tuningCents: round(100 * tuning - reference, 1),
      flags: [
        ...(octave === 0 ? [] : ["octave" as const]),
        ...(judged.bleed ? ["reference-bleed" as const] : []),
        ...(judged.uneven ? ["uneven" as const] : []),
      ],
    },
    notes,
    ...besideGaps(judged, options.gaps),
    tuning: tuningByName(line.notes, notes),
    dynamics: writtenChanges(score, line.notes, notes),
    marks: marksHeard(line.notes, notes, features),
  };
}

/** The player's tempo in the line's beat unit, and how it drifts. */
export function tempoOf(
  { secPerQuarter, driftPercent }: OwnBeat,
  { beatQuarters }: Timeline,
): Pick<Assessment["take"], "tempoBpm" | "driftPercent"> {
  return { tempoBpm: round(60 / (secPerQuarter * beatQuarters), 1), driftPercent: round(driftPercent, 1) };
}

export function withoutGaps(
  line: Timeline,
  verdicts: readonly NoteVerdict[],
  secPerQuarter: number,
  { gaps }: AssessOptions,
): readonly NoteVerdict[] {
  return gaps?.length ? forgiveGaps(verdicts, dueTimes(line.notes, verdicts, secPerQuarter), gaps) : verdicts;
}

/** The take's own tuning in semitones, -0.5 to 0.5: the circular mean of distances to the nearest semitone, by duration. */
export function ownTuning(segments: readonly Segment[]): number {
  return circularMean(
    segments.map((segment) => [
      segment.midi!,
      Math.min(1, lasting(segment)) * (segment.spread < 0.3 ? 1 : 0.2),
    ]),
  );
}

/** Octaves the whole take lies away from the line: 0 unless another octave explains clearly more of the sound. */
function wholeTakeOctave(line: Timeline, segments: readonly Segment[], tuning: number): number {
  const expected = new Set(line.notes.map((note) => note.midi));
  const share = (octave: number) => {
    let inside = 0;
    let all = 0;
    for (const segment of segments) {
      all += lasting(segment);
      if (expected.has(Math.round(segment.midi! - tuning - 12 * octave))) inside += lasting(segment);
    }
    return inside / Math.max(0.001, all);
  };
  const own = share(0);
  return [1, -1, 2, -2].find((octave) => share(octave) > own + 0.35) ?? 0;
}
