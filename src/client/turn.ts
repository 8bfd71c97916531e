import type { Pcm } from "../core/audio";
import { keptLatency } from "./latency";
import type { Recording } from "./sound";

/** What came before the player's turn by more than this is not meant for it, seconds. */
export const EARLY_SEC = 0.25;

/**
 * Ends a recording that ran beside a plan and leaves of it what belongs to the player's turn: not the count, not what was
 * played to them.
 * @param planBegunSec  second of the audio clock at which the plan began
 * @param yoursFromSec  second of the plan from which the player is on
 * @returns the sound, and where in it the turn began; null when the microphone gave nothing
 */
export async function endTurn(
  recording: Recording,
  planBegunSec: number | null,
  yoursFromSec: number,
): Promise<{ pcm: Pcm; turnAtSec: number } | null> {
  const heardFrom = recording.begunAt();
  const { pcm } = await recording.stop();
  if (heardFrom === null || planBegunSec === null) return null;
  const yours = planBegunSec + yoursFromSec + (keptLatency().roundTripSec ?? 0) - heardFrom;
  const from = Math.max(0, Math.round((yours - EARLY_SEC) * pcm.sampleRate));
  return {
    pcm: { ...pcm, samples: pcm.samples.slice(from) },
    turnAtSec: yours - from / pcm.sampleRate,
  };
}
