import { useCallback, useEffect, useState } from "react";
import { ApiError, call } from "../../client/api";
import { type KeptTake, keptTakes, sendUntilDone } from "../../client/outbox";
import type { StandTask, StandView, TaskDetail, TaskState } from "../../services/practice/wire";
import { SignOut } from "../../ui/SignOut";
import { Beside } from "./Beside";
import { TaskDesk } from "./TaskDesk";
import { tempoAndTimes } from "./words";

const STATE_WORDS: Record<TaskState, string> = {
  open: "to do",
  sent: "sent, waiting for your director",
  again: "please play it again",
  accepted: "accepted",
};

/** The student's own page: today's tasks, one opened at a time. */
export function Stand({ playerId, first }: { playerId: string; first: StandView }) {
  const [view, setView] = useState(first);
  const [task, setTask] = useState<TaskDetail | null>(null);
  const [problem, setProblem] = useState("");
  const [sending, setSending] = useState("");

  const refresh = useCallback(async () => setView(await call<StandView>("GET", "/api/stand")), []);

  const open = useCallback(async (id: string) => {
    setProblem("");
    try {
      const width = innerWidth < 640 ? "narrow" : "medium";
      setTask(await call<TaskDetail>("GET", `/api/tasks/${id}?width=${width}`));
      history.replaceState(null, "", `/stand?task=${id}`);
      scrollTo(0, 0);
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "This task could not be opened.");
    }
  }, []);

  const close = () => {
    setTask(null);
    history.replaceState(null, "", "/stand");
    refresh().catch(() => undefined);
  };

  // A task in the address is opened again after a reload; takes that were on their way go on.
  useEffect(() => {
    const asked = new URLSearchParams(location.search).get("task");
    if (asked) void open(asked);
    let leaving = false;
    const resume = async () => {
      const kept = (await keptTakes(playerId)).filter(
        (take: KeptTake) => take.state === "sending" && take.taskId !== asked,
      );
      for (const take of kept) {
        if (leaving) return;
        setSending("A take recorded earlier is being sent …");
        try {
          await sendUntilDone(take, () => undefined, setSending);
          setSending("A take recorded earlier has arrived.");
          await refresh();
        } catch (error) {
          setSending(
            error instanceof ApiError ? error.message : "A take recorded earlier could not be sent.",
          );
        }
      }
    };
    void resume();
    return () => {
      leaving = true;
    };
  }, [open, playerId, refresh]);

  if (task)
    return (
      <TaskDesk
        key={task.id}
        task={task}
        playerId={playerId}
        close={close}
        reload={() => open(task.id)}
        reopen={open}
      />
    );

  const later = view.tasks.filter((each) => each.opensLabel !== null);
  const now = view.tasks.filter((each) => each.opensLabel === null);
  const unfinished = now.filter((each) => each.state === "open" || each.state === "again");
  const todo = unfinished.filter((each) => !each.extra || each.state === "again");
  const extra = unfinished.filter((each) => !todo.includes(each));
  const done = now.filter((each) => each.state === "sent" || each.state === "accepted");
  return (
    <main className="mx-auto flex min-h-screen max-w-2xl flex-col gap-4 px-4 py-5">
      <div className="flex items-start justify-between gap-3">
        <div>
          <p className="text-sm text-quiet">
            {view.playerName} · {view.bandName}
          </p>
          <h1 className="text-3xl">My stand</h1>
        </div>
        <div className="[&_.panel]:bottom-auto [&_.panel]:left-auto [&_.panel]:right-0 [&_.panel]:top-full">
          <SignOut />
        </div>
      </div>
      {problem && (
        <p role="alert" className="text-felt">
          {problem}
        </p>
      )}
      {sending && <output className="panel block p-3">{sending}</output>}
      {view.tasks.length === 0 && view.beside.length === 0 && (
        <p className="panel p-4">
          Nothing is on your stand yet. When your director assigns a line it appears here, with your own part.
        </p>
      )}
      {todo.length > 0 && (
        <section className="flex flex-col gap-3">
          <h2 className="text-xl">{todo.length === 1 ? "One thing to do" : `${todo.length} things to do`}</h2>
          {todo.map((each, index) => (
            <TaskCard key={each.id} task={each} first={index === 0} open={open} />
          ))}
        </section>
      )}
      {todo.length === 0 && now.length > 0 && (
        <p className="panel p-4">Everything that is asked is done. Play something you like.</p>
      )}
      <Beside strips={view.beside} refresh={refresh} />
      {extra.length > 0 && (
        <section className="flex flex-col gap-3">
          <h2 className="text-xl">If you want more</h2>
          {extra.map((each) => (
            <TaskCard key={each.id} task={each} first={false} open={open} />
          ))}
        </section>
      )}
      {later.length > 0 && (
        <section className="panel p-4">
          <h2 className="text-xl">Later</h2>
          {later.map((each) => (
            <p key={each.id}>
              {each.lineNumber ? `No. ${each.lineNumber} · ` : ""}
              {each.lineTitle} opens {each.opensLabel}.
            </p>
          ))}
        </section>
      )}
      {done.length > 0 && (
        <section className="flex flex-col gap-3">
          <h2 className="text-xl">Done</h2>
          {done.map((each) => (
            <TaskCard key={each.id} task={each} first={false} open={open} />
          ))}
        </section>
      )}
    </main>
  );
}

function TaskCard({ task, first, open }: { task: StandTask; first: boolean; open: (id: string) => void }) {
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
        {task.state === "accepted" || task.state === "sent"
          ? "Look at it"
          : task.state === "again"
            ? "Hear what to change"
            : "Start"}
      </a>
    </article>
  );
}
