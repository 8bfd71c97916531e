import type { Pcm } from "../audio";
import { type Instrument, instrumentById, parsePitch, pitchToMidi } from "../music";
import { type Score, type Timeline, timeline } from "../score";
import { type Alignment, align } from "./align";
import { listenByEar } from "./by-ear";
import { extractFeatures, type Features, followFeatures, type PitchReach } from "./features";
import { dueTimes, forgiveGaps } from "./gaps";
import {
  isHum,
  isTalk,
  isThisLine,
  isThisRhythm,
  isTooQuiet,
  isVoice,
  mostlyBars,
  soundsLikeMusic,
  strokesOnBars,
} from "./gates";
import { judge } from "./judge";
import { contourOf, heldTones, judgeLongTones, longestSound, measureLongTone } from "./long-tone";
import { lasting, pitchedSegments, type Segment } from "./segments";
import { circularMean, percentile, round } from "./statistics";
import { barSegments, struckSegments } from "./strikes";
import { tuningByName, writtenChanges } from "./summary";
import { stillness, tapSegments } from "./taps";
import type { Assessment, AssessOptions, Gap, Mode, NoteVerdict, TakeStatus } from "./types";

/** Raised whenever a change can alter a verdict; stored with every assessment. */
export const ENGINE_VERSION = "1.9.0";

/** A take longer than this is refused, seconds. */
export const LONGEST_TAKE_SEC = 900;

/** What the stages between sound and verdict made; `segments` in sounding pitch, before the take's tuning is taken off. */
export interface Trace {
  features: Features;
  segments: readonly Segment[];
  alignment: Alignment;
}
export type Watch = (trace: Trace) => void;

/** A sound with a pitch lasts this long before anything is said of it, seconds. */
const LEAST_SOUND_SEC = 0.5;
/** A siren glides for longer than a word, seconds. */
const LEAST_GLIDE_SEC = 1.2;

/**
 * Assesses one recording of one part.
 *
 * @param score    one part in written pitch with its transposition (or a concert score)
 * @param pcm      the take, mono, any rate from 8 to 96 kHz, up to 15 minutes
 * @param options  mode, tempo, tolerances
 * @param watch    is handed what the stages made of a melody, for the developers' page
 * A catalogued line, whose notes stand in a book only, is answered with rhythm, level and tuning (`byEar`).
 * @throws RangeError when any other score has no sounding note or the take is over 15 minutes
 * The meaning of every field is fixed in docs/listening.md.
 */
export function assess(score: Score, pcm: Pcm, options: AssessOptions = {}, watch?: Watch): Assessment {
  const plan = planFor(score, options);
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

/** What is asked of a take before it is heard. */
interface Plan {
  score: Score;
  line: Timeline;
  mode: Mode;
  onBars: boolean;
  /** What its sound is listened to for at first; null for attacks alone. */
  reach: PitchReach | null;
}

function planFor(score: Score, options: AssessOptions): Plan {
  const line = timeline(score, {
    ...(options.bpm ? { bpm: options.bpm } : {}),
    ...(options.withoutRepeats ? { withoutRepeats: true } : {}),
  });
  if (line.notes.length === 0 && !score.catalogued) throw new RangeError("The score has no sounding note");
  const mode: Mode = options.mode ?? (line.notes.every((note) => note.midi === null) ? "rhythm" : "melody");
  const instrument = options.instrumentId === undefined ? null : instrumentById(options.instrumentId);
  const onBars = instrument?.family === "mallets";
  const struck = score.parts[0].clef === "percussion" || instrument?.ranges === null;
  const reach = score.catalogued
    ? struck
      ? null
      : wholeReach(instrument)
    : mode === "rhythm"
      ? null
      : pitchReach(line, onBars);
  return { score, line, mode, onBars, reach };
}

/** Features of a take, as far as a reach needs them. */
type Listen = (reach: PitchReach | null) => Features;

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

function assessMelody(
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
      tempoBpm: round(60 / (judged.beat.secPerQuarter * line.beatQuarters), 1),
      driftPercent: round(judged.beat.driftPercent, 1),
      tuningCents: round(100 * tuning - reference, 1),
      flags: [
        ...(octave === 0 ? [] : ["octave" as const]),
        ...(judged.bleed ? ["reference-bleed" as const] : []),
      ],
    },
    notes,
    extras: judged.extras,
    breaks: judged.breaks,
    tuning: tuningByName(line.notes, notes),
    dynamics: writtenChanges(score, line.notes, notes),
  };
}

