import { useCallback, useEffect, useRef, useState } from "react";
import { loadBank } from "../client/bank";
import { type Playing, type PlayOptions, playPlan } from "../client/sound";
import { type Mix, type Moment, momentAt, type PlayAlong } from "../core/playalong";

/** Plays plans one at a time and says what sounds now, by the audio clock. */
export function usePlayAlong(): {
  moment: Moment | null;
  /** Second of the plan that sounds; 0 when nothing does. */
  planSec: number;
  /** A sentence when recorded sounds are missing, or nothing can be played. */
  note: string;
  /** Plays to the end or until it is stopped. @returns false when nothing can be played; `note` then says so */
  start(plan: PlayAlong, mix: Mix, options?: PlayOptions & { sounds?: readonly string[] }): Promise<boolean>;
  stop(): void;
  setMix(mix: Mix): void;
  setSpeed(speed: number): void;
  /** Second of the plan at the loudspeaker when an event of the page happened; null when nothing plays. */
  planSecAt(eventTime: number): number | null;
  /** Second of the audio clock at which the plan began; null until it has. */
  begunAt(): number | null;
} {
  const [now, setNow] = useState<{ moment: Moment; planSec: number } | null>(null);
  const [note, setNote] = useState("");
  const playing = useRef<Playing | null>(null);
  const asked = useRef(0);

  const stop = useCallback(() => {
    asked.current++;
    playing.current?.stop();
    playing.current = null;
    setNow(null);
  }, []);
  useEffect(() => stop, [stop]);

  const start = async (
    plan: PlayAlong,
    mix: Mix,
    { sounds = [], ...options }: PlayOptions & { sounds?: readonly string[] } = {},
  ) => {
    stop();
    const mine = asked.current;
    try {
      await begin(plan, mix, mine, sounds, options);
      return true;
    } catch {
      // Without a sound card, or before the first tap: said in words, and nothing hangs.
      if (mine === asked.current) stop();
      setNote("This browser cannot play sound right now. Reload the page and try again.");
      return false;
    }
  };

  const begin = async (
    plan: PlayAlong,
    mix: Mix,
    mine: number,
    sounds: readonly string[],
    options: PlayOptions,
  ) => {
    const loaded = await loadBank([mix.sound ?? "concert", ...sounds]);
    setNote(loaded.note);
    if (mine !== asked.current) return;
    const sound = await playPlan(plan, mix, loaded.bank, options);
    if (mine !== asked.current) return sound.stop();
    playing.current = sound;
    const tick = () => {
      if (playing.current !== sound) return;
      const planSec = sound.planSec();
      setNow({ moment: momentAt(plan, planSec), planSec });
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
    await sound.ended;
    if (playing.current === sound) stop();
  };
  return {
    moment: now?.moment ?? null,
    planSec: now?.planSec ?? 0,
    note,
    start,
    stop,
    setMix: (mix) => playing.current?.setMix(mix),
    setSpeed: (speed) => playing.current?.setSpeed(speed),
    planSecAt: (eventTime) =>
      playing.current ? playing.current.planSec() - Math.max(0, performance.now() - eventTime) / 1000 : null,
    begunAt: () => playing.current?.begunAt() ?? null,
  };
}
