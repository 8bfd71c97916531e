import { type RefObject, useCallback, useEffect, useRef, useState } from "react";
import { call } from "../../client/api";
import { loadBank } from "../../client/bank";
import { renderFile } from "../../client/render";
import { playAlong } from "../../core/playalong";
import { barAt, barTimes, besideAt, writtenBarTimes } from "../../core/practice";
import { timeline } from "../../core/score";
import type { TakeDetail } from "../../services/listening/wire";
import { useCall } from "../../ui/use-call";
import type { WaveformHandle } from "../../ui/Waveform";

/** The line as written, or another take of the task by its id. */
export type Beside = "written" | string;

/** Further apart than this the other one is set anew, seconds: an ear hears less as together. */
const APART_SEC = 0.06;
/** What a browser stretches without noise. */
const RATES = [0.4, 2.5] as const;

interface Other {
  which: Beside;
  url: string;
  bars: number[];
}

/**
 * Another recording of the line beside the open take: it follows the take bar by bar at the take's own tempo, each as loud as the
 * balance says; or bar by bar turn about.
 */
export function useBeside(take: TakeDetail, wave: RefObject<WaveformHandle | null>, playing: boolean) {
  const [other, setOther] = useState<Other | null>(null);
  /** 0 only the take, 1 only the other. */
  const [balance, setBalance] = useState(0.5);
  const [turns, setTurns] = useState(false);
  const audio = useRef<HTMLAudioElement | null>(null);
  const { run, busy, problem, say } = useCall();
  const own = useRef<number[] | null>(null);

  const choose = useCallback(
    async (which: Beside | null) => {
      setTurns(false);
      say("");
      if (which === null) return setOther(null);
      own.current = take.assessment && barTimes(take.score, take.assessment);
      if (!own.current) return say("Too little of the line was found in this take to lay another beside it.");
      const found = await run(
        () => (which === "written" ? writtenBeside(take) : takeBeside(which)),
        "The other one could not be fetched.",
      );
      if (!found) return;
      if (!found.bars || found.bars.length !== own.current.length)
        return say("The other one is not of the same bars, or too little of the line was found in it.");
      setOther({ which, url: found.url, bars: found.bars });
    },
    [take, run, say],
  );

  useEffect(() => {
    if (!other) return;
    const element = new Audio(other.url);
    element.preload = "auto";
    element.preservesPitch = true;
    audio.current = element;
    return () => {
      element.pause();
      audio.current = null;
      if (other.which === "written") URL.revokeObjectURL(other.url);
    };
  }, [other]);

  const heard = turns ? Math.round(balance) : balance;
  useEffect(() => {
    wave.current?.setVolume(other ? Math.min(1, 2 * (1 - heard)) : 1);
    if (audio.current) audio.current.volume = Math.min(1, 2 * heard);
  }, [wave, other, heard]);

  useEffect(() => {
    const element = audio.current;
    const bars = own.current;
    if (!other || !element || !bars) return;
    if (!playing) return element.pause();
    let frame = 0;
    const follow = () => {
      frame = requestAnimationFrame(follow);
      const leads = wave.current;
      if (!leads) return;
      const { sec, rate } = besideAt(bars, other.bars, leads.time());
      if (sec < 0 || sec > (element.duration || Number.POSITIVE_INFINITY)) return element.pause();
      element.playbackRate = Math.max(RATES[0], Math.min(RATES[1], rate * leads.rate()));
      if (Math.abs(element.currentTime - sec) > APART_SEC && !element.seeking) element.currentTime = sec;
      if (element.paused) void element.play().catch(() => undefined);
    };
    follow();
    return () => {
      cancelAnimationFrame(frame);
      element.pause();
    };
  }, [other, playing, wave]);

  /** The bar that sounds, over and over: once the take, once the other. */
  const takeTurns = () => {
    const bars = own.current;
    const leads = wave.current;
    if (!bars || !leads || !other) return;
    const on = !turns;
    setTurns(on);
    setBalance(on ? 0 : 0.5);
    if (!on) return leads.pause();
    const bar = barAt(bars, leads.time());
    leads.playFrom(Math.max(0, bars[bar]!), bars[bar + 1]!, () => setBalance((now) => (now < 0.5 ? 1 : 0)));
  };

  return {
    which: other?.which ?? null,
    balance: heard,
    turns,
    busy,
    problem,
    choose: (which: Beside | null) => void choose(which),
    setBalance,
    /** Only the one, only the other. */
    flip: () => other && setBalance((now) => (now < 0.5 ? 1 : 0)),
    takeTurns,
  };
}

export type BesideDesk = ReturnType<typeof useBeside>;

async function writtenBeside(take: TakeDetail): Promise<{ url: string; bars: number[] }> {
  const bpm = take.assessment?.take.tempoBpm ?? take.goalBpm;
  const { bank } = await loadBank([take.instrumentId]);
  const bytes = await renderFile({
    plan: playAlong(timeline(take.score, { bpm }), { countOff: false }),
    mix: { count: false, click: false, reference: true, sound: take.instrumentId },
    bank,
    spoken: [],
    format: "wav",
  });
  const url = URL.createObjectURL(new Blob([new Uint8Array(bytes)], { type: "audio/wav" }));
  return { url, bars: writtenBarTimes(take.score, bpm) };
}

async function takeBeside(takeId: string): Promise<{ url: string; bars: number[] | null }> {
  const { score, assessment } = await call<TakeDetail>("GET", `/api/takes/${takeId}`);
  return { url: `/api/takes/${takeId}/sound`, bars: assessment && barTimes(score, assessment) };
}
