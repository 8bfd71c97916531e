import type { StandTask, TaskState } from "../../services/practice/wire";
import { tempoAndTimes } from "./words";

const STATE_WORDS: Record<TaskState, string> = {
  open: "to do",
  sent: "with your director",
  again: "please play it again",
  accepted: "accepted",
};

interface Props {
  task: StandTask;
  today: string;
  first: boolean;
  open: (id: string) => void;
}

/** One line of the stand: what, how, how often still this week. */
export function TaskCard({ task, today, first, open }: Props) {
  const days = task.practisedOn.length;
  return (
    <article
      className={`panel flex flex-col gap-2 p-4 ${task.state === "again" ? "border-l-4 border-l-felt" : ""}`}
    >
      <div className="flex flex-wrap items-baseline justify-between gap-2">
        <h3 className="text-xl">
          {task.lineNumber ? `No. ${task.lineNumber} · ` : ""}
          {task.lineTitle}
        </h3>
        <span
          className={`text-sm ${task.state === "again" ? "font-bold text-felt" : task.state === "accepted" ? "font-bold text-done" : "text-quiet"}`}
        >
          {task.toldDone ? "done" : STATE_WORDS[task.state]}
        </span>
      </div>
      {task.test && <p className="font-bold text-brass">This counts as a test.</p>}
      <p className="text-sm text-quiet">
        {task.instrumentName}
        {task.page ? ` · page ${task.page}` : ""} · {tempoAndTimes(task)} ·{" "}
        <span
          className={
            task.overdue && (task.state === "open" || task.state === "again") ? "font-bold text-felt" : ""
          }
        >
          due {task.dueLabel}
        </span>
      </p>
      {task.timesPerWeek > 1 && task.state !== "accepted" && (
        <p className="flex items-center gap-1 text-sm" data-testid="days">
          {Array.from({ length: task.timesPerWeek }, (_, i) => (
            <span
              key={i}
              className={`inline-block h-3 w-3 rounded-full border ${i < days ? "border-done bg-done" : "border-neutral"}`}
              aria-hidden="true"
            />
          ))}
          <span className="ml-2">
            {days >= task.timesPerWeek
              ? "every day of this week is done"
              : `${days} of ${task.timesPerWeek} days this week${task.practisedOn.includes(today) ? ", today is done" : ""}`}
          </span>
        </p>
      )}
      {task.bars && <p className="font-bold">Only {task.bars}.</p>}
      {task.note && <p>{task.note}</p>}
      {task.changedNote && <p className="text-sm text-brass">{task.changedNote}</p>}
      <a
        href={`/stand?task=${task.id}`}
        className={`btn h-12 ${first ? "btn-primary" : "border-base-300 bg-base-100"}`}
        onClick={(event) => {
          event.preventDefault();
          open(task.id);
        }}
      >
        {task.state === "accepted"
          ? "Play it again"
          : task.state === "again"
            ? "Hear what to change"
            : days > 0 || task.state === "sent"
              ? "Go on"
              : "Start"}
      </a>
    </article>
  );
}
