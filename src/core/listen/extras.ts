import type { SoundingNote } from "../score";
import type { Match } from "./align";
import { SAME_SOUND } from "./blemishes";
import type { Heard } from "./heard";
import { continues, type Segment, usualPeakDb } from "./segments";
import { round } from "./statistics";
import type { Assessment } from "./types";

/** Shorter than this, a sound beside a note of its pitch is that note's edge. */
const EDGE_SEC = 0.16;
/**
 * What makes a sound an extra note: it lasts, seconds; it has a clear and steady pitch, which does not glide, semitones and semitones a
 * second; it is begun, and it is nearly as loud as the take's notes, dB ("extras invented" of the combined bench: a television, the end of a
 * breath, what automatic gain turns up, 138 of 143 in the looked-at takes without this). On the pitch of the sound before it, and without a
 * pause, it has to come out of a dip: some sounds throb.
 */
const EXTRA = {
  least: 0.18,
  clarity: 0.8,
  spread: 0.14,
  glide: 3,
  attackDb: 6.5,
  softerDb: 9,
  pauseSec: 0.06,
  dipDb: 13,
};

/** A soft beginning or a flicker of the release: short, and it touches a stretch of the same pitch. */
function isEdge(short: Segment, beside: Segment | undefined): boolean {
  if (!beside || short.midi === null || beside.midi === null) return false;
  const apart = Math.max(short.onsetSec - beside.offsetSec, beside.onsetSec - short.offsetSec);
  return (
    short.offsetSec - short.onsetSec < EDGE_SEC && apart < 0.05 && Math.abs(short.midi - beside.midi) < 0.6
  );
}

/** Whether a sound nobody wrote is plainly a note of its own. */
function isExtra(
  segment: Segment,
  before: Segment | undefined,
  after: Segment | undefined,
  usualDb: number,
): boolean {
  if (segment.midi === null) return !segment.foreign;
  if (segment.peakDb < usualDb - EXTRA.softerDb) return false;
  if (segment.offsetSec - segment.onsetSec < EXTRA.least) return false;
  if (segment.clarity < EXTRA.clarity || segment.spread > EXTRA.spread) return false;
  if (Math.abs(segment.glide) > EXTRA.glide || segment.attackDb < EXTRA.attackDb) return false;
  if (isEdge(segment, before) || isEdge(segment, after) || continues(segment, before)) return false;
  // The sound before going on, on its pitch or heard an octave or a twelfth off, unless a new attack says otherwise.
  return ![before, after].some((beside) => {
    if (!beside?.midi) return false;
    const gap = beside === before ? segment.gapSec : beside.gapSec;
    const dip = beside === before ? segment.dipDb : beside.dipDb;
    const away = Math.abs(segment.midi! - beside.midi);
    const related = [0, ...SAME_SOUND].some((each) => Math.abs(away - each) < 0.8);
    return related && gap < EXTRA.pauseSec && dip < EXTRA.dipDb;
  });
}

/** A stroke goes on in the beat when it comes after one of the gaps that are written, within so much of it, or so many seconds. */
const GOES_ON = { share: 0.12, sec: 0.06 };

/** Strokes behind the last one that go on in the player's own beat: nine instead of eight, or the rhythm twice. */
export function strokesBeyond(
  notes: readonly SoundingNote[],
  segments: readonly Segment[],
  matches: readonly Match[],
  secPerQuarter: number,
): Assessment["extras"] {
  const last = matches.findLast(({ note }) => note === notes.length - 1);
  if (!last) return [];
  const written = notes.map(
    ({ onsetQuarters, durationQuarters }, i) =>
      secPerQuarter * ((notes[i + 1]?.onsetQuarters ?? onsetQuarters + durationQuarters) - onsetQuarters),
  );
  const within = (gap: number) => Math.max(GOES_ON.sec, GOES_ON.share * gap);
  const longest = Math.max(...written);
  const usualDb = usualPeakDb(matches.map(({ segment }) => segments[segment]!));
  const beyond: Segment[] = [];
  for (const stroke of segments.slice(last.segment + 1)) {
    const gap = stroke.onsetSec - (beyond.at(-1) ?? segments[last.segment]!).onsetSec;
    if (gap > longest + within(longest)) break;
    if (stroke.foreign || stroke.peakDb < usualDb - EXTRA.softerDb) continue;
    if (written.some((each) => Math.abs(gap - each) <= within(each))) beyond.push(stroke);
  }
  return beyond.map(({ onsetSec }) => ({ onset: round(onsetSec, 3), midi: null }));
}

export function extraNotes(
  matches: readonly Match[],
  segments: readonly Segment[],
  heard: readonly (Heard | undefined)[],
  tuningCents: number,
): Assessment["extras"] {
  const used = new Set(matches.map((match) => match.segment));
  const usualDb = usualPeakDb([...used].map((j) => segments[j]!));
  const first = Math.min(...used);
  const last = Math.max(...used);
  // What led to a note belongs to it: a crack, a wrong start that was put right.
  const starts = new Set(
    heard.flatMap((each) =>
      each && (each.cracked || each.corrected !== null) ? [each.segmentIndex - 1] : [],
    ),
  );
  return segments.flatMap((segment, j) => {
    if (used.has(j) || j < first || j > last || starts.has(j)) return [];
    if (!isExtra(segment, segments[j - 1], segments[j + 1], usualDb)) return [];
    if (heard.some((each) => each && segment.onsetSec > each.onsetSec && segment.offsetSec <= each.offsetSec))
      return [];
    return [
      {
        onset: round(segment.onsetSec, 3),
        midi: segment.midi === null ? null : round(segment.midi + tuningCents / 100, 2),
      },
    ];
  });
}
