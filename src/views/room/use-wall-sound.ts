import { useEffect, useMemo, useRef } from "react";
import type { PlayAlong } from "../../core/playalong";
import { type RoomMoment, type RoomPlan, roomMomentAt, roomPlan } from "../../core/room";
import { usePlayAlong } from "../../ui/use-play-along";
import type { Wall } from "./use-wall";

/** A drone that goes round without an end, seconds. */
const DRONE_SEC = 8;

/** Plays what the wall says, by the audio clock, and tells where the room is. */
export function useWallSound(wall: Wall): {
  moment: RoomMoment | null;
  plan: RoomPlan | null;
  note: string;
  problem: string;
} {
  const { state, tune, stretches, bpm, command } = wall;
  const sound = usePlayAlong();
  const { way, countBars, subdivisions, firstNote } = state;
  const made = useMemo(() => {
    if (!tune) return null;
    try {
      return roomPlan(tune.score, { bpm, stretches, way, countBars, subdivisions, firstNote });
    } catch (error) {
      if (error instanceof RangeError) return error.message;
      throw error;
    }
  }, [tune, bpm, stretches, way, countBars, subdivisions, firstNote]);
  const plan = typeof made === "object" ? made : null;
  const started = useRef<number | null>(null);
  /** What is playing now, and at which tempo it was begun. */
  const begun = useRef({ bpm, plan });
  const { start, stop, setSpeed } = sound;
  const middle = middleOfRoom(wall);

  useEffect(() => {
    const { playing, drone } = state;
    if (playing === null && !drone) {
      if (started.current !== null) stop();
      started.current = null;
      return;
    }
    const run = drone ? -1 : playing!;
    if (started.current === run) return;
    started.current = run;
    const what = drone ? dronePlan(middle) : plan?.plan;
    if (!what) return command({ kind: "stop" });
    begun.current = { bpm, plan };
    const silent = state.way === "clap" || state.way === "say" || tune?.unheard;
    const mix = { count: !drone, click: !drone, reference: drone || !silent };
    const loop = drone ? 0 : state.loop && plan ? plan.loopFromSec : undefined;
    void start(what, mix, loop === undefined ? {} : { loopFromSec: loop }).then(() => {
      if (started.current !== run) return;
      // It came to its end, or nothing could be played: the wall is still again.
      started.current = null;
      command({ kind: "stop" });
    });
  }, [state, plan, bpm, middle, tune, start, stop, command]);

  // A new tempo is heard at once.
  useEffect(() => {
    if (state.playing !== null && started.current === state.playing) setSpeed(bpm / begun.current.bpm);
  }, [bpm, state.playing, setSpeed]);

  const sounding = state.playing !== null && sound.moment !== null;
  return {
    plan,
    note: sound.note,
    problem: typeof made === "string" ? made : "",
    moment: sounding && begun.current.plan ? roomMomentAt(begun.current.plan, sound.planSec) : null,
  };
}

/** The concert note the room tunes to, in the middle of its instruments; B flat where nothing is tuned. */
function middleOfRoom({ sheet }: Wall): number {
  const midis = sheet.instruments.flatMap(({ tuning }) => tuning?.midi ?? []).sort((a, b) => a - b);
  return midis[Math.floor(midis.length / 2)] ?? 58;
}

function dronePlan(midi: number): PlayAlong {
  const tone = (pitch: number) => ({
    atSec: 0,
    kind: "note" as const,
    accent: false,
    midi: pitch,
    durationSec: DRONE_SEC,
    slursOn: true as const,
  });
  return { events: [tone(midi - 12), tone(midi)], startSec: 0, totalSec: DRONE_SEC };
}
