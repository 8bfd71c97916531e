import { useEffect, useMemo, useRef, useState } from "react";
import { parsePitch } from "../../../core/music";
import { type LookQuestion, lookQuestions } from "../../../core/practice";
import type { TaskDetail } from "../../../services/practice/wire";
import { lookChoice, lookText, meaningOf } from "../../../ui/wording";

interface Props {
  task: TaskDetail;
  /** A notehead that was tapped, and how often anything was: the same one twice counts as two. */
  tapped: { eventId: string; times: number } | null;
  setRings: (eventIds: string[]) => void;
  done: () => void;
}

/** Signature, new notes, how long and how often, which bars are the same: found by looking, one question at a time. */
export function LookStep({ task, tapped, setRings, done }: Props) {
  const questions = useMemo(
    () =>
      lookQuestions(
        task.score,
        task.part.newNotes.map(({ name }) => parsePitch(name)),
        seedOf(task.id),
      ),
    [task],
  );
  const [at, setAt] = useState(0);
  const [found, setFound] = useState<string[]>([]);
  const [answered, setAnswered] = useState<{ choice: string | number; right: boolean } | null>(null);
  const question = questions[at];

  const next = () => {
    setAnswered(null);
    setFound([]);
    setRings([]);
    setAt(at + 1);
  };
  const choose = (eventId: string) => {
    if (question?.kind !== "find") return;
    if (!question.eventIds.includes(eventId)) return setAnswered({ choice: "", right: false });
    const now = [...new Set([...found, eventId])];
    setFound(now);
    setRings(now);
    setAnswered(now.length === question.eventIds.length ? { choice: "", right: true } : null);
  };
  const latest = useRef(choose);
  latest.current = choose;
  useEffect(() => {
    if (tapped) latest.current(tapped.eventId);
  }, [tapped]);

  const words = [...task.part.newSigns, ...task.part.newRhythms].filter((name) => meaningOf(name));
  return (
    <section className="panel flex flex-col gap-3 p-4" aria-live="polite">
      {words.length > 0 && at === 0 && (
        <ul className="flex flex-col gap-1">
          {words.map((name) => (
            <li key={name}>
              <b>{name}:</b> {meaningOf(name)}
            </li>
          ))}
        </ul>
      )}
      {question ? (
        <>
          <p className="text-sm text-quiet">
            {at + 1} of {questions.length}
          </p>
          <p className="text-xl">{lookText(question)}</p>
          {"choices" in question ? (
            <div className="flex flex-wrap gap-2">
              {(question.choices as (string | number)[]).map((choice) => (
                <button
                  key={choice}
                  type="button"
                  className={`btn h-12 min-w-24 flex-1 ${looks(question, choice, answered)}`}
                  disabled={answered?.right === true}
                  onClick={() => setAnswered({ choice, right: choice === question.answer })}
                >
                  {lookChoice(question, choice)}
                </button>
              ))}
            </div>
          ) : (
            <Found question={question} found={found} choose={choose} task={task} />
          )}
          {answered && (
            <p className={answered.right ? "font-bold text-done" : "font-bold text-felt"}>
              {answered.right ? "Yes." : "Not that one. Look again."}
            </p>
          )}
          {answered?.right && (
            <button type="button" className="btn btn-primary h-12" onClick={next} data-testid="next-question">
              {at + 1 < questions.length ? "Next question" : "All seen"}
            </button>
          )}
        </>
      ) : (
        <>
          <p>
            {questions.length > 0
              ? "You have looked at everything. Write in what you want to remember, then go on."
              : "Look once from the first note to the last."}
          </p>
          <button type="button" className="btn btn-primary h-12" onClick={done}>
            Go on
          </button>
        </>
      )}
    </section>
  );
}

/** The same without a pointer: the notes of the line as a list of buttons. */
function Found({
  question,
  found,
  choose,
  task,
}: {
  question: Extract<LookQuestion, { kind: "find" }>;
  found: string[];
  choose: (eventId: string) => void;
  task: TaskDetail;
}) {
  return (
    <>
      <p className="text-sm text-quiet">
        {found.length} of {question.eventIds.length} found
      </p>
      <details className="text-sm">
        <summary className="cursor-pointer">Choose from a list instead</summary>
        <div className="mt-2 flex flex-wrap gap-1">
          {task.part.noteList.map(({ eventId, measure, beat }, index) => (
            <button
              key={eventId}
              type="button"
              className="btn btn-sm border-base-300 bg-base-100"
              aria-pressed={found.includes(eventId)}
              onClick={() => choose(eventId)}
            >
              note {index + 1}
              <span className="sr-only">
                {" "}
                in bar {measure}, beat {Math.floor(beat)}
              </span>
            </button>
          ))}
        </div>
      </details>
    </>
  );
}

function looks(
  question: Extract<LookQuestion, { choices: unknown }>,
  choice: string | number,
  answered: { choice: string | number; right: boolean } | null,
): string {
  if (answered?.choice !== choice) return "border-base-300 bg-base-100";
  return choice === question.answer ? "btn-success" : "border-felt bg-base-100 text-felt";
}

/** The same questions for a line every time it is opened. */
function seedOf(id: string): number {
  return [...id].reduce((sum, sign) => (sum * 31 + sign.charCodeAt(0)) % 1_000_003, 7);
}
