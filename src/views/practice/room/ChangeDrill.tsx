import { useState } from "react";
import { takeSeconds } from "../../../client/activity";
import { tell } from "../../../client/practice-log";
import { playAlong } from "../../../core/playalong";
import { CHANGE_BPM, CHANGE_GAPS, changeTurn, type Drill, nextGap } from "../../../core/practice";
import { timeline } from "../../../core/score";
import type { TaskDetail } from "../../../services/practice/wire";
import { BeatLights } from "../../../ui/BeatLights";
import { FingeringList } from "../../../ui/Fingering";
import { RoomBar } from "./RoomBar";
import { Told } from "./Told";
import { useRound } from "./use-round";
import type { Pair } from "./use-special";

interface Props {
  task: TaskDetail;
  playerId: string;
  drill: Pair;
  end: () => void;
}

/** Two notes and the change between them: six seconds, five, four ... until it is in time. */
export function ChangeDrill({ task, playerId, drill: { from, to, pitches }, end }: Props) {
  const [drill, setDrill] = useState<Drill>({ at: 0, poor: 0 });
  const round = useRound(task);
  const through = drill.at >= CHANGE_GAPS.length;
  const gap = CHANGE_GAPS[Math.min(drill.at, CHANGE_GAPS.length - 1)]!;
  const score = changeTurn(pitches[0], pitches[1], gap, task.score.parts[0]);
  const notes = [...task.practice.known, ...task.part.newNotes].filter(
    ({ name }) => name === from || name === to,
  );
  const play = async () => {
    const told = await round.play({ score, mode: undefined, bpm: CHANGE_BPM, click: true, way: "play" });
    const outcome = told?.judged.outcome;
    if (!outcome) return;
    setDrill(nextGap(drill, outcome));
    if (outcome === "clean")
      await tell(playerId, { kind: "change", from, to, gap, taskId: task.id, seconds: takeSeconds() });
  };
  const hear = () =>
    round.hear(playAlong(timeline(score, { bpm: CHANGE_BPM })), CHANGE_BPM, {
      count: true,
      click: true,
      reference: true,
      sound: task.instrumentId,
    });
  const { desk, follow } = round;
  return (
    <>
      <div>
        <h1 className="text-3xl leading-tight">
          {from} to {to}
        </h1>
        <p>
          {through
            ? "The change is in time. Back to the line with it."
            : gap === 0
              ? "No pause now: one note after the other, in time."
              : `Play ${from}. Take ${gap} ${gap === 1 ? "second" : "seconds"} to get ready. Play ${to}, and back.`}
        </p>
      </div>
      <ol className="flex flex-wrap gap-2" aria-label="Seconds for the change">
        {CHANGE_GAPS.map((each, index) => (
          <li
            key={each}
            aria-current={index === drill.at ? "step" : undefined}
            className={`flex h-11 min-w-14 flex-1 items-center justify-center rounded border font-bold ${
              index === drill.at
                ? "border-2 border-accent bg-reed"
                : index < drill.at
                  ? "border-done bg-done/10"
                  : "border-base-300 bg-base-100"
            }`}
          >
            {each === 0 ? "in time" : `${each} s`}
          </li>
        ))}
      </ol>
      {notes.length > 0 && <FingeringList notes={notes} />}
      {(desk.at === "ready" || desk.at === "hearing") && desk.told && <Told told={desk.told} score={score} />}
      {desk.at === "ready" && desk.problem && (
        <p role="alert" className="rounded border border-felt bg-base-100 p-3 text-felt">
          {desk.problem}
        </p>
      )}
      {desk.at === "playing" && <BeatLights beats={4} current={follow.beat % 4} />}
      <RoomBar
        leg={{ id: "change", step: "snags", places: [], rungs: [] }}
        desk={desk}
        follow={follow}
        asked={false}
        leftHanded={task.preferences.leftHanded}
        hear={hear}
        main={through ? null : play}
        stop={round.stop}
        giveUp={round.clear}
        slower={null}
        skip={end}
        skipWords="Back to the line"
        went={() => undefined}
      />
    </>
  );
}
