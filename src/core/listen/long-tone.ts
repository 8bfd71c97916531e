import type { SoundingNote } from "../score";
import type { Features } from "./features";
import { round } from "./judge";
import type { Segment } from "./segments";
import { median, standardDeviation, weightedLine } from "./statistics";
import type { LongTone, NoteVerdict } from "./types";
import { missedNote, placeOf } from "./verdict";

/**
 * Measures a held note: how long, how steady in pitch and level, how clean the start.
 * Pitch and level spread leave out the first 150 ms and the last 100 ms (attack and release are judged apart).
 */
export function measureLongTone(features: Features, tone: Segment, crackedBefore: boolean): LongTone {
  const perFrame = features.pitchHopSec / features.fineHopSec;
  const from = Math.round((tone.onsetSec + 0.15) / features.pitchHopSec);
  const to = Math.max(from + 1, Math.round((tone.offsetSec - 0.1) / features.pitchHopSec));
  const seconds: number[] = [];
  const cents: number[] = [];
  const levels: number[] = [];
  for (let f = from; f < to && f < features.midi.length; f++) {
    if (features.midi[f] === 0 || Math.abs(features.midi[f]! - tone.midi!) > 1.5) continue;
    seconds.push(f * features.pitchHopSec);
    cents.push(100 * features.midi[f]!);
    levels.push(median(features.levelDb.subarray(Math.round(f * perFrame), Math.round(f * perFrame) + 8)));
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
  };
}

/** Joins segments of one pitch that only a wobble split, and tells which were preceded by a crack. */
export function heldTones(segments: readonly Segment[]): { tone: Segment; cracked: boolean }[] {
  const tones: { tone: Segment; cracked: boolean }[] = [];
  segments.forEach((segment, j) => {
    const last = tones.at(-1);
    const before = segments[j - 1];
    if (last && segment.gapSec < 0.12 && Math.abs(segment.midi! - last.tone.midi!) < 0.7) {
      last.tone = { ...last.tone, offsetSec: segment.offsetSec };
      return;
    }
    const cracked = Boolean(before && before.offsetSec - before.onsetSec < 0.15 && segment.gapSec < 0.05);
    tones.push({ tone: segment, cracked });
  });
  return tones.filter(({ tone }) => tone.offsetSec - tone.onsetSec >= 0.25);
}

/** Verdicts of a long-tone take: expected notes in order against the held tones, each at least as long as written. */
export function judgeLongTones(
  notes: readonly SoundingNote[],
  tones: readonly Segment[],
  toleranceCents: number,
): NoteVerdict[] {
  let next = 0;
  return notes.map((note) => {
    let found = next;
    while (found < tones.length && Math.abs(tones[found]!.midi! - note.midi!) > 6.5) found++;
    const tone = tones[found];
    if (!tone) return missedNote(note, 0.9);
    next = found + 1;
    const off = tone.midi! - note.midi!;
    const wrong = Math.abs(off) * 100 > toleranceCents;
    const ratio = (tone.offsetSec - tone.onsetSec) / note.durationSec;
    return {
      ...placeOf(note),
      verdict: wrong ? "wrong-pitch" : "ok",
      kind: wrong ? (Math.abs(Math.round(off)) === 1 ? "semitone" : "other") : null,
      onset: round(tone.onsetSec, 3),
      offset: round(tone.offsetSec, 3),
      playedMidi: round(tone.midi!, 3),
      cents: round(100 * (wrong ? tone.midi! - Math.round(tone.midi!) : off), 1),
      timing: null,
      timingMs: null,
      length: ratio < 0.95 ? "short" : "ok",
      lengthRatio: round(ratio, 2),
      flags: [],
      confidence: round(tone.clarity, 2),
    };
  });
}
