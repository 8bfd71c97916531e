import { useDraggable, useDroppable } from "@dnd-kit/core";
import { Plus } from "lucide-react";
import { Fragment, memo, useRef, useState } from "react";
import { groupBy } from "../../core/lists";
import { instrumentById } from "../../core/music";
import {
  type Cell,
  keyOf,
  LEAST_MINUTES,
  type LineAsk,
  loadOf,
  MOST_MINUTES,
  moveStrip,
  type Proposal,
  type Strip,
  stripsOn,
} from "../../core/plan";
import type { DraftView, RibbonCell, RibbonView } from "../../services/week/schema";
import { askText, planReason, proposalTitle } from "../../ui/wording";
import { playerName } from "./names";
import type { Plan } from "./use-plan";

interface Props {
  view: RibbonView;
  plan: Plan;
  chosen: string | null;
  choose: (id: string | null) => void;
  /** Opens the drawer for a cell. */
  add: (cell: Cell) => void;
  target: Cell | null;
  say: (words: string) => void;
  draft: DraftView | null;
  /** Puts a proposal in. */
  takeOver: (proposal: Proposal) => void;
}

const KEYS =
  "Space picks it up; arrows move it, Space drops it, Escape leaves it where it was. Plus and minus change its minutes, Delete takes it off, Enter opens it.";

/** What a day's strip looks like: warm-ups teal, material brass, counting and the rest felt; each says its kind in words too. */
const LOOK: Record<Strip["kind"], string> = {
  routine: "border-[#bcd5d2] bg-[#dde9e7]",
  line: "border-[#d8c596] bg-secondary",
  piece: "border-[#c7c9dd] bg-[#e4e5f0]",
  counting: "border-[#d7c1d0] bg-[#eadfe7]",
  drill: "border-[#d8c596] bg-base-100",
  cards: "border-base-300 bg-base-200",
  listening: "border-base-300 bg-base-200",
  worksheet: "border-base-300 bg-base-200",
  test: "border-[#d7c1d0] bg-base-100",
  text: "border-base-300 bg-base-100",
};

