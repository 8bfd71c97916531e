import { useEffect, useRef } from "react";
import { tooSlow } from "../../core/practice";
import type { TakeDetail } from "../../services/listening/wire";
import { HearAgain } from "../../ui/HearAgain";
import { Measures } from "../../ui/Measures";
import { clock, leftOutSentence, takeSentence } from "../../ui/wording";
import { Key } from "./Key";
import { MoveTake } from "./MoveTake";

interface Props {
  take: TakeDetail;
  open: (takeId: string) => void;
}

interface HeadProps extends Props {
  /** Takes the focus from the row or button that opened the take: the next key is meant for the take. */
  focused: boolean;
  /** The director put aside what the bench heard. */
  setAside: boolean;
  putBack: () => void;
  playFrom: (sec: number) => void;
  moved: () => void;
}

/** Whose take it is, of which line, what was measured of it as a whole, and the other takes of the same task. */
export function TakeHead({ take, open, focused, setAside, putBack, playFrom, moved }: HeadProps) {
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    if (focused) heading.current?.focus({ preventScroll: true });
  }, [focused]);
  const { assessment } = take;
  const tempo = assessment?.take.tempoBpm ?? null;
  const tuning = assessment?.take.tuningCents ?? null;
  const leftOut = leftOutSentence(assessment, take.leftOutSec, false);
  return (
    <>
      <div className="flex flex-wrap items-end justify-between gap-2">
        <div>
          <div className="flex flex-wrap items-center gap-x-3 text-sm text-quiet">
            <p>
              {take.lineNumber ? `No. ${take.lineNumber} · ` : ""}
              {take.lineTitle} · take {take.takeNumber} of {take.takeCount}
              {take.test && <b> · counts as a test</b>}
            </p>
            {!take.review && take.state !== "waiting" && <MoveTake take={take} moved={moved} />}
          </div>
          <h2 ref={heading} tabIndex={-1} className="text-3xl leading-tight outline-none">
            {take.playerName}, {take.instrumentName}
          </h2>
        </div>
        {tempo !== null && (
          <p className="flex flex-wrap gap-2 text-sm">
            <span className="panel px-2 py-1">
              own beat {Math.round(tempo)}, goal {take.goalBpm}
              {take.lowestBpm !== null && `, counts from ${take.lowestBpm} on`}
            </span>
            {tooSlow(tempo, take.lowestBpm) && (
              <span className="panel border-felt px-2 py-1 font-bold text-felt">too slow to count</span>
            )}
            {tuning !== null && (
              <span className="panel px-2 py-1">
                tuning {tuning > 0 ? "+" : "−"}
                {Math.abs(Math.round(tuning))} ¢
              </span>
            )}
          </p>
        )}
      </div>
      {take.takes.length > 1 && <OtherTakes take={take} open={open} />}
      {(take.state === "unreadable" || take.state === "unheard") && (
        <div className="flex flex-wrap items-center gap-3 rounded border border-felt bg-base-100 p-3">
          <p role="alert" className="text-felt">
            {take.problem}
          </p>
          {take.state === "unheard" && <HearAgain takeId={take.id} done={() => open(take.id)} />}
        </div>
      )}
      {take.state === "waiting" && (
        <p className="panel p-3">
          The bench is still listening to this take. You can hear it now; the beads come in a moment.
        </p>
      )}
      {leftOut && (
        <p className="panel px-3 py-1 text-sm" data-testid="left-out">
          {leftOut}
        </p>
      )}
      {assessment?.byEar && <p className="panel p-3">{takeSentence(assessment, false, take.score)}</p>}
      {assessment && <Measures score={take.score} assessment={assessment} goalBpm={take.goalBpm} />}
      {assessment?.attempts && (
        <p className="flex flex-wrap items-center gap-2 text-sm" data-testid="attempts">
          Played {assessment.attempts.length} times in this recording:
          {assessment.attempts.map(({ fromSec, toSec, judged }) => (
            <button
              key={fromSec}
              type="button"
              className={`rounded border px-2 py-0.5 ${judged ? "border-accent bg-reed font-bold" : "border-base-300 bg-base-100"}`}
              onClick={() => playFrom(fromSec)}
            >
              {clock(fromSec)} to {clock(toSec)}
              {judged && ", judged"}
            </button>
          ))}
        </p>
      )}
      {setAside && (
        <p className="panel flex items-center justify-between gap-3 px-3 py-1" data-testid="set-aside">
          You put aside what the bench heard: only your own word counts here.
          <button type="button" className="btn btn-ghost btn-sm" onClick={putBack}>
            Take it back <Key of="X" />
          </button>
        </p>
      )}
      {assessment && !setAside && assessment.take.status !== "assessed" && (
        <p className="rounded border border-felt bg-base-100 p-3 text-felt">
          {takeSentence(assessment, false, take.score)}
        </p>
      )}
    </>
  );
}

/** Every take of the task, so that a good one is never hidden behind a later slip. */
function OtherTakes({ take, open }: Props) {
  const decided = { accepted: ", accepted", again: ", asked again" };
  return (
    <nav aria-label="Takes of this task" className="flex flex-wrap gap-2 text-sm">
      {take.takes.map((each, index) => (
        <a
          key={each.id}
          href={`/listen?take=${each.id}`}
          aria-current={each.id === take.id ? "true" : undefined}
          onClick={(event) => {
            event.preventDefault();
            open(each.id);
          }}
          className={`rounded border px-2 py-1 ${each.id === take.id ? "border-accent bg-reed font-bold" : "border-base-300 bg-base-100 hover:bg-secondary/30"}`}
        >
          take {index + 1}: {each.remark}
          {each.decision ? decided[each.decision] : ""}
        </a>
      ))}
    </nav>
  );
}
