import type { Pcm } from "../audio";
import { midiToHz } from "../music";
import { hann } from "./spectrum";
import { median } from "./statistics";

/** Partials of a note that are followed, up to a frequency, Hz: higher ones of an instrument add nothing in a room. */
const PARTIALS = { most: 5, highestHz: 5000 };
/** A partial nearer to one of the notes beside it than so many bins of a frame is not the note's own. */
const APART_BINS = 1.6;

/** How partials are followed: a frame every so many seconds, of so many periods and at least so long; from when to when around a moment, the loudest from where on. */
interface Following {
  hopSec: number;
  periods: number;
  leastSec: number;
  beforeSec: number;
  loudestFromSec: number;
  afterSec: number;
}
/** Short frames, to say when; long ones, to say whether, of low notes and in noise too. */
const WHEN: Following = {
  hopSec: 0.005,
  periods: 3,
  leastSec: 0.03,
  beforeSec: 0.26,
  loudestFromSec: 0.05,
  afterSec: 0.14,
};
const WHETHER: Following = {
  hopSec: 0.01,
  periods: 7,
  leastSec: 0.05,
  beforeSec: 0.3,
  loudestFromSec: 0.1,
  afterSec: 0.3,
};
/**
 * A note has begun where its partials come within so many dB of their loudest, and they have to rise by so many out of what rings.
 * In the combined bench (tiled room, soft attacks) 13 notes in 100 are more than 50 ms off at 12 dB, 25 at 6 dB, 50 without this.
 */
const BEGUN = { withinDb: 12, riseDb: 15 };

/**
 * When a note begins to sound while another still rings: by the partials that are its own, which the note before does not have. A room
 * fills the dip between two notes, not the place where a new pitch starts.
 *
 * @param midi       sounding pitch of the note, and of the one before it; at least half a semitone apart
 * @param aroundSec  where the note was found, seconds
 * @returns seconds; null where no partial is its own or none of them rises clearly
 */
export function partialOnset(sound: Pcm, midi: number, before: number, aroundSec: number): number | null {
  const rise = follow(sound, midi, [before], aroundSec, WHEN);
  return rise && rise.riseDb >= BEGUN.riseDb && rise.begun ? rise.sec : null;
}

/** How the partials of a note that are its own rise around a moment. */
export interface PartialRise {
  /** Where they come near their loudest, seconds. */
  sec: number;
  riseDb: number;
  /** Their loudest, dB full scale. */
  levelDb: number;
}

/**
 * Whether a note begins to sound around a moment, however softly, in noise or under what rings.
 *
 * @param midi    its sounding pitch
 * @param beside  sounding pitches of the notes before and after it
 * @returns null where no partial is its own, or the moment lies before the sound
 */
export function partialRise(
  sound: Pcm,
  midi: number,
  beside: readonly number[],
  aroundSec: number,
): PartialRise | null {
  return follow(sound, midi, beside, aroundSec, WHETHER);
}

/** A sound lasts while its partials are within so many dB of their middle level, holes of so long left aside, seconds. */
const LASTS = { withinDb: 10, holeSec: 0.08, beginsSec: 0.04 };

/**
 * Until when a note sounds, by the partials that are its own: a room rings longer, and noise cuts the pitch off earlier.
 *
 * @param midi       its sounding pitch
 * @param beside     sounding pitches of the notes before and after it
 * @param bodyToSec  up to when it surely sounds, from `fromSec` on; seconds
 * @param limitSec   it is not looked for later
 * @param withinDb   how far below the middle level of its body it still sounds
 * @returns seconds; null where no partial is its own
 */
export function soundsUntil(
  sound: Pcm,
  midi: number,
  beside: readonly number[],
  [fromSec, bodyToSec, limitSec]: readonly [number, number, number],
  withinDb = LASTS.withinDb,
): number | null {
  const hz = midiToHz(midi);
  const size = frameSize(hz, sound.sampleRate, WHETHER);
  const own = ownPartials(hz, beside, sound.sampleRate, size);
  if (own.length === 0) return null;
  const { hopSec } = WHETHER;
  const begin = Math.min(fromSec + LASTS.beginsSec, bodyToSec);
  const frames = Math.max(1, Math.floor((limitSec - begin) / hopSec));
  const levels = levelsOf(sound, own, size, begin, frames, hopSec);
  const body = Math.max(1, Math.round((bodyToSec - begin) / hopSec));
  const least = median(levels.subarray(0, body)) - withinDb;
  let last = 0;
  for (let f = 0; f < frames && f - last <= LASTS.holeSec / hopSec; f++) if (levels[f]! >= least) last = f;
  return begin + (last + 1) * hopSec;
}

