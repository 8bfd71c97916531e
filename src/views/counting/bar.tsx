import { useMemo } from "react";
import type { PlayAlong } from "../../core/playalong";
import { type CountingSystem, type Form, scoreOfForms, syllablesOf } from "../../core/rhythm";
import { timeline } from "../../core/score";
import { BeatLights } from "../../ui/BeatLights";
import { usePlayAlong } from "../../ui/use-play-along";
import type { Way } from "./use-turn";

/** One bar to work with, and how. */
export interface Bar {
  form: Form;
  bpm: number;
  loops: number;
  way: Way;
  system: CountingSystem;
  syllables: boolean;
  seed: number;
  ready: boolean;
  /** What came of it: so much was right, of so much. */
  told: (right: number, of: number) => void;
}

/** A bar as it is drawn, timed and counted. */
export function useBar({ form, bpm, loops, system, syllables }: Bar) {
  return useMemo(() => {
    const score = scoreOfForms([form], { title: "", bpm, loops });
    const words = syllables
      ? new Map(syllablesOf(score.parts[0].measures, system).map(({ eventId, text }) => [eventId, text]))
      : undefined;
    return { score, line: timeline(score, { bpm }), events: score.parts[0].measures[0]!.events, words };
  }, [form, bpm, loops, system, syllables]);
}

/** The beat of a bar that sounds at a second of a plan. */
export function beatAt(planSec: number, bpm: number, beats: number): number {
  return Math.floor((planSec * bpm) / 60 + 1e-6) % beats;
}

/** Plays something with count-off, click and the beat to be seen. */
export function HearIt({
  plan,
  beats,
  bpm,
  words,
  main = false,
  ready = true,
}: {
  plan: PlayAlong;
  beats: number;
  bpm: number;
  words: string;
  /** The first thing to do here. */
  main?: boolean;
  ready?: boolean;
}) {
  const play = usePlayAlong();
  const running = play.moment !== null;
  const hear = () => void play.start(plan, { count: true, click: true, reference: true, sound: "clap" });
  return (
    <div className="flex flex-wrap items-center gap-3">
      <button
        type="button"
        className={`btn ${main ? "btn-primary h-12" : "h-11 border-base-300 bg-base-100"}`}
        disabled={!ready}
        onClick={running ? play.stop : hear}
      >
        {running ? "Stop" : words}
      </button>
      <BeatLights beats={beats} current={running ? beatAt(play.planSec, bpm, beats) : null} />
    </div>
  );
}
