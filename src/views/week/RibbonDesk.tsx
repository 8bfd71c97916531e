import {
  DndContext,
  type DragEndEvent,
  DragOverlay,
  type DragStartEvent,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { Redo2, Undo2 } from "lucide-react";
import { useMemo, useState } from "react";
import { addDays } from "../../core/calendar";
import { type Cell, minutesToPlan, moveStrip, placeBetween, type Strip, stripsOn } from "../../core/plan";
import type { DraftView, DrawerItem, RibbonView, WeekView } from "../../services/week/schema";
import { type Packed, unpacked } from "../../ui/packed";
import { accept } from "./accept";
import { CopyWeek } from "./CopyWeek";
import { Drawer, type DrawerChoice } from "./Drawer";
import { GiveHome } from "./GiveHome";
import { Numbers } from "./Numbers";
import { dayName, groupName } from "./names";
import { Proposals } from "./Proposals";
import { RibbonGrid } from "./RibbonGrid";
import { StripPanel } from "./StripPanel";
import { Today } from "./Today";
import { useDrawer } from "./use-drawer";
import { type Plan, usePlan } from "./use-plan";

/** The ribbon: a week or two of class and home, changed by hand and keys, drafted with reasons, put on stands. */
export function RibbonDesk({ data }: { data: Packed<{ view: RibbonView; week: WeekView }> }) {
  const { view: first, week } = useMemo(() => unpacked(data), [data]);
  const plan = usePlan(first);
  const [chosen, setChosen] = useState<string | null>(null);
  const [target, setTarget] = useState<Cell | null>(null);
  const { items: drawer, whole, load } = useDrawer(first.drawer);
  const view = useMemo(() => ({ ...first, drawer }), [first, drawer]);
  const [dragged, setDragged] = useState<string | null>(null);
  const [said, setSaid] = useState("");
  const [draft, setDraft] = useState<DraftView | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const strip = plan.strips.find(({ id }) => id === chosen) ?? null;

  /** A home day that is off takes nothing; the server would refuse it as well. */
  const isOff = ({ groupId, where, date }: Cell) => {
    const off =
      where === "home" &&
      !view.cells.some(
        (cell) => cell.where === "home" && cell.groupId === groupId && cell.date === date && cell.budget > 0,
      );
    if (off) setSaid(`${dayName(view, date)} is off; nothing is asked at home.`);
    return off;
  };
  const put = (item: DrawerChoice, cell: Cell, before: string | null = null) => {
    if (isOff(cell)) return;
    const made = newStrip(item, cell, before, plan.strips);
    plan.change([...plan.strips, made]);
    setSaid(`${made.title} was put on ${dayName(view, cell.date)}.`);
    setChosen(made.id);
  };
  const dropped = ({ active, over }: DragEndEvent) => {
    setDragged(null);
    if (!over) return;
    const to = over.data.current as { cell: Cell; before: string | null } | undefined;
    const item = active.data.current as { item?: DrawerItem } | undefined;
    if (!to || isOff(to.cell)) return;
    if (item?.item) put(item.item, to.cell, to.before);
    else plan.change(moveStrip(plan.strips, String(active.id), { ...to.cell, before: to.before }));
  };
  const picked = ({ active }: DragStartEvent) => {
    const item = (active.data.current as { item?: DrawerItem } | undefined)?.item;
    setDragged(item?.title ?? plan.strips.find(({ id }) => id === active.id)?.title ?? "");
  };
  return (
    <DndContext
      id="ribbon"
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragStart={picked}
      onDragEnd={dropped}
      onDragCancel={() => setDragged(null)}
    >
      <section aria-label="Plan" className="flex flex-col gap-3">
        {isNow(view) && (
          <div className="grid gap-3 lg:grid-cols-[3fr_2fr]">
            <Today view={view} plan={plan} say={setSaid} />
            <div className="panel flex flex-col overflow-hidden">
              <Numbers week={week} view={view} plan={plan} choose={setChosen} />
            </div>
          </div>
        )}
        <Bar view={view} plan={plan} said={said} say={setSaid} />
        <Conflicts plan={plan} view={view} />
        <div className="flex items-start gap-3">
          <div className="min-w-0 flex-1">
            <RibbonGrid
              view={view}
              plan={plan}
              chosen={chosen}
              choose={setChosen}
              add={(cell) => {
                setTarget(cell);
                if (!whole) load();
              }}
              target={target}
              say={setSaid}
              draft={draft}
              takeOver={(proposal) => accept({ plan, draft, setDraft, say: setSaid }, [proposal])}
            />
          </div>
          {target && (
            <Drawer
              items={view.drawer}
              whole={whole}
              where={`${groupName(view, target.groupId)}, ${target.where}, ${dayName(view, target.date)}`}
              put={(item) => put(item, target)}
              close={() => setTarget(null)}
            />
          )}
        </div>
        {strip && (
          <StripPanel key={strip.id} view={view} plan={plan} strip={strip} close={() => setChosen(null)} />
        )}
        <GiveHome view={view} plan={plan} />
        <Proposals view={view} plan={plan} draft={draft} setDraft={setDraft} say={setSaid} />
      </section>
      <DragOverlay dropAnimation={null}>
        {dragged === null ? null : (
          <div className="rounded border border-accent bg-secondary px-2 py-1 text-sm shadow">{dragged}</div>
        )}
      </DragOverlay>
    </DndContext>
  );
}

/** Whether today is in the weeks shown. */
const isNow = ({ today, monday, weeks }: RibbonView) => monday <= today && today < addDays(monday, 7 * weeks);

interface BarProps {
  view: RibbonView;
  plan: Plan;
  /** What was done last. */
  said: string;
  say: (words: string) => void;
}

function Bar({ view, plan, said, say }: BarProps) {
  const link = (monday: string, weeks: number) => `/week?of=${monday}${weeks === 2 ? "&weeks=2" : ""}`;
  return (
    <div className="flex flex-wrap items-center gap-2">
      <div className="join">
        <a className="btn btn-sm join-item border-base-300" href={link(addDays(view.monday, -7), view.weeks)}>
          ← before
        </a>
        <a className="btn btn-sm join-item border-base-300" href={link(view.today, view.weeks)}>
          this week
        </a>
        <a className="btn btn-sm join-item border-base-300" href={link(addDays(view.monday, 7), view.weeks)}>
          after →
        </a>
      </div>
      <a className="btn btn-sm border-base-300" href={link(view.monday, view.weeks === 1 ? 2 : 1)}>
        {view.weeks === 1 ? "two weeks" : "one week"}
      </a>
      <button
        type="button"
        className="btn btn-sm border-base-300"
        disabled={!plan.canUndo}
        onClick={plan.undo}
        aria-keyshortcuts="Control+Z"
      >
        <Undo2 size={16} aria-hidden="true" /> Undo
      </button>
      <button
        type="button"
        className="btn btn-sm border-base-300"
        disabled={!plan.canRedo}
        onClick={plan.redo}
      >
        <Redo2 size={16} aria-hidden="true" /> Redo
      </button>
      <CopyWeek view={view} plan={plan} say={say} />
      <a className="btn btn-sm border-base-300" href={`/week/print/home?of=${view.monday}`}>
        Home pages
      </a>
      <a className="btn btn-sm border-base-300" href="/week/term">
        Term
      </a>
      <a className="btn btn-sm border-base-300" href="/week/pieces">
        Pieces
      </a>
      <a className="btn btn-sm border-base-300" href="/week/calendar">
        Calendar
      </a>
      <p className="min-w-0 flex-1 truncate text-sm text-quiet" aria-live="polite" title={said}>
        {said}
      </p>
      <output
        className={`ml-auto text-sm ${plan.saving === "failed" ? "font-bold text-felt" : "text-quiet"}`}
      >
        {plan.saving === "kept" ? "all saved" : plan.saving === "keeping" ? "saving …" : plan.problem}
      </output>
    </div>
  );
}

function Conflicts({ plan, view }: { plan: Plan; view: RibbonView }) {
  return plan.conflicts.map(({ id, mine, said }) => {
    const title = mine?.title ?? plan.strips.find((strip) => strip.id === id)?.title ?? "A strip";
    return (
      <p
        key={id}
        role="alert"
        className="panel flex flex-wrap items-center gap-3 border-accent px-3 py-2 text-sm"
      >
        <span>
          {title} was {said} elsewhere meanwhile; that stands.
          {mine
            ? ` You had it on ${dayName(view, mine.date)}, ${mine.minutes} min.`
            : " You had taken it off."}
        </span>
        <button type="button" className="btn btn-sm" onClick={() => plan.settle(id, "mine")}>
          Do it my way
        </button>
        <button type="button" className="btn btn-ghost btn-sm" onClick={() => plan.settle(id, "theirs")}>
          Leave it
        </button>
      </p>
    );
  });
}

/** A strip made of something from the drawer. */
function newStrip(
  item: DrawerChoice,
  { groupId, where, date }: Cell,
  before: string | null,
  strips: readonly Strip[],
): Strip {
  const here = stripsOn(strips, { groupId, where, date });
  const at = before === null ? here.length : here.findIndex(({ id }) => id === before);
  return {
    id: crypto.randomUUID(),
    groupId,
    where,
    forWhom: { kind: "everyone" },
    date,
    place: placeBetween(here[at - 1]?.place ?? null, here[at]?.place ?? null),
    kind: item.kind,
    refId: item.refId,
    title: item.title,
    minutes: item.seconds > 0 ? minutesToPlan(item.kind, item.seconds, where) : 5,
    firstBar: null,
    lastBar: null,
    note: "",
    reason: null,
  };
}
