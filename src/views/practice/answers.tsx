import type { Assessment } from "../../core/listen";
import { tooSlow } from "../../core/practice";
import type { TakeSummary, TaskDetail } from "../../services/practice/wire";
import { HearAgain } from "../../ui/HearAgain";
import { Measures } from "../../ui/Measures";

import { helpfulAdvice, spots, takeSentence } from "../../ui/wording";

/** What this device heard, told to the player in a few sentences. */
export function FirstAnswer({ answer, task }: { answer: Assessment; task: TaskDetail }) {
  const told = helpfulAdvice(spots(answer, task.score));
  return (
    <section className="panel p-4" aria-live="polite" data-testid="first-answer">
      <h2 className="text-xl">{takeSentence(answer, true)}</h2>
      {answer.take.tempoBpm !== null && (
        <p className="text-sm text-quiet">
          Your own beat: {Math.round(answer.take.tempoBpm)} bpm, goal {task.goalBpm}.
          {tooSlow(answer.take.tempoBpm, task.lowestBpm) && (
            <b className="text-felt"> It counts from {task.lowestBpm} on: a little faster next time.</b>
          )}
        </p>
      )}
      <Measures score={task.score} assessment={answer} goalBpm={task.goalBpm} />
      {told.length > 0 && (
        <ul className="mt-2 flex list-disc flex-col gap-1 pl-5">
          {told.map((sentence) => (
            <li key={sentence}>{sentence}</li>
          ))}
        </ul>
      )}
      {answer.take.status === "assessed" && !answer.byEar && told.length === 0 && (
        <p className="mt-1">Nothing stands out: in place from start to end.</p>
      )}
      <p className="mt-2 text-sm text-quiet">A first answer from this device. Your director listens too.</p>
    </section>
  );
}

/** The director's word on a take. */
export function ReviewCard({ take, words }: { take: TakeSummary; words: Record<string, string> }) {
  const review = take.review!;
  return (
    <section
      className={`panel border-l-4 p-4 ${review.decision === "again" ? "border-l-felt" : "border-l-done"}`}
      data-testid="review"
    >
      <h2 className="text-xl">{review.decision === "again" ? "Please play it again" : "Accepted"}</h2>
      {review.comment && <p className="mt-1">{review.comment}</p>}
      {Object.keys(review.marks).length > 0 && (
        <p className="mt-1 text-sm text-quiet">
          {Object.entries(review.marks)
            .map(([name, mark]) => `${words[name] ?? name} ${mark} of 4`)
            .join(" · ")}
        </p>
      )}
      <p className="mt-1 text-sm text-quiet">{review.reviewer}</p>
    </section>
  );
}

/** Everything sent for this task, newest first, to hear again. */
export function History({ takes, reload }: { takes: TakeSummary[]; reload: () => void }) {
  return (
    <section>
      <h2 className="mb-1 text-xl">Takes you sent</h2>
      <ul className="panel divide-y divide-base-300">
        {takes.map((take) => (
          <li key={take.id} className="flex flex-wrap items-center gap-3 px-3 py-2">
            <span className="text-sm text-quiet">
              {new Date(take.recordedAt).toLocaleDateString("en-GB", {
                weekday: "short",
                day: "numeric",
                month: "short",
              })}
            </span>
            <span className="flex-1">
              {take.state === "unreadable" || take.state === "unheard"
                ? take.problem
                : take.assessment
                  ? takeSentence(take.assessment, true)
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
