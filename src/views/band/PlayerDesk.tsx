import { useMemo, useState } from "react";
import { call } from "../../client/api";
import { playAlong } from "../../core/playalong";
import { type Score, timeline } from "../../core/score";
import type { PlayerPage, PlayerTask } from "../../services/growth/schema";
import { CountingResults } from "../../ui/CountingResults";
import { PracticeWeeks } from "../../ui/PracticeWeeks";
import { Problem } from "../../ui/Problem";
import { type Packed, unpacked } from "../../ui/packed";
import { useCall } from "../../ui/use-call";
import { usePlayAlong } from "../../ui/use-play-along";
import { KnownPanel } from "./KnownPanel";

interface EveryNote {
  instrumentId: string;
  score: Score;
  svg: string;
}

/** A player on one page: what is known and why, what was taught, and every take ever. */
export function PlayerDesk({ data }: { data: Packed<{ page: PlayerPage; everyNote: EveryNote[] }> }) {
  const { page, everyNote } = useMemo(() => unpacked(data), [data]);
  return (
    <div className="grid gap-5 xl:grid-cols-[1fr_420px]">
      <div className="flex min-w-0 flex-col gap-5">
        {page.instruments.map((instrument) => (
          <KnownPanel
            key={instrument.instrumentId}
            player={page}
            instrument={instrument}
            everyNote={
              instrument.to === null &&
              everyNote.find((each) => each.instrumentId === instrument.instrumentId) ? (
                <EveryNotePanel
                  {...everyNote.find((each) => each.instrumentId === instrument.instrumentId)!}
                />
              ) : null
            }
          />
        ))}
      </div>
      <div className="flex min-w-0 flex-col gap-5">
        <About page={page} />
        <section className="panel p-4">
          <h2 className="text-xl">Practice at home, minutes</h2>
          <PracticeWeeks days={page.practice} today={page.today} by={page.logBy} />
          {page.counting.length > 0 && (
            <>
              <h3 className="mt-3 pb-1 text-base font-bold">Counting</h3>
              <CountingResults counting={page.counting} />
            </>
          )}
        </section>
        <Tasks tasks={page.tasks} />
        <Earlier page={page} />
        <Teachings page={page} />
      </div>
    </div>
  );
}

/** "Play every note you know, up and back": read, and heard. */
function EveryNotePanel({ score, svg, instrumentId }: EveryNote) {
  const { moment, note, start, stop } = usePlayAlong();
  const plan = useMemo(() => playAlong(timeline(score)), [score]);
  return (
    <details>
      <summary className="cursor-pointer font-bold">Play every note you know, up and back</summary>
      <div className="sheet mt-2">
        <div className="engraved" dangerouslySetInnerHTML={{ __html: svg }} />
      </div>
      <button
        type="button"
        className="btn btn-sm border-base-300 bg-base-100"
        onClick={() =>
          moment
            ? stop()
            : void start(plan, { count: true, click: true, reference: true, sound: instrumentId })
        }
      >
        {moment ? "Stop" : "Hear it"}
      </button>
      {note && <p className="text-sm">{note}</p>}
    </details>
  );
}

function About({ page }: { page: PlayerPage }) {
  return (
    <section className="panel p-4 text-sm">
      <h2 className="text-xl">In the band</h2>
      <ul className="mt-1 flex flex-col gap-0.5">
        {page.groups.map((group) => (
          <li key={`${group.name}${group.from}`}>
            <b>{group.name}</b>{" "}
            <span className="text-quiet">
              since {group.from}
              {group.to && ` until ${group.to}`}
            </span>
          </li>
        ))}
        {page.instruments.map((instrument) => (
          <li key={instrument.instrumentId}>
            <b>{instrument.name}</b>{" "}
            <span className="text-quiet">
              since {instrument.from}
              {instrument.to && ` until ${instrument.to}`}
            </span>
          </li>
        ))}
      </ul>
      {page.calledName && <p className="mt-1">Called {page.calledName}.</p>}
      {page.kit && <p className="mt-1">Kit: {page.kit}</p>}
      <p className="mt-1 text-quiet">
        {page.hasCard ? "Has a sign-in card." : "Has no sign-in card yet."} Change all this in the table of
        people.
      </p>
    </section>
  );
}

