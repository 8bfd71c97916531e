import { useState } from "react";
import { v7 as uuid } from "uuid";
import { call } from "../../../client/api";
import type { QuestionView, TaskDetail } from "../../../services/practice/wire";
import { Problem } from "../../../ui/Problem";
import { useCall } from "../../../ui/use-call";

/** A question pinned to a bar, or "please play this for me"; and what was answered. */
export function Asking({ task }: { task: TaskDetail }) {
  const [questions, setQuestions] = useState(task.questions);
  const [measure, setMeasure] = useState("");
  const [text, setText] = useState("");
  // The same question pressed twice is one.
  const [id, setId] = useState(() => uuid());
  const { run, busy, problem } = useCall();
  const ask = async (kind: QuestionView["kind"]) => {
    const body = { id, kind, measure: measure || null, text };
    const now = await run(
      () => call<QuestionView[]>("POST", `/api/tasks/${task.id}/questions`, body),
      "Your question could not be sent. It stays here; try again in a moment.",
    );
    if (!now) return;
    setQuestions(now);
    setId(uuid());
    setText("");
  };
  const bars = task.score.parts[0].measures.map(({ number }) => number);
  const waits = questions.some(({ kind, answer }) => kind === "please-play" && answer === null);
  return (
    <>
      <div className="flex flex-wrap items-end gap-2">
        <label className="flex flex-col text-sm font-bold">
          Which bar
          <select
            className="select h-11 w-auto border-neutral font-normal"
            value={measure}
            onChange={(event) => setMeasure(event.target.value)}
          >
            <option value="">the line</option>
            {bars.map((number) => (
              <option key={number} value={number}>
                {number === "0" ? "the pickup" : `bar ${number}`}
              </option>
            ))}
          </select>
        </label>
        <label className="flex min-w-52 flex-1 flex-col text-sm font-bold">
          Your question
          <input
            className="input h-11 w-full border-neutral font-normal"
            value={text}
            maxLength={400}
            onChange={(event) => setText(event.target.value)}
          />
        </label>
        <button
          type="button"
          className="btn h-11 border-base-300 bg-base-100"
          disabled={busy || text.trim() === ""}
          onClick={() => ask("question")}
        >
          Ask
        </button>
        <button
          type="button"
          className="btn h-11 border-base-300 bg-base-100"
          disabled={busy || waits}
          onClick={() => ask("please-play")}
        >
          {waits ? "Asked to hear it" : "Please play this for me"}
        </button>
      </div>
      <p className="text-sm text-quiet">All directors of your band can read it.</p>
      <Problem text={problem} />
      {questions.length > 0 && (
        <ul className="flex flex-col gap-2" data-testid="questions">
          {questions.map((each) => (
            <li key={each.id}>
              <p>
                {each.measure ? `Bar ${each.measure}: ` : ""}
                {each.kind === "please-play" ? "Please play this for me." : each.text}{" "}
                <span className="text-sm text-quiet">{each.askedLabel}</span>
              </p>
              {each.answer !== null && (
                <div className="flex flex-col gap-1 border-l-4 border-l-done pl-3" data-testid="answered">
                  <p>
                    {each.answer} <span className="text-sm text-quiet">{each.answeredBy}</span>
                  </p>
                  {each.sound && (
                    // biome-ignore lint/a11y/useMediaCaption: the director's own voice or playing, named above
                    <audio
                      controls
                      preload="none"
                      src={`/api/questions/${each.id}/sound`}
                      className="h-11 w-full max-w-md"
                    />
                  )}
                </div>
              )}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
