import type { Timeline } from "../score";
import type { Features } from "./features";
import { isTalk, soundsLikeMusic } from "./gates";
import { contourOf, heldTones, judgeLongTones, longestSound, measureLongTone } from "./long-tone";
import { withoutGaps } from "./melody-take";
import { referenceCents } from "./plan";
import { lasting, type Segment } from "./segments";
import { percentile, round } from "./statistics";
import type { Assessment, AssessOptions } from "./types";
import { unassessed } from "./unassessed";

/** A sound with a pitch lasts this long before anything is said of it, seconds. */
const LEAST_SOUND_SEC = 0.5;
/** A siren glides for longer than a word, seconds. */
const LEAST_GLIDE_SEC = 1.2;

export function assessLongTones(
  line: Timeline,
  segments: readonly Segment[],
  features: Features,
  options: AssessOptions,
): Assessment {
  const { gaps = [] } = options;
  const held = heldTones(segments, gaps);
  const tones = held.map(({ tone }) => tone);
  const verdicts = judgeLongTones(
    line.notes,
    tones,
    options.pitchToleranceCents ?? 50,
    referenceCents(options),
  );
  const longest = held.reduce<(typeof held)[number] | undefined>(
    (best, each) => (!best || lasting(each.tone) > lasting(best.tone) ? each : best),
    undefined,
  );
  const sound = longestSound(features);
  const talk = isTalk(segments) || !soundsLikeMusic(segments, features);
  if (sound.toSec - sound.fromSec < (talk ? LEAST_GLIDE_SEC : LEAST_SOUND_SEC)) return unassessed("no-music");
  // A siren holds no pitch; it is measured as one sound.
  const measured = longest ?? { tone: glidingTone(features, sound), cracked: false };
  return {
    ...unassessed("assessed"),
    notes: [...withoutGaps(line, verdicts, line.measures[0]?.secPerQuarter ?? 1, options)],
    longTone: {
      ...measureLongTone(features, measured.tone, measured.cracked, gaps),
      contour: contourOf(line.notes, tones),
    },
    tones: held.map(({ tone, cracked }) => {
      const { seconds, pitchSdCents, levelSdDb, attack } = measureLongTone(features, tone, cracked, gaps);
      return { onset: round(tone.onsetSec, 3), seconds, pitchSdCents, levelSdDb, attack };
    }),
  };
}

function glidingTone(features: Features, { fromSec, toSec }: { fromSec: number; toSec: number }): Segment {
  const { midi, pitchHopSec } = features;
  const pitches = midi.subarray(Math.round(fromSec / pitchHopSec), Math.round(toSec / pitchHopSec) + 1);
  return {
    onsetSec: fromSec,
    offsetSec: toSec,
    midi: percentile(pitches, 50),
    spread: 0,
    glide: 0,
    peakDb: 0,
    attackDb: 0,
    dipDb: 0,
    gapSec: fromSec,
    clarity: 1,
    rivals: [],
    seams: [],
  };
}
