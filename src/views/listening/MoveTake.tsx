import { useState } from "react";
import { call } from "../../client/api";
import type { OtherTask, TakeDetail } from "../../services/listening/wire";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

/** A take that was another line is moved to the task of that line, and heard again against it. */
export function MoveTake({ take, moved }: { take: TakeDetail; moved: () => void }) {
  const [tasks, setTasks] = useState<OtherTask[] | null>(null);
  const [chosen, setChosen] = useState("");
  const { run, busy, problem } = useCall();
  const unfold = async () => {
    const found = await run(
      () => call<{ tasks: OtherTask[] }>("GET", `/api/takes/${take.id}/task`),
      "The other lines could not be fetched.",
    );
    if (found) setTasks(found.tasks);
  };
  const move = async () => {
    const done = await run(
      () => call("PUT", `/api/takes/${take.id}/task`, { taskId: chosen }),
      "The take could not be moved. It is where it was.",
    );
    if (done) moved();
  };
  const first = take.playerName.split(" ")[0];
  return (
    <div className="text-sm">
      {tasks === null ? (
        <button type="button" className="underline" disabled={busy} onClick={unfold}>
          It was another line
        </button>
      ) : tasks.length === 0 ? (
        `${first} has no other line this could be.`
      ) : (
        <span className="flex flex-wrap items-center gap-2">
          It was
          <select
            aria-label="The line it was"
            className="select select-sm w-auto max-w-72 border-neutral"
            value={chosen}
            onChange={(event) => setChosen(event.target.value)}
          >
            <option value="">choose the line</option>
            {tasks.map(({ taskId, lineTitle, lineNumber, dueLabel, state }) => (
              <option key={taskId} value={taskId}>
                {lineNumber ? `No. ${lineNumber} ` : ""}
                {lineTitle}, due {dueLabel}
                {state === "accepted" ? ", accepted" : ""}
              </option>
            ))}
          </select>
          <button type="button" className="btn btn-sm" disabled={busy || chosen === ""} onClick={move}>
            Move it there
          </button>
        </span>
      )}
      <Problem text={problem} />
    </div>
  );
}
