import type { Pcm } from "../audio";
import type { Score } from "../score";
import { assessByEar } from "./by-ear-take";
import { pitchedSegments } from "./cutting";
import { extractFeatures, followFeatures, type PitchReach } from "./features";
import { isHum, isTalk, isTooQuiet, isVoice, mostlyBars, soundsLikeMusic, strokesOnBars } from "./gates";
import { assessLongTones } from "./long-tone-take";
import { assessMelody, type Watch } from "./melody-take";
import { checkRate, type Listen, type Plan, pitchReach, planFor } from "./plan";
import { assessRhythm } from "./rhythm-take";
import { barSegments } from "./strikes";
import type { Assessment, AssessOptions, Gap } from "./types";
import { unassessed } from "./unassessed";

/** A take longer than this is refused, seconds. */
export const LONGEST_TAKE_SEC = 900;

/**
 * Assesses one recording of one part.
 *
 * @param score    one part in written pitch with its transposition (or a concert score)
 * @param pcm      the take, mono, any rate from 8 to 192 kHz, up to 15 minutes
 * @param options  mode, tempo, tolerances
 * @param watch    is handed what the stages made of a melody, for the developers' page
 * A catalogued line, whose notes stand in a book only, is answered with rhythm, level and tuning (`byEar`).
 * @throws RangeError when any other score has no sounding note, the take is over 15 minutes, or a rate, tempo or tolerance is out of range
 * The meaning of every field is fixed in docs/listening.md.
 */
export function assess(score: Score, pcm: Pcm, options: AssessOptions = {}, watch?: Watch): Assessment {
  const plan = planFor(score, options);
  checkRate(pcm.sampleRate);
  if (pcm.samples.length > LONGEST_TAKE_SEC * pcm.sampleRate)
    throw new RangeError("The take is longer than 15 minutes");
  const sound = playable(pcm);
  return assessHeard(plan, (reach) => extractFeatures(sound, reach), options, watch);
}

/** A take that is heard while it is recorded. */
export interface TakeFollower {
  /** The next samples, in blocks of any size. */
  add(block: Float32Array): void;
  /**
   * Nothing comes any more.
   * @param gaps  what the device left out, known at the end only
   * @returns null where the sound has to be heard anew as a whole: its offset was not what it began with
   */
  end(gaps?: readonly Gap[]): Assessment | null;
}

/** The offset of a sound is taken from so much of its beginning, seconds. */
const OFFSET_SEC = 0.5;
/** A smaller one changes nothing. */
const LEAST_OFFSET = 1e-4;

/**
 * Hears a take while it is recorded, so that the answer comes soon after its end: features are made on the way, what is left
 * is finding and judging the notes. The answer is that of `assess` to all of it.
 *
 * @param sampleRate  of what comes, Hz
 * @throws RangeError as `assess` does; a take over 15 minutes is answered with null
 */
export function followTake(score: Score, sampleRate: number, options: AssessOptions = {}): TakeFollower {
  const plan = planFor(score, options);
  checkRate(sampleRate);
  const followed = plan.reach;
  const follower = followFeatures(sampleRate, followed);
  let begun: Float32Array[] | null = [];
  let [samples, sum, taken] = [0, 0, 0];
  const pass = (block: Float32Array) => follower.add(withoutOffset(block, taken));
  const begin = () => {
    taken = offsetOf(sum, samples);
    for (const block of begun ?? []) pass(block);
    begun = null;
  };
  return {
    add(block) {
      if (samples > LONGEST_TAKE_SEC * sampleRate) return;
      const sound = withoutOffset(block, 0);
      for (const sample of sound) sum += sample;
      samples += sound.length;
      if (begun === null) return pass(sound);
      begun.push(sound);
      if (samples >= OFFSET_SEC * sampleRate) begin();
    },
    end(gaps) {
      if (begun !== null) begin();
      const features = follower.end();
      if (samples > LONGEST_TAKE_SEC * sampleRate || Math.abs(offsetOf(sum, samples) - taken) > LEAST_OFFSET)
        return null;
      // What else the judging asks for is heard in the same sound.
      const listen = (reach: PitchReach | null) =>
        reach === followed ? features : extractFeatures(features.sound, reach);
      return assessHeard(plan, listen, gaps?.length ? { ...options, gaps: [...gaps] } : options);
    },
  };
}

function assessHeard(plan: Plan, listen: Listen, options: AssessOptions, watch?: Watch): Assessment {
  if (plan.score.catalogued) return assessByEar(plan, listen, options);
  if (plan.mode === "rhythm") {
    const features = listen(plan.reach);
    if (isTooQuiet(features)) return unassessed("too-quiet");
    const answer = assessRhythm(plan.line, features, options);
    return answer.take.status === "no-match" && isVoice(listen) ? unassessed("no-music") : answer;
  }
  const answer = assessPitched(plan, listen, options, watch);
  if (
    options.instrumentId !== undefined ||
    plan.mode !== "melody" ||
    !["no-music", "no-match"].includes(answer.take.status)
  )
    return answer;
  // Nobody said what is played: bells make no sense to an ear for winds.
  const asBars = { ...plan, onBars: true, reach: pitchReach(plan.line, true) };
  const bars = assessPitched(asBars, listen, options, watch);
  return bars.take.status === "assessed" ? bars : answer;
}

function assessPitched(
  { score, line, mode, onBars, reach }: Plan,
  listen: Listen,
  options: AssessOptions,
  watch: Watch | undefined,
): Assessment {
  const features = listen(reach);
  if (isTooQuiet(features)) return unassessed("too-quiet");
  const segments = onBars ? barSegments(features, reach!) : pitchedSegments(features);
  if (mode === "longtone") return assessLongTones(line, segments, features, options);
  if (!(onBars ? strokesOnBars(segments) : soundsLikeMusic(segments, features)))
    return unassessed("no-music");
  const answer = assessMelody(score, line, segments, features, options, watch);
  // What is not this line may be no music at all.
  const foreign =
    answer.take.status === "no-match" &&
    (onBars ? !mostlyBars(segments) : isTalk(segments) || isHum(segments));
  return foreign ? unassessed("no-music") : answer;
}

/** The take without what no microphone means: values that are no numbers, a constant offset. */
function playable({ samples, sampleRate }: Pcm): Pcm {
  return { samples: withoutOffset(samples, offsetOf(sumOf(samples), samples.length)), sampleRate };
}

/** @returns 0 for what is too small to matter */
function offsetOf(sum: number, samples: number): number {
  const offset = sum / Math.max(1, samples);
  return Math.abs(offset) < LEAST_OFFSET ? 0 : offset;
}

/** Of all values that are numbers. */
function sumOf(samples: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += samples[i]!;
  if (Number.isFinite(sum)) return sum;
  sum = 0;
  for (const sample of samples) if (Number.isFinite(sample)) sum += sample;
  return sum;
}

/** The same array where there is nothing to take away. */
function withoutOffset(samples: Float32Array, offset: number): Float32Array {
  // What is no number spoils the sum.
  let sum = 0;
  for (let i = 0; i < samples.length; i++) sum += samples[i]!;
  if (offset === 0 && Number.isFinite(sum)) return samples;
  const clean = new Float32Array(samples.length);
  for (let i = 0; i < samples.length; i++) if (Number.isFinite(samples[i])) clean[i] = samples[i]! - offset;
  return clean;
}
