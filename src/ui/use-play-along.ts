import { useCallback, useEffect, useRef, useState } from "react";
import { type Playing, playPlan, soundedSec } from "../client/sound";
import { type Mix, type Moment, momentAt, type PlayAlong } from "../core/playalong";

/** Plays plans one at a time and says what sounds now, by the audio clock. */
export function usePlayAlong(): {
  moment: Moment | null;
  start(plan: PlayAlong, mix: Mix, loopFromSec?: number): Promise<void>;
  stop(): void;
} {
  const [moment, setMoment] = useState<Moment | null>(null);
  const playing = useRef<Playing | null>(null);

  const stop = useCallback(() => {
    playing.current?.stop();
    playing.current = null;
    setMoment(null);
  }, []);
  useEffect(() => stop, [stop]);

  const start = async (plan: PlayAlong, mix: Mix, loopFromSec?: number) => {
    stop();
    const sound = await playPlan(plan, mix, loopFromSec);
    playing.current = sound;
    const tick = () => {
      if (playing.current !== sound) return;
      let sec = soundedSec(sound);
      if (loopFromSec !== undefined && sec > plan.totalSec)
        sec = loopFromSec + ((sec - loopFromSec) % (plan.totalSec - loopFromSec));
      setMoment(momentAt(plan, sec));
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
    await sound.ended;
    if (playing.current === sound) stop();
  };
  return { moment, start, stop };
}
