import { instrumentById } from "../music";
import type { SoundingNote, Timeline } from "../score";
import type { Alignment } from "./align";
import { type BeatPoint, type OwnBeat, ownBeat } from "./beat";
import { type Bleed, findBleed } from "./bleed";
import { calibrated } from "./confidence";
import { endAgain } from "./endings";
import { extraNotes } from "./extras";
import type { Features } from "./features";
import { hear } from "./hear";
import type { Heard } from "./heard";
import { afterNote } from "./lengths";
import { verdictOf } from "./note-verdict";
import { chooseMatches, endInPlace, restarts, splitPasses } from "./passes";
import { placeAgain } from "./placing";
import { splitAtHesitations } from "./runs";
import { listenAgain, noteLevels } from "./second-listening";
import type { Segment } from "./segments";
import { median, round } from "./statistics";
import { withoutStrangers } from "./strangers";
import { timingsOf } from "./timing";
import type { Assessment, AssessOptions, NoteVerdict, TakeBreak } from "./types";

/** Notes left out at the end before it counts as stopping early. */
const STOPPED_NOTES = 3;
/** Confidence of a note that the reference may have played alone. */
const DOUBTFUL = 0.3;
/** A take an octave off has no reference beside it that could be told, cents. */
const OCTAVE_OFF_CENTS = 600;

export interface Judgement {
  notes: NoteVerdict[];
  extras: Assessment["extras"];
  breaks: TakeBreak[];
  beat: OwnBeat;
  /** The middle distance of an attack from the player's own beat, as a share of a quarter, and whether that is no even rhythm any more. */
  offBeat: number;
  uneven: boolean;
  /** A reference of the same notes is loud enough to stand for missed ones. */
  bleed: boolean;
}

/**
 * Turns an alignment into verdicts a note, extra notes and breaks: which pass counts, what was heard for each note, the player's own beat,
 * verdicts by it, a second listening where something is missing, and how far all that is believed.
 *
 * @param tuningCents  the take's own tuning; segments come with it already removed
 */
export function judge(
  line: Timeline,
  segments: readonly Segment[],
  alignment: Alignment,
  features: Features,
  tuningCents: number,
  options: AssessOptions,
): Judgement {
  const { notes } = line;
  const passes = splitPasses(alignment.matches);
  const chosen = endInPlace(chooseMatches(passes, notes), notes, segments);
  const taken = new Set([...alignment.matches, ...chosen].map(({ segment }) => segment));
  const sounds = hear(chosen, taken, notes, segments, features, alignment.secPerQuarter, tuningCents);
  const own = withoutStrangers(notes, sounds, features);
  const { heard: found, hesitations } = splitAtHesitations(own, notes, line.beatQuarters);
  const roughly = ownBeat(beatPoints(notes, found).points, alignment.secPerQuarter);
  const placed = placeAgain(notes, found, roughly, features, tuningCents / 100);
  const heard = endAgain(notes, placed, roughly, features, tuningCents / 100);
  const {
    beat,
    verdicts: first,
    offBeat,
    uneven,
  } = byOwnBeat(notes, heard, alignment.secPerQuarter, tuningCents, options);
  const verdicts = listenAgain(notes, first, heard, beat, features, tuningCents / 100);
  const levels = noteLevels(verdicts, features);
  const bleed: Bleed =
    Math.abs(tuningCents) < OCTAVE_OFF_CENTS
      ? findBleed(notes, verdicts, levels, features)
      : { loud: false, doubtful: new Set() };
  const breaks = [
    ...restarts(passes, notes, segments),
    ...hesitations,
    ...stoppedEarly(notes, heard, features.durationSec),
  ];
  return {
    notes: believed(
      verdicts,
      levels,
      bleed,
      notes.every(({ midi }) => midi === null),
    ),
    extras: extraNotes(alignment.matches, segments, heard, tuningCents),
    breaks: breaks.sort((a, b) => a.atSec - b.atSec),
    beat,
    offBeat,
    uneven,
    bleed: bleed.loud,
  };
}

/** What counts for the beat, and which point is which note's. */
function beatPoints(
  notes: readonly SoundingNote[],
  heard: readonly (Heard | undefined)[],
): { points: BeatPoint[]; pointOf: ReadonlyMap<number, number> } {
  const points: BeatPoint[] = [];
  const pointOf = new Map<number, number>();
  heard.forEach((each, i) => {
    if (!each || each.unbroken) return;
    pointOf.set(i, points.length);
    points.push({ quarters: notes[i]!.onsetQuarters, sec: each.onsetSec, run: each.run });
  });
  return { points, pointOf };
}

/** The player's own beat through what was heard, and the verdicts it gives. */
function byOwnBeat(
  notes: readonly SoundingNote[],
  heard: readonly (Heard | undefined)[],
  secPerQuarter: number,
  tuningCents: number,
  options: AssessOptions,
): Pick<Judgement, "beat" | "offBeat" | "uneven"> & { verdicts: NoteVerdict[] } {
  const { points, pointOf } = beatPoints(notes, heard);
  const beat = ownBeat(points, secPerQuarter);
  const {
    notes: timings,
    offBeat,
    uneven,
  } = timingsOf(notes, heard, beat, pointOf, options.timingToleranceMs);
  const instrument = options.instrumentId ? instrumentById(options.instrumentId) : undefined;
  const verdicts = notes.map((note, i) =>
    verdictOf(
      note,
      {
        heard: heard[i],
        before: heard[i - 1],
        next: heard[i + 1],
        beat,
        timing: timings[i]!,
        after: afterNote(notes, i),
      },
      { tuningCents, options, instrument },
    ),
  );
  return { beat, verdicts, offBeat, uneven };
}

/** Verdicts with the level of each note against the middle one, and how likely they are right. */
function believed(
  verdicts: readonly NoteVerdict[],
  levels: readonly (number | null)[],
  { doubtful }: Bleed,
  strokes: boolean,
): NoteVerdict[] {
  const usual = median(levels.filter((level) => level !== null));
  return verdicts.map((verdict, i) => ({
    ...verdict,
    levelDb: levels[i] == null ? null : round(levels[i] - usual, 1),
    confidence: doubtful.has(verdict.index)
      ? DOUBTFUL
      : round(calibrated(verdict.verdict, verdict.confidence, strokes), 3),
  }));
}

/** One note that was found by itself, far behind the others, does not make a take go on: a voice meets a pitch by chance. */
function stoppedEarly(
  notes: readonly SoundingNote[],
  heard: readonly (Heard | undefined)[],
  durationSec: number,
): TakeBreak[] {
  const last = heard.findLastIndex((each, i) => each && (i === 0 || heard[i - 1] || heard[i - 2]));
  if (last < 0 || notes.length - 1 - last < STOPPED_NOTES) return [];
  const atSec = heard[last]!.offsetSec;
  const { measure } = notes[last + 1]!;
  return [{ kind: "stopped-early", atSec, seconds: Math.max(0, durationSec - atSec), measure }];
}
