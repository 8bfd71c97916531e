import { useState } from "react";
import { call } from "../../client/api";
import { absentOf, forTomorrow, reached, standing } from "../../core/room";
import type { Closed, RoomLog } from "../../services/room/wire";
import { Problem } from "../../ui/Problem";
import { type Packed, unpacked } from "../../ui/packed";
import { useCall } from "../../ui/use-call";
import { noteText } from "../../ui/wording";

/** A lesson looked back on: what was done, what was heard, and what goes on from it. */
export function LessonLog({ data }: { data: Packed<RoomLog> }) {
  const [log] = useState(() => unpacked(data));
  const { sheet, state, entries } = log;
  const { run, busy, problem } = useCall();
  const lines = sheet.blocks.filter(({ tune }) => tune?.lineId);
  const wasDone = (id: string) => state.done.includes(id) || state.at === id;
  const left = sheet.blocks.filter(({ id, stripId }) => !wasDone(id) && !log.doneLater.includes(stripId));
  const [taught, setTaught] = useState(() => lines.filter(({ id }) => wasDone(id)).map(({ id }) => id));
  const [notReached, setNotReached] = useState(() => [
    ...new Set(
      left
        .map(({ stripId }) => stripId)
        .filter((strip) => !sheet.blocks.some((block) => block.stripId === strip && wasDone(block.id))),
    ),
  ]);
  const [forNext, setForNext] = useState(log.next !== null);
  const [closed, setClosed] = useState<Closed | null>(null);
  const [again, setAgain] = useState(false);
  const over = (log.closed && !again) || closed !== null;
  const here = standing(entries);
  const starred = forTomorrow(entries);
  const nameOf = (id: string) => sheet.players.find((player) => player.id === id)?.name ?? "somebody";
  const labelOf = (id: string) => sheet.instruments.find((instrument) => instrument.id === id)?.label ?? id;
  const absent = absentOf(entries);
  const toggled = (all: string[], id: string) =>
    all.includes(id) ? all.filter((each) => each !== id) : [...all, id];
  const close = async () => {
    const done = await run(
      () => call<Closed>("POST", `/api/room/${log.id}/close`, { taught, notReached, forNext }),
      "The lesson could not be closed. Nothing was changed; try again in a moment.",
    );
    if (done) setClosed(done);
  };
  const openAgain = async () => {
    const done = await run(
      () => call("DELETE", `/api/room/${log.id}/close`),
      "It could not be opened again. Try again in a moment.",
    );
    if (done) setAgain(true);
  };
  return (
    <div className="grid gap-5 lg:grid-cols-[1fr_360px]">
      <section className="flex flex-col gap-3">
        {log.ledBy && <p>{log.ledBy} led this lesson.</p>}
        <ul className="panel divide-y divide-base-300">
          {sheet.blocks.map((block) => {
            const own = here.filter(({ blockId, note }) => blockId === block.id && note.kind !== "tempo");
            const tempo = reached(entries, block.id);
            return (
              <li key={block.id} className="p-3">
                <p className="flex justify-between gap-3">
                  <b>{block.title}</b>
                  <span className="shrink-0 text-sm text-quiet">
                    {wasDone(block.id)
                      ? "done"
                      : log.doneLater.includes(block.stripId)
                        ? "done in a later lesson"
                        : state.skipped.includes(block.id)
                          ? "left out"
                          : "not reached"}
                    {tempo !== null && `, up to ${tempo}`}
                  </span>
                </p>
                {own.length > 0 && (
                  <ul className="list-disc pl-5 text-sm">
                    {own.map(({ id, note }) => (
                      <li key={id}>{noteText(note, nameOf, labelOf)}</li>
                    ))}
                  </ul>
                )}
              </li>
            );
          })}
          {sheet.blocks.length === 0 && <li className="p-3">Nothing was planned for this class.</li>}
        </ul>
        <p>
          {absent.length === 0 ? "Nobody was noted as absent." : `Absent: ${absent.map(nameOf).join(", ")}.`}
        </p>
      </section>
      <section className="flex flex-col gap-3">
        {over ? (
          <div className="panel flex flex-col items-start gap-2 p-3">
            <h2 className="text-xl">Closed</h2>
            {closed ? (
              <p>
                {closed.absent} absent, {closed.taught} lines taught, {closed.notReached} left over,{" "}
                {closed.starred} in the next class.{" "}
              </p>
            ) : (
              <p>The plan knows what became of this lesson. </p>
            )}
            <a className="link" href="/week">
              See it in Week
            </a>
            {!closed && (
              <>
                {log.late && (
                  <p className="border-l-4 border-l-accent pl-3">
                    Notes came in after it was closed. Open it again and close it once more: then the plan
                    knows them too.
                  </p>
                )}
                <button
                  type="button"
                  className="btn btn-sm border-base-300 bg-base-100"
                  disabled={busy}
                  onClick={openAgain}
                >
                  Open it again
                </button>
              </>
            )}
          </div>
        ) : (
          <div className="panel flex flex-col gap-3 p-3">
            <h2 className="text-xl">Close the lesson</h2>
            {lines.length > 0 && (
              <fieldset>
                <legend>Counts as taught, to those who were there</legend>
                {lines.map(({ id, title }) => (
                  <Tick
                    key={id}
                    label={title}
                    on={taught.includes(id)}
                    turn={() => setTaught(toggled(taught, id))}
                  />
                ))}
              </fieldset>
            )}
            <fieldset>
              <legend>Not reached</legend>
              {[...new Map(sheet.blocks.map((block) => [block.stripId, block])).values()].map(
                ({ stripId, stripTitle }) => (
                  <Tick
                    key={stripId}
                    label={stripTitle}
                    on={notReached.includes(stripId)}
                    turn={() => setNotReached(toggled(notReached, stripId))}
                  />
                ),
              )}
            </fieldset>
            {starred.length > 0 &&
              (log.next ? (
                <Tick
                  label={`What was starred (${starred.length}) goes into the class of ${log.next.label}`}
                  on={forNext}
                  turn={() => setForNext(!forNext)}
                />
              ) : (
                <p className="text-sm">
                  Starred: {starred.length}. There is no class in the next two weeks to put it in.
                </p>
              ))}
            <button type="button" className="btn btn-primary" disabled={busy} onClick={close}>
              Close the lesson
            </button>
          </div>
        )}
        {lines.length > 0 && <Home log={log} lines={lines.filter(({ id }) => wasDone(id))} />}
        <Problem text={problem} />
      </section>
    </div>
  );
}

