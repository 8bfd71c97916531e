/** A stretch that sounds like one note. */
export interface Segment {
  /** Audible attack, or the middle of the pitch change in a slur; seconds. */
  onsetSec: number;
  /** Audible end, seconds. */
  offsetSec: number;
  /** Median pitch of its steady part as a MIDI number; null when unpitched. */
  midi: number | null;
  /** Spread of that pitch in semitones. */
  spread: number;
  /** Which way and how fast it goes on the whole, semitones a second. */
  glide: number;
  /** Highest 5 ms level, dB full scale. */
  peakDb: number;
  /** How marked its attack is: rise in dB out of the dip before it. */
  attackDb: number;
  /** Depth of the dip in level between what sounds before and the note, dB: small in a slur, whatever gets louder. */
  dipDb: number;
  /** Silence before it, seconds. */
  gapSec: number;
  /** Mean periodicity, 0 to 1. */
  clarity: number;
  /** Other pitches it may as well be heard at, in semitones from `midi`: weak odd partials, a strong twelfth. */
  rivals: readonly number[];
  /** Moments inside it where the same pitch may have been struck again, seconds. */
  seams: readonly number[];
  /** A stroke of another sound than the one that is followed: a voice that counts beside claps, a metronome. */
  foreign?: boolean;
}

/** The pitch of a segment as it is best heard for a written note: of its own and its rivals the one nearest to it. */
export function pitchFor(segment: Segment, written: number): number {
  let nearest = segment.midi!;
  for (const rival of segment.rivals)
    if (Math.abs(segment.midi! + rival - written) < Math.abs(nearest - written))
      nearest = segment.midi! + rival;
  return nearest;
}

/** A rise no stronger than this inside one sound may be the sound itself: a tuba's beating, a vibrato, a hall. */
const WEAK_ATTACK_DB = 8;

/** Whether a segment follows the one before on the same pitch without a pause. */
export function onSamePitch(segment: Segment | undefined, before: Segment | undefined): boolean {
  return (
    segment !== undefined &&
    before !== undefined &&
    segment.midi !== null &&
    before.midi !== null &&
    segment.gapSec < 0.06 &&
    Math.abs(segment.midi - before.midi) < 0.6
  );
}

/** Whether a segment may be the one before going on: the same pitch, no silence between, no clear attack. */
export function continues(segment: Segment | undefined, before: Segment | undefined): boolean {
  return onSamePitch(segment, before) && segment!.attackDb < WEAK_ATTACK_DB;
}

/** The contract lets a reference be heard up to about 20 dB below the player; so far below, and a little less, it is not the player. */
const BACKGROUND_DB = 17;

/**
 * Whether a segment is the player's: what lies far below the usual loudness comes from somewhere else, a play-along from
 * earphones or somebody practising next door.
 */
export function nearEnough(segments: readonly Segment[]): (segment: Segment) => boolean {
  const usual = usualPeakDb(segments);
  return (segment) => segment.peakDb > usual - BACKGROUND_DB;
}

/** How long a segment lasts, seconds. */
export function lasting({ onsetSec, offsetSec }: Segment): number {
  return offsetSec - onsetSec;
}

/** The peak level that half of the sounding time reaches, dB full scale. */
export function usualPeakDb(segments: readonly Segment[]): number {
  const byLevel = [...segments].sort((a, b) => b.peakDb - a.peakDb);
  const seconds = (some: readonly Segment[]) => some.reduce((sum, segment) => sum + lasting(segment), 0);
  const half = seconds(byLevel) / 2;
  let sum = 0;
  return byLevel.find((segment) => (sum += lasting(segment)) >= half)?.peakDb ?? 0;
}
