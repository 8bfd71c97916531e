import { useCallback, useEffect, useRef, useState } from "react";
import { keptLatency } from "../../../client/latency";
import { type Live, listenLive } from "../../../client/live";
import type { LiveFrame } from "../../../core/listen";

/** Listening that can be switched on and off, one at a time; it ends with the page. */
export function useLive(a4Hz: number, heard: (frame: LiveFrame, atSec: number) => void) {
  const [on, setOn] = useState(false);
  const [problem, setProblem] = useState("");
  /** How much later than the sound the picture is, ms; the middle of the last ones. */
  const [lagMs, setLagMs] = useState<number | null>(null);
  const live = useRef<Live | null>(null);
  const latest = useRef(heard);
  latest.current = heard;
  const starting = useRef(false);

  const stop = useCallback(() => {
    live.current?.stop();
    live.current = null;
    setOn(false);
  }, []);
  useEffect(() => stop, [stop]);

  const start = async () => {
    if (starting.current || live.current) return;
    starting.current = true;
    setProblem("");
    const lags: number[] = [];
    try {
      live.current = await listenLive(a4Hz, (frame, atSec, lag) => {
        latest.current(frame, atSec);
        lags.push(lag);
        if (lags.length === 80) {
          setLagMs(Math.round([...lags].sort((a, b) => a - b)[40]!));
          lags.length = 0;
        }
      });
      setOn(true);
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      starting.current = false;
    }
  };
  /** The way through the microphone is in it, as this device's loopback was measured. */
  const measured = on && keptLatency().roundTripSec !== null;
  return { on, problem, lagMs, measured, start, stop, recording: () => live.current?.recording ?? null };
}
