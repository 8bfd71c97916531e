import { useState } from "react";
import { type Leg, startingTempo } from "../../../core/practice";
import type { TaskDetail } from "../../../services/practice/wire";
import { BeatLights } from "../../../ui/BeatLights";
import { Notation } from "../../../ui/Notation";
import { cleanSoFar, HEADPHONES_CAUTION, legReason, legTitle } from "../../../ui/wording";
import { CountingBars } from "./CountingBars";
import { EarStep } from "./HearDifference";
import { Helping, Resting } from "./Helping";
import { LadderRow } from "./LadderRow";
import { LookStep } from "./LookStep";
import { RoomBar } from "./RoomBar";
import { SayCard } from "./SayCard";
import { Told } from "./Told";
import { type Carried, useLeg } from "./use-leg";
import type { useLine } from "./use-line";
import type { Special } from "./use-special";

interface Props {
  leg: Leg;
  task: TaskDetail;
  playerId: string;
  line: ReturnType<typeof useLine>;
  special: Special;
  rings: string[];
  setRings: (eventIds: string[]) => void;
  /** What came of the last round, for the step after it. */
  setCarried: (carried: Carried | null) => void;
  close: () => void;
}

/** The desk of one step: the music, what to do, and what came of it. */
export function LegDesk({
  leg: own,
  task,
  playerId,
  line,
  special,
  rings,
  setRings,
  setCarried,
  close,
}: Props) {
  const { standing, say } = line;
  const { loop } = special;
  // A loop beside the path is worked like a snag, and tells the path nothing.
  const leg: Leg = loop ? { id: "loop", step: "snags", places: [loop], rungs: [] } : own;
  const place = loop ?? own.places[standing.place] ?? own.places[0]!;
  const work = useLeg({ leg, place, task, line, special, setCarried, close });
  const { round, desk, follow, asks, bpm, told, score, options, set } = work;
  const [tapped, setTapped] = useState<{ eventId: string; times: number } | null>(null);
  const [hidden, setHidden] = useState(false);
  // Hidden while it is played; what came of it is looked at with the notes.
  const fromMemory = hidden && leg.step === "whole" && told === null;
  const numberOf = (index: number) => task.score.parts[0].measures[index]?.number ?? String(index + 1);
  const densest = startingTempo(task.score, task.goalBpm).measureIndex;
  const { beats } = round;
  const title = loop
    ? loop.from === loop.to
      ? `Bar ${numberOf(loop.from)} in a loop`
      : `Bars ${numberOf(loop.from)} to ${numberOf(loop.to)} in a loop`
    : legTitle(leg, place, numberOf, howSaid(task));
  const part = place.from > 0 || place.to < task.score.parts[0].measures.length - 1;

  if (leg.step === "count" && task.counting)
    return <CountingBars task={task} playerId={playerId} done={() => say({ kind: "did", leg: leg.id })} />;
  return (
    <>
      <div>
        <h1 className="text-3xl leading-tight">{title}</h1>
        <p className="text-base">
          {loop ? "Play it until it is easy, then go back to the line." : legReason(leg, place)}
        </p>
      </div>
      {leg.rungs.length > 0 && <LadderRow rungs={leg.rungs} standing={standing} />}
      {["clapped", "played"].includes(asks.checked) && (
        <p className="text-sm text-quiet" data-testid="so-far">
          {bpm} bpm · {cleanSoFar(work.clean, work.passes)}
        </p>
      )}
      {leg.step === "count" && densest !== null && (
        <p>
          Think {numberOf(densest) === "0" ? "the pickup" : `bar ${numberOf(densest)}`} first: its notes are
          the quickest. Clap no faster than you can think it.
        </p>
      )}
      {leg.step === "count" && follow.text && (
        <p className="font-heading text-4xl font-bold" aria-hidden="true">
          {follow.text}
        </p>
      )}
      {(leg.step === "finger" || leg.step === "sing") && (
        <SayCard
          task={task}
          follow={follow}
          step={leg.step}
          fromMemory={leg.step === "finger" && standing.clean > 0}
        />
      )}
      {leg.step === "ear" && <EarStep task={task} done={() => say({ kind: "did", leg: leg.id })} />}
      {leg.step === "look" && (
        <LookStep
          task={task}
          tapped={tapped}
          setRings={setRings}
          done={() => say({ kind: "did", leg: leg.id })}
        />
      )}
      <div className={`panel p-2 sm:p-3 ${fromMemory ? "[&_.sheet]:invisible" : ""}`} data-testid="music">
        <Notation
          svg={task.part.svg}
          label={`${task.lineTitle}, your part for ${task.instrumentName}`}
          cursorId={follow.eventId}
          aheadId={follow.aheadId}
          passage={part ? place : undefined}
          rings={rings}
          pick={
            leg.step === "look"
              ? (eventId) => setTapped((before) => ({ eventId, times: (before?.times ?? 0) + 1 }))
              : undefined
          }
        />
      </div>
      {told && <Told told={told} score={score} />}
      {desk.at === "ready" && desk.problem && (
        <div className="rounded border border-felt bg-base-100 p-3">
          <p role="alert" className="text-felt">
            {desk.problem}
          </p>
          {["played", "clapped", "sung"].includes(asks.checked) && (
            <div className="mt-2 flex flex-wrap items-center gap-2">
              <span className="flex-1">Without a microphone you listen yourself:</span>
              <button
                type="button"
                className="btn h-11 border-base-300 bg-base-100"
                onClick={() => work.tellRound("nearly")}
              >
                Not yet
              </button>
              <button
                type="button"
                className="btn h-11 border-base-300 bg-base-100"
                onClick={() => work.tellRound("clean")}
              >
                It went
              </button>
            </div>
          )}
        </div>
      )}
      {round.note && <output className="panel block p-3">{round.note}</output>}
      {work.resting ? (
        <Resting over={work.rested} />
      ) : (
        work.offers.length > 0 && (
          <Helping
            offers={work.offers}
            choose={work.help}
            close={() => say({ kind: "offered", leg: leg.id })}
          />
        )
      )}
      {desk.at === "playing" && (
        <BeatLights beats={beats} current={follow.count > 0 ? (follow.count - 1) % beats : follow.beat} />
      )}
      {desk.at === "playing" && options.tap && leg.step === "count" && (
        <button
          type="button"
          className="h-24 w-full rounded border-2 border-dashed border-base-300 bg-base-100 text-base text-quiet active:bg-reed"
          onPointerDown={(event) => round.tap(event.timeStamp)}
          onKeyDown={(event) => {
            if (event.code === "Space" && !event.repeat) {
              event.preventDefault();
              round.tap(event.timeStamp);
            }
          }}
        >
          Tap here with every note, or the space bar
        </button>
      )}
      {desk.at === "ready" && (
        <div className="flex flex-wrap gap-x-6 gap-y-1">
          {leg.step === "listen" && (
            <Tick
              on={options.barByBar}
              set={(barByBar) => set({ barByBar })}
              words="Bar by bar: hear it, say it, play it"
            />
          )}
          {leg.step === "count" && (
            <Tick
              on={options.tap}
              set={(tap) => set({ tap })}
              words="Tap on the screen instead of clapping"
            />
          )}
          {leg.step === "sing" && (
            <Tick
              on={options.alone}
              set={(alone) => set({ alone })}
              words="I listen to myself: no microphone"
            />
          )}
          {leg.step === "whole" && <Tick on={hidden} set={setHidden} words="From memory: hide the notes" />}
          {asks.checked === "played" && (
            <Tick
              on={options.click}
              set={(click) => set({ click })}
              words="Click while I play (wear headphones)"
            />
          )}
          {options.click && <p className="text-sm text-brass">{HEADPHONES_CAUTION}</p>}
        </div>
      )}
      <RoomBar
        leg={leg}
        desk={desk}
        follow={follow}
        asked={work.asked}
        leftHanded={task.preferences.leftHanded}
        hear={leg.step === "listen" ? null : work.hear}
        main={leg.step === "look" || leg.step === "ear" ? null : work.main}
        stop={round.stop}
        giveUp={round.clear}
        slower={
          ["played", "said", "clapped", "sung"].includes(asks.checked) &&
          leg.rungs.length === 0 &&
          leg.step !== "perform"
            ? work.goSlower
            : null
        }
        skip={loop ? special.end : () => say({ kind: "left", leg: leg.id })}
        skipWords={loop ? "Back to the line" : "Leave it out"}
        went={work.tellRound}
      />
    </>
  );
}

function howSaid(task: TaskDetail): "brass" | "woodwind" | "other" {
  const kind = (task.practice.known[0] ?? task.part.newNotes[0])?.fingering?.kind;
  return kind === "holes" ? "woodwind" : kind ? "brass" : "other";
}

function Tick({ on, set, words }: { on: boolean; set: (on: boolean) => void; words: string }) {
  return (
    <label className="flex min-h-11 items-center gap-3">
      <input
        type="checkbox"
        className="checkbox"
        checked={on}
        onChange={(event) => set(event.target.checked)}
      />
      {words}
    </label>
  );
}
