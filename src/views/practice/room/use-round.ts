import { useCallback, useEffect, useReducer, useRef, useState } from "react";
import { alive } from "../../../client/activity";
import { loadBank } from "../../../client/bank";
import { firstAnswer, followSound, hearSinging } from "../../../client/first-answer";
import { keptLatency } from "../../../client/latency";
import { KEPT_RATE, type Playing, playPlan, type Recording, record } from "../../../client/sound";
import { EARLY_SEC, endTurn, followTurn } from "../../../client/turn";
import type { Pcm } from "../../../core/audio";
import { type Assessment, assessTaps } from "../../../core/listen";
import {
  type BandVoice,
  type Mix,
  momentAt,
  type PlayAlong,
  type PlayAlongOptions,
  playAlong,
  type Spoken,
} from "../../../core/playalong";
import { judgeRound, judgeSinging, type Round } from "../../../core/practice";
import { withoutExempt } from "../../../core/progress";
import { timeline } from "../../../core/score";
import type { TaskDetail } from "../../../services/practice/wire";
import { listenOptions } from "../listening";
import { deskAfter, READY, type ToldRound } from "./desk";

/** What rings on after the last beat still belongs to a round, seconds. */
const RINGS_SEC = 0.9;

/** What sounds and is seen now. */
export interface Follow {
  eventId: string | null;
  /** The note a beat ahead: where the eyes should be. */
  aheadId: string | null;
  /** Beats counted off so far, 0 once it has begun. */
  count: number;
  /** Beat of the bar, from 0. */
  beat: number;
  text: string;
  phase: string;
  level: number;
}

const STILL: Follow = { eventId: null, aheadId: null, count: 0, beat: 0, text: "", phase: "", level: 0 };

export interface RoundSettings extends Round {
  bpm: number;
  /** Clicks go on after the count: for headphones. */
  click: boolean;
  way: "play" | "tap" | "sing";
  /** The starting note before the count, names called. */
  plan?: PlayAlongOptions;
  /** A recording that sounds beside it, by seconds of the line. */
  beside?: Spoken;
}

/**
 * Hearing something and playing a round of it, one at a time: counted off, recorded (or tapped), ended by itself after the
 * last beat, and judged on this device.
 */
