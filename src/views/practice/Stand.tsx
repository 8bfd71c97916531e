import { lazy, Suspense, useCallback, useEffect, useState } from "react";
import { ApiError, call } from "../../client/api";
import { localDay } from "../../client/day";
import { keepForOffline, startOffline } from "../../client/offline";
import { type KeptTake, keptTakes, sendUntilDone } from "../../client/outbox";
import { sendFacts } from "../../client/practice-log";
import type { StandView, TaskDetail } from "../../services/practice/wire";
import { SignOut } from "../../ui/SignOut";
import { Beside } from "./Beside";
import { OwnChoice } from "./OwnChoice";
import { StandFoot, StandHead } from "./StandHead";
import { TaskCard, TaskRow } from "./TaskCard";
import { engravingWidth } from "./width";

const Cards = lazy(() => import("./cards/Cards"));
const Tools = lazy(() => import("./tools/Tools"));
const Log = lazy(() => import("./log/Log"));
/** The practice room is most of the code: it comes while the stand is read. */
const theRoom = () => import("./room/Room").then(({ Room }) => ({ default: Room }));
const Room = lazy(theRoom);
const ROOM_AFTER_MS = 500;

/** What of the stand is open: the stand itself, a task, or one of the pages beside it. */
type Place =
  | { see: "stand" | "cards" | "log" }
  | { see: "tools"; tool?: string | undefined }
  | { see: "task"; id: string };

function placeOf(search: string): Place {
  const asked = new URLSearchParams(search);
  const task = asked.get("task");
  if (task) return { see: "task", id: task };
  const see = asked.get("see");
  if (see === "tools") return { see, tool: asked.get("tool") ?? undefined };
  return see === "cards" || see === "log" ? { see } : { see: "stand" };
}

function addressOf(place: Place): string {
  if (place.see === "task") return `/stand?task=${place.id}`;
  if (place.see === "tools" && place.tool) return `/stand?see=tools&tool=${place.tool}`;
  return place.see === "stand" ? "/stand" : `/stand?see=${place.see}`;
}

/** Without the instrument for a day: kept on this device until it ends. */
const WITHOUT = "ulu-without-instrument";