/** Rows of groups and homes, columns of days. */
export function RibbonGrid(props: Props) {
  const { view, plan } = props;
  const [opened, setOpened] = useState<string[]>([]);
  const [held, setHeld] = useState<{ id: string; from: readonly Strip[] } | null>(null);
  const grid = useRef<HTMLTableElement>(null);
  const cells = new Map(view.cells.map((cell) => [cellKey(cell), cell]));
  const proposed = groupBy(props.draft?.groups.flatMap(({ proposals }) => proposals) ?? [], cellKey);
  const rows = rowsOf(view, plan.strips, [...proposed.values()].flat(), opened);

  const focus = (id: string) =>
    requestAnimationFrame(() => grid.current?.querySelector<HTMLElement>(`[data-strip="${id}"]`)?.focus());
  const move = (strip: Strip, key: string) => {
    const next = moved(strip, key, plan.strips, rows, view, cells);
    if (!next) return props.say("There is no further place that way.");
    const strips = moveStrip(plan.strips, strip.id, next);
    plan.change(strips);
    const row = view.groups.find(({ id }) => id === next.groupId)?.name;
    const day = view.days.find(({ date }) => date === next.date)?.label;
    const place = stripsOn(strips, next).findIndex(({ id }) => id === strip.id) + 1;
    props.say(`${strip.title}: ${row}, ${next.where}, ${day}, place ${place}.`);
    focus(strip.id);
  };
  const onKey = (strip: Strip) => (event: React.KeyboardEvent) => {
    const { key } = event;
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const minutes = key === "+" || key === "=" ? 1 : key === "-" ? -1 : 0;
    if (minutes !== 0) {
      event.preventDefault();
      setMinutes(plan, strip, strip.minutes + minutes);
      props.say(`${strip.title}: ${strip.minutes + minutes} minutes.`);
    } else if (key.startsWith("Arrow")) {
      event.preventDefault();
      if (held?.id === strip.id) move(strip, key);
      else walk(event.currentTarget as HTMLElement, key);
    } else if (event.repeat) return;
    else if (key === " ") {
      event.preventDefault();
      if (held?.id === strip.id) {
        setHeld(null);
        props.say(`${strip.title} was put down.`);
      } else {
        setHeld({ id: strip.id, from: plan.strips });
        props.say(`${strip.title} is picked up. Arrows move it.`);
      }
    } else if (key === "Escape" && held) {
      event.stopPropagation();
      const before = held.from.find(({ id }) => id === strip.id);
      if (before) plan.change(plan.strips.map((each) => (each.id === strip.id ? before : each)));
      setHeld(null);
      props.say(`${strip.title} is where it was.`);
      focus(strip.id);
    } else if (key === "Delete" || key === "Backspace") {
      event.preventDefault();
      plan.change(plan.strips.filter(({ id }) => id !== strip.id));
      props.choose(null);
      props.say(`${strip.title} was taken off. Undo brings it back.`);
    } else if (key === "Enter") props.choose(strip.id);
  };
  const keys = (event: React.KeyboardEvent) => {
    if (!(event.ctrlKey || event.metaKey) || event.repeat) return;
    const key = event.key.toLowerCase();
    if (key === "z" && !event.shiftKey) plan.undo();
    else if (key === "y" || (key === "z" && event.shiftKey)) plan.redo();
    else return;
    event.preventDefault();
  };

  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: undo and redo by keys anywhere in the ribbon; its buttons stand above.
    <div className="panel overflow-x-auto" onKeyDown={keys}>
      <table
        ref={grid}
        className="w-full table-fixed border-collapse text-sm"
        style={{ minWidth: 130 + 150 * Math.min(5, view.days.length) }}
      >
        <caption className="sr-only">The plan. On a strip: {KEYS}</caption>
        <thead>
          <tr>
            <th className="w-32 border-b border-r border-base-300">
              <span className="sr-only">Group</span>
            </th>
            {view.days.map(({ date, label, off, remark }) => (
              <th
                key={date}
                scope="col"
                className={`border-b border-r border-base-300 px-2 py-2 text-left align-top ${date === view.today ? "bg-[#fdf5e3]" : ""}`}
              >
                <span className="font-heading text-base font-bold">{label}</span>{" "}
                {date === view.today && <span className="font-normal text-quiet">today</span>}
                {(off || remark) && (
                  <span className="block font-normal text-quiet">
                    {[off, remark].filter(Boolean).join(", ")}
                  </span>
                )}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ groupId, where, first }) => {
            const group = view.groups.find(({ id }) => id === groupId)!;
            return (
              <tr key={`${groupId}/${where}`} className={where === "home" ? "bg-base-200" : ""}>
                <th scope="row" className="border-b border-r border-base-300 px-2 py-2 text-left align-top">
                  <span className="font-heading text-base font-bold">{first ? group.name : ""}</span>
                  <span className="block font-normal text-quiet">
                    {where === "home"
                      ? `${first ? "at" : `${group.name} at`} home`
                      : `${group.players} players`}
                  </span>
                  {where === "class" &&
                    !rows.some((row) => row.groupId === groupId && row.where === "home") && (
                      <button
                        type="button"
                        className="link font-normal text-quiet"
                        onClick={() => setOpened([...opened, groupId])}
                      >
                        plan its home work
                      </button>
                    )}
                </th>
                {view.days.map(({ date }) => {
                  const cell = { groupId, where, date };
                  return (
                    <DayCell
                      key={date}
                      cell={cell}
                      there={cells.get(cellKey(cell)) ?? null}
                      today={date === view.today}
                      targeted={props.target !== null && cellKey(props.target) === cellKey(cell)}
                      {...props}
                      onKey={onKey}
                      heldId={held?.id ?? null}
                      proposed={proposed.get(cellKey(cell)) ?? []}
                    />
                  );
                })}
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

const cellKey = ({ groupId, where, date }: Cell) => `${groupId}/${where}/${date}`;

interface Row {
  groupId: string;
  where: "class" | "home";
  /** The first row of its group carries the name. */
  first: boolean;
}

/** A class row for groups that meet, a home row for those that have work at home, and for everybody. */
function rowsOf(
  view: RibbonView,
  strips: readonly Strip[],
  proposed: readonly Proposal[],
  opened: readonly string[],
): Row[] {
  const has = (groupId: string, where: "class" | "home") =>
    [...strips, ...proposed].some((each) => each.groupId === groupId && each.where === where);
  const rows = view.groups.flatMap(({ id }): Row[] => {
    const meets =
      view.cells.some((cell) => cell.groupId === id && cell.where === "class") || has(id, "class");
    const home = has(id, "home") || opened.includes(id);
    return [
      ...(meets ? [{ groupId: id, where: "class" as const, first: true }] : []),
      ...(home ? [{ groupId: id, where: "home" as const, first: !meets }] : []),
    ];
  });
  const [everybody] = view.groups;
  if (rows.some(({ where }) => where === "home") || !everybody) return rows;
  const met = rows.some(({ groupId }) => groupId === everybody.id);
  const home: Row = { groupId: everybody.id, where: "home", first: !met };
  const at = rows.findIndex(({ groupId }) => groupId === everybody.id);
  return at < 0 ? [...rows, home] : [...rows.slice(0, at + 1), home, ...rows.slice(at + 1)];
}

interface CellProps extends Props {
  cell: Cell;
  there: RibbonCell | null;
  today: boolean;
  targeted: boolean;
  onKey: (strip: Strip) => (event: React.KeyboardEvent) => void;
  heldId: string | null;
  proposed: readonly Proposal[];
}

function DayCell({ cell, there, today, targeted, view, plan, add, proposed, takeOver, ...rest }: CellProps) {
  const { setNodeRef, isOver } = useDroppable({ id: cellKey(cell), data: { cell, before: null } });
  const strips = stripsOn(plan.strips, cell);
  const closed = there === null || there.budget === 0;
  const { used, budget, over } = loadOf(strips, cell.where, there?.budget ?? null, view.changeover);
  return (
    <td
      ref={setNodeRef}
      className={`h-20 border-b border-r border-base-300 p-1.5 align-top ${
        isOver || targeted ? "outline outline-2 -outline-offset-2 outline-accent" : ""
      } ${today ? "bg-[#fdf5e3]" : ""}`}
    >
      <div className="flex h-full flex-col gap-1">
        {there?.startsAt && (
          <p className="text-quiet">
            <a
              className="hover:underline"
              title="Run sheet"
              href={`/week/print/class?group=${cell.groupId}&of=${cell.date}`}
            >
              {there.startsAt}
            </a>
            {there.lesson !== null && `, lesson ${there.lesson}`}
            {there.remark && <span>, {there.remark}</span>}
          </p>
        )}
        {byTarget(strips, cell, view).map(({ name, minutes, own }) => (
          <Fragment key={name}>
            {name && (
              <p className="-mb-0.5 text-xs font-bold text-quiet">
                {name} · {minutes} min
              </p>
            )}
            {own.map((strip) => (
              <StripCard key={strip.id} strip={strip} cell={cell} view={view} plan={plan} {...rest} />
            ))}
          </Fragment>
        ))}
        {proposed.map((proposal) => (
          <button
            key={proposal.key}
            type="button"
            className="rounded border border-dashed border-accent px-2 py-0.5 text-left text-quiet hover:bg-secondary/40"
            title={`${planReason(proposal.reason)} A click puts it in.`}
            onClick={() => takeOver(proposal)}
          >
            {proposalTitle(proposal)} · {proposal.minutes}
          </button>
        ))}
        {(!closed || strips.length > 0) && (
          <div className="mt-auto">
            <div className="flex items-center gap-2">
              {strips.length > 0 && (
                <span className={over > 0 ? "font-bold text-felt" : "text-quiet"}>
                  {over > 0
                    ? `${over} min too much`
                    : budget === null
                      ? `${used} min`
                      : `${used} of ${budget} min`}
                </span>
              )}
              {!closed && (
                <button
                  type="button"
                  className="btn btn-ghost btn-xs ml-auto px-1"
                  aria-label={`Add to ${view.groups.find(({ id }) => id === cell.groupId)?.name}, ${cell.where}, ${view.days.find(({ date }) => date === cell.date)?.label}`}
                  onClick={() => add(cell)}
                >
                  <Plus size={16} aria-hidden="true" />
                </button>
              )}
            </div>
            {budget !== null && budget > 0 && strips.length > 0 && (
              <div className="h-1 w-full overflow-hidden rounded bg-base-300" aria-hidden="true">
                <div
                  className={`h-full ${over > 0 ? "bg-felt" : "bg-done"}`}
                  style={{ width: `${Math.min(100, (100 * used) / budget)}%` }}
                />
              </div>
            )}
          </div>
        )}
      </div>
    </td>
  );
}

/** At home a day splits where work differs: what everybody does, then what one instrument or one player does beside it. */
function byTarget(
  strips: readonly Strip[],
  cell: Cell,
  view: RibbonView,
): { name: string; minutes: number; own: readonly Strip[] }[] {
  if (cell.where === "class") return [{ name: "", minutes: 0, own: strips }];
  const shared = strips.filter(({ forWhom }) => forWhom.kind === "everyone");
  const single = strips.filter(({ forWhom }) => forWhom.kind !== "everyone");
  return [
    { name: "", minutes: 0, own: shared },
    ...[...groupBy(single, ({ forWhom }) => keyOf(forWhom)).values()].map((own) => ({
      name: forWhomText(own[0]!, view),
      minutes: own.reduce((sum, { minutes }) => sum + minutes, 0),
      own,
    })),
  ];
}

type CardProps = Pick<CellProps, "cell" | "view" | "plan" | "chosen" | "choose" | "onKey" | "heldId"> & {
  strip: Strip;
};

const NONE: readonly LineAsk[] = [];

function StripCard({ strip, cell, view, plan, chosen, choose, onKey, heldId }: CardProps) {
  const drag = useDraggable({ id: strip.id });
  const drop = useDroppable({ id: `before/${strip.id}`, data: { cell, before: strip.id } });
  const asks = plan.asks[`${strip.groupId}/${strip.refId}`] ?? NONE;
  return (
    <div ref={drop.setNodeRef}>
      <button
        type="button"
        ref={drag.setNodeRef}
        {...drag.listeners}
        data-strip={strip.id}
        aria-pressed={heldId === strip.id}
        title={asks.map(askText).join("\n") || undefined}
        onClick={() => choose(strip.id)}
        onKeyDown={onKey(strip)}
        className={`flex w-full cursor-grab touch-none flex-wrap items-baseline justify-end gap-x-1 rounded border px-2 py-0.5 text-left ${LOOK[strip.kind]} ${
          drag.isDragging ? "opacity-40" : ""
        } ${drop.isOver ? "border-t-4 border-t-accent" : ""} ${
          chosen === strip.id || heldId === strip.id ? "outline outline-2 outline-primary" : ""
        }`}
      >
        <StripFace
          strip={strip}
          whom={strip.where === "class" ? forWhomText(strip, view) : ""}
          given={plan.given.get(strip.id) ?? false}
          asks={asks}
        />
      </button>
    </div>
  );
}

/** What is written on a strip: drawn anew only where that changes, not by every strip dragged past it. */
const StripFace = memo(function StripFace({
  strip,
  whom,
  given,
  asks,
}: {
  strip: Strip;
  whom: string;
  given: boolean;
  asks: readonly LineAsk[];
}) {
  const letters = [...new Set(asks.map(({ instrumentId }) => instrumentById(instrumentId).short))];
  return (
    <>
      <span className="min-w-0 flex-[1_1_6rem]">
        {strip.title}
        {strip.firstBar !== null && `, bars ${strip.firstBar + 1} to ${(strip.lastBar ?? 0) + 1}`} ·{" "}
        {strip.minutes}
        <span className="sr-only"> minutes</span>
        {whom && <span className="text-quiet"> · {whom}</span>}
        {strip.notReached && <span className="text-felt"> · not reached</span>}
        {given && <span className="text-done"> · on stands</span>}
      </span>
      {letters.length > 0 && (
        <span className="font-bold text-felt">
          <span className="sr-only">not ready: </span>
          {letters.slice(0, 3).join(" ")}
          {letters.length > 3 && ` +${letters.length - 3}`}
        </span>
      )}
    </>
  );
});

function forWhomText({ forWhom, groupId }: Strip, view: RibbonView): string {
  if (forWhom.kind === "instrument") return instrumentById(forWhom.instrumentId).short;
  return forWhom.kind === "player" ? playerName(view, groupId, forWhom.playerId) : "";
}

export function setMinutes(plan: Plan, strip: Strip, minutes: number): void {
  const within = Math.min(MOST_MINUTES, Math.max(LEAST_MINUTES, minutes));
  plan.change(
    plan.strips.map((each) => (each.id === strip.id ? { ...each, minutes: within } : each)),
    `minutes/${strip.id}`,
  );
}

/** Where an arrow takes a strip that is picked up: along the days of its row, up and down its day, then to the next row. */
function moved(
  strip: Strip,
  key: string,
  strips: readonly Strip[],
  rows: readonly Row[],
  view: RibbonView,
  cells: ReadonlyMap<string, RibbonCell>,
): (Cell & { before: string | null }) | null {
  const open = (cell: Cell) => (cells.get(cellKey(cell))?.budget ?? 0) > 0;
  const own: Cell = { groupId: strip.groupId, where: strip.where, date: strip.date };
  const here = stripsOn(strips, own);
  const at = here.findIndex(({ id }) => id === strip.id);
  if (key === "ArrowLeft" || key === "ArrowRight") {
    const dates = view.days.map(({ date }) => date);
    const step = key === "ArrowRight" ? 1 : -1;
    for (let i = dates.indexOf(strip.date) + step; i >= 0 && i < dates.length; i += step)
      if (open({ ...own, date: dates[i]! })) return { ...own, date: dates[i]!, before: null };
    return null;
  }
  const step = key === "ArrowDown" ? 1 : -1;
  if (step < 0 && at > 0) return { ...own, before: here[at - 1]!.id };
  if (step > 0 && at < here.length - 1) return { ...own, before: here[at + 2]?.id ?? null };
  for (
    let i = rows.findIndex(({ groupId, where }) => groupId === own.groupId && where === own.where) + step;
    i >= 0 && i < rows.length;
    i += step
  ) {
    const { groupId, where } = rows[i]!;
    if (open({ groupId, where, date: own.date }))
      return {
        groupId,
        where,
        date: own.date,
        before: step > 0 ? (stripsOn(strips, { groupId, where, date: own.date })[0]?.id ?? null) : null,
      };
  }
  return null;
}

/** Arrows go from strip to strip while none is picked up. */
function walk(from: HTMLElement, key: string): void {
  const all = [...(from.closest("table")?.querySelectorAll<HTMLElement>("[data-strip]") ?? [])];
  const step = key === "ArrowRight" || key === "ArrowDown" ? 1 : -1;
  all[all.indexOf(from) + step]?.focus();
}
