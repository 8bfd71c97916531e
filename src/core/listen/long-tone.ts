import type { SoundingNote } from "../score";
import type { Features } from "./features";
import { liesInGaps, touchesGap } from "./gaps";
import type { Segment } from "./segments";
import { median, percentile, round, standardDeviation, weightedLine } from "./statistics";
import type { Gap, LongTone, NoteVerdict } from "./types";
import { missedNote, placeOf } from "./verdict";

/**
 * Measures a held note: how long, how steady in pitch and level, how clean the start.
 * Pitch and level spread leave out the first 150 ms and the last 100 ms (attack and release are judged apart), and what
 * the device left out.
 */
export function measureLongTone(
  features: Features,
  tone: Segment,
  crackedBefore: boolean,
  gaps: readonly Gap[] = [],
): Omit<LongTone, "contour"> {
  const perFrame = features.pitchHopSec / features.fineHopSec;
  const from = Math.round((tone.onsetSec + 0.15) / features.pitchHopSec);
  const to = Math.max(from + 1, Math.round((tone.offsetSec - 0.1) / features.pitchHopSec));
  const seconds: number[] = [];
  const cents: number[] = [];
  const levels: number[] = [];
  const brightness: number[] = [];
  for (let f = from; f < to && f < features.midi.length; f++) {
    if (features.midi[f] === 0 || Math.abs(features.midi[f]! - tone.midi!) > 1.5) continue;
    const sec = f * features.pitchHopSec;
    if (touchesGap(gaps, sec, sec)) continue;
    seconds.push(sec);
    cents.push(100 * features.midi[f]!);
    const fine = Math.round(f * perFrame);
    levels.push(median(features.levelDb.subarray(fine, fine + 8)));
    brightness.push(median(features.brightHz.subarray(fine, fine + 8)));
  }
  const line = weightedLine(
    seconds,
    cents,
    seconds.map(() => 1),
    0,
    0,
  );
  const length = tone.offsetSec - tone.onsetSec;
  return {
    seconds: round(length, 2),
    pitchSdCents: round(standardDeviation(cents), 1),
    levelSdDb: round(standardDeviation(levels), 2),
    attack: crackedBefore ? "cracked" : "clean",
    pitchDriftCents: round(line.slope * length, 1),
    brightnessSpread: round(standardDeviation(brightness) / Math.max(1, median(brightness)), 3),
    releaseSec: round(releaseOf(features, tone), 2),
    spanSemitones: round(longestSound(features).span, 1),
  };
}

/** From the last moment within 3 dB of the body's level to the end of the sound. */
function releaseOf({ outlineDb, fineHopSec }: Features, tone: Segment): number {
  const end = Math.min(outlineDb.length, Math.round(tone.offsetSec / fineHopSec));
  const body = median(outlineDb.subarray(Math.round((tone.onsetSec + 0.1) / fineHopSec), end));
  let last = end;
  while (last > 0 && outlineDb[last - 1]! < body - 3) last--;
  return (end - last) * fineHopSec;
}

/** A voiced frame of a buzz or a siren may be this unclear. */
const GLIDING_CLARITY = 0.6;
/** A sound goes on over so many frames without pitch. */
const HOLE_FRAMES = 4;

/**
 * The longest sound with a pitch, gliding or not: what can be said of a head joint, a mouthpiece or a buzz before there
 * are notes.
 * @returns its beginning and end in seconds, and its span from the 5th to the 95th percentile of pitch in semitones
 */
export function longestSound(features: Features): { fromSec: number; toSec: number; span: number } {
  const { midi, clarity, pitchHopSec } = features;
  let [best, bestTo] = [0, 0];
  let from = -1;
  let last = -1;
  for (let f = 0; f <= midi.length; f++) {
    const sounds = f < midi.length && midi[f]! > 0 && clarity[f]! >= GLIDING_CLARITY;
    if (sounds && (from < 0 || f - last > HOLE_FRAMES)) from = f;
    if (sounds) last = f;
    if (from >= 0 && last - from > bestTo - best) [best, bestTo] = [from, last];
  }
  const pitches = midi.subarray(best, bestTo + 1).filter((each) => each > 0);
  return {
    fromSec: best * pitchHopSec,
    toSec: bestTo * pitchHopSec,
    span: percentile(pitches, 95) - percentile(pitches, 5),
  };
}

