import { call } from "../../client/api";
import { addDays } from "../../core/calendar";
import { copyWeek } from "../../core/plan";
import type { RibbonView, StripView } from "../../services/week/schema";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import type { Plan } from "./use-plan";

/** Weeks back that can be taken as a pattern. */
const WEEKS_BACK = 12;
const label = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", timeZone: "UTC" });

/** Brings the strips of an earlier week into the one shown, day by day, as one step that undo takes back. */
export function CopyWeek({
  view,
  plan,
  say,
}: {
  view: RibbonView;
  plan: Plan;
  say: (words: string) => void;
}) {
  const { run, busy, problem } = useCall();
  const open = new Set(
    view.cells
      .filter(({ budget }) => budget > 0)
      .map(({ groupId, where, date }) => `${groupId}/${where}/${date}`),
  );
  const bring = async (monday: string) => {
    const found = await run(
      () => call<{ strips: StripView[] }>("GET", `/api/plan/strips?of=${monday}`),
      "That week could not be read. Try again in a moment.",
    );
    if (!found) return;
    const bare = found.strips.map(
      ({ version: _version, assignmentId: _task, onStands: _given, notReached: _left, ...strip }) => ({
        ...strip,
        reason: null,
      }),
    );
    const { copies, leftOut } = copyWeek(
      bare,
      monday,
      view.monday,
      () => crypto.randomUUID(),
      ({ groupId, where, date }) => open.has(`${groupId}/${where}/${date}`),
    );
    plan.change([...plan.strips, ...copies]);
    say(
      leftOut.length === 0
        ? `${copies.length} strips copied.`
        : `${copies.length} strips copied; ${leftOut.length} stood on days that are off or without class: ${leftOut.map(({ title }) => title).join(", ")}.`,
    );
  };
  return (
    <>
      <select
        aria-label="Copy a week into this one"
        className="select select-sm w-auto border-base-300 font-bold"
        value=""
        disabled={busy}
        onChange={(event) => event.target.value && bring(event.target.value)}
      >
        <option value="">Copy a week</option>
        {Array.from({ length: WEEKS_BACK }, (_, i) => addDays(view.monday, -7 * (i + 1))).map((monday, i) => (
          <option key={monday} value={monday}>
            {i === 0 ? "the week before" : `week of ${label.format(new Date(`${monday}T12:00:00Z`))}`}
          </option>
        ))}
      </select>
      <Problem text={problem} />
    </>
  );
}
