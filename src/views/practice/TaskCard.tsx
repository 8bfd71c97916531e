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
      <AtSight task={task} />
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
      <Days task={task} today={today} />
      {task.bars && <p className="font-bold">Only {task.bars}.</p>}
      {task.note && <p>{task.note}</p>}
      {task.changedNote && <p className="text-sm text-brass">{task.changedNote}</p>}
      <OpenLink
        task={task}
        open={open}
        looks={`h-12 ${first ? "btn-primary" : "border-base-300 bg-base-100"}`}
      />
    </article>
  );
}

/** Leads to a line: an address of its own, opened in place. */
function OpenLink({ task, open, looks }: Pick<Props, "task" | "open"> & { looks: string }) {
  return (
    <a
      href={`/stand?task=${task.id}`}
      className={`btn ${looks}`}
      onClick={(event) => {
        event.preventDefault();
        open(task.id);
      }}
    >
      {actWords(task)}
    </a>
  );
}

function actWords(task: StandTask): string {
  if (task.sight && task.takes > 0 && task.state !== "again") return "Look at it";
  if (task.state === "accepted") return "Play it again";
  if (task.state === "again") return "Hear what to change";
  return task.practisedOn.length > 0 || task.state === "sent" ? "Go on" : "Start";
}

function AtSight({ task }: { task: StandTask }) {
  if (!task.sight || task.state === "accepted") return null;
  return (
    <p className="text-sm font-bold text-brass">
      To be read at sight: {task.sight.lookSec} seconds to look, then once.
    </p>
  );
}

/** The days of this week on which a line is asked for. */
function Days({ task, today }: { task: StandTask; today: string | null }) {
  const days = task.practisedOn.length;
  if (task.timesPerWeek < 2 || task.state === "accepted") return null;
  return (
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
          : `${days} of ${task.timesPerWeek} days this week${today !== null && task.practisedOn.includes(today) ? ", today is done" : ""}`}
      </span>
    </p>
  );
}

/** The same line in one row: what comes after the first thing, and what is done. */
export function TaskRow({ task, open }: Pick<Props, "task" | "open">) {
  return (
    <article className="panel flex flex-wrap items-center gap-x-4 gap-y-1 px-4 py-2">
      <div className="min-w-48 flex-1">
        <h3 className="text-base">
          {task.lineNumber ? `No. ${task.lineNumber} · ` : ""}
          {task.lineTitle}
        </h3>
        <p className="text-sm text-quiet">
          {task.toldDone ? "done" : STATE_WORDS[task.state]}
          {!task.chosen && ` · due ${task.dueLabel}`}
          {task.minutes ? ` · ${task.minutes} min` : ""}
        </p>
        {task.test && <p className="text-sm font-bold text-brass">This counts as a test.</p>}
        <AtSight task={task} />
        {task.note && <p className="text-sm">{task.note}</p>}
        {task.changedNote && <p className="text-sm text-brass">{task.changedNote}</p>}
        <Days task={task} today={null} />
      </div>
      <OpenLink task={task} open={open} looks="h-11 border-base-300 bg-base-100" />
    </article>
  );
}