function Tick({ label, on, turn }: { label: string; on: boolean; turn: () => void }) {
  return (
    <label className="flex items-center gap-2 py-1">
      <input type="checkbox" className="checkbox checkbox-sm" checked={on} onChange={turn} />
      {label}
    </label>
  );
}

/** What the class did becomes work at home, at the tempo it was done. */
function Home({ log, lines }: { log: RoomLog; lines: RoomLog["sheet"]["blocks"] }) {
  const { run, busy, problem } = useCall();
  const [due, setDue] = useState(log.next?.date ?? log.date);
  const [done, setDone] = useState<{ tasks: number; lines: string[]; again: string[] } | null>(null);
  const give = async () => {
    const given = await run(
      () =>
        call<{ tasks: number; lines: string[]; again: string[] }>("POST", `/api/room/${log.id}/home`, {
          blocks: lines.map(({ id }) => id),
          dueDate: due,
        }),
      "This could not be given. Try again in a moment.",
    );
    if (given) setDone(given);
  };
  return (
    <div className="panel flex flex-col gap-2 p-3">
      <h2 className="text-xl">Class becomes home</h2>
      {lines.length === 0 ? (
        <p>No line was played in this lesson.</p>
      ) : done ? (
        <output className="block">
          {done.tasks} tasks are on the stands
          {done.lines.length > 0 && `: ${done.lines.join(", ")}`}.{" "}
          {done.again.length > 0 && `Given already: ${done.again.join(", ")}.`}
        </output>
      ) : (
        <>
          <p>
            {lines.map(({ title }) => title).join(", ")}: a guided task for everybody, in the own part, at the
            tempo of the class.
          </p>
          <label className="flex items-center gap-2">
            Due
            <input
              type="date"
              className="input input-sm border-neutral"
              value={due}
              onChange={({ target }) => setDue(target.value)}
            />
          </label>
          <button type="button" className="btn btn-primary" disabled={busy} onClick={give}>
            Send it home
          </button>
        </>
      )}
      {lines.map(({ id, title, tune }) => (
        <a key={id} className="link text-sm" href={`/shelf/${tune!.lineId}`}>
          Play-along files of {title}, with your words
        </a>
      ))}
      <Problem text={problem} />
    </div>
  );
}
