import type { Features } from "./features";
import type { Segment } from "./segments";

/** A tap is over so soon that its length means nothing, seconds. */
const TAP_SEC = 0.06;
const TAP_DB = -20;

/** Attacks without sound: what the stages after listening are given for taps. */
export function tapSegments(tapsSec: readonly number[]): Segment[] {
  return tapsSec.map((onsetSec, i) => ({
    onsetSec,
    offsetSec: onsetSec + TAP_SEC,
    midi: null,
    spread: 0,
    glide: 0,
    peakDb: TAP_DB,
    attackDb: 40,
    dipDb: 40,
    gapSec: Math.max(0, onsetSec - (i > 0 ? tapsSec[i - 1]! + TAP_SEC : 0)),
    // Nothing is as sure as a key that was pressed.
    clarity: 1,
    rivals: [],
    seams: [],
  }));
}

/** Features of so many seconds in which nothing is heard. */
export function stillness(durationSec: number): Features {
  const fineHopSec = 0.005;
  const frames = Math.ceil(durationSec / fineHopSec) + 1;
  const level = new Float32Array(frames).fill(TAP_DB);
  return {
    durationSec,
    sound: { samples: new Float32Array(0), sampleRate: 8000 },
    fineHopSec,
    pitchHopSec: fineHopSec,
    levelDb: level,
    outlineDb: level,
    flux: new Float32Array(frames),
    brightHz: new Float32Array(frames),
    midi: new Float32Array(0),
    clarity: new Float32Array(0),
    rivals: new Uint8Array(0),
  };
}
