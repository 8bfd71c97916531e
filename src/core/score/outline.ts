import { keyName } from "../music";
import { concertPart } from "./derive";
import { forDrumsOnly, type Score } from "./model";
import { markedTempo, timeline } from "./timeline";

/** What a line is at a glance, whoever looks at it. */
export interface LineOutlineFacts {
  /** "B♭ major" as it sounds; "rhythm" for drums alone. */
  concertKey: string;
  /** Of the first bar, "4/4". */
  metre: string;
  /** Full bars; a pickup is not counted. */
  bars: number;
  /** Beats of the metre a minute, whole. */
  bpm: number;
  /** Once through at its own tempo, repeats and all. */
  seconds: number;
  /** Its notes stand in a book only. */
  catalogued: boolean;
}

/**
 * Raised whenever an outline, a glance or what is computed of them changes its form: stored ones of another version are
 * computed anew.
 */
export const OUTLINE_VERSION = 3;

/** @throws RangeError for a score that `acceptScore` refuses */
export function outlineOf(score: Score): LineOutlineFacts {
  const measures = concertPart(score).parts[0].measures;
  const time = measures[0]?.time ?? { beats: 4, beatType: 4 };
  return {
    concertKey: forDrumsOnly(score)
      ? "rhythm"
      : keyName(measures[0]?.key?.fifths ?? 0, measures[0]?.key?.mode),
    metre: `${time.beats}/${time.beatType}`,
    bars: measures.filter((measure) => !measure.implicit).length || measures.length,
    bpm: Math.round(markedTempo(score).bpm),
    seconds: Math.round(timeline(score).totalSec * 10) / 10,
    catalogued: score.catalogued ?? false,
  };
}
