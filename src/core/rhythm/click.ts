import type { Assessment } from "../listen";
import type { Timeline } from "../score";
import { middleOf } from "./latency";

/** The student's own steady beat against the click. */
export interface AgainstClick {
  /** Median distance of the attacks from the click, ms; + is behind it. */
  behindMs: number;
  /** How much further behind (+) or ahead (-) the end is than the beginning, ms. */
  driftMs: number;
  /** Distances attack by attack, ms, with the sounding note each belongs to. */
  attacks: { index: number; ms: number }[];
}

/**
 * @param startSec  when the line's first count sounded, in the seconds of the assessment's onsets, latency taken off
 * @returns null with fewer than three attacks
 */
export function againstClick(assessment: Assessment, line: Timeline, startSec: number): AgainstClick | null {
  const attacks = assessment.notes.flatMap(({ index, onset, verdict }) =>
    onset === null || verdict === "missed"
      ? []
      : [{ index, ms: Math.round(1000 * (onset - startSec - line.notes[index]!.onsetSec)) }],
  );
  if (attacks.length < 3) return null;
  const third = Math.max(1, Math.floor(attacks.length / 3));
  const middle = (part: typeof attacks) => {
    const sorted = part.map(({ ms }) => ms).sort((a, b) => a - b);
    return sorted[Math.floor(sorted.length / 2)]!;
  };
  return {
    behindMs: middle(attacks),
    driftMs: middle(attacks.slice(-third)) - middle(attacks.slice(0, third)),
    attacks,
  };
}

const LEAST_TAPS = 4;

/**
 * The delay of a device and its player from a short tapping test: the median distance of taps from the clicks they were
 * meant for. Taps more than half a beat from every click are left out.
 * @returns seconds, + is late; null with fewer than four usable taps
 */
export function tapDelay(
  clicksSec: readonly number[],
  tapsSec: readonly number[],
): { sec: number; spreadSec: number } | null {
  const beat = (clicksSec[1] ?? 1) - (clicksSec[0] ?? 0);
  const distances = tapsSec.flatMap((tap) => {
    const nearest = clicksSec.reduce(
      (best, click) => (Math.abs(tap - click) < Math.abs(tap - best) ? click : best),
      Number.POSITIVE_INFINITY,
    );
    return Math.abs(tap - nearest) < beat / 2 ? [tap - nearest] : [];
  });
  return middleOf(distances, LEAST_TAPS);
}
