import { useState } from "react";
import { call } from "../../client/api";
import { groupBy } from "../../core/lists";
import { type Strip, stripsOn } from "../../core/plan";
import { isAskedFor } from "../../core/practice";
import type { HardBar, RibbonView, WeekView } from "../../services/week/schema";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { dayName, groupName } from "./names";
import type { Plan } from "./use-plan";

interface Props {
  week: WeekView;
  view: RibbonView;
  plan: Plan;
  /** Opens a strip that was made here. */
  choose: (id: string) => void;
}

const many = (count: number, one: string, more: string) => `${count} ${count === 1 ? one : more}`;
const tile = "flex w-full flex-wrap items-baseline gap-x-2 px-4 py-2 text-left hover:bg-secondary/30";
const big = "font-heading text-lg font-bold";

/** What waits, who is missing, what goes wrong: each number opens what it counts, and offers the next step. */
export function Numbers({ week, view, plan, choose }: Props) {
  const [open, setOpen] = useState<"missing" | "bar" | null>(null);
  const toggle = (what: "missing" | "bar") => setOpen(open === what ? null : what);
  const { hardest, missingPlayers, waitingTakes, needEar } = week;
  return (
    <>
      <a href="/listen" className={tile}>
        <span className={big}>{many(waitingTakes, "take waits", "takes wait")}</span>
        <span className="text-sm text-quiet">
          {needEar === 0
            ? "all could be assessed"
            : `${many(needEar, "needs", "need")} your ear: silent, unreadable or another piece`}
        </span>
      </a>
      <button
        type="button"
        className={`${tile} border-y border-base-300`}
        aria-expanded={open === "missing"}
        disabled={missingPlayers === 0}
        onClick={() => toggle("missing")}
      >
        <span className={big}>{many(missingPlayers, "player", "players")} to hear from</span>
        <span className="text-sm text-quiet">
          {missingPlayers === 0 ? "everything is in" : "with a line not sent yet"}
        </span>
      </button>
      {open === "missing" && <MissingPlayers week={week} />}
      {hardest ? (
        <button type="button" className={tile} aria-expanded={open === "bar"} onClick={() => toggle("bar")}>
          <span className={big}>
            bar {hardest.bar.label} of {hardest.line}
          </span>
          <span className="text-sm text-quiet">
            wrong in {hardest.bar.wrong} of {hardest.bar.takes} takes
          </span>
        </button>
      ) : (
        <p className="px-4 py-2">
          <span className={big}>No hard bar yet</span>{" "}
          <span className="text-sm text-quiet">shows when several takes miss the same place</span>
        </p>
      )}
      {open === "bar" && hardest && <HardBarSteps {...{ hardest, view, plan, choose }} />}
    </>
  );
}

function MissingPlayers({ week }: { week: WeekView }) {
  const { run, busy, problem, fields } = useCall();
  const [written, setWritten] = useState(false);
  const missing = groupBy(
    week.items
      .filter((item) => isAskedFor(item, week.today))
      .flatMap(({ missing: own, lineNumber, lineTitle }) =>
        own.map((player) => ({ ...player, line: lineNumber ? `No. ${lineNumber}` : lineTitle })),
      ),
    ({ playerId }) => playerId,
  );
  const write = async () => {
    const done = await run(
      () => call("POST", "/api/plan/reminder", { sure: "sure" in fields }),
      "The reminder could not be written. Try again in a moment.",
    );
    if (done) setWritten(true);
  };
  return (
    <div className="flex flex-col gap-2 px-4 py-2 text-sm">
      <ul className="max-h-56 overflow-y-auto">
        {[...missing].map(([playerId, own]) => (
          <li key={playerId}>
            <a className="font-bold hover:underline" href={`/band/${playerId}`}>
              {own[0]!.name}
            </a>
            , {own[0]!.instrument}: {[...new Set(own.map(({ line }) => line))].join(", ")}
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap items-center gap-3">
        {written ? (
          <output>
            The reminder waits in your{" "}
            <a className="link" href="/band/outbox">
              outbox
            </a>
            .
          </output>
        ) : (
          <button type="button" className="btn btn-sm border-base-300" disabled={busy} onClick={write}>
            Write a reminder to the families
          </button>
        )}
        <Problem text={problem} />
      </div>
    </div>
  );
}

/** Minutes for three bars, slowly and in time (common practice, no published source). */
const WORK_MINUTES = 4;

function HardBarSteps({
  hardest,
  view,
  plan,
  choose,
}: { hardest: HardBar } & Pick<Props, "view" | "plan" | "choose">) {
  const { bar, bars, groupId, line, lineId, takeId } = hardest;
  const next = view.cells
    .filter((cell) => cell.where === "class" && cell.groupId === groupId && cell.budget > 0)
    .map(({ date }) => date)
    .filter((date) => date >= view.today)
    .sort()[0];
  const work = () => {
    if (!next) return;
    const cell = { groupId, where: "class" as const, date: next };
    const strip: Strip = {
      id: crypto.randomUUID(),
      ...cell,
      forWhom: { kind: "everyone" },
      place: (stripsOn(plan.strips, cell).at(-1)?.place ?? 0) + 1,
      kind: "line",
      refId: lineId,
      title: view.drawer.find(({ refId }) => refId === lineId)?.title ?? line,
      minutes: WORK_MINUTES,
      firstBar: Math.max(0, bar.index - 1),
      lastBar: Math.min(bars - 1, bar.index + 1),
      note: "",
      reason: { kind: "hot-bar", bar: bar.label, wrong: bar.wrong, takes: bar.takes, instrumentId: null },
    };
    plan.change([...plan.strips, strip]);
    choose(strip.id);
  };
  return (
    <div className="flex flex-wrap items-center gap-3 px-4 py-2 text-sm">
      {takeId && (
        <a className="btn btn-sm border-base-300" href={`/listen?take=${takeId}`}>
          Hear a take of it
        </a>
      )}
      {next ? (
        <button type="button" className="btn btn-sm border-base-300" onClick={work}>
          Work on it with {groupName(view, groupId)}, {dayName(view, next)}
        </button>
      ) : (
        <span className="text-quiet">
          {groupName(view, groupId)} has no class in the days shown; open the week after to put it there.
        </span>
      )}
    </div>
  );
}
