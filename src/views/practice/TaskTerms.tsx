import { call } from "../../client/api";
import type { TaskDetail } from "../../services/practice/wire";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { STEP_ASKS } from "../../ui/wording";

/** A task of which nothing is recorded is done when its player says so. */
export function useTellDone(task: TaskDetail, reload: () => void) {
  const { run, busy, problem } = useCall();
  const tell = async () => {
    const done = await run(
      () => call("PUT", `/api/tasks/${task.id}/done`, { done: !task.toldDone }),
      "This was not kept. Try again in a moment.",
    );
    if (done !== undefined) reload();
  };
  return { tell, busy, problem };
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

/** What the director leads through, one after the other. */
export function Steps({ steps }: { steps: TaskDetail["steps"] }) {
  if (steps.length === 0) return null;
  return (
    <section className="panel p-4">
      <h2 className="text-xl">How to practise it</h2>
      <ol className="mt-1 flex list-decimal flex-col gap-1 pl-6">
        {steps.map((step, index) => (
          <li key={index}>{STEP_ASKS[step]}</li>
        ))}
      </ol>
    </section>
  );
}

/** Tempi to climb, slowest first; nothing where the goal stands alone. */
export function Ladder({
  rungs,
  bpm,
  setBpm,
}: {
  rungs: number[];
  bpm: number;
  setBpm: (bpm: number) => void;
}) {
  if (rungs.length < 2) return null;
  return (
    <fieldset aria-label="Tempo ladder" className="flex flex-wrap items-center gap-1">
      {rungs.map((rung) => (
        <button
          key={rung}
          type="button"
          className={`btn h-11 min-w-11 px-2 ${rung === bpm ? "btn-secondary" : "border-base-300 bg-base-100"}`}
          aria-pressed={rung === bpm}
          onClick={() => setBpm(rung)}
        >
          {rung}
        </button>
      ))}
      <span className="text-sm text-quiet">up after two clean times, down after two poor ones</span>
    </fieldset>
  );
}
