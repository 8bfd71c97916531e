import { useMemo } from "react";
import { causesOf } from "../../../core/progress";
import type { Score } from "../../../core/score";
import { causeText, outcomeSentence, sungAdvice, sungSentence } from "../../../ui/wording";
import type { ToldRound } from "./desk";

/** What came of the last round: one sentence, and at most two things to mend. */
export function Told({ told, score }: { told: ToldRound; score: Score }) {
  const { judged, assessment, sung } = told;
  const advice = useMemo(
    () =>
      judged.outcome === null || judged.outcome === "clean" || !assessment
        ? []
        : causesOf(assessment, score)
            .slice(0, 2)
            .map((cause) => causeText(cause, score)),
    [judged, assessment, score],
  );
  const looks =
    judged.outcome === "clean"
      ? "border-l-done"
      : judged.outcome === "poor"
        ? "border-l-felt"
        : "border-l-accent";
  return (
    <section
      className={`panel border-l-4 p-3 ${looks}`}
      aria-live="polite"
      data-testid="told"
      data-outcome={judged.outcome ?? "unheard"}
    >
      <p className="font-bold">{sung ? sungSentence(sung) : outcomeSentence(judged)}</p>
      {sung && sungAdvice(sung).map((sentence) => <p key={sentence}>{sentence}</p>)}
      {advice.length > 0 && (
        <ul className="mt-1 list-disc pl-5">
          {advice.map((sentence) => (
            <li key={sentence}>{sentence}</li>
          ))}
        </ul>
      )}
    </section>
  );
}
