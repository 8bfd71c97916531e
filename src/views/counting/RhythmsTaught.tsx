import { useState } from "react";
import { call } from "../../client/api";
import type { RhythmAsked } from "../../services/counting/schema";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { nameList } from "../../ui/wording";

interface Props {
  rhythms: RhythmAsked[];
  groups: { id: string; name: string; players: number }[];
  today: string;
}

/** Who has not met a rhythm of the page yet; one click marks the page as taught. */
export function RhythmsTaught({ rhythms, groups, today }: Props) {
  const { busy, problem, run } = useCall();
  const [groupId, setGroupId] = useState(groups[0]?.id ?? "");
  const [taught, setTaught] = useState<{ teachingId: string; players: number } | null>(null);
  const fresh = rhythms.filter(({ newFor }) => newFor.length > 0);
  if (groups.length === 0) return null;
  const teach = async () => {
    const answer = await run(
      () =>
        call<{ teachingId: string; players: number }>("POST", "/api/teachings", {
          groupId,
          instrumentId: null,
          things: rhythms.map(({ rhythm }) => ({ kind: "rhythm", thing: rhythm })),
          on: today,
        }),
      "This could not be kept.",
    );
    if (answer) setTaught(answer);
  };
  const undo = async () => {
    const done = await run(
      () => call("DELETE", `/api/teachings/${taught!.teachingId}`),
      "This could not be taken back.",
    );
    if (done) setTaught(null);
  };
  return (
    <section className="flex flex-col gap-1 text-sm" aria-label="Who has met these rhythms">
      {fresh.length === 0 ? (
        <p className="text-done">Everybody has met every rhythm of this page.</p>
      ) : (
        <ul>
          {fresh.map(({ rhythm, newFor }) => (
            <li key={rhythm}>
              <b>{rhythm}</b> is new for {nameList(newFor.map(({ name }) => name))}.
            </li>
          ))}
        </ul>
      )}
      <div className="flex flex-wrap items-center gap-2">
        <button
          type="button"
          className="btn btn-sm border-base-300 bg-base-100"
          disabled={busy || taught !== null}
          onClick={teach}
        >
          Taught today
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
        {taught && (
          <output className="text-done">
            {taught.players} players know its rhythms now.{" "}
            <button type="button" className="link" onClick={undo}>
              Undo
            </button>
          </output>
        )}
      </div>
      <Problem text={problem} />
    </section>
  );
}
