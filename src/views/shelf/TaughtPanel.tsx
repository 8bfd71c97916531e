import { useEffect, useState } from "react";
import { call } from "../../client/api";
import type { GroupRow } from "../../services/band/schema";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { shortDay } from "../../ui/wording";

interface Props {
  lineId: string;
  groups: GroupRow[];
  today: string;
  /** Who is ready may be others now. */
  changed: () => Promise<void>;
}

interface Lesson {
  id: string;
  groupName: string | null;
  taughtOn: string;
  players: number;
}

/** One click: this line was taught. What was new in it counts as known from then on, player by player. */
export function TaughtPanel({ lineId, groups, today, changed }: Props) {
  const { busy, problem, run } = useCall();
  const [lessons, setLessons] = useState<Lesson[]>([]);
  const [groupId, setGroupId] = useState(groups.find((group) => group.everyone)?.id ?? groups[0]?.id ?? "");
  const [on, setOn] = useState(today);
  useEffect(() => {
    let current = true;
    call<{ taught: Lesson[] }>("GET", `/api/lines/${lineId}/taught`).then(
      ({ taught }) => current && setLessons(taught),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [lineId]);
  const act = async (work: () => Promise<unknown>) => {
    await run(async () => {
      await work();
      setLessons((await call<{ taught: Lesson[] }>("GET", `/api/lines/${lineId}/taught`)).taught);
      await changed();
    }, "This could not be kept.");
  };
  if (groups.length === 0) return null;
  return (
    <section className="no-print flex flex-col gap-1 text-sm" aria-label="Taught">
      <div className="flex flex-wrap items-center gap-2">
        <button
          type="button"
          className="btn btn-sm border-base-300 bg-base-100"
          disabled={busy || !groupId || !on}
          onClick={() => act(() => call("POST", `/api/lines/${lineId}/taught`, { groupId, on }))}
        >
          Taught
        </button>
        <label className="flex items-center gap-2">
          to
          <select
            className="select select-sm w-auto border-neutral text-sm"
            value={groupId}
            onChange={(event) => setGroupId(event.target.value)}
          >
            {groups.map((group) => (
              <option key={group.id} value={group.id}>
                {group.name} ({group.players})
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-2">
          on
          <input
            type="date"
            className="input input-sm w-auto border-neutral text-sm"
            value={on}
            onChange={(event) => setOn(event.target.value)}
          />
        </label>
        <span className="text-quiet">What is new in it for a player counts as known from then on.</span>
      </div>
      <Problem text={problem} />
      {lessons.map((lesson) => (
        <p key={lesson.id}>
          {lesson.taughtOn > today ? "Counts as taught on" : "Taught"} {shortDay(lesson.taughtOn)} to{" "}
          {lesson.groupName ?? "single players"} ({lesson.players}).{" "}
          <button
            type="button"
            className="link"
            disabled={busy}
            onClick={() => act(() => call("DELETE", `/api/teachings/${lesson.id}`))}
          >
            Take it back
          </button>
        </p>
      ))}
    </section>
  );
}
