import { useEffect, useRef, useState } from "react";
import { alive } from "../../client/activity";
import { loadBank } from "../../client/bank";
import type { Following } from "../../client/first-answer";
import { keepWhileRecording, type SafeRecording } from "../../client/outbox";
import { type Playing, playPlan, type Recording, record } from "../../client/sound";
import { writeWav } from "../../core/audio";
import type { Assessment, Gap } from "../../core/listen";
import { momentAt, type PlayAlong } from "../../core/playalong";

/** A forgotten recording stops by itself, seconds: ten minutes of it still fit into one take. */
const LONGEST_RECORDING_SEC = 600;

/** The eyes are so far ahead of the sound, seconds: about a beat. */
const AHEAD_SEC = 0.8;

interface Options {
  taskId: string;
  playerId: string;
  /** What is heard, and what is counted in for a recording: the same, or some bars of it. */
  plan: PlayAlong;
  recordPlan: PlayAlong;
  /** What the reference is played with: an instrument's id, or claps. */
  sound: string;
  clickOn: boolean;
  /** Has a recording heard while it goes on. */
  listen: () => Following;
  /** A recording has ended: here it is, and what was heard on the way; null where it has to be heard anew. */
  recorded: (sound: Blob, gaps: Gap[], heard: Promise<Assessment | null>) => Promise<void>;
  refuse: (sentence: string) => void;
}

/** Hearing the part and recording it, one at a time, with cursor, count and level by the audio clock. */
export function useRecorder({
  taskId,
  playerId,
  plan,
  recordPlan,
  sound,
  clickOn,
  listen,
  recorded,
  refuse,
}: Options) {
  const [sounding, setSounding] = useState<"nothing" | "reference" | "recording">("nothing");
  const [level, setLevel] = useState(0);
  const [count, setCount] = useState(0);
  const [seconds, setSeconds] = useState(0);
  const [cursorId, setCursorId] = useState<string | null>(null);
  const [aheadId, setAheadId] = useState<string | null>(null);
  const [note, setNote] = useState("");
  const playing = useRef<Playing | null>(null);
  const recording = useRef<Recording | null>(null);
  const safe = useRef<SafeRecording | null>(null);
  const following = useRef<Following | null>(null);
  const starting = useRef(false);

  // Leaving the page in mid-recording leaves what was kept of it for the next visit.
  useEffect(
    () => () => {
      playing.current?.stop();
      recording.current?.cancel();
      following.current?.forget();
    },
    [],
  );

  const follow = (now: Playing, followed: PlayAlong) => {
    const tick = () => {
      if (playing.current !== now) {
        setCursorId(null);
        setAheadId(null);
        return setCount(0);
      }
      alive();
      const sec = now.planSec();
      const moment = momentAt(followed, sec);
      setCursorId(moment.eventId);
      setAheadId(momentAt(followed, sec + AHEAD_SEC).eventId);
      setCount(moment.count);
      if (recording.current) {
        setLevel(recording.current.level());
        setSeconds(Math.floor(recording.current.seconds()));
        if (recording.current.seconds() > LONGEST_RECORDING_SEC) return void stopRecording();
      }
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  };

  /** Runs one start at a time, whatever is pressed twice. */
  const once = async (start: () => Promise<void>) => {
    if (starting.current) return;
    starting.current = true;
    refuse("");
    try {
      await start();
    } catch (error) {
      recording.current?.cancel();
      recording.current = null;
      following.current?.forget();
      stopSound();
      refuse((error as Error).message);
    } finally {
      starting.current = false;
    }
  };

  const hear = () =>
    once(async () => {
      const { bank, note: missing } = await loadBank([sound]);
      setNote(missing);
      const now = await playPlan(plan, { count: true, click: true, reference: true, sound }, bank);
      playing.current = now;
      setSounding("reference");
      follow(now, plan);
      void now.ended.then(() => playing.current === now && stopSound());
    });

  const stopSound = () => {
    playing.current?.stop();
    playing.current = null;
    setSounding("nothing");
  };

  const startRecording = () =>
    once(async () => {
      safe.current = await keepWhileRecording(taskId, playerId).catch(() => null);
      const heard = listen();
      following.current = heard;
      recording.current = await record({
        heard: (block, rate) => safe.current?.add(block, rate),
        kept: heard.add,
        lost: () => {
          if (!recording.current) return;
          setNote("The microphone went away. What was recorded until then is here.");
          void stopRecording();
        },
      });
      const { bank } = await loadBank([]);
      playing.current = await playPlan(recordPlan, { count: true, click: clickOn, reference: false }, bank);
      setSounding("recording");
      follow(playing.current, recordPlan);
    });

  const stopRecording = async () => {
    const running = recording.current;
    if (!running) return;
    recording.current = null;
    stopSound();
    const { pcm, gaps, added } = await running.stop(true);
    const heard = added || !following.current ? Promise.resolve(null) : following.current.end(gaps);
    following.current = null;
    await recorded(new Blob([writeWav(pcm)], { type: "audio/wav" }), gaps, heard);
    await safe.current?.end().catch(() => undefined);
    safe.current = null;
  };

  return {
    sounding,
    level,
    count,
    seconds,
    cursorId,
    aheadId,
    note,
    hear,
    stopHearing: stopSound,
    startRecording,
    stopRecording,
  };
}