/** The student's own page: today's tasks, one opened at a time. */
export function Stand({ playerId, first }: { playerId: string; first: StandView }) {
  const [view, setView] = useState(first);
  const [place, setPlace] = useState<Place>({ see: "stand" });
  const [task, setTask] = useState<TaskDetail | null>(null);
  const [problem, setProblem] = useState("");
  const [sending, setSending] = useState("");
  const [without, setWithout] = useState(false);

  const refresh = useCallback(async () => setView(await call<StandView>("GET", "/api/stand")), []);

  const open = useCallback(
    async (id: string) => {
      setProblem("");
      try {
        setTask(
          await call<TaskDetail>("GET", `/api/tasks/${id}?width=${engravingWidth(first.preferences.large)}`),
        );
        scrollTo(0, 0);
        return true;
      } catch (error) {
        setProblem(error instanceof ApiError ? error.message : "This task could not be opened.");
        return false;
      }
    },
    [first.preferences.large],
  );
  const show = useCallback(
    async (next: Place) => {
      if (next.see === "task" && !(await open(next.id))) return setPlace({ see: "stand" });
      if (next.see !== "task") setTask(null);
      setPlace(next);
      if (next.see === "stand") refresh().catch(() => undefined);
    },
    [open, refresh],
  );
  /** Goes somewhere; the browser's back comes back from there. */
  const go = (next: Place) => {
    history.pushState(null, "", addressOf(next));
    void show(next);
  };

  useEffect(() => {
    void show(placeOf(location.search));
    const back = () => void show(placeOf(location.search));
    addEventListener("popstate", back);
    return () => removeEventListener("popstate", back);
  }, [show]);
  useEffect(() => {
    try {
      setWithout(localStorage.getItem(WITHOUT) === localDay());
    } catch {
      // Nothing is kept here: the choice holds for this page.
    }
  }, []);
  const setWithoutToday = (on: boolean) => {
    setWithout(on);
    try {
      if (on) localStorage.setItem(WITHOUT, localDay());
      else localStorage.removeItem(WITHOUT);
    } catch {
      // As above.
    }
  };

  // What was made before goes out by itself: takes, and what was practised.
  useEffect(() => {
    let leaving = false;
    const resume = async () => {
      await sendFacts(playerId);
      const asked = placeOf(location.search);
      const kept = (await keptTakes(playerId)).filter(
        (take: KeptTake) => take.state === "sending" && !(asked.see === "task" && asked.id === take.taskId),
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
    const online = () => void sendFacts(playerId);
    addEventListener("online", online);
    return () => {
      leaving = true;
      removeEventListener("online", online);
    };
  }, [playerId, refresh]);
  // Today's lines, their sounds and the engine are kept for a way home without network.
  useEffect(() => {
    void startOffline(playerId).then((ready) => {
      if (!ready) return;
      // The page itself may be the one of the last visit, where the network was slow.
      if (navigator.serviceWorker.controller) refresh().catch(() => undefined);
      void keepForOffline(first, engravingWidth(first.preferences.large));
    });
  }, [playerId, first, refresh]);

  useEffect(() => {
    const wait = setTimeout(theRoom, ROOM_AFTER_MS);
    return () => clearTimeout(wait);
  }, []);

  if (place.see === "task" && task)
    return (
      <Suspense fallback={<p className="p-6">Opening …</p>}>
        <Room
          key={task.id}
          task={task}
          player={{ id: playerId, name: view.playerName }}
          withoutInstrument={without}
          close={() => go({ see: "stand" })}
          reload={() => void open(task.id)}
          reopen={(id) => go({ see: "task", id })}
        />
      </Suspense>
    );
  if (place.see !== "stand" && place.see !== "task") {
    const back = { playerId, close: () => go({ see: "stand" }) };
    return (
      <Suspense fallback={<p className="p-6">Opening …</p>}>
        {place.see === "cards" && <Cards {...back} />}
        {place.see === "tools" && <Tools {...back} first={place.tool} />}
        {place.see === "log" && <Log {...back} />}
      </Suspense>
    );
  }

  const lying = (heap: StandView["tasks"][number]["heap"]) => view.tasks.filter((each) => each.heap === heap);
  const [todo, doneToday, extra] = [lying("todo"), lying("done-today"), lying("extra")];
  const [chosen, done, later] = [lying("chosen"), lying("done"), lying("later")];
  const openTask = (id: string) => go({ see: "task", id });
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
          <SignOut before={() => sendFacts(playerId)} />
        </div>
      </div>
      {problem && (
        <p role="alert" className="text-felt">
          {problem}
        </p>
      )}
      {sending && <output className="panel block p-3">{sending}</output>}
      <StandHead
        view={view}
        playerId={playerId}
        without={without}
        see={(see, tool) => go(see === "tools" ? { see, tool } : { see })}
        openTask={openTask}
      />
      {view.tasks.length === 0 && view.beside.length === 0 && (
        <p className="panel p-4">
          Nothing is on your stand yet. When your director assigns a line it appears here, with your own part.
        </p>
      )}
      {todo.length > 0 && (
        <section className="flex flex-col gap-3">
          <h2 className="text-xl">{todo.length === 1 ? "One thing to do" : `${todo.length} things to do`}</h2>
          {todo.map((each, index) =>
            index === 0 || each.state === "again" ? (
              <TaskCard key={each.id} task={each} today={view.today} first={index === 0} open={openTask} />
            ) : (
              <TaskRow key={each.id} task={each} open={openTask} />
            ),
          )}
        </section>
      )}
      {todo.length === 0 && view.tasks.length > later.length && (
        <p className="panel p-4">Everything that is asked for today is done. Play something you like.</p>
      )}
      <Beside strips={view.beside} refresh={refresh} />
      <StandFoot
        view={view}
        without={without}
        setWithout={setWithoutToday}
        see={(see, tool) => go(see === "tools" ? { see, tool } : { see })}
        openTask={openTask}
        refresh={refresh}
      />
      {doneToday.length > 0 && (
        <section className="flex flex-col gap-3">
          <h2 className="text-xl">Done for today</h2>
          {doneToday.map((each) => (
            <TaskRow key={each.id} task={each} open={openTask} />
          ))}
        </section>
      )}
      {extra.length > 0 && (
        <section className="flex flex-col gap-3">
          <h2 className="text-xl">If you want more</h2>
          {extra.map((each) => (
            <TaskCard key={each.id} task={each} today={view.today} first={false} open={openTask} />
          ))}
        </section>
      )}
      <OwnChoice
        tasks={chosen}
        next={view.next}
        today={view.today}
        open={openTask}
        changed={() => void refresh()}
      />
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
            <TaskRow key={each.id} task={each} open={openTask} />
          ))}
        </section>
      )}
    </main>
  );
}
