import { useCallback, useEffect, useRef, useState } from "react";
import { firstAnswer } from "../../client/first-answer";
import {
  dropLiveTake,
  keepLiveTake,
  type LiveTake,
  liveTakesHere,
  sendLiveTakes,
  tryLiveTakeAgain,
} from "../../client/live-tests";
import { type Recording, record } from "../../client/sound";
import { writeWav } from "../../core/audio";
import type { Assessment } from "../../core/listen";
import type { LiveTest } from "../../services/listening/wire";
import type { ReviewDraft } from "./use-draft";

/** A forgotten recording ends by itself, seconds. */
const LONGEST_SEC = 600;
/** What waits is tried again after so long, ms. */
const AGAIN_MS = 10_000;

type Hearing =
  | { at: "ready" }
  | { at: "recording"; recording: Recording }
  | { at: "judging"; sound: Blob }
  | { at: "heard"; sound: Blob; recordedAt: string; assessment: Assessment | null };

/** Hearing a group in class: who is next, what was played, what was said of it, and what still waits to be sent. */
export function useLive(test: LiveTest) {
  const firstLeft = test.players.findIndex(({ state }) => state !== "accepted");
  const [at, setAt] = useState(Math.max(0, firstLeft));
  const [hearing, setHearing] = useState<Hearing>({ at: "ready" });
  const [said, setSaid] = useState<Record<string, LiveTake["word"]>>({});
  const [waiting, setWaiting] = useState<LiveTake[]>([]);
  const [problem, setProblem] = useState("");
  const starting = useRef(false);
  const latestStop = useRef<(recording: Recording) => Promise<void>>(async () => undefined);
  const player = test.players[at];

  const send = useCallback(async () => {
    await sendLiveTakes(test.owner);
    setWaiting(await liveTakesHere(test.owner));
  }, [test.owner]);
  useEffect(() => {
    void send();
    const again = setInterval(() => void send(), AGAIN_MS);
    addEventListener("online", send);
    return () => {
      clearInterval(again);
      removeEventListener("online", send);
    };
  }, [send]);
  useEffect(() => {
    if (hearing.at !== "recording") return;
    const { recording } = hearing;
    const limit = setTimeout(() => void latestStop.current(recording), 1000 * LONGEST_SEC);
    return () => clearTimeout(limit);
  }, [hearing]);
  // A page that is left takes the microphone away.
  const running = useRef<Recording | null>(null);
  useEffect(() => () => running.current?.cancel(), []);

  const stop = async (recording: Recording) => {
    running.current = null;
    const recordedAt = new Date().toISOString();
    const { pcm } = await recording.stop(true);
    const sound = new Blob([writeWav(pcm)], { type: "audio/wav" });
    setHearing({ at: "judging", sound });
    const part = test.parts[player!.part]!;
    const assessment = test.catalogued
      ? null
      : await firstAnswer(part.score, pcm, part.options).catch(() => null);
    setHearing({ at: "heard", sound, recordedAt, assessment });
  };
  latestStop.current = stop;
  const start = async () => {
    if (starting.current) return;
    starting.current = true;
    setProblem("");
    try {
      const recording = await record();
      running.current = recording;
      setHearing({ at: "recording", recording });
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      starting.current = false;
    }
  };
  const goTo = (place: number) => {
    // What is being recorded is stopped first: nobody's take is lost by a key.
    if (running.current || hearing.at === "judging") return;
    setHearing({ at: "ready" });
    setProblem("");
    setAt(place);
  };
  /** The next who was not heard, else the next. */
  const next = (heard: Record<string, unknown> = said) => {
    const order = test.players.map((_, i) => (at + 1 + i) % test.players.length);
    const left = order.find((i) => !heard[test.players[i]!.taskId] && test.players[i]!.state !== "accepted");
    goTo(left ?? order[0] ?? 0);
  };
  return {
    player,
    at,
    hearing,
    said,
    waiting,
    problem,
    goTo,
    next: () => next(),
    /** One key: record, stop, record anew. */
    toggle: () => {
      if (hearing.at === "recording") void stop(hearing.recording);
      else if (hearing.at === "ready" || hearing.at === "heard") void start();
    },
    async say(decision: "accepted" | "again", { comment, marks }: ReviewDraft) {
      if (hearing.at !== "heard" || !player) return;
      const word = { decision, comment, marks };
      const { sound, recordedAt } = hearing;
      const kept: LiveTake = {
        id: crypto.randomUUID(),
        owner: test.owner,
        taskId: player.taskId,
        playerName: player.name,
        recordedAt,
        sound,
        word,
      };
      try {
        await keepLiveTake(kept);
      } catch {
        // The device keeps nothing, a private window perhaps: without it nobody goes on.
        return setProblem(
          "This device has no room for the take. Free some, or open the page outside a private window.",
        );
      }
      const now = { ...said, [player.taskId]: word };
      setSaid(now);
      next(now);
      void send();
    },
    async again(take: LiveTake) {
      await tryLiveTakeAgain(take);
      await send();
    },
    async drop(id: string) {
      await dropLiveTake(id);
      setWaiting(await liveTakesHere(test.owner));
    },
  };
}

/** The engine and the microphone's part of the page are fetched while there is a network. */
export function warmUp(test: LiveTest): void {
  const [part] = Object.values(test.parts);
  const silence = { samples: new Float32Array(8000), sampleRate: 8000 };
  if (part && !test.catalogued) void firstAnswer(part.score, silence, part.options).catch(() => undefined);
  void import("../../workers/capture.worklet.js?url&no-inline")
    .then(({ default: url }) => fetch(url))
    .catch(() => undefined);
}