export function useRound(task: TaskDetail) {
  const [desk, dispatch] = useReducer(deskAfter, READY);
  const [follow, setFollow] = useState<Follow>(STILL);
  const [note, setNote] = useState("");
  const playing = useRef<Playing | null>(null);
  const recording = useRef<Recording | null>(null);
  const taps = useRef<number[] | null>(null);
  /** Each turn has its number: what comes late from an earlier one is dropped. */
  const turn = useRef(0);

  const silence = useCallback(() => {
    playing.current?.stop();
    playing.current = null;
    recording.current?.cancel();
    recording.current = null;
    taps.current = null;
  }, []);
  const clear = useCallback(() => {
    turn.current++;
    silence();
    dispatch({ kind: "clear" });
    setFollow(STILL);
  }, [silence]);
  useEffect(() => clear, [clear]);

  const watch = (sound: Playing, plan: PlayAlong, beatSec: number, beats: number) => {
    const tick = () => {
      if (playing.current !== sound) return setFollow(STILL);
      alive();
      const sec = sound.planSec();
      const moment = momentAt(plan, sec);
      const ahead = momentAt(plan, sec + beatSec);
      const beat = Math.max(0, Math.floor((sec - plan.startSec) / beatSec + 1e-6)) % beats;
      const level = Math.round(20 * (recording.current?.level() ?? 0)) / 20;
      setFollow((before) =>
        before.eventId === moment.eventId &&
        before.aheadId === ahead.eventId &&
        before.count === moment.count &&
        before.beat === beat &&
        before.text === moment.text &&
        before.phase === moment.phase &&
        before.level === level
          ? before
          : { ...moment, aheadId: ahead.eventId, beat, level },
      );
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  };

  const pulse = (bpm: number) => {
    const first = timeline(task.score, { bpm }).measures[0]!;
    return {
      beatSec: first.beatQuarters * first.secPerQuarter,
      beats: Math.max(1, Math.round(first.barQuarters / first.beatQuarters)),
    };
  };

  /** @returns whether it sounded to its end */
  const hear = async (
    plan: PlayAlong,
    bpm: number,
    mix: Mix,
    band: readonly BandVoice[] = [],
  ): Promise<boolean> => {
    if (desk.at !== "ready") return false;
    const mine = ++turn.current;
    dispatch({ kind: "hear" });
    try {
      const loaded = await loadBank([mix.sound ?? "concert", ...band.map(({ sound }) => sound)]);
      if (mine !== turn.current) return false;
      setNote(loaded.note);
      const sound = await playPlan(plan, mix, loaded.bank, { band });
      if (mine !== turn.current) {
        sound.stop();
        return false;
      }
      playing.current = sound;
      const { beatSec, beats } = pulse(bpm);
      watch(sound, plan, beatSec, beats);
      await sound.ended;
      if (mine !== turn.current) return false;
      silence();
      dispatch({ kind: "over" });
      return true;
    } catch {
      if (mine === turn.current)
        dispatch({
          kind: "failed",
          problem: "This browser cannot play sound right now. Reload the page and try again.",
        });
      return false;
    }
  };

  /** Plays one round. @returns what was found out; null when it was given up or could not be heard at all */
  const play = async ({ score, mode, bpm, click, way, plan: asked, beside }: RoundSettings) => {
    if (desk.at !== "ready") return null;
    const mine = ++turn.current;
    dispatch({ kind: "start" });
    const options = listenOptions(task, { bpm, mode });
    const following = way === "play" ? followSound(score, KEPT_RATE, options) : null;
    try {
      const plan = playAlong(timeline(score, { bpm }), asked);
      const gone = () => {
        if (mine !== turn.current || !recording.current) return;
        turn.current++;
        silence();
        dispatch({ kind: "failed", problem: "The microphone went away. Plug it in, then play it again." });
      };
      const inTurn =
        following &&
        followTurn(following, plan.startSec, () => ({
          recording: recording.current,
          planBegunSec: playing.current?.begunAt() ?? null,
        }));
      const heard = way === "tap" ? null : await record({ lost: gone, kept: inTurn?.add });
      if (mine !== turn.current) {
        heard?.cancel();
        return null;
      }
      recording.current = heard;
      taps.current = way === "tap" ? [] : null;
      const { bank } = await loadBank([]);
      const sound = await playPlan(
        { ...plan, totalSec: plan.totalSec + RINGS_SEC },
        { count: true, click, reference: false },
        bank,
        beside ? { spoken: [{ ...beside, atSec: plan.startSec + beside.atSec }] } : {},
      );
      if (mine !== turn.current) {
        sound.stop();
        return null;
      }
      playing.current = sound;
      dispatch({ kind: "began" });
      const { beatSec, beats } = pulse(bpm);
      watch(sound, plan, beatSec, beats);
      await sound.ended;
      if (mine !== turn.current) return null;
      dispatch({ kind: "over" });
      const outcome = async (): Promise<(ToldRound & { pcm: Pcm | null }) | string> => {
        if (way === "tap") {
          const tappedAs = tapped(score, taps.current ?? [], plan.startSec, bpm);
          return typeof tappedAs === "string" ? tappedAs : told(tappedAs, null);
        }
        const own = await endTurn(heard!, sound.begunAt(), plan.startSec);
        if (!own) return "The microphone gave no sound. Try again.";
        if (way === "sing") {
          const about = { bpm, lineAtSec: own.turnAtSec, a4Hz: task.tolerances.a4Hz };
          const sung = await hearSinging(score, own.pcm, about);
          return { judged: judgeSinging(sung), assessment: null, sung, bpm, pcm: null };
        }
        const answer =
          (await inTurn!.end(own.gaps)) ??
          (await firstAnswer(score, own.pcm, { ...options, gaps: own.gaps }));
        return told(withoutExempt(answer, score, new Set(task.exempt)), own.pcm);
      };
      const told = (assessment: Assessment, pcm: Pcm | null) => ({
        judged: judgeRound(assessment),
        assessment,
        sung: null,
        bpm,
        pcm,
      });
      const found = await outcome();
      recording.current = null;
      silence();
      if (mine !== turn.current) return null;
      if (typeof found === "string") {
        dispatch({ kind: "failed", problem: found });
        return null;
      }
      dispatch({ kind: "told", told: found });
      return found;
    } catch (error) {
      silence();
      if (mine === turn.current) dispatch({ kind: "failed", problem: (error as Error).message });
      return null;
    } finally {
      following?.forget();
    }
  };

  /** Ends what goes on: what sounds stops, a round is judged as far as it came. */
  const stop = () => {
    if (desk.at === "hearing") clear();
    else playing.current?.stop();
  };

  const tap = (eventTime: number) => {
    if (!taps.current || !playing.current) return;
    taps.current.push(playing.current.planSec() - Math.max(0, performance.now() - eventTime) / 1000);
  };

  return { desk, follow, note, beats: pulse(task.goalBpm).beats, hear, play, stop, clear, tap };
}

function tapped(score: Round["score"], tapsSec: readonly number[], startSec: number, bpm: number) {
  const late = keptLatency().tapSec ?? 0;
  const own = tapsSec.map((sec) => sec - late).filter((sec) => sec > startSec - EARLY_SEC);
  return own.length === 0
    ? "No tap came. Tap the field or the space bar, in time with the notes."
    : assessTaps(score, own, { bpm });
}
