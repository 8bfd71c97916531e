import { useEffect, useRef, useState } from "react";
import { firstAnswer } from "../../client/first-answer";
import { keptLatency } from "../../client/latency";
import { type Recording, record } from "../../client/sound";
import { EARLY_SEC, endTurn } from "../../client/turn";
import { type Assessment, assessTaps } from "../../core/listen";
import type { Mix, PlayAlong } from "../../core/playalong";
import { type AgainstClick, againstClick } from "../../core/rhythm";
import { type Score, timeline } from "../../core/score";
import { usePlayAlong } from "../../ui/use-play-along";

export type Way = "tap" | "clap";

export interface TurnAnswer {
  assessment: Assessment;
  against: AgainstClick | null;
  /** What was taken off every attack for this device, ms; null when nothing is known of it. */
  compensatedMs: number | null;
}

/**
 * A player's turn in time with a plan: tapped on a key or the screen, or clapped into the microphone, and judged when the
 * plan is over.
 */
export function useTurn() {
  const play = usePlayAlong();
  const [answer, setAnswer] = useState<TurnAnswer | null>(null);
  const [problem, setProblem] = useState("");
  const [taps, setTaps] = useState(0);
  const turn = useRef<{ tapsSec: number[] } | null>(null);

  const tap = (eventTime: number) => {
    const sec = play.planSecAt(eventTime);
    if (!turn.current || sec === null) return;
    turn.current.tapsSec.push(sec);
    setTaps(turn.current.tapsSec.length);
  };

  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (event.code !== "Space" || event.repeat || !turn.current) return;
      if (event.target instanceof HTMLInputElement) return;
      event.preventDefault();
      tap(event.timeStamp);
    };
    addEventListener("keydown", key);
    return () => removeEventListener("keydown", key);
  });

  /**
   * @param yoursFromSec  second of the plan from which the player is on
   * @param score         what should be heard from then on, at its own tempo
   */
  const begin = async (
    plan: PlayAlong,
    mix: Mix,
    way: Way,
    { score, bpm, yoursFromSec }: { score: Score; bpm: number; yoursFromSec: number },
  ) => {
    setAnswer(null);
    setProblem("");
    setTaps(0);
    let recording: Recording | null = null;
    try {
      if (way === "clap") recording = await record();
      const mine = { tapsSec: [] as number[] };
      turn.current = way === "tap" ? mine : null;
      let begun: number | null = null;
      const watch = setInterval(() => {
        begun = play.begunAt() ?? begun;
      }, 50);
      const played = await play.start(plan, mix);
      clearInterval(watch);
      turn.current = null;
      if (!played) {
        await recording?.stop();
        return;
      }
      const line = timeline(score, { bpm });
      const { roundTripSec, tapSec } = keptLatency();
      if (way === "tap") {
        const own = mine.tapsSec
          .map((sec) => sec - (tapSec ?? 0))
          .filter((sec) => sec > yoursFromSec - EARLY_SEC);
        if (own.length === 0)
          return setProblem("No tap came. Tap the space bar or the field, in time with the notes.");
        const assessment = assessTaps(score, own, { bpm });
        setAnswer({
          assessment,
          against: againstClick(assessment, line, yoursFromSec),
          compensatedMs: tapSec === null ? null : Math.round(1000 * tapSec),
        });
      } else {
        const yours = await endTurn(recording!, begun, yoursFromSec);
        if (!yours) return setProblem("The microphone gave no sound. Try again.");
        const assessment = await firstAnswer(score, yours.pcm, { bpm, mode: "rhythm", gaps: yours.gaps });
        setAnswer({
          assessment,
          against: againstClick(assessment, line, yours.turnAtSec),
          compensatedMs: roundTripSec === null ? null : Math.round(1000 * roundTripSec),
        });
      }
    } catch (error) {
      recording?.cancel();
      setProblem((error as Error).message);
    } finally {
      turn.current = null;
    }
  };

  return { play, answer, problem: problem || play.note, taps, tap, begin };
}
