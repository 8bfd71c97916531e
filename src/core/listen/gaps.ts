import type { Pcm } from "../audio";
import type { SoundingNote } from "../score";
import type { Assessment, Gap, NoteVerdict } from "./types";

/** Around a gap so much more is not heard well, seconds. */
const EDGE_SEC = 0.05;
/** A gap shorter than this hides nothing a beginner plays, seconds. */
const LEAST_GAP_SEC = 0.02;
/** A silence that lies in gaps for so much of its length is no silence of the player. */
const MOSTLY = 0.7;
/** Nobody can say whether a note that was not recorded was right. */
const NOT_RECORDED_CONFIDENCE = 0.1;

/**
 * What was not heard is not held against the player: a note that is missed, late, short or cracked where the device left
 * sound out counts as right, with low confidence and a flag.
 *
 * @param expectedSec  when each note was due by the player's own beat, seconds from the start of the audio; null unknown
 */
export function forgiveGaps(
  verdicts: readonly NoteVerdict[],
  expectedSec: readonly (number | null)[],
  gaps: readonly Gap[],
): NoteVerdict[] {
  const long = gaps.filter((gap) => gap.toSec - gap.fromSec >= LEAST_GAP_SEC);
  if (long.length === 0) return [...verdicts];
  return verdicts.map((note, i) => {
    if (!blamed(note)) return note;
    const from = note.onset ?? expectedSec[i] ?? null;
    const to = note.offset ?? from;
    if (from === null || to === null) return note;
    if (!touchesGap(long, from, to)) return note;
    return {
      ...note,
      verdict: "ok",
      kind: null,
      timing: note.timing === null ? null : "ok",
      length: note.length === null ? null : "ok",
      flags: ["not-recorded"],
      confidence: NOT_RECORDED_CONFIDENCE,
    };
  });
}

/** Whether the device kept the sound of a note: else nothing is said of it. */
export function wasRecorded({ flags }: Pick<NoteVerdict, "flags">): boolean {
  return !flags.includes("not-recorded");
}

/**
 * What was heard beside the notes, without what the device did itself: sound that comes back after it was left out looks like an attack,
 * and what was left out like a pause or an early end.
 */
export function besideGaps<T extends Pick<Assessment, "extras" | "breaks">>(
  { extras, breaks }: T,
  gaps: readonly Gap[] = [],
): Pick<Assessment, "extras" | "breaks"> {
  return {
    extras: extras.filter(({ onset }) => !touchesGap(gaps, onset, onset)),
    breaks: breaks.filter(
      ({ kind, atSec, seconds }) => kind === "restart" || !liesInGaps(gaps, atSec, atSec + seconds),
    ),
  };
}

/** Whether the device left sound out in a stretch, or so near that it is not heard well. */
export function touchesGap(gaps: readonly Gap[], fromSec: number, toSec: number): boolean {
  return gaps.some((gap) => fromSec < gap.toSec + EDGE_SEC && toSec > gap.fromSec - EDGE_SEC);
}

/** Whether a stretch is silent because the device left most of it out. */
export function liesInGaps(gaps: readonly Gap[], fromSec: number, toSec: number): boolean {
  const unheard = gaps.reduce(
    (sum, gap) =>
      sum + Math.max(0, Math.min(toSec, gap.toSec + EDGE_SEC) - Math.max(fromSec, gap.fromSec - EDGE_SEC)),
    0,
  );
  return unheard > 0 && unheard >= MOSTLY * (toSec - fromSec);
}

/** What stands for sound that was left out is nothing at all; its edges ring for so long where the rate was changed, seconds. */
const NOTHING = { level: 0.002, edgeSec: 0.004 };

/**
 * Gaps that can be: where a recorder leaves sound out it writes silence. What a sender says of a recording that goes on there, or has ended
 * before, is not believed, or a wrong note could be declared away, and all that was never played.
 */
export function silentGaps({ samples, sampleRate }: Pcm, gaps: readonly Gap[]): Gap[] {
  const endSec = samples.length / sampleRate + EDGE_SEC;
  return gaps.filter(({ fromSec, toSec }) => {
    if (toSec > endSec) return false;
    const from = Math.round(Math.max(0, fromSec + NOTHING.edgeSec) * sampleRate);
    const to = Math.round((toSec - NOTHING.edgeSec) * sampleRate);
    return samples.subarray(from, to).every((sample) => Math.abs(sample) < NOTHING.level);
  });
}

/** How much of a recording lies in gaps, each moment counted once, seconds. */
export function gapSeconds(gaps: readonly Gap[], endSec: number): number {
  let [sum, heardTo] = [0, 0];
  for (const { fromSec, toSec } of gaps.toSorted((a, b) => a.fromSec - b.fromSec)) {
    const end = Math.min(toSec, endSec);
    sum += Math.max(0, end - Math.max(fromSec, heardTo));
    heardTo = Math.max(heardTo, end);
  }
  return sum;
}

/** The gaps of a recording as they stand in a stretch of it: in seconds from its beginning, those that reach into it. */
export function gapsWithin(
  gaps: readonly Gap[],
  fromSec: number,
  toSec: number = Number.POSITIVE_INFINITY,
): Gap[] {
  return gaps
    .filter((gap) => gap.toSec > fromSec && gap.fromSec < toSec)
    .map((gap) => ({ fromSec: gap.fromSec - fromSec, toSec: gap.toSec - fromSec }));
}

/** Something is held against the player here. */
function blamed({ verdict, timing, length, flags }: NoteVerdict): boolean {
  const inTime = timing !== "early" && timing !== "late" && length !== "short" && length !== "long";
  return verdict !== "ok" || !inTime || flags.length > 0;
}

/**
 * When each note was due: between the notes that were heard by the line through their neighbours, before and after them at
 * the beat given.
 *
 * @example
 * dueTimes(
 *   [{ onsetQuarters: 0 }, { onsetQuarters: 1 }, { onsetQuarters: 2 }],
 *   [{ onset: 0.5 }, { onset: null }, { onset: 1.7 }],
 *   0.6,
 * ) // => [0.5, 1.1, 1.7]
 */
export function dueTimes(
  notes: readonly Pick<SoundingNote, "onsetQuarters">[],
  verdicts: readonly Pick<NoteVerdict, "onset">[],
  secPerQuarter: number,
): (number | null)[] {
  const heard = verdicts.flatMap(({ onset }, i) =>
    onset === null ? [] : [{ quarters: notes[i]!.onsetQuarters, sec: onset }],
  );
  return notes.map(({ onsetQuarters: at }) => {
    const before = heard.findLast(({ quarters }) => quarters <= at);
    const after = heard.find(({ quarters }) => quarters >= at);
    if (before && after) {
      const span = after.quarters - before.quarters;
      return span === 0
        ? before.sec
        : before.sec + ((at - before.quarters) / span) * (after.sec - before.sec);
    }
    const near = before ?? after;
    return near ? near.sec + (at - near.quarters) * secPerQuarter : null;
  });
}
