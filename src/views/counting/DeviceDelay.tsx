import { useEffect, useState } from "react";
import { keepTapDelay, keptLatency, type Latency, measureRoundTrip, TAP_TEST } from "../../client/latency";
import { usePlayAlong } from "../../ui/use-play-along";
import { TapField } from "./TapField";
import type { Way } from "./use-turn";

/** The delay of this device, measured once and taken off: by clicks through the air for claps, by a tapping test for taps. */
export function DeviceDelay({ way }: { way: Way }) {
  const [known, setKnown] = useState<Latency>({ roundTripSec: null, tapSec: null });
  const [told, setTold] = useState("");
  const [busy, setBusy] = useState(false);
  const [taps, setTaps] = useState<number[] | null>(null);
  const play = usePlayAlong();
  useEffect(() => setKnown(keptLatency()), []);

  const listen = async () => {
    setBusy(true);
    setTold("Listening to six clicks …");
    try {
      const { latency, spreadSec } = await measureRoundTrip();
      setKnown(latency);
      setTold(`Measured, within ${Math.max(1, Math.round(1000 * spreadSec))} ms.`);
    } catch (error) {
      setTold((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const tapTest = async () => {
    const own: number[] = [];
    setTaps(own);
    setTold("");
    const played = await play.start(TAP_TEST.plan, { count: true, click: true, reference: true });
    setTaps(null);
    if (!played) return;
    const latency = keepTapDelay(TAP_TEST.clicksSec, own);
    if (latency) setKnown(latency);
    setTold(
      latency ? "Measured." : "The taps were too few or too uneven. Tap with every click, and try again.",
    );
  };
  const catchTap = (time: number) => {
    const sec = play.planSecAt(time);
    if (taps && sec !== null) taps.push(sec);
  };
  const delay = way === "clap" ? known.roundTripSec : known.tapSec;
  return (
    <details className="text-sm">
      <summary className="cursor-pointer" data-testid="delay">
        Delay of this device: {delay === null ? "not measured" : `${Math.round(1000 * delay)} ms`}
      </summary>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        {way === "clap" ? (
          <>
            <button
              type="button"
              className="btn h-11 border-base-300 bg-base-100"
              disabled={busy}
              onClick={listen}
            >
              Measure it
            </button>
            <span>Loudspeaker on, room quiet, no headphones: the microphone listens to six clicks.</span>
          </>
        ) : taps ? (
          <TapField words="Tap with every click, here or on the space bar" tap={catchTap} />
        ) : (
          <>
            <button type="button" className="btn h-11 border-base-300 bg-base-100" onClick={tapTest}>
              Tap along with eight clicks
            </button>
            <span>What your taps and this device are late by is taken off from then on.</span>
          </>
        )}
        {(told || play.note) && <output>{told || play.note}</output>}
      </div>
    </details>
  );
}
