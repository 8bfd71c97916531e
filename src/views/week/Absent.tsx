import { useState } from "react";
import { call } from "../../client/api";
import { weekdayOf } from "../../core/plan";
import type { RibbonCell, RibbonView } from "../../services/week/schema";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { caughtUp } from "./catch-up";
import { dayName } from "./names";
import type { Plan } from "./use-plan";

interface Props {
  cell: RibbonCell;
  view: RibbonView;
  plan: Plan;
  say: (words: string) => void;
}

/** Who missed a class: a tick puts what the class did on the player's next home day, as a make-up of that lesson. */
export function Absent({ cell, view, plan, say }: Props) {
  const { groupId, date, lesson } = cell;
  const members = view.groups.find(({ id }) => id === groupId)?.members ?? [];
  const [away, setAway] = useState(() =>
    view.absent
      .filter((each) => each.groupId === groupId && each.date === date)
      .map(({ playerId }) => playerId),
  );
  const { run, busy, problem } = useCall();
  const tick = async (playerId: string, absent: boolean) => {
    const player = members.find(({ id }) => id === playerId);
    if (!player) return;
    const done = await run(
      () => call("PUT", "/api/plan/absent", { groupId, date, playerId, absent }),
      "This was not kept. Try again in a moment.",
    );
    if (done === undefined) return;
    setAway(absent ? [...away, playerId] : away.filter((id) => id !== playerId));
    const lessonName = lesson === null ? "the class" : `lesson ${lesson}`;
    if (!absent) {
      plan.change(
        plan.strips.filter(
          ({ id, forWhom, reason }) =>
            plan.given.get(id) ||
            !(
              forWhom.kind === "player" &&
              forWhom.playerId === playerId &&
              reason?.kind === "make-up" &&
              reason.missedOn === date
            ),
        ),
      );
      return say(`${player.name} was there; what was planned in place of ${lessonName} is off again.`);
    }
    const caught = caughtUp(view, plan.strips, cell, player);
    if (!caught)
      return say(`${player.name} missed ${lessonName}; there is no home day in sight to catch up on.`);
    const { day, made } = caught;
    plan.change([...plan.strips, ...made]);
    say(
      made.length === 0
        ? `${player.name} missed ${lessonName}; it had nothing to catch up on.`
        : `${player.name} catches up on ${lessonName} on ${dayName(view, day)}: ${made.map(({ title }) => title).join(", ")}.`,
    );
  };
  const weekday = weekdayOf(date);
  const [clashes, setClashes] = useState(() =>
    view.clashes
      .filter((each) => each.groupId === groupId && each.weekday === weekday)
      .map(({ playerId }) => playerId),
  );
  const setClash = async (playerId: string, clash: boolean) => {
    const done = await run(
      () => call("PUT", "/api/plan/clash", { groupId, playerId, weekday, clash }),
      "This was not kept. Try again in a moment.",
    );
    if (done === undefined) return;
    setClashes(clash ? [...clashes, playerId] : clashes.filter((id) => id !== playerId));
    const name = members.find(({ id }) => id === playerId)?.name ?? "";
    say(
      clash
        ? `${name} misses this class every week; a substitute is offered under the week from now on.`
        : `${name} comes to this class again.`,
    );
  };
  return (
    <span className="inline-flex flex-wrap items-center gap-2">
      {clashes.map((playerId) => (
        <button
          key={playerId}
          type="button"
          className="btn btn-xs border-base-300 bg-base-100"
          aria-label={`${members.find(({ id }) => id === playerId)?.name} comes to this class again`}
          disabled={busy}
          onClick={() => setClash(playerId, false)}
        >
          {members.find(({ id }) => id === playerId)?.name} away every week ×
        </button>
      ))}
      {away.map((playerId) => (
        <button
          key={playerId}
          type="button"
          className="btn btn-xs border-base-300 bg-base-100"
          aria-label={`${members.find(({ id }) => id === playerId)?.name} was there after all`}
          disabled={busy}
          onClick={() => tick(playerId, false)}
        >
          {members.find(({ id }) => id === playerId)?.name} absent ×
        </button>
      ))}
      {away
        .filter((playerId) => !clashes.includes(playerId))
        .slice(-1)
        .map((playerId) => (
          <button
            key={playerId}
            type="button"
            className="btn btn-ghost btn-xs"
            disabled={busy}
            onClick={() => setClash(playerId, true)}
          >
            {members.find(({ id }) => id === playerId)?.name} misses it every week
          </button>
        ))}
      <select
        aria-label="Who is absent"
        className="select select-sm w-auto border-base-300"
        value=""
        disabled={busy}
        onChange={(event) => event.target.value && tick(event.target.value, true)}
      >
        <option value="">somebody absent?</option>
        {members
          .filter(({ id }) => !away.includes(id))
          .map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
      </select>
      <Problem text={problem} />
    </span>
  );
}
