import { useState } from "react";
import { call } from "../../client/api";
import type { RibbonView } from "../../services/week/schema";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { substitutes } from "./catch-up";
import { dayName } from "./names";
import type { Plan } from "./use-plan";

interface Answer {
  given: { title: string; tasks: number | null }[];
  refused: { title: string; why: string }[];
}

/** Puts what stands in the home rows on the stands, once. */
export function GiveHome({ view, plan }: { view: RibbonView; plan: Plan }) {
  const { run, busy, problem } = useCall();
  const [answer, setAnswer] = useState<(Answer & { stripIds: string[] }) | null>(null);
  const open = plan.strips.filter(
    ({ id, where, kind, date }) =>
      where === "home" && kind !== "routine" && date >= view.today && !plan.given.get(id),
  );
  const give = async () => {
    const stripIds = open.map(({ id }) => id);
    const done = await run(
      () => call<Answer>("POST", "/api/plan/given", { stripIds }),
      "This could not be given. Try again in a moment.",
    );
    if (done) setAnswer({ ...done, stripIds });
    plan.look();
  };
  const takeBack = async () => {
    const done = await run(
      () => call("DELETE", "/api/plan/given", { stripIds: answer!.stripIds }),
      "This could not be taken back. Try again in a moment.",
    );
    if (done !== undefined) setAnswer(null);
    plan.look();
  };
  const missing = substitutes(view, plan.strips);
  if (open.length === 0 && missing.length === 0 && !answer && !problem) return null;
  const saved = plan.saving === "kept";
  return (
    <div className="panel flex flex-wrap items-center gap-3 px-4 py-3">
      {missing.length > 0 && (
        <p className="flex w-full flex-wrap items-center gap-2 text-sm">
          {missing.map(({ player, cell, day }) => (
            <span key={`${player.id}/${cell.date}`}>
              {player.name} misses {cell.lesson === null ? "the class" : `lesson ${cell.lesson}`} and can
              catch up {dayName(view, day)}.
            </span>
          ))}
          <button
            type="button"
            className="btn btn-sm border-base-300 bg-base-100"
            onClick={() => plan.change([...plan.strips, ...missing.flatMap(({ made }) => made)])}
          >
            Put {missing.length === 1 ? "the substitute" : "the substitutes"} at home
          </button>
        </p>
      )}
      {open.length > 0 && (
        <button type="button" className="btn btn-primary btn-sm" disabled={busy || !saved} onClick={give}>
          Put {open.length === 1 ? "1 strip" : `${open.length} strips`} of home work on the stands
        </button>
      )}
      {answer && (
        <output className="text-sm">
          {answer.given.length > 0 &&
            `On the stands: ${answer.given.map(({ title, tasks }) => (tasks === null ? title : `${title} (${tasks})`)).join(", ")}. `}
          {answer.refused.map(({ title, why }) => `${title}: ${why} `)}
          {answer.given.length > 0 && (
            <button type="button" className="link" onClick={takeBack}>
              Undo
            </button>
          )}
        </output>
      )}
      <Problem text={problem} />
    </div>
  );
}
