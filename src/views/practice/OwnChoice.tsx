import { useState } from "react";
import { call } from "../../client/api";
import type { StandTask, StandView } from "../../services/practice/wire";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { TaskRow } from "./TaskCard";

interface Props {
  tasks: readonly StandTask[];
  next: StandView["next"];
  today: string;
  open: (id: string) => void;
  changed: () => void;
}

/** What a player does beyond what is asked: the next line of the book, opened by own choice and kept apart. */
export function OwnChoice({ tasks, next, open, changed }: Props) {
  const { run, busy, problem } = useCall();
  const [gone, setGone] = useState<StandTask | null>(null);
  if (tasks.length === 0 && !next && !gone) return null;
  const choose = async () => {
    const made = await run(
      () => call<{ taskId: string }>("POST", "/api/tasks", { lineId: next!.lineId }),
      "The line could not be opened. Try again in a moment.",
    );
    if (made) open(made.taskId);
  };
  const keep = async (task: StandTask, kept: boolean) => {
    const done = await run(
      () => call("PUT", `/api/tasks/${task.id}/kept`, { kept }),
      "This was not kept. Try again in a moment.",
    );
    if (done === undefined) return;
    setGone(kept ? null : task);
    changed();
  };
  return (
    <section className="flex flex-col gap-3" data-testid="own-choice">
      <h2 className="text-xl">By your own choice</h2>
      <p className="text-sm text-quiet">Nobody asks for this. Your director can hear it when you send it.</p>
      {tasks.map((task) => (
        <div key={task.id} className="flex flex-col gap-1">
          <TaskRow task={task} open={open} />
          <button
            type="button"
            className="btn btn-ghost h-11 self-end"
            disabled={busy}
            onClick={() => keep(task, false)}
          >
            Put it back on the shelf
          </button>
        </div>
      ))}
      {gone && (
        <p className="panel flex flex-wrap items-center gap-3 p-3">
          <span className="flex-1">{gone.lineTitle} is back on the shelf.</span>
          <button type="button" className="btn h-11" disabled={busy} onClick={() => keep(gone, true)}>
            Take it again
          </button>
        </p>
      )}
      {next && (
        <article className="panel flex flex-wrap items-center gap-x-4 gap-y-1 px-4 py-2">
          <div className="min-w-48 flex-1">
            <h3 className="text-base">
              {next.number ? `No. ${next.number} · ` : ""}
              {next.title}
            </h3>
            <p className="text-sm text-quiet">
              the next line of your book{next.page ? `, page ${next.page}` : ""}
            </p>
          </div>
          <button
            type="button"
            className="btn h-11 border-base-300 bg-base-100"
            disabled={busy}
            onClick={choose}
          >
            Open it
          </button>
        </article>
      )}
      <Problem text={problem} />
    </section>
  );
}