/**
 * How loud the two lowest partials of a note are together, frame after frame.
 *
 * @param midi  its sounding pitch
 * @returns dB, one value every `hopSec` seconds from `fromSec` on; none where the stretch is shorter than that
 */
export function lowPartials(
  sound: Pcm,
  midi: number,
  fromSec: number,
  toSec: number,
): { levels: Float64Array; hopSec: number } {
  const hz = midiToHz(midi);
  const hopSec = 2 * WHEN.hopSec;
  const frames = Math.max(0, Math.floor((toSec - fromSec) / hopSec));
  const size = frameSize(hz, sound.sampleRate, WHEN);
  return { levels: levelsOf(sound, [hz, 2 * hz], size, fromSec, frames, hopSec), hopSec };
}

function frameSize(hz: number, sampleRate: number, { leastSec, periods }: Following): number {
  return Math.round(sampleRate * Math.max(leastSec, periods / hz));
}

function follow(
  sound: Pcm,
  midi: number,
  beside: readonly number[],
  aroundSec: number,
  how: Following,
): (PartialRise & { begun: boolean }) | null {
  const hz = midiToHz(midi);
  const size = frameSize(hz, sound.sampleRate, how);
  const own = ownPartials(hz, beside, sound.sampleRate, size);
  if (own.length === 0) return null;
  const fromSec = Math.max(0, aroundSec - how.beforeSec);
  const frames = Math.floor((aroundSec + how.afterSec - fromSec) / how.hopSec);
  if (frames < 1) return null;
  const levels = levelsOf(sound, own, size, fromSec, frames, how.hopSec);
  let top = Math.max(
    0,
    Math.min(frames - 1, Math.round((aroundSec - how.loudestFromSec - fromSec) / how.hopSec)),
  );
  for (let f = top; f < frames; f++) if (levels[f]! > levels[top]!) top = f;
  let low = top;
  for (let f = top; f >= 0; f--) if (levels[f]! < levels[low]!) low = f;
  let begun = top;
  while (begun > 0 && levels[begun - 1]! > levels[top]! - BEGUN.withinDb) begun--;
  return {
    sec: fromSec + begun * how.hopSec,
    riseDb: levels[top]! - levels[low]!,
    levelDb: levels[top]! - 20 * Math.log10(size),
    begun: begun > 0,
  };
}

/** Partials of a note that no note beside it has, Hz; those are given as MIDI numbers. */
function ownPartials(hz: number, beside: readonly number[], sampleRate: number, size: number): number[] {
  const besideHz = beside.map((each) => midiToHz(each));
  const apartHz = (APART_BINS * sampleRate) / size;
  const own: number[] = [];
  for (let k = 1; k <= PARTIALS.most && k * hz < Math.min(PARTIALS.highestHz, 0.45 * sampleRate); k++) {
    const shared = besideHz.some(
      (other) => Math.abs(k * hz - other * Math.max(1, Math.round((k * hz) / other))) <= apartHz,
    );
    if (!shared) own.push(k * hz);
  }
  return own;
}

/** Power of some frequencies together, dB, frame after frame: Goertzel's recursion under a Hann window. */
function levelsOf(
  { samples, sampleRate }: Pcm,
  partialsHz: readonly number[],
  size: number,
  fromSec: number,
  frames: number,
  hopSec: number,
): Float64Array {
  const power = new Float64Array(frames);
  const windowed = new Float64Array(size);
  const turns = partialsHz.map((hz) => 2 * Math.cos((2 * Math.PI * hz) / sampleRate));
  const window = hann(size);
  for (let f = 0; f < frames; f++) {
    const start = Math.round((fromSec + f * hopSec) * sampleRate) - (size >> 1);
    for (let i = 0; i < size; i++) windowed[i] = (samples[start + i] ?? 0) * window[i]!;
    for (let k = 0; k < turns.length; k += 2) power[f]! += powerOfPair(windowed, turns[k]!, turns[k + 1]);
  }
  return power.map((each) => 10 * Math.log10(each + 1e-12));
}

/** Two frequencies at once: each step of the recursion waits for the one before, the other's is done meanwhile. */
function powerOfPair(windowed: Float64Array, turn: number, other: number | undefined): number {
  const turn2 = other ?? 0;
  let [a, b, a2, b2] = [0, 0, 0, 0];
  for (let i = 0; i < windowed.length; i++) {
    const value = windowed[i]!;
    const next = value + turn * a - b;
    const next2 = value + turn2 * a2 - b2;
    b = a;
    a = next;
    b2 = a2;
    a2 = next2;
  }
  const first = a * a + b * b - turn * a * b;
  return other === undefined ? first : first + a2 * a2 + b2 * b2 - turn2 * a2 * b2;
}