/** How many of the steps between asked notes were played the right way: up, down or the same. Pitches need not be right. */
export function contourOf(notes: readonly SoundingNote[], tones: readonly Segment[]): LongTone["contour"] {
  if (notes.length < 2 || notes.some((note) => note.midi === null)) return null;
  const way = (from: number, to: number) => (Math.abs(to - from) < 0.6 ? 0 : Math.sign(to - from));
  let right = 0;
  for (let i = 1; i < notes.length && i < tones.length; i++)
    if (way(notes[i - 1]!.midi!, notes[i]!.midi!) === way(tones[i - 1]!.midi!, tones[i]!.midi!)) right++;
  return { right, asked: notes.length - 1 };
}

/** Joins segments of one pitch that only a wobble or the device split, and tells which were preceded by a crack. */
export function heldTones(
  segments: readonly Segment[],
  gaps: readonly Gap[] = [],
): { tone: Segment; cracked: boolean }[] {
  const tones: { tone: Segment; cracked: boolean }[] = [];
  segments.forEach((segment, j) => {
    const last = tones.at(-1);
    const before = segments[j - 1];
    const joined = segment.gapSec < 0.12 || (last && liesInGaps(gaps, last.tone.offsetSec, segment.onsetSec));
    if (last && joined && Math.abs(segment.midi! - last.tone.midi!) < 0.7) {
      last.tone = { ...last.tone, offsetSec: segment.offsetSec };
      return;
    }
    const cracked = Boolean(before && before.offsetSec - before.onsetSec < 0.15 && segment.gapSec < 0.05);
    tones.push({ tone: segment, cracked });
  });
  return tones.filter(({ tone }) => tone.offsetSec - tone.onsetSec >= 0.25);
}

/**
 * Verdicts of a long-tone take: expected notes in order against the held tones, each at least as long as written.
 * @param referenceCents  how far the A that cents are told from lies above 440 Hz
 */
export function judgeLongTones(
  notes: readonly SoundingNote[],
  tones: readonly Segment[],
  toleranceCents: number,
  referenceCents = 0,
): NoteVerdict[] {
  let next = 0;
  return notes.map((note) => {
    let found = next;
    // A sound without a written pitch (head joint, buzz) is taken as it comes.
    const asked = note.midi;
    while (found < tones.length && asked !== null && Math.abs(tones[found]!.midi! - asked) > 6.5) found++;
    const tone = tones[found];
    if (!tone) return missedNote(note, 0.9);
    next = found + 1;
    const heard = tone.midi! - referenceCents / 100;
    const off = asked === null ? 0 : heard - asked;
    const wrong = Math.abs(off) * 100 > toleranceCents;
    const ratio = (tone.offsetSec - tone.onsetSec) / note.durationSec;
    return {
      ...placeOf(note),
      verdict: wrong ? "wrong-pitch" : "ok",
      kind: wrong
        ? Math.abs(Math.round(off)) === 1
          ? "semitone"
          : Math.round(off) % 12 === 0
            ? "octave"
            : "other"
        : null,
      onset: round(tone.onsetSec, 3),
      offset: round(tone.offsetSec, 3),
      playedMidi: round(tone.midi!, 3),
      cents: round(100 * (wrong ? heard - Math.round(heard) : off), 1),
      timing: null,
      timingMs: null,
      length: ratio < 0.95 ? "short" : "ok",
      lengthRatio: round(ratio, 2),
      flags: [],
      levelDb: null,
      confidence: round(tone.clarity, 2),
    };
  });
}
