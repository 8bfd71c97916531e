import { useState } from "react";
import { takeSeconds } from "../../client/activity";
import { call } from "../../client/api";
import { tell } from "../../client/practice-log";
import type { StandView } from "../../services/practice/wire";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

interface Props {
  view: StandView;
  playerId: string;
  without: boolean;
  see: (page: "cards" | "tools" | "log", tool?: string) => void;
  openTask: (id: string) => void;
}

interface FootProps {
  setWithout: (on: boolean) => void;
  refresh: () => Promise<void>;
}

const LETTERS = ["M", "T", "W", "T", "F", "S", "S"];

/** Before the tasks: the week so far, the goal of today, something that goes well to begin with. */
export function StandHead({ view, playerId, without, see, openTask }: Props) {
  const [goal, setGoal] = useState(view.goal);
  const [writing, setWriting] = useState(false);
  const { days, by, askMinutes } = view.log;
  const week = days.reduce((sum, { minutes }) => sum + minutes, 0);
  const practised = days.filter(({ minutes }) => minutes > 0).length;
  const keepGoal = async () => {
    setWriting(false);
    if (goal.trim() !== view.goal)
      await tell(playerId, { kind: "goal", text: goal.trim(), seconds: takeSeconds() });
  };
  const tune = view.tunes[0];
  /** Nothing was practised today yet. */
  const fresh = view.log.days.at(-1)?.minutes === 0;
  return (
    <section className="panel flex flex-col px-4 py-2">
      <button
        type="button"
        className="flex min-h-11 flex-wrap items-center gap-x-4 gap-y-1 text-left"
        onClick={() => see("log")}
        aria-label="My log"
      >
        <span className="flex gap-1" aria-hidden="true">
          {LETTERS.map((letter, i) => {
            const minutes = days[i]?.minutes ?? 0;
            return (
              <span
                key={i}
                className={`flex h-7 w-7 items-center justify-center rounded-full border text-sm ${
                  minutes > 0
                    ? "border-done bg-done font-bold text-white"
                    : i === days.length - 1
                      ? "border-2 border-accent"
                      : "border-base-300 text-quiet"
                }`}
              >
                {letter}
              </span>
            );
          })}
        </span>
        <span data-testid="week">
          {by === "times"
            ? `${practised} ${practised === 1 ? "day" : "days"} this week, ${week} min`
            : `${week} of ${askMinutes * 5} min this week`}
        </span>
      </button>
      {writing ? (
        <form
          className="flex gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            void keepGoal();
          }}
        >
          <input
            className="input h-11 flex-1 border-neutral"
            aria-label="My goal of today"
            value={goal}
            maxLength={120}
            // biome-ignore lint/a11y/noAutofocus: the field was asked for by the button before it
            autoFocus
            onChange={(event) => setGoal(event.target.value)}
          />
          <button type="submit" className="btn h-11">
            Keep it
          </button>
        </form>
      ) : (
        <button type="button" className="min-h-11 text-left" onClick={() => setWriting(true)}>
          {goal ? (
            <>
              <span className="text-sm text-quiet">My goal today: </span>
              {goal}
            </>
          ) : (
            <span className="text-quiet underline">Set a goal for today</span>
          )}
        </button>
      )}
      {!without && fresh && view.begin && (
        <p>
          {view.begin === "set-up" ? "First: " : "Before you play: "}
          <button
            type="button"
            className="min-h-11 font-bold underline"
            onClick={() => see("tools", view.begin ?? undefined)}
          >
            {view.begin === "set-up" ? "put it together" : "tune"}
          </button>
        </p>
      )}
      {view.lessons.map(({ id, label }) => (
        <p key={id}>
          The lesson of the class, for you alone:{" "}
          <a className="inline-flex min-h-11 items-center font-bold underline" href={`/stand/lesson/${id}`}>
            {label}
          </a>
        </p>
      ))}
      {tune && !without && fresh && (
        <p>
          Begin with a tune you can play:{" "}
          <button
            type="button"
            className="min-h-11 font-bold underline"
            onClick={() => openTask(tune.taskId)}
          >
            {tune.title}
          </button>
        </p>
      )}
    </section>
  );
}

/** After the tasks: cards, tools, a day without the instrument, tunes, and how the stand looks. */
export function StandFoot({
  view,
  without,
  setWithout,
  see,
  openTask,
  refresh,
}: Omit<Props, "playerId"> & FootProps) {
  const { run, busy, problem } = useCall();
  const prefer = (change: Partial<StandView["preferences"]>) =>
    run(async () => {
      await call("PUT", "/api/preferences", { ...view.preferences, ...change });
      await refresh();
      location.reload();
    }, "This was not kept. Try again in a moment.");
  return (
    <section className="panel flex flex-col gap-1 p-4">
      <div className="flex flex-wrap gap-2">
        <button
          type="button"
          className="btn h-11 flex-1 border-base-300 bg-base-100"
          onClick={() => see("cards")}
        >
          Cards{view.cardsDue > 0 ? ` · ${view.cardsDue}` : ""}
        </button>
        <button
          type="button"
          className="btn h-11 flex-1 border-base-300 bg-base-100"
          onClick={() => see("tools")}
        >
          Tools
        </button>
        <button
          type="button"
          className={`btn h-auto min-h-11 flex-1 ${without ? "btn-secondary" : "border-base-300 bg-base-100"}`}
          aria-pressed={without}
          onClick={() => setWithout(!without)}
        >
          No instrument today
        </button>
      </div>
      {without && (
        <p className="text-sm">
          Today you hear, look, count, sing and finger. Steps that need the instrument wait for tomorrow.
        </p>
      )}
      {view.tunes.length > 0 && !without && (
        <details>
          <summary className="flex min-h-11 cursor-pointer items-center">
            Tunes I can play ({view.tunes.length}): begin with one
          </summary>
          <ul className="flex flex-wrap gap-2">
            {view.tunes.map(({ taskId, title, number }) => (
              <li key={taskId}>
                <button
                  type="button"
                  className="btn h-11 border-base-300 bg-base-100"
                  onClick={() => openTask(taskId)}
                >
                  {number ? `No. ${number} · ` : ""}
                  {title}
                </button>
              </li>
            ))}
          </ul>
        </details>
      )}
      <details>
        <summary className="flex min-h-11 cursor-pointer items-center text-sm text-quiet">
          How it looks
        </summary>
        <label className="flex min-h-11 items-center gap-3">
          <input
            type="checkbox"
            className="checkbox"
            checked={view.preferences.large}
            disabled={busy}
            onChange={(event) => prefer({ large: event.target.checked })}
          />
          Larger notes
        </label>
        <label className="flex min-h-11 items-center gap-3">
          <input
            type="checkbox"
            className="checkbox"
            checked={view.preferences.leftHanded}
            disabled={busy}
            onChange={(event) => prefer({ leftHanded: event.target.checked })}
          />
          Buttons for the left hand
        </label>
        <Problem text={problem} />
      </details>
    </section>
  );
}
