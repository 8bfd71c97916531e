import { call } from "../../client/api";
import type { TaskDetail } from "../../services/practice/wire";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

/** A task of which nothing is recorded is done when its player says so. */
export function TellDone({ task, reload }: { task: TaskDetail; reload: () => void }) {
  const { run, busy, problem } = useCall();
  const tell = async () => {
    const done = await run(
      () => call("PUT", `/api/tasks/${task.id}/done`, { done: !task.toldDone }, { keepalive: true }),
      "This was not kept. Try again in a moment.",
    );
    if (done !== undefined) reload();
  };
  return (
    <section className="panel flex flex-wrap items-center gap-3 p-3">
      <p className="flex-1">Nothing is recorded of this. Say so when you have done it.</p>
      <button
        type="button"
        className={`btn h-11 ${task.toldDone ? "border-base-300 bg-base-100" : "btn-primary"}`}
        disabled={busy}
        onClick={tell}
      >
        {task.toldDone ? "Not done after all" : "I have done it"}
      </button>
      <Problem text={problem} />
    </section>
  );
}

/** Bells or snare: a percussionist chooses for each task. */
export function InstrumentChoice({ task, reopen }: { task: TaskDetail; reopen: (taskId: string) => void }) {
  const { run, busy, problem } = useCall();
  if (task.instruments.length < 2 || task.state === "accepted") return null;
  const choose = async (instrumentId: string) => {
    const taken = await run(
      () => call<{ taskId: string }>("PUT", `/api/tasks/${task.id}/instrument`, { instrumentId }),
      "This could not be changed. Try again in a moment.",
    );
    if (taken) reopen(taken.taskId);
  };
  return (
    <fieldset className="flex flex-wrap items-center gap-2">
      <legend className="font-bold">I play it on</legend>
      {task.instruments.map(({ id, name }) => (
        <button
          key={id}
          type="button"
          className={`btn h-11 ${id === task.instrumentId ? "btn-secondary" : "border-base-300 bg-base-100"}`}
          aria-pressed={id === task.instrumentId}
          disabled={busy}
          onClick={() => id !== task.instrumentId && choose(id)}
        >
          {name}
        </button>
      ))}
      <Problem text={problem} />
    </fieldset>
  );
}
