import { useMemo, useState } from "react";
import { decodeInBrowser } from "../../../client/sound";
import type { Pcm } from "../../../core/audio";
import type { Assessment } from "../../../core/listen";
import { type DifferingBar, differingBars, layTogether } from "../../../core/practice";
import type { TaskDetail } from "../../../services/practice/wire";
import { BeatLights } from "../../../ui/BeatLights";
import { Notation } from "../../../ui/Notation";
import { differsText, HEADPHONES_CAUTION } from "../../../ui/wording";
import { recordedOn } from "../answers";
import { ThumbBar } from "../ThumbBar";
import { useRound } from "./use-round";

interface Props {
  task: TaskDetail;
  end: () => void;
  /** Opens the loop of a bar, by index in the line. */
  practise: (bar: number) => void;
}

/** Who plays the other part, as recorded. */
interface Other {
  name: string;
  pcm: Pcm;
  heard: Assessment;
}

/** Playing together: with one's own take, or with somebody who plays first on this device. Then the bars in which both differ. */
export function Partner({ task, end, practise }: Props) {
  const round = useRound(task);
  const { desk, follow } = round;
  const score = task.recordScore;
  const [other, setOther] = useState<Other | null>(null);
  const [problem, setProblem] = useState("");
  const [differing, setDiffering] = useState<DifferingBar[] | null>(null);
  const takes = task.history.filter(({ assessment }) => assessment?.take.status === "assessed").slice(0, 3);
  const together = useMemo(() => other && layTogether(score, other.heard), [other, score]);
  const bars = score.parts[0].measures;
  const inLine = (bar: number) =>
    task.score.parts[0].measures.findIndex(({ number }) => number === bars[bar]!.number);

  const withTake = async (id: string, heard: Assessment, name: string) => {
    setProblem("");
    try {
      const answer = await fetch(`/api/takes/${id}/sound`);
      if (!answer.ok) throw new Error();
      setOther({ name, heard, pcm: await decodeInBrowser(await answer.blob()) });
    } catch {
      setProblem("This take could not be fetched. Its sound may be erased, or there is no connection.");
    }
  };
  const partnerPlays = async () => {
    setDiffering(null);
    const found = await round.play({ score, mode: undefined, bpm: task.goalBpm, click: false, way: "play" });
    if (found?.assessment?.take.status === "assessed" && found.pcm)
      setOther({ name: "your partner", heard: found.assessment, pcm: found.pcm });
  };
  const playWith = async () => {
    if (!other || !together) return;
    setDiffering(null);
    const { pcm } = other;
    const found = await round.play({
      score,
      mode: undefined,
      bpm: together.bpm,
      click: false,
      way: "play",
      beside: {
        atSec: together.lineSec,
        pcm: pcm.samples.subarray(Math.round(together.fromSec * pcm.sampleRate)),
        rate: pcm.sampleRate,
      },
    });
    if (found?.assessment?.take.status === "assessed")
      setDiffering(differingBars(score, other.heard, found.assessment));
  };
  const playing = desk.at === "playing" || desk.at === "starting" || desk.at === "judging";
  return (
    <>
      <div>
        <h1 className="text-3xl leading-tight">Play with a partner</h1>
        <p className="text-base">
          {other
            ? `You play with ${other.name}. Afterwards you see where you differ; nobody is marked.`
            : "Who plays the other part?"}
        </p>
      </div>
      {!other && !playing && (
        <div className="flex flex-col gap-2">
          {takes.map((take) => (
            <button
              key={take.id}
              type="button"
              className="btn h-12 justify-start border-base-300 bg-base-100"
              onClick={() => withTake(take.id, take.assessment!, `yourself, ${recordedOn(take)}`)}
            >
              I do: my take of {recordedOn(take)}
            </button>
          ))}
          <button
            type="button"
            className="btn h-12 justify-start border-base-300 bg-base-100"
            onClick={partnerPlays}
            data-testid="partner-plays"
          >
            Somebody beside me: they play first, now
          </button>
          <p className="text-sm text-quiet">
            What your partner plays stays on this page. It is sent to nobody, and is gone when you leave.
          </p>
        </div>
      )}
      <div className="panel p-2 sm:p-3" data-testid="music">
        <Notation
          svg={task.part.svg}
          label={`${task.lineTitle}, your part for ${task.instrumentName}`}
          cursorId={follow.eventId}
          aheadId={follow.aheadId}
          rings={differing?.flatMap(({ eventIds }) => eventIds) ?? []}
        />
      </div>
      {desk.at === "ready" && desk.problem && (
        <p role="alert" className="rounded border border-felt bg-base-100 p-3 text-felt">
          {desk.problem}
        </p>
      )}
      {problem && <p role="alert">{problem}</p>}
      {other && !together && (
        <p role="alert">This take cannot be counted in: too little of the line was heard in it.</p>
      )}
      {desk.at === "ready" && desk.told && desk.told.judged.outcome === null && (
        <output className="panel block p-3">That could not be heard as this line. Play it once more.</output>
      )}
      {differing && (
        <section className="panel flex flex-col gap-2 p-4" aria-live="polite" data-testid="differing">
          <h2 className="text-xl">
            {differing.length === 0
              ? "You played alike in every bar."
              : differing.length === 1
                ? "One bar differs."
                : `${differing.length} bars differ.`}
          </h2>
          <ul className="flex flex-col gap-2">
            {differing.map((each) => (
              <li key={each.bar} className="flex flex-wrap items-center gap-3">
                <span className="min-w-52 flex-1">{differsText(each, bars[each.bar]!.number)}</span>
                <button
                  type="button"
                  className="btn h-11 border-base-300 bg-base-100"
                  onClick={() => practise(Math.max(0, inLine(each.bar)))}
                >
                  Practise this
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
      {playing && (
        <BeatLights
          beats={round.beats}
          current={follow.count > 0 ? (follow.count - 1) % round.beats : follow.beat}
        />
      )}
      {other && !playing && <p className="text-sm text-brass">{HEADPHONES_CAUTION}</p>}
      <ThumbBar leftHanded={task.preferences.leftHanded}>
        {playing ? (
          <button type="button" className="btn btn-error h-14 flex-1" onClick={round.stop}>
            {follow.count > 0 ? `Count ${follow.count} …` : desk.at === "judging" ? "Listening …" : "Stop"}
          </button>
        ) : (
          <>
            <button type="button" className="btn h-14 flex-1 border-base-300 bg-base-100" onClick={end}>
              Back to the line
            </button>
            {other && (
              <button
                type="button"
                className="btn h-14 flex-1 border-base-300 bg-base-100"
                onClick={() => {
                  setOther(null);
                  setDiffering(null);
                  round.clear();
                }}
              >
                Somebody else
              </button>
            )}
            {other && together && (
              <button
                type="button"
                className="btn btn-primary h-14 flex-[2]"
                onClick={playWith}
                data-testid="main"
              >
                Play together
              </button>
            )}
          </>
        )}
      </ThumbBar>
    </>
  );
}
