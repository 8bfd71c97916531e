import { improvements, minutesOf, missingFor } from "../../../core/practice";
import type { TaskDetail } from "../../../services/practice/wire";
import { improvementText } from "../../../ui/wording";
import type { useLine } from "./use-line";

interface Props {
  task: TaskDetail;
  line: ReturnType<typeof useLine>;
  close: () => void;
}

/** The end of a sitting: what was done, what got better, what is still asked this week. */
export function Finished({ task, line: { path, standing, facts, today, say }, close }: Props) {
  const now = facts.filter(({ day }) => day === today);
  const better = improvements(
    facts.filter(({ day }) => day !== today),
    now,
  )[0];
  const missing = missingFor(task.practice.rule, standing);
  const days = new Set([...task.practisedOn, today]).size;
  const more = task.timesPerWeek - days;
  const whole = path.find(({ step }) => step === "whole");
  return (
    <section className="panel flex flex-col gap-3 p-4" data-testid="finished">
      <h1 className="text-3xl leading-tight">Done for today</h1>
      <p>
        {minutesOf(now) > 0 &&
          `${minutesOf(now)} ${minutesOf(now) === 1 ? "minute" : "minutes"} with this line. `}
        {better ? improvementText(better) : ""}
      </p>
      {more > 0 ? (
        <p>
          {more === 1 ? "One more day" : `${more} more days`} this week. Short and often is better than long
          and once.
        </p>
      ) : (
        <p className="font-bold text-done">That is every day that was asked this week.</p>
      )}
      {missing && missing.cleanDays > 0 && (
        <p>
          It is learned when you play it clean on{" "}
          {missing.cleanDays === 1 ? "one more day" : `${missing.cleanDays} more days`}
          {missing.passes > 1 ? `, ${missing.passes} times each` : ""}.
        </p>
      )}
      {!missing && <p className="font-bold text-done">You have learned this line.</p>}
      <div className="flex flex-wrap gap-2">
        {whole && (
          <button
            type="button"
            className="btn h-12 border-base-300 bg-base-100"
            onClick={() => say({ kind: "went", leg: whole.id })}
          >
            Play it once more
          </button>
        )}
        <button type="button" className="btn btn-primary h-12 flex-1" onClick={close}>
          Back to my stand
        </button>
      </div>
    </section>
  );
}
