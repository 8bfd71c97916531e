import { instrumentById } from "../../core/music";
import { keyOf, type LineAsk, MOST_NEW_THINGS, type Strip, shiftRest, stripsOn } from "../../core/plan";
import { PLAIN_TERMS, within } from "../../core/practice";
import type { RibbonView } from "../../services/week/schema";
import { TermsFields } from "../../ui/TermsFields";
import { askText, KIND_NAMES, planReason, termsInShort } from "../../ui/wording";
import { dayName, groupName } from "./names";
import { setMinutes } from "./RibbonGrid";
import type { Plan } from "./use-plan";

interface Props {
  view: RibbonView;
  plan: Plan;
  strip: Strip;
  close: () => void;
}

const PAGES: Partial<Record<Strip["kind"], string>> = {
  line: "/shelf/",
  drill: "/shelf/",
  routine: "/shelf/warm-ups/",
  counting: "/shelf/counting/",
};

/** One strip opened: minutes, bars, for whom, a note, why it is there, who is not ready and the ways out. */
export function StripPanel({ view, plan, strip, close }: Props) {
  const set = (changed: Partial<Strip>, doing = "") =>
    plan.change(
      plan.strips.map((each) => (each.id === strip.id ? { ...each, ...changed } : each)),
      doing,
    );
  const group = view.groups.find(({ id }) => id === strip.groupId);
  const bars = view.drawer.find(({ refId }) => refId === strip.refId)?.bars ?? null;
  const numbers = Array.from({ length: bars ?? 0 }, (_, index) => String(index + 1));
  const asked = [strip.firstBar ?? 0, strip.lastBar ?? Math.max(0, (bars ?? 1) - 1)] as const;
  const asks = plan.asks[`${strip.groupId}/${strip.refId}`] ?? [];
  const page = strip.refId && PAGES[strip.kind];
  const barChoice = (which: "firstBar" | "lastBar", label: string) => (
    <label className="text-sm">
      {label}
      <select
        className="select select-sm ml-1 w-20 border-neutral"
        value={strip[which] ?? ""}
        onChange={(event) => {
          if (event.target.value === "") return set({ firstBar: null, lastBar: null });
          const value = Number(event.target.value);
          const [first, last] =
            which === "firstBar"
              ? [value, Math.max(value, strip.lastBar ?? bars! - 1)]
              : [Math.min(value, strip.firstBar ?? 0), value];
          set({ firstBar: first, lastBar: last });
        }}
      >
        <option value="">all</option>
        {Array.from({ length: bars ?? 0 }, (_, i) => (
          <option key={i} value={i}>
            {i + 1}
          </option>
        ))}
      </select>
    </label>
  );
  return (
    <section
      aria-label={strip.title}
      className="panel sticky bottom-2 z-10 flex max-h-[45vh] flex-col gap-2 overflow-y-auto p-4 shadow-lg"
    >
      <div className="flex flex-wrap items-baseline gap-3">
        <h3 className="text-xl">
          {page ? (
            <a className="hover:underline" href={`${page}${strip.refId}`}>
              {strip.title}
            </a>
          ) : (
            strip.title
          )}
        </h3>
        <p className="text-sm text-quiet">
          {KIND_NAMES[strip.kind]}, {groupName(view, strip.groupId)}, {strip.where},{" "}
          {dayName(view, strip.date)}
        </p>
        <button type="button" className="btn btn-ghost btn-sm ml-auto" onClick={close}>
          Close
        </button>
      </div>
      {strip.reason && <p className="text-sm">{planReason(strip.reason)}</p>}
      <div className="flex flex-wrap items-end gap-4">
        <label className="text-sm">
          Minutes
          <input
            type="number"
            min={1}
            max={120}
            className="input input-sm ml-1 w-20 border-neutral"
            value={strip.minutes}
            onChange={(event) =>
              event.target.value !== "" && setMinutes(plan, strip, Number(event.target.value))
            }
          />
        </label>
        {strip.kind === "line" && bars !== null && bars > 1 && (
          <>
            {barChoice("firstBar", "from bar")}
            {barChoice("lastBar", "to bar")}
          </>
        )}
        <label className="text-sm">
          for
          <select
            aria-label="For whom"
            className="select select-sm ml-1 border-neutral"
            value={keyOf(strip.forWhom)}
            onChange={(event) => {
              const [kind, id] = event.target.value.split("/");
              set({
                forWhom:
                  kind === "instrument"
                    ? { kind, instrumentId: id! }
                    : kind === "player"
                      ? { kind, playerId: id! }
                      : { kind: "everyone" },
              });
            }}
          >
            <option value="everyone">everybody</option>
            {group?.instruments.map((id) => (
              <option key={id} value={`instrument/${id}`}>
                {instrumentById(id).name}
              </option>
            ))}
            {strip.forWhom.kind === "player" &&
              !group?.members.some(({ id }) => `player/${id}` === keyOf(strip.forWhom)) && (
                <option value={keyOf(strip.forWhom)}>one player</option>
              )}
            {group?.members.map(({ id, name }) => (
              <option key={id} value={`player/${id}`}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <label className="min-w-60 flex-1 text-sm">
          Note
          <input
            className="input input-sm ml-1 w-full border-neutral"
            maxLength={500}
            value={strip.note}
            onChange={(event) => set({ note: event.target.value }, `note/${strip.id}`)}
          />
        </label>
      </div>
      {strip.where === "home" && strip.kind === "line" && !plan.given.get(strip.id) && (
        <details className="text-sm">
          <summary className="cursor-pointer font-bold">
            Tempo, style, recording, marks
            {strip.terms && <span className="ml-2 font-normal text-brass">{termsInShort(strip.terms)}</span>}
          </summary>
          <div className="mt-2 max-w-xl">
            <TermsFields
              terms={within(strip.terms ?? PLAIN_TERMS, asked)}
              change={(terms) => set({ terms }, `terms/${strip.id}`)}
              bars={numbers}
              range={asked}
              goalBpm={view.drawer.find(({ refId }) => refId === strip.refId)?.bpm ?? 80}
              problemOf={() => undefined}
            />
          </div>
        </details>
      )}
      {(view.ticks[strip.id] ?? 0) > 0 && (
        <p className="text-sm text-done">
          Ticked off by {view.ticks[strip.id] === 1 ? "1 player" : `${view.ticks[strip.id]} players`}.
        </p>
      )}
      {asks.length > 0 && <Waiting {...{ view, plan, strip, asks }} />}
      {strip.where === "class" && strip.date <= view.today && (
        <label className="flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={strip.notReached ?? false}
            onChange={(event) => {
              const { notReached: _was, ...rest } = strip;
              const now = event.target.checked ? { ...rest, notReached: true as const } : rest;
              plan.change(plan.strips.map((each) => (each.id === strip.id ? now : each)));
            }}
          />
          we did not get to it; it stands on the next run sheet
        </label>
      )}
      <div className="flex flex-wrap gap-2">
        <button
          type="button"
          className="btn btn-sm border-base-300"
          onClick={() => {
            plan.change(shiftRest(plan.strips, strip, strip.date, daysOf(view, strip)));
          }}
        >
          This day is lost: shift it and the rest
        </button>
        <button
          type="button"
          className="btn btn-sm border-base-300"
          onClick={() => {
            plan.change(plan.strips.filter(({ id }) => id !== strip.id));
            close();
          }}
        >
          Take it off
        </button>
      </div>
    </section>
  );
}

/** Who is not ready and what can be done about it in one step. */
function Waiting({ view, plan, strip, asks }: Omit<Props, "close"> & { asks: LineAsk[] }) {
  const earlier = lessonBefore(view, strip);
  return (
    <div className="text-sm">
      <p className="font-bold text-felt">Not ready</p>
      <ul className="grid gap-x-6 gap-y-1 lg:grid-cols-2">
        {asks.map((ask) => (
          <li
            key={`${ask.instrumentId}/${ask.newThings.join()}`}
            className="flex flex-wrap items-center gap-2"
          >
            <span>{askText(ask)}</span>
            {ask.newThings.length > 0 && earlier && (
              <button
                type="button"
                className="btn btn-xs border-base-300"
                onClick={() => plan.change([...plan.strips, ...teachFirst(plan, strip, ask, earlier)])}
              >
                Teach it first, {dayName(view, earlier)}
              </button>
            )}
            <a className="link" href={`/shelf/${strip.refId}?part=${ask.instrumentId}#range`}>
              other octave, note or part
            </a>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** The class of the row two before the strip's day, or the one before; null when there is none in sight. */
function lessonBefore(view: RibbonView, strip: Strip): string | null {
  const before = daysOf(view, { groupId: strip.groupId, where: "class" }).filter(
    (date) => date < strip.date && date >= view.today,
  );
  return before.at(-2) ?? before.at(-1) ?? null;
}

function daysOf(view: RibbonView, { groupId, where }: Pick<Strip, "groupId" | "where">): string[] {
  return view.cells
    .filter((cell) => cell.groupId === groupId && cell.where === where && cell.budget > 0)
    .map(({ date }) => date)
    .sort();
}

/** A drill of the new notes in class and cards of them at home on the same day. */
function teachFirst(plan: Plan, strip: Strip, ask: LineAsk, date: string): Strip[] {
  const newThings = ask.newThings.slice(0, MOST_NEW_THINGS);
  const common = {
    groupId: strip.groupId,
    forWhom: { kind: "instrument" as const, instrumentId: ask.instrumentId },
    date,
    refId: strip.refId,
    firstBar: null,
    lastBar: null,
    note: "",
    reason: {
      kind: "teach-first" as const,
      instrumentId: ask.instrumentId,
      players: ask.players,
      newThings,
      lineTitle: strip.title,
    },
  };
  const last = (where: "class" | "home") =>
    (stripsOn(plan.strips, { groupId: strip.groupId, where, date }).at(-1)?.place ?? 0) + 1;
  return [
    {
      ...common,
      id: crypto.randomUUID(),
      where: "class",
      place: last("class"),
      kind: "drill",
      title: newThings.join(", "),
      minutes: 3,
    },
    {
      ...common,
      id: crypto.randomUUID(),
      where: "home",
      place: last("home"),
      kind: "cards",
      refId: null,
      title: newThings.join(", "),
      minutes: 3,
    },
  ];
}
