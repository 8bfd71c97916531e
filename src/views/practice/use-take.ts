import { useCallback, useEffect, useRef, useState } from "react";
import { ApiError } from "../../client/api";
import { type Following, firstAnswer, followSound } from "../../client/first-answer";
import {
  dropTake,
  type KeptTake,
  keepDraft,
  keptTakes,
  markSending,
  rescueRecording,
  sendUntilDone,
} from "../../client/outbox";
import { decodeInBrowser, KEPT_RATE } from "../../client/sound";
import { type Assessment, type Gap, modeFor } from "../../core/listen";
import { withoutExempt } from "../../core/progress";
import type { TaskDetail } from "../../services/practice/wire";
import { listenOptions } from "./listening";

/** Where the player's newest take of a task is: none, on this device, on its way, arrived. */
export type TakeStage = "none" | "draft" | "sending" | "sent";

export interface OwnTake {
  stage: TakeStage;
  draft: KeptTake | null;
  /** What this device heard; shown once the take is sent, so that the player listens first. */
  answer: Assessment | null;
  /** Share sent, 0 to 1. */
  progress: number;
  problem: string;
  note: string;
  /** Has a take heard while it is recorded. */
  follow(): Following;
  /** @param heard  the answer to a take that was followed; null where it has to be heard anew */
  keep(sound: Blob, gaps: Gap[], heard?: Promise<Assessment | null>): Promise<void>;
  send(): Promise<void>;
  drop(): Promise<void>;
  refuse(sentence: string): void;
}

function takeOptions(task: TaskDetail) {
  return listenOptions(task, { bpm: task.goalBpm, mode: modeFor(task.recordScore) });
}

/**
 * A take from the moment it is recorded until the server has it. It is kept in the browser's own store first, so a
 * reload or a lost connection loses nothing; the device listens to it while the player does.
 */
export function useTake(task: TaskDetail, player: { id: string; name: string }): OwnTake {
  const { id: playerId, name: ownerName } = player;
  const [stage, setStage] = useState<TakeStage>("none");
  const [draft, setDraft] = useState<KeptTake | null>(null);
  const [answer, setAnswer] = useState<Assessment | null>(null);
  const [progress, setProgress] = useState(0);
  const [problem, setProblem] = useState("");
  const [note, setNote] = useState("");
  const listening = useRef<{ id: string; answer: Promise<Assessment | null> } | null>(null);

  const listenTo = useCallback(
    (take: KeptTake, followed?: Promise<Assessment | null>): Promise<Assessment | null> => {
      if (listening.current?.id === take.id) return listening.current.answer;
      const { recordScore: score, exempt } = task;
      const anew = async () =>
        firstAnswer(score, await decodeInBrowser(take.sound), {
          ...takeOptions(task),
          ...(take.gaps?.length ? { gaps: take.gaps } : {}),
        });
      const heard = (followed ?? Promise.resolve(null))
        .then(async (found) => withoutExempt(found ?? (await anew()), score, new Set(exempt)))
        .catch(() => null);
      listening.current = { id: take.id, answer: heard };
      return heard;
    },
    [task],
  );

  const sendTake = useCallback(
    async (take: KeptTake) => {
      setStage("sending");
      setProblem("");
      setProgress(0);
      try {
        const heard = listenTo(take).then((found) => {
          setAnswer(found);
          return found;
        });
        await sendUntilDone(await markSending(take), setProgress, setNote);
        setNote(
          (await heard)
            ? ""
            : "The take has arrived. The bench answers in a moment; open this task again then.",
        );
        setDraft(null);
        setStage("sent");
      } catch (error) {
        const refusedForGood = error instanceof ApiError && ["bad-input", "too-large"].includes(error.code);
        setProblem(
          error instanceof ApiError
            ? error.message
            : "The take could not be sent; it is still on this device.",
        );
        // A refusal stands alone: no word of an answer that will not come.
        setNote("");
        setAnswer(null);
        if (refusedForGood) {
          await dropTake(take.id);
          setDraft(null);
        }
        setStage(refusedForGood ? "none" : "draft");
      }
    },
    [listenTo],
  );

  // A take that was recorded before a reload is still here.
  useEffect(() => {
    let current = true;
    const find = async () => {
      const kept = (await keptTakes(playerId)).filter((take) => take.taskId === task.id).at(-1);
      const own = kept ?? (await rescueRecording(task.id, playerId));
      if (!current || !own) return;
      setDraft(own);
      if (own.state === "sending") return void sendTake(own);
      setStage("draft");
      setNote(
        kept
          ? "This take was kept on your device."
          : "You left while you were recording. What was recorded until then is here.",
      );
      void listenTo(own);
    };
    find().catch(() =>
      setNote("This browser does not keep takes across a reload; send each one before you leave."),
    );
    return () => {
      current = false;
    };
  }, [playerId, task.id, sendTake, listenTo]);

  return {
    stage,
    draft,
    answer,
    progress,
    problem,
    note,
    refuse: setProblem,
    follow: () => followSound(task.recordScore, KEPT_RATE, takeOptions(task)),
    async keep(sound, gaps, heard) {
      setProblem("");
      setNote("");
      try {
        const take = await keepDraft(task.id, playerId, sound, { gaps, ownerName });
        setDraft(take);
        setStage("draft");
        void listenTo(take, heard);
      } catch {
        setProblem("This device has no room to keep the take. Free some space, then record again.");
      }
    },
    async send() {
      if (draft) await sendTake(draft);
    },
    async drop() {
      if (draft) await dropTake(draft.id);
      setDraft(null);
      setNote("");
      setAnswer(null);
      setStage("none");
    },
  };
}
