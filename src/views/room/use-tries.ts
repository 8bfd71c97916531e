import { useEffect, useRef, useState } from "react";
import { audioContext, KEPT_RATE, type Recording, record } from "../../client/sound";

const LONGEST_SEC = 60;

/**
 * Two tries of the class through this device's microphone, heard one after the other. They are held by this page alone, go nowhere, and
 * are gone with it.
 */
export function useTries() {
  const [tries, setTries] = useState<(Float32Array | null)[]>([null, null]);
  const [on, setOn] = useState<number | null>(null);
  const [problem, setProblem] = useState("");
  const running = useRef<Recording | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const playing = useRef<AudioBufferSourceNode[]>([]);
  const silence = () => {
    for (const node of playing.current) node.stop();
    playing.current = [];
  };
  useEffect(
    () => () => {
      running.current?.cancel();
      clearTimeout(timer.current);
      for (const node of playing.current) node.stop();
    },
    [],
  );
  const stop = async (which: number) => {
    clearTimeout(timer.current);
    const recording = running.current;
    running.current = null;
    setOn(null);
    if (!recording) return;
    const { pcm } = await recording.stop();
    setTries((all) => all.map((each, i) => (i === which ? pcm.samples : each)));
  };
  const toggle = async (which: number) => {
    setProblem("");
    if (on !== null) return stop(on);
    silence();
    try {
      running.current = await record();
      setOn(which);
      timer.current = setTimeout(() => void stop(which), 1000 * LONGEST_SEC);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const hear = async () => {
    silence();
    const context = await audioContext();
    let at = context.currentTime + 0.1;
    for (const samples of tries) {
      if (!samples || samples.length === 0) continue;
      const buffer = context.createBuffer(1, samples.length, KEPT_RATE);
      buffer.getChannelData(0).set(samples);
      const node = new AudioBufferSourceNode(context, { buffer });
      node.connect(context.destination);
      node.start(at);
      at += buffer.duration + 1;
      playing.current.push(node);
    }
  };
  return {
    on,
    ready: tries.every((each) => each !== null),
    made: tries.map((each) => each !== null),
    toggle,
    hear,
    problem,
    forget: () => setTries([null, null]),
  };
}
