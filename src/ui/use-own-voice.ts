import { useEffect, useRef, useState } from "react";
import { type Recording, record } from "../client/sound";
import { writeWav } from "../core/audio";

/**
 * A short recording of whoever sits at the screen.
 * @param longestSec  a forgotten recording ends by itself
 * @param done        called with a WAV file when it ends
 */
export function useOwnVoice(
  longestSec: number,
  done: (sound: Blob) => void,
): { recording: boolean; problem: string; toggle: () => void } {
  const [running, setRunning] = useState<Recording | null>(null);
  const [problem, setProblem] = useState("");
  const starting = useRef(false);
  const stop = async (recording: Recording) => {
    setRunning(null);
    const { pcm } = await recording.stop();
    done(new Blob([writeWav(pcm)], { type: "audio/wav" }));
  };
  const latest = useRef(stop);
  latest.current = stop;
  useEffect(() => {
    if (!running) return;
    // A page that is left takes the microphone away.
    const limit = setTimeout(() => void latest.current(running), 1000 * longestSec);
    return () => {
      clearTimeout(limit);
      running.cancel();
    };
  }, [running, longestSec]);
  const start = async () => {
    if (starting.current) return;
    starting.current = true;
    setProblem("");
    try {
      setRunning(await record());
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      starting.current = false;
    }
  };
  return { recording: running !== null, problem, toggle: () => void (running ? stop(running) : start()) };
}
