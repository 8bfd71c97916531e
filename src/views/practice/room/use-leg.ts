import { useEffect, useState } from "react";
import { pitchName } from "../../../core/music";
import { bandVoices, callAndResponse, playAlong } from "../../../core/playalong";
import {
  type Help,
  helpFor,
  type Leg,
  type Outcome,
  type Place,
  roundOf,
  STEP_KINDS,
  slower,
  smaller,
  troubledChange,
  wrongByBar,
} from "../../../core/practice";
import { timeline } from "../../../core/score";
import type { TaskDetail } from "../../../services/practice/wire";
import { outcomeSentence, sungSentence } from "../../../ui/wording";
import type { useLine } from "./use-line";
import { useRound } from "./use-round";
import type { Special } from "./use-special";

/** The answer to a round that led on to the next step. */
export interface Carried {
  legId: string;
  text: string;
}

interface Options {
  leg: Leg;
  place: Place;
  task: TaskDetail;
  line: ReturnType<typeof useLine>;
  special: Special;
  setCarried: (carried: Carried | null) => void;
  close: () => void;
}

/** What is done in one step: hear, play, say, be helped; at which tempo, and what came of it. */
export function useLeg({ leg, place, task, line, special, setCarried, close }: Options) {
  const { standing, say } = line;
  const { loop } = special;
  const round = useRound(task);
  const { desk, follow } = round;
  const [slow, setSlow] = useState<number | null>(null);
  const [options, setOptions] = useState({ click: false, tap: false, barByBar: false, alone: false });
  const [resting, setResting] = useState(false);
  const [asked, setAsked] = useState(false);
  const [loopClean, setLoopClean] = useState(0);
  const asks = STEP_KINDS[leg.step];
  const bpm = slow ?? (loop ? loop.bpm : standing.bpm || place.bpm);
  const told = desk.at === "ready" || desk.at === "hearing" ? desk.told : null;
  const { score, mode } = roundOf(task.score, leg, place, task.instrumentId);

  // Another passage or rung begins at its own tempo.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the tempo belongs to the place
  useEffect(() => setSlow(null), [place.id, standing.rung]);

  const sound = task.counting || leg.step === "count" ? "clap" : task.instrumentId;
  const hear = async () => {
    const timed = timeline(score, { bpm });
    const plan =
      leg.step === "listen" && options.barByBar
        ? callAndResponse(timed, 1)
        : playAlong(timed, {
            startingNote: leg.step === "sing",
            ...(leg.step === "count" ? { naming: "count" as const } : {}),
          });
    const whole = await round.hear(plan, bpm, { count: true, click: true, reference: true, sound });
    if (whole && leg.step === "listen") await say({ kind: "did", leg: leg.id });
  };
  const withBand = async () => {
    const plan = playAlong(timeline(score, { bpm }));
    const band = bandVoices(score, task.practice.companions, bpm, task.instrumentId);
    const whole = await round.hear(
      plan,
      bpm,
      { count: true, click: false, reference: false, band: true },
      band,
    );
    if (whole) await say({ kind: "did", leg: leg.id });
  };
  const singing = leg.step === "sing" ? { startingNote: true, naming: task.practice.naming } : {};
  /** Names and fingers, or voice without a microphone: the click goes, nothing is recorded; the player says how it went. */
  const along = async () => {
    const plan = playAlong(timeline(score, { bpm }), {
      ...singing,
    });
    const whole = await round.hear(plan, bpm, { count: true, click: true, reference: false, sound });
    if (whole) setAsked(true);
  };
  const tellRound = async (outcome: Outcome) => {
    setAsked(false);
    await say({ kind: "round", leg: leg.id, place: place.id, bpm, outcome });
  };
  const play = async () => {
    const found = await round.play({
      score,
      mode,
      bpm,
      click: options.click || asks.checked === "sung",
      way: asks.checked === "sung" ? "sing" : asks.checked === "clapped" && options.tap ? "tap" : "play",
      plan: singing,
    });
    const outcome = found?.judged.outcome;
    if (!outcome) return;
    setCarried({
      legId: leg.id,
      text: found.sung ? sungSentence(found.sung) : outcomeSentence(found.judged),
    });
    if (loop) setLoopClean(outcome === "clean" ? loopClean + 1 : 0);
    await tellRound(outcome);
  };
  const main = {
    heard: leg.step === "accompaniment" ? withBand : hear,
    answered: () => say({ kind: "did", leg: leg.id }),
    clapped: play,
    played: play,
    sung: options.alone ? along : play,
    sent: play,
    said: leg.step === "perform" ? () => say({ kind: "did", leg: leg.id }) : along,
  }[asks.checked];

  const poor = !loop && standing.poor >= task.practice.poorTries;
  const heard = told?.assessment;
  const change = heard ? troubledChange(timeline(score, { bpm }).notes, heard.notes) : null;
  const offers = poor && !resting ? helpFor(leg, place, bpm, change !== null) : [];
  const help = async (kind: Help) => {
    await say({ kind: "offered", leg: leg.id });
    const acts: Record<Help, () => void> = {
      smaller: () => special.practise(smaller(place, heard ? wrongByBar(task.score, heard) : new Map()), bpm),
      slower: () => setSlow(slower(bpm)),
      change: () =>
        change &&
        special.practisePair({
          from: pitchName(change.from),
          to: pitchName(change.to),
          pitches: [change.from, change.to],
        }),
      fingers: () => {
        const finger = line.path.find(({ step }) => step === "finger");
        if (finger) void say({ kind: "went", leg: finger.id });
        else void along();
      },
      rest: () => setResting(true),
      another: close,
      tomorrow: () => say({ kind: "left", leg: leg.id }),
    };
    acts[kind]();
  };
  return {
    round,
    desk,
    follow,
    asks,
    bpm,
    told,
    score,
    options,
    set: (change: Partial<typeof options>) => setOptions({ ...options, ...change }),
    hear,
    main,
    tellRound,
    asked,
    goSlower: () => setSlow(slower(bpm)),
    clean: loop ? loopClean : standing.clean,
    passes: loop ? 2 : standing.passes,
    resting,
    rested: () => setResting(false),
    offers,
    help,
  };
}
