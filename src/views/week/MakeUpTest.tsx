import { useState } from "react";
import { call } from "../../client/api";
import type { WeekItem } from "../../services/week/schema";
import { TextField } from "../../ui/Field";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

/** The test once more, later, for those who have not taken it: what they send then counts for it. */
export function MakeUpTest({ item }: { item: WeekItem }) {
  const [chosen, setChosen] = useState<string[]>([]);
  const [day, setDay] = useState("");
  const [done, setDone] = useState("");
  const { run, busy, problem } = useCall();
  const give = async () => {
    const given = await run(
      () =>
        call<{ tasks: number }>("POST", `/api/assignments/${item.assignmentId}/make-up`, {
          playerIds: chosen,
          dueDate: day,
          sure: ["day-off"],
        }),
      "The make-up could not be given. Try again in a moment.",
    );
    if (given) setDone(`The make-up is on ${given.tasks === 1 ? "1 stand" : `${given.tasks} stands`}.`);
  };
  if (item.missing.length === 0) return null;
  return (
    <fieldset className="mb-3 flex flex-col gap-2 rounded border border-base-300 p-3">
      <legend className="font-bold">A make-up that counts for this test</legend>
      <div className="flex flex-wrap gap-x-4 gap-y-1 text-sm">
        {item.missing.map(({ playerId, name }) => (
          <label key={playerId} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={chosen.includes(playerId)}
              onChange={(event) =>
                setChosen(
                  event.target.checked ? [...chosen, playerId] : chosen.filter((id) => id !== playerId),
                )
              }
            />
            {name}
          </label>
        ))}
      </div>
      <div className="flex flex-wrap items-end gap-3">
        <div className="w-44">
          <TextField
            label="Due later"
            type="date"
            value={day}
            onChange={(event) => setDay(event.target.value)}
          />
        </div>
        <button
          type="button"
          className="btn btn-sm mb-6 border-base-300 bg-base-100"
          disabled={busy || chosen.length === 0 || day === ""}
          onClick={give}
        >
          Give the make-up
        </button>
      </div>
      {done && <output>{done}</output>}
      <Problem text={problem} />
    </fieldset>
  );
}
