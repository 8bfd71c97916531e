import { type PlayAlong, plainSounds } from "../core/playalong";
import { roundTripOf, tapDelay } from "../core/rhythm";
import { playPlan, record } from "./sound";

/** What is known of this device: how late its microphone hears its own loudspeaker, and how late its player taps. */
export interface Latency {
  roundTripSec: number | null;
  tapSec: number | null;
}

const KEPT_AS = "ulu-latency";

export function keptLatency(): Latency {
  try {
    const kept = JSON.parse(localStorage.getItem(KEPT_AS) ?? "{}") as Partial<Latency>;
    return { roundTripSec: kept.roundTripSec ?? null, tapSec: kept.tapSec ?? null };
  } catch {
    return { roundTripSec: null, tapSec: null };
  }
}

function keep(changes: Partial<Latency>): Latency {
  const now = { ...keptLatency(), ...changes };
  try {
    localStorage.setItem(KEPT_AS, JSON.stringify(now));
  } catch {
    // A private window keeps nothing: the numbers hold for this page.
  }
  return now;
}

const CLICKS = 6;
const GAP_SEC = 0.7;
const LEAD_SEC = 0.6;

function clickPlan(clicks: number, gapSec: number): PlayAlong {
  return {
    events: Array.from({ length: clicks }, (_, i) => ({
      atSec: LEAD_SEC + i * gapSec,
      kind: "click" as const,
      accent: true,
    })),
    startSec: 0,
    totalSec: LEAD_SEC + clicks * gapSec,
  };
}

/**
 * Plays clicks and listens for them with the microphone: the device's delay from loudspeaker to microphone.
 * @throws Error with a sentence when the microphone heard too little
 */
export async function measureRoundTrip(): Promise<{ latency: Latency; spreadSec: number }> {
  const recording = await record();
  try {
    const playing = await playPlan(
      clickPlan(CLICKS, GAP_SEC),
      { count: true, click: true, reference: true },
      plainSounds(),
    );
    await playing.ended;
    await new Promise((done) => setTimeout(done, 500));
    const [began, heardFrom] = [playing.begunAt(), recording.begunAt()];
    const { pcm } = await recording.stop();
    const found =
      began === null || heardFrom === null
        ? null
        : roundTripOf(
            pcm,
            Array.from({ length: CLICKS }, (_, i) => began - heardFrom + LEAD_SEC + i * GAP_SEC),
          );
    if (!found)
      throw new Error(
        "The microphone did not hear the clicks. Turn the loudspeaker up, take headphones off for this test, and try again.",
      );
    return { latency: keep({ roundTripSec: found.sec }), spreadSec: found.spreadSec };
  } catch (error) {
    recording.cancel();
    throw error;
  }
}

/** Keeps the delay of taps from a short tapping test; null when the taps were too few or too wild. */
export function keepTapDelay(clicksSec: readonly number[], tapsSec: readonly number[]): Latency | null {
  const found = tapDelay(clicksSec, tapsSec);
  if (!found || found.spreadSec > 0.08) return null;
  return keep({ tapSec: found.sec });
}

/** The tapping test: eight clicks to tap along with. */
export const TAP_TEST = {
  plan: clickPlan(8, 0.75),
  clicksSec: Array.from({ length: 8 }, (_, i) => LEAD_SEC + i * 0.75),
};
