import { instrumentById } from "../../core/music";
import { loadOf, type Strip, stripsOn } from "../../core/plan";
import type { RibbonCell, RibbonView } from "../../services/week/schema";
import { Absent } from "./Absent";
import { groupName } from "./names";
import type { Plan } from "./use-plan";

interface Props {
  view: RibbonView;
  plan: Plan;
  say: (words: string) => void;
}

/** What happens today: which class, with whom, with what, who is not ready, what is missing; else the next class there is. */
export function Today({ view, plan, say }: Props) {
  const day = view.days.find(({ date }) => date === view.today);
  const classes = view.cells
    .filter(({ where, budget, date }) => where === "class" && budget > 0 && date >= view.today)
    .sort((a, b) => `${a.date} ${a.startsAt}`.localeCompare(`${b.date} ${b.startsAt}`));
  const here = classes.filter(({ date }) => date === view.today);
  const [next] = classes;
  const shown = here.length > 0 ? here : next ? [next] : [];
  const home = plan.strips.filter(({ where, date }) => where === "home" && date === view.today);
  return (
    <section aria-label="Today" className="panel flex flex-col gap-2 px-4 py-3">
      <h2 className="text-xl">
        {here.length > 0
          ? "Today"
          : day?.off
            ? `Today is off: ${day.off}`
            : next
              ? `No class today; next is ${view.days.find(({ date }) => date === next.date)?.label}`
              : "No class today or later in this week"}
      </h2>
      {shown.map((cell) => (
        <ClassToday key={`${cell.groupId}/${cell.date}`} cell={cell} view={view} plan={plan} say={say} />
      ))}
      {!view.meets && (
        <p className="text-sm">
          Tell the bench when your groups meet, and it plans with you:{" "}
          <a className="link" href="/week/calendar">
            open the calendar
          </a>
          .
        </p>
      )}
      {home.length > 0 && (
        <p className="text-sm">
          <span className="text-quiet">At home:</span> {titles(home)}
        </p>
      )}
    </section>
  );
}

const titles = (strips: readonly Strip[]) =>
  [...new Set(strips.map(({ title }) => title || "note cards"))].join(", ");

function ClassToday({ cell, view, plan, say }: Props & { cell: RibbonCell }) {
  const strips = stripsOn(plan.strips, cell);
  const { used, over } = loadOf(strips, "class", cell.budget, view.changeover);
  const waiting = [
    ...new Set(
      strips.flatMap(({ groupId, refId }) =>
        (plan.asks[`${groupId}/${refId}`] ?? []).map(({ instrumentId }) => instrumentById(instrumentId).name),
      ),
    ),
  ];
  const players = view.groups.find(({ id }) => id === cell.groupId)?.players ?? 0;
  return (
    <div className="text-sm">
      <p>
        <span className="font-bold tabular-nums">{cell.startsAt}</span>{" "}
        <span className="font-bold">{groupName(view, cell.groupId)}</span>, {players} players:{" "}
        {strips.length > 0 ? titles(strips) : <span className="text-felt">nothing planned yet</span>}{" "}
        <a className="link" href={`/week/print/class?group=${cell.groupId}&of=${cell.date}`}>
          run sheet
        </a>
        {cell.date === view.today && (
          <>
            {" "}
            <a className="link" href="/room">
              on the wall
            </a>
          </>
        )}
      </p>
      <p className="text-quiet">
        {cell.lesson !== null && `Lesson ${cell.lesson}; `}
        {over > 0 ? `${over} min too much` : `${used} of ${cell.budget} min planned`}
        {waiting.length > 0 && `; not all ready: ${waiting.join(", ")}`}
        {cell.remark && `; ${cell.remark}`}
        {cell.date === view.today && (
          <>
            {" "}
            <Absent cell={cell} view={view} plan={plan} say={say} />
          </>
        )}
      </p>
    </div>
  );
}
