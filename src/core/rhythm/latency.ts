import type { Pcm } from "../audio";

/** How much later than a click the microphone may hear it, seconds. */
const LONGEST_SEC = 0.6;
/** A click counts as heard when it rises this far above what lies before it, dB. */
const RISE_DB = 12;
/** An attack is where the level comes within this of its peak, dB: the contract's meaning of an onset. */
const AUDIBLE_DB = 20;
const HOP_SEC = 0.001;
const LEAST_CLICKS = 3;

/**
 * The way of a sound out of the loudspeaker and back through the microphone: clicks are played at known times and looked for
 * in a recording on the same clock.
 *
 * @param pcm       the recording; second 0 is its first sample
 * @param clicksSec when each click was due, in the recording's seconds
 * @returns median delay and the spread of the middle half, seconds; null when fewer than three clicks were heard
 */
export function roundTripOf(
  pcm: Pcm,
  clicksSec: readonly number[],
): { sec: number; spreadSec: number } | null {
  return middleOf(
    clicksSec.flatMap((click) => {
      const onset = onsetAfter(pcm, click);
      return onset === null ? [] : [onset - click];
    }),
    LEAST_CLICKS,
  );
}

/** Median and spread of the middle half of some delays, seconds; null with fewer than `least`. */
export function middleOf(
  delays: readonly number[],
  least: number,
): { sec: number; spreadSec: number } | null {
  if (delays.length < least) return null;
  const sorted = [...delays].sort((a, b) => a - b);
  const at = (share: number) => sorted[Math.round(share * (sorted.length - 1))]!;
  return { sec: at(0.5), spreadSec: at(0.75) - at(0.25) };
}

function onsetAfter({ samples, sampleRate }: Pcm, click: number): number | null {
  const hop = Math.round(HOP_SEC * sampleRate);
  const from = Math.max(0, Math.round(click * sampleRate));
  const to = Math.min(samples.length, Math.round((click + LONGEST_SEC) * sampleRate));
  const levels: number[] = [];
  for (let at = from; at + hop <= to; at += hop) {
    let peak = 0;
    for (let i = at; i < at + hop; i++) peak = Math.max(peak, Math.abs(samples[i]!));
    levels.push(20 * Math.log10(peak + 1e-6));
  }
  if (levels.length === 0) return null;
  const highest = Math.max(...levels);
  const quiet = [...levels].sort((a, b) => a - b)[Math.floor(levels.length / 4)]!;
  if (highest < quiet + RISE_DB) return null;
  const frame = levels.findIndex((level) => level >= highest - AUDIBLE_DB && level >= quiet + RISE_DB / 2);
  return (from + frame * hop) / sampleRate;
}