const STATE_WORDS = {
  open: "not sent yet",
  sent: "waits for you",
  again: "asked again",
  accepted: "accepted",
};

function Tasks({ tasks }: { tasks: PlayerTask[] }) {
  return (
    <section className="panel p-4">
      <h2 className="text-xl">Tasks and takes</h2>
      {tasks.length === 0 && <p className="text-sm text-quiet">Nothing was given yet.</p>}
      <ul className="mt-1 flex flex-col divide-y divide-base-300 text-sm">
        {tasks.map((task) => (
          <li key={task.taskId} className="py-2">
            <div className="flex flex-wrap items-baseline justify-between gap-x-2">
              <a className="font-bold hover:underline" href={`/shelf/${task.lineId}`}>
                {task.lineNumber ? `No. ${task.lineNumber} · ` : ""}
                {task.lineTitle}
              </a>
              <span className={task.state === "accepted" ? "text-done" : "text-quiet"}>
                {task.closed && task.state !== "accepted" ? "closed" : STATE_WORDS[task.state]}
              </span>
            </div>
            <p className="text-quiet">
              {task.instrument}, {task.chosen ? "by own choice" : `${task.groupName}, due ${task.dueLabel}`}
              {task.sight && ", read at sight"}
            </p>
            {task.takes.length > 0 && (
              <ol className="mt-1 flex flex-col gap-1">
                {task.takes.map((take, index) => (
                  <li key={take.takeId}>
                    <a className="link" href={`/listen?take=${take.takeId}`}>
                      take {index + 1}, {take.recordedAt}
                    </a>
                    : {take.remark}
                    {take.decision === "accepted"
                      ? ", accepted"
                      : take.decision === "again"
                        ? ", asked again"
                        : ""}
                    {take.mark !== null && `, marked ${take.mark} %`}
                    {take.erased && ", sound erased"}
                    {take.comment && <span className="block text-quiet">“{take.comment}”</span>}
                  </li>
                ))}
              </ol>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What the groups had before the player came: given one by one, as the director chooses. */
function Earlier({ page }: { page: PlayerPage }) {
  const { busy, problem, run } = useCall();
  const [given, setGiven] = useState<string[]>([]);
  const open = page.earlier.filter(({ assignmentId }) => !given.includes(assignmentId));
  if (open.length === 0 && given.length === 0) return null;
  const give = async (assignmentId: string) => {
    const done = await run(
      () => call("POST", `/api/assignments/${assignmentId}/players`, { playerId: page.id }),
      "It could not be given.",
    );
    if (done) setGiven([...given, assignmentId]);
  };
  return (
    <section className="panel p-4">
      <h2 className="text-xl">Before they came</h2>
      <p className="text-sm text-quiet">
        What their groups had without them. What is still due came to their stand by itself; the rest is yours
        to choose.
      </p>
      <Problem text={problem} className="text-sm" />
      <ul className="mt-1 flex flex-col gap-1 text-sm">
        {open.map((each) => (
          <li key={each.assignmentId} className="flex items-center justify-between gap-2">
            <span>
              {each.name}{" "}
              <span className="text-quiet">
                ({each.groupName}, due {each.dueLabel})
              </span>
            </span>
            <button
              type="button"
              className="btn btn-xs border-base-300 bg-base-100 text-sm"
              disabled={busy}
              onClick={() => give(each.assignmentId)}
            >
              Give it
            </button>
          </li>
        ))}
      </ul>
      {given.length > 0 && (
        <output className="text-sm text-done">
          {given.length === 1 ? "One is" : `${given.length} are`} on the stand now.
        </output>
      )}
    </section>
  );
}

function Teachings({ page }: { page: PlayerPage }) {
  if (page.teachings.length === 0) return null;
  return (
    <details className="panel p-4 text-sm">
      <summary className="cursor-pointer text-xl font-bold">
        What was taught ({page.teachings.length})
      </summary>
      <ul className="mt-1 flex flex-col gap-0.5">
        {page.teachings.map(({ id, said, taughtOn, groupName }) => (
          <li key={id}>
            {taughtOn}: <b>{said}</b> <span className="text-quiet">{groupName ?? "to this player"}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}
