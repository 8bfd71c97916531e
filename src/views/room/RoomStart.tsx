import { useState } from "react";
import { call } from "../../client/api";
import type { RoomChoice, RoomStart as Start } from "../../services/room/wire";
import { Problem } from "../../ui/Problem";
import { type Packed, unpacked } from "../../ui/packed";
import { useCall } from "../../ui/use-call";
import { BringIn } from "./BringIn";
import { StandIns } from "./StandIns";

interface Props {
  data: Packed<Start>;
  /** Somebody who stands in leads lessons, and gives no leave to others. */
  alone: boolean;
}

/** The classes of today and the next days: opened on the wall, joined by a phone, looked back on. */
export function RoomStart({ data, alone }: Props) {
  const [start] = useState(() => unpacked(data));
  const [choices, setChoices] = useState(start.choices);
  const { run, busy, problem } = useCall();
  const open = async (choice: RoomChoice) => {
    const made = await run(
      () => call<{ id: string }>("POST", "/api/room", { groupId: choice.groupId, date: choice.date }),
      "The lesson could not be opened. Try again in a moment.",
    );
    if (!made) return;
    setChoices((all) => all.map((each) => (each === choice ? { ...each, roomId: made.id } : each)));
  };
  const today = choices.filter(({ date }) => date === start.today);
  const later = choices.filter(({ date }) => date !== start.today);
  const list = (some: readonly RoomChoice[]) => (
    <ul className="panel divide-y divide-base-300">
      {some.map((choice) => (
        <li key={choice.groupId + choice.date} className="flex flex-wrap items-center gap-x-4 gap-y-2 p-3">
          <p className="min-w-56 flex-1">
            <b>{choice.groupName}</b>, {choice.label}, {choice.startsAt}, {choice.minutes} min
            <span className="block text-sm text-quiet">
              {choice.blocks === 0
                ? "Nothing is planned yet; the wall shows the clock and the tuning notes."
                : `${choice.blocks} on the run sheet`}
            </span>
          </p>
          {choice.closed ? (
            <a className="btn btn-sm border-base-300 bg-base-100" href={`/room/log/${choice.roomId}`}>
              What happened
            </a>
          ) : choice.roomId === null ? (
            <button
              type="button"
              className="btn btn-primary btn-sm"
              disabled={busy}
              onClick={() => open(choice)}
            >
              Open the lesson
            </button>
          ) : (
            <>
              <a
                className="btn btn-primary btn-sm"
                href={`/room/${choice.roomId}`}
                {...(alone ? {} : { target: "_blank" })}
              >
                {alone ? "Lead it now" : "On the wall"}
              </a>
              {!alone && <Door roomId={choice.roomId} />}
              {!alone && <AtHome roomId={choice.roomId} open={choice.atHome} />}
              {!alone && (
                <a className="btn btn-sm border-base-300 bg-base-100" href={`/room/log/${choice.roomId}`}>
                  What happened
                </a>
              )}
              <BringIn roomId={choice.roomId} />
              {!alone && <Goal roomId={choice.roomId} goal={choice.goal} />}
            </>
          )}
        </li>
      ))}
    </ul>
  );
  return (
    <div className="flex max-w-5xl flex-col gap-5">
      <Problem text={problem} />
      <section>
        <h2 className="mb-2 text-xl">Today</h2>
        {today.length > 0 ? list(today) : <p className="panel p-3">No class today.</p>}
      </section>
      {later.length > 0 && (
        <section>
          <h2 className="mb-2 text-xl">The next days</h2>
          {list(later)}
        </section>
      )}
      {start.before.length > 0 && (
        <section>
          <h2 className="mb-2 text-xl">Before today</h2>
          {list(start.before)}
        </section>
      )}
      {choices.length === 0 && !alone && (
        <p>
          Classes come from the{" "}
          <a className="link" href="/week/calendar">
            calendar
          </a>
          : set their times there first.
        </p>
      )}
      {!alone && <StandIns passes={start.passes} today={start.today} />}
    </div>
  );
}

/** A day without class: the players do the lesson alone, each in the own part. */
function AtHome({ roomId, open }: { roomId: string; open: boolean }) {
  const [on, setOn] = useState(open);
  const { run, busy, problem } = useCall();
  const turn = async () => {
    const done = await run(
      () => call("PUT", `/api/room/${roomId}/at-home`, { open: !on }),
      "This could not be changed. Try again in a moment.",
    );
    if (done) setOn(!on);
  };
  return (
    <label className="flex items-center gap-2 text-sm">
      <input type="checkbox" className="checkbox checkbox-sm" checked={on} disabled={busy} onChange={turn} />
      at home instead, each in the own part
      <Problem text={problem} />
    </label>
  );
}

/** What the lesson is about, in one sentence, for the wall. */
function Goal({ roomId, goal }: { roomId: string; goal: string }) {
  const { run, problem } = useCall();
  return (
    <label className="flex w-full items-center gap-2 text-sm">
      Goal of the lesson, for the wall
      <input
        className="input input-sm flex-1 border-neutral"
        defaultValue={goal}
        maxLength={160}
        placeholder="one sentence, such as: everybody begins bar 5 together"
        onBlur={({ target }) =>
          void run(
            () => call("PUT", `/api/room/${roomId}/goal`, { goal: target.value }),
            "The goal could not be kept. Try again in a moment.",
          )
        }
      />
      <Problem text={problem} />
    </label>
  );
}

/** Lets phones in by a code that is shown here, on the director's own screen, and nowhere else. */
function Door({ roomId }: { roomId: string }) {
  const [code, setCode] = useState<string | null>(null);
  const { run, busy, problem } = useCall();
  const turn = async (open: boolean) => {
    const made = await run(
      () => call<{ code: string | null }>("PUT", `/api/room/${roomId}/door`, { open }),
      "No code could be made. Try again in a moment.",
    );
    if (made) setCode(made.code);
  };
  return (
    <span className="flex items-center gap-2">
      {code ? (
        <>
          <span>
            On the phone: <b>{location.host}/remote</b>, code{" "}
            <b className="text-xl tracking-widest" data-testid="room-code">
              {code}
            </b>
            , ten minutes
          </span>
          <button type="button" className="btn btn-ghost btn-sm" disabled={busy} onClick={() => turn(false)}>
            Shut it
          </button>
        </>
      ) : (
        <button
          type="button"
          className="btn btn-sm border-base-300 bg-base-100"
          disabled={busy}
          onClick={() => turn(true)}
        >
          Let my phone in
        </button>
      )}
      <Problem text={problem} />
    </span>
  );
}