/** How far the A that cents are told from lies above 440 Hz, cents. */
function referenceCents({ a4Hz = 440 }: AssessOptions): number {
  return 1200 * Math.log2(a4Hz / 440);
}

function withoutGaps(
  line: Timeline,
  verdicts: readonly NoteVerdict[],
  secPerQuarter: number,
  { gaps }: AssessOptions,
): readonly NoteVerdict[] {
  return gaps?.length ? forgiveGaps(verdicts, dueTimes(line.notes, verdicts, secPerQuarter), gaps) : verdicts;
}

/** Without notes there is rhythm, level and tuning to speak of, and nothing else. */
function assessByEar({ line, reach }: Plan, listen: Listen, options: AssessOptions): Assessment {
  const features = listen(reach);
  if (isTooQuiet(features)) return unassessed("too-quiet");
  const segments = !reach
    ? struckSegments(features)
    : reach.struckBars
      ? barSegments(features, reach)
      : pitchedSegments(features);
  if (
    !reach
      ? segments.length < 2
      : reach.struckBars
        ? !strokesOnBars(segments)
        : !soundsLikeMusic(segments, features)
  )
    return unassessed("no-music");
  const byEar = listenByEar(segments, features, line.bpm);
  return {
    ...unassessed("assessed"),
    take: {
      status: "assessed",
      tempoBpm: byEar.tempoBpm,
      driftPercent: null,
      tuningCents: reach === null ? null : round(100 * ownTuning(segments) - referenceCents(options), 1),
      flags: [],
    },
    byEar: { ...byEar, soundingSec: round(byEar.soundingSec, 1) },
  };
}

/** Everything a player of the instrument could sound. */
function wholeReach(instrument: Instrument | null): PitchReach {
  const [low, high] = instrument?.ranges?.secondYear ?? ["Bb1", "C7"];
  const sounds = instrument?.soundsBy.semitones ?? 0;
  return {
    lowest: pitchToMidi(parsePitch(low)) + sounds - 5,
    highest: pitchToMidi(parsePitch(high)) + sounds + 5,
    struckBars: instrument?.family === "mallets",
  };
}

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

function assessRhythm(line: Timeline, features: Features, options: AssessOptions): Assessment {
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
      tempoBpm: round(60 / (judged.beat.secPerQuarter * line.beatQuarters), 1),
      driftPercent: round(judged.beat.driftPercent, 1),
      tuningCents: null,
      flags: [],
    },
    notes: [...withoutGaps(line, judged.notes, judged.beat.secPerQuarter, options)],
    extras: judged.extras,
    breaks: judged.breaks,
  };
}

function assessLongTones(
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

function unassessed(status: TakeStatus): Assessment {
  return {
    engineVersion: ENGINE_VERSION,
    take: { status, tempoBpm: null, driftPercent: null, tuningCents: null, flags: [] },
    notes: [],
    extras: [],
    breaks: [],
    longTone: null,
  };
}

/** From a ninth below to a ninth above the line, so that a wrong octave is still heard as one. */
function pitchReach(line: Timeline, struckBars: boolean): PitchReach {
  const midis = line.notes.map((note) => note.midi ?? 60);
  return {
    lowest: Math.min(...midis) - 13,
    highest: Math.max(...midis) + 13,
    struckBars,
    expected: [...new Set(midis)],
  };
}

/** The take's own tuning in semitones, -0.5 to 0.5: the circular mean of distances to the nearest semitone, by duration. */
function ownTuning(segments: readonly Segment[]): number {
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
