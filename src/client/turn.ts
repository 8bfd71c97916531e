import type { Pcm } from "../core/audio";
import { type Assessment, type Gap, gapsWithin } from "../core/listen";
import type { Following } from "./first-answer";
import { keptLatency } from "./latency";
import { KEPT_RATE, type Recording } from "./sound";

/** What came before the player's turn by more than this is not meant for it, seconds. */
export const EARLY_SEC = 0.25;

/**
 * Ends a recording that ran beside a plan and leaves of it what belongs to the player's turn: not the count, not what was
 * played to them.
 * @param planBegunSec  second of the audio clock at which the plan began
 * @param yoursFromSec  second of the plan from which the player is on
 * @returns the sound, where in it the turn began, and what the device left out of it; null when the microphone gave nothing
 */
export async function endTurn(
  recording: Recording,
  planBegunSec: number | null,
  yoursFromSec: number,
): Promise<{ pcm: Pcm; turnAtSec: number; gaps: Gap[] } | null> {
  const turn = turnIn(recording, planBegunSec, yoursFromSec);
  const { pcm, gaps } = await recording.stop();
  if (!turn) return null;
  const fromSec = turn.fromFrame / pcm.sampleRate;
  return {
    pcm: { ...pcm, samples: pcm.samples.slice(turn.fromFrame) },
    turnAtSec: turn.atSec - fromSec,
    gaps: gapsWithin(gaps, fromSec),
  };
}

/** Where in a recording the player's turn begins, and from which frame on it is listened to; null before both clocks run. */
function turnIn(recording: Recording, planBegunSec: number | null, yoursFromSec: number) {
  const heardFrom = recording.begunAt();
  if (heardFrom === null || planBegunSec === null) return null;
  const atSec = planBegunSec + yoursFromSec + (keptLatency().roundTripSec ?? 0) - heardFrom;
  return { atSec, fromFrame: Math.max(0, Math.round((atSec - EARLY_SEC) * KEPT_RATE)) };
}

/**
 * Has the player's turn heard while it goes on: what came before it is left out, as `endTurn` leaves it out.
 * @param clocks  the recording and the second of the audio clock at which the plan began, as soon as they are there
 */
export function followTurn(
  following: Following,
  yoursFromSec: number,
  clocks: () => { recording: Recording | null; planBegunSec: number | null },
): { add: (block: Float32Array) => void; end: (gaps: Gap[]) => Promise<Assessment | null> } {
  let early: Float32Array[] = [];
  let fromFrame: number | null = null;
  let passed = 0;
  const pass = (block: Float32Array) => {
    const mine = block.subarray(Math.min(block.length, Math.max(0, fromFrame! - passed)));
    passed += block.length;
    if (mine.length > 0) following.add(mine);
  };
  const drain = () => {
    const { recording, planBegunSec } = clocks();
    fromFrame ??= recording && (turnIn(recording, planBegunSec, yoursFromSec)?.fromFrame ?? null);
    if (fromFrame === null) return;
    for (const block of early) pass(block);
    early = [];
  };
  return {
    add(block) {
      early.push(block);
      drain();
    },
    end: (gaps) => (fromFrame === null ? Promise.resolve(null) : following.end(gaps)),
  };
}
