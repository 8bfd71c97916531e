import type { Features } from "./features";
import type { Segment } from "./segments";
import { median, percentile, total } from "./statistics";
import type { ByEar } from "./types";

/** Tempi tried around the one that was asked for, as a share of it. */
const SLOWEST = 0.6;
const FASTEST = 1.6;
/** Attacks are expected on the beat and halfway between beats. */
const PARTS_A_BEAT = 2;
/** Fewer attacks than this say nothing about a beat. */
const LEAST_ATTACKS = 5;

/**
 * What can be said of a recording when nobody knows the notes: how long it sounds, how even its attacks lie on a beat
 * near the one asked for, how wide its loudness goes. Relative levels only, never sound pressure.
 *
 * The beat is the tempo whose half beats lie nearest the gaps between attacks (least mean absolute deviation, in
 * shares of the half beat, so that fast tempi win nothing by being fast); each gap stands for itself, so that a pause
 * does not spoil what follows.
 */
export function listenByEar(segments: readonly Segment[], features: Features, askedBpm: number): ByEar {
  const onsets = segments.map((segment) => segment.onsetSec);
  const gaps = onsets.slice(1).map((onset, i) => onset - onsets[i]!);
  const levels = segments.map((segment) => levelOf(features, segment));
  const beat = gaps.length + 1 >= LEAST_ATTACKS ? nearestBeat(gaps, askedBpm) : null;
  return {
    soundingSec: segments.reduce((sum, segment) => sum + segment.offsetSec - segment.onsetSec, 0),
    attacks: segments.length,
    tempoBpm: beat?.bpm ?? null,
    unevenMs: beat && Math.round(1000 * beat.unevenSec),
    levelRangeDb: levels.length < 2 ? null : Math.round(percentile(levels, 90) - percentile(levels, 10)),
  };
}

function nearestBeat(gaps: readonly number[], askedBpm: number): { bpm: number; unevenSec: number } {
  const off = (bpm: number) => {
    const part = 60 / bpm / PARTS_A_BEAT;
    return gaps.map((gap) => Math.abs(gap - part * Math.max(1, Math.round(gap / part))));
  };
  // A tempo far from the one asked for has to explain clearly more.
  const cost = (bpm: number) =>
    (total(off(bpm)) / gaps.length / (60 / bpm)) * (1 + 0.5 * Math.abs(Math.log2(bpm / askedBpm)));
  let best = askedBpm;
  for (let bpm = askedBpm * SLOWEST; bpm <= askedBpm * FASTEST; bpm *= 1.005)
    if (cost(bpm) < cost(best)) best = bpm;
  return { bpm: Math.round(10 * best) / 10, unevenSec: median(off(best)) };
}

/** Middle level of a sounding stretch, dB relative to full scale. */
function levelOf(features: Features, segment: Segment): number {
  const from = Math.round(segment.onsetSec / features.fineHopSec);
  const to = Math.max(from + 1, Math.round(segment.offsetSec / features.fineHopSec));
  return median(features.levelDb.subarray(from, to));
}
