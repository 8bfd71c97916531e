import type { Assessment } from "../../core/listen";
import { tooSlow } from "../../core/practice";
import { causesOf, goodThingOf, resultOf, USUAL_RUBRIC } from "../../core/progress";
import type { Score } from "../../core/score";
import type { OwnTake, TakeSummary, TaskDetail } from "../../services/practice/wire";
import { HearAgain } from "../../ui/HearAgain";
import { Measures } from "../../ui/Measures";

import { causeText, dayName, goodText, leftOutSentence, takeSentence } from "../../ui/wording";

/** So many things to mend are told at once. */
const MOST_TO_MEND = 2;

/** What this device heard: one thing that went well, at most two to mend, each with its loop. */
export function FirstAnswer({
  answer,
  task,
  practise,
}: {
  answer: Assessment;
  task: TaskDetail;
  /** Opens the loop of a bar; null where the line is not worked at. */
  practise: ((bar: number) => void) | null;
}) {
  const causes = answer.byEar ? [] : causesOf(answer, task.score).slice(0, MOST_TO_MEND);
  const good = answer.byEar ? null : goodThingOf(answer);
  const leftOut = leftOutSentence(answer, null, true);
  return (
    <section className="panel flex flex-col gap-2 p-4" aria-live="polite" data-testid="first-answer">
      <h2 className="text-xl">{takeSentence(answer, true, task.score)}</h2>
      {good && <p className="font-bold text-done">{goodText(good, task.score)}</p>}
      {leftOut && <p data-testid="left-out">{leftOut}</p>}
      {answer.take.tempoBpm !== null && (
        <p className="text-sm text-quiet">
          Your own beat: {Math.round(answer.take.tempoBpm)} bpm, goal {task.goalBpm}.
          {tooSlow(answer.take.tempoBpm, task.lowestBpm) && (
            <b className="text-felt"> It counts from {task.lowestBpm} on: a little faster next time.</b>
          )}
        </p>
      )}
      <Measures score={task.score} assessment={answer} goalBpm={task.goalBpm} />
      {causes.length > 0 && (
        <ul className="flex flex-col gap-2">
          {causes.map((cause) => (
            <li
              key={`${cause.kind} ${cause.places[0]!.measure}`}
              className="flex flex-wrap items-center gap-x-3 gap-y-1"
            >
              <span className="min-w-52 flex-1">{causeText(cause, task.score)}</span>
              {!task.score.purpose && practise && (
                <button
                  type="button"
                  className="btn h-11 border-base-300 bg-base-100"
                  onClick={() => practise(cause.places[0]!.measureIndex)}
                >
                  Practise this
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
      {answer.take.status === "assessed" && !answer.byEar && causes.length === 0 && (
        <p>Nothing stands out: in place from start to end.</p>
      )}
      <p className="text-sm text-quiet">A first answer from this device. Your director listens too.</p>
    </section>
  );
}

/** The director's word on a take; folded once it has been read. */
export function ReviewCard({
  take,
  open,
  practise,
}: {
  take: OwnTake;
  open: boolean;
  /** Opens the loop of a bar by its printed number. */
  practise: (measure: string) => void;
}) {
  const review = take.review!;
  const again = review.decision === "again";
  const passed = review.markedBy?.rubric.school === "pass";
  return (
    <details
      className={`panel border-l-4 px-4 py-2 ${again ? "border-l-felt" : "border-l-done"}`}
      data-testid="review"
      open={open}
    >
      <summary className="cursor-pointer font-bold">
        {review.reviewer}: {again ? "please play it again" : passed ? "passed" : "accepted"}
      </summary>
      {review.comment && <p className="mt-1">{review.comment}</p>}
      {review.forFamily && (
        <p className="mt-1" data-testid="for-family">
          <b>For your family:</b> {review.forFamily}
        </p>
      )}
      {take.setAside && (
        <p className="mt-1">Your director put aside what the bench heard. Only these words count.</p>
      )}
      {take.pins.length > 0 && (
        <ul className="mt-1 flex flex-col gap-2" data-testid="pinned">
          {take.pins.map((pin) => (
            <li key={pin.id} className="flex flex-wrap items-center gap-x-3 gap-y-1">
              <span className="min-w-52 flex-1">
                <b>{pin.measure === "0" ? "Pickup" : `Bar ${pin.measure}`}</b>
                {pin.text && `: ${pin.text}`}
              </span>
              {pin.voice && (
                // biome-ignore lint/a11y/useMediaCaption: the director's own voice
                <audio controls preload="none" src={`/api/pins/${pin.id}/sound`} className="h-11 w-56" />
              )}
              <button
                type="button"
                className="btn h-11 border-base-300 bg-base-100"
                onClick={() => practise(pin.measure)}
              >
                Practise this
              </button>
            </li>
          ))}
        </ul>
      )}
      <OwnMarks review={review} />
    </details>
  );
}

/** What was marked, each with its level in words, and what it comes to. */
function OwnMarks({ review }: { review: NonNullable<OwnTake["review"]> }) {
  const { marks, markedBy } = review;
  const { levels, criteria } = markedBy?.rubric ?? USUAL_RUBRIC;
  const given = criteria.flatMap(({ id, word }) => {
    const level = marks[id];
    return level === undefined ? [] : [`${word}: ${levels[level - 1]} (${level} of ${levels.length})`];
  });
  if (given.length === 0) return null;
  const result = markedBy && resultOf(markedBy, marks);
  return (
    <p className="mt-1 text-sm text-quiet" data-testid="own-marks">
      {given.join(" · ")}
      {result &&
        ` · together ${Math.round(result.percent)} %${result.less > 0 ? `, ${result.less} less for coming late` : ""}`}
    </p>
  );
}

/** Everything sent for this task, newest first, to hear again. */
export function History({
  takes,
  score,
  reload,
}: {
  takes: TakeSummary[];
  score: Score;
  reload: () => void;
}) {
  const [now, then] = [takes[0], takes.length > 1 ? takes.at(-1) : undefined];
  return (
    <section>
      {now && then && (
        <div className="mb-3 grid gap-2 sm:grid-cols-2" data-testid="then-and-now">
          {[["Then", then] as const, ["Now", now] as const].map(([name, take]) => (
            <figure key={name} className="panel p-3">
              <figcaption>
                <b>{name}</b> <span className="text-sm text-quiet">{recordedOn(take)}</span>
              </figcaption>
              {/* biome-ignore lint/a11y/useMediaCaption: a student's own playing has no words */}
              <audio
                controls
                preload="none"
                src={`/api/takes/${take.id}/sound`}
                className="mt-1 h-9 w-full"
              />
              {take.assessment && <p className="text-sm">{takeSentence(take.assessment, true, score)}</p>}
            </figure>
          ))}
        </div>
      )}
      <h2 className="mb-1 text-xl">Takes you sent</h2>
      <ul className="panel divide-y divide-base-300">
        {takes.map((take) => (
          <li key={take.id} className="flex flex-wrap items-center gap-3 px-3 py-2">
            <span className="text-sm text-quiet">{recordedOn(take)}</span>
            <span className="flex-1">
              {take.state === "unreadable" || take.state === "unheard"
                ? take.problem
                : take.assessment
                  ? takeSentence(take.assessment, true, score)
                  : "being listened to"}
            </span>
            {take.state === "unheard" && <HearAgain takeId={take.id} large done={reload} />}
            {/* biome-ignore lint/a11y/useMediaCaption: a student's own playing has no words */}
            <audio controls preload="none" src={`/api/takes/${take.id}/sound`} className="h-9 w-56" />
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The day of a take in a word. */
export function recordedOn(take: TakeSummary): string {
  return dayName(take.recordedAt.slice(0, 10));
}
