import { useState } from "react";
import { call } from "../../client/api";
import { instrumentById } from "../../core/music";
import { shareOf } from "../../core/progress";
import type { PatternView } from "../../services/listening/wire";
import type { NotedInClass } from "../../services/room/wire";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import { CAUSE_NAMES, noteText } from "../../ui/wording";
import { EngineRecord } from "./EngineRecord";
import { GiveWork, type NextClass } from "./GiveWork";
import { type Chosen, Grain, type Line } from "./Grain";

interface Props {
  view: PatternView;
  classes: readonly NextClass[];
  /** What was noted of the line in class. */
  noted: readonly NotedInClass[];
}

/** Minutes for three bars, slowly and in time (common practice, no published source). */
const WORK_MINUTES = 4;

/** What many takes have in common: a line by sections and bars, the term's commonest causes, and how far the bench is believed. */
export function Pattern({ view, classes, noted }: Props) {
  const { lines, line, term } = view;
  const [chosen, setChosen] = useState<Chosen | null>(null);
  if (!line)
    return (
      <p className="panel p-4">
        Nothing to see yet. As soon as a few takes of a line are in, its bars show here by section: darker
        where more of them went wrong.
      </p>
    );
  return (
    <div className="flex flex-col gap-6">
      <section className="flex flex-col gap-3">
        <label className="flex items-center gap-2">
          Line
          <select
            className="select select-sm w-auto border-neutral"
            value={line.id}
            onChange={(event) => location.assign(`/listen/pattern?line=${event.target.value}`)}
          >
            {lines.map(({ id, number, title, takes }) => (
              <option key={id} value={id}>
                {number ? `No. ${number} ` : ""}
                {title} ({takes} takes)
              </option>
            ))}
          </select>
        </label>
        <Grain line={line} chosen={chosen} choose={setChosen} />
        {chosen && <Place line={line} chosen={chosen} classes={classes} />}
        {noted.length > 0 && (
          <div>
            <h3 className="text-base font-bold">Noted in class</h3>
            <ul className="list-disc pl-5" data-testid="noted-in-class">
              {timesNoted(noted).map(([words, times]) => (
                <li key={words}>
                  {words}
                  {times > 1 && `, ${times} times`}
                </li>
              ))}
            </ul>
          </div>
        )}
      </section>
      <section>
        <h2 className="text-xl">Commonest in the last weeks</h2>
        {term.length === 0 ? (
          <p>No findings yet.</p>
        ) : (
          <table className="mt-1 text-left">
            <thead className="text-sm text-quiet">
              <tr>
                <th className="pr-6 font-normal">what</th>
                <th className="pr-6 font-normal">in how many takes</th>
                <th className="pr-6 font-normal">last three weeks</th>
                <th className="pr-6 font-normal">before</th>
                <th className="font-normal">so</th>
              </tr>
            </thead>
            <tbody>
              {term.map(({ kind, takes, lately, before }) => (
                <tr key={kind}>
                  <th className="pr-6 font-bold">{CAUSE_NAMES[kind]}</th>
                  <td className="pr-6 tabular-nums">{takes}</td>
                  <td className="pr-6 tabular-nums">{percent(lately)}</td>
                  <td className="pr-6 tabular-nums">{percent(before)}</td>
                  <td>{trend(lately, before)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </section>
      <EngineRecord view={view} />
    </div>
  );
}

/** What was noted, each thing once with how often, the newest first. */
function timesNoted(noted: readonly NotedInClass[]): [string, number][] {
  const times = new Map<string, number>();
  for (const { label, groupName, note } of noted) {
    const said = noteText(
      note,
      () => "",
      (id) => instrumentById(id).name,
    );
    const words = `${said}, ${groupName}, ${label}`;
    times.set(words, (times.get(words) ?? 0) + 1);
  }
  return [...times];
}

type OfTakes = PatternView["term"][number]["lately"];

const percent = ({ takes, of }: OfTakes) => (of === 0 ? "–" : `${Math.round((100 * takes) / of)} %`);

/** Rarer or more often only where the intervals of both do not meet. */
function trend(lately: OfTakes, before: OfTakes): string {
  if (lately.of === 0 || before.of === 0) return "too early to say";
  const [now, then] = [shareOf(lately.takes, lately.of), shareOf(before.takes, before.of)];
  return now.high < then.low ? "rarer" : now.low > then.high ? "more often" : "about the same";
}

/** One place of the grain: takes to hear, and one click into the next class. */
function Place({ line, chosen, classes }: { line: Line; chosen: Chosen; classes: readonly NextClass[] }) {
  const { section, bar } = chosen;
  const own = classes.filter(({ instruments }) => instruments.includes(section.instrumentId));
  const { wrong, takes, examples } = section.bars[bar]!;
  const [put, setPut] = useState<{ id: string; where: string } | null>(null);
  const { run, busy, problem } = useCall();
  const number = line.bars[bar]!;
  const work = async ({ groupId, groupName, date, label }: NextClass, whole: boolean) => {
    const id = crypto.randomUUID();
    const strip = {
      id,
      groupId,
      where: "class",
      date,
      forWhom: whole ? { kind: "everyone" } : { kind: "instrument", instrumentId: section.instrumentId },
      place: Date.now() / 1000,
      kind: "line",
      refId: line.id,
      title: line.title,
      minutes: WORK_MINUTES,
      firstBar: Math.max(0, bar - 1),
      lastBar: Math.min(line.bars.length - 1, bar + 1),
      note: "",
      reason: { kind: "hot-bar", bar: number, wrong, takes, instrumentId: section.instrumentId },
    };
    const done = await run(
      () => call("PUT", "/api/plan/strips", { since: 0, changes: [{ id, basis: null, strip }] }),
      "This could not be put into the class. Try again in a moment.",
    );
    if (done) setPut({ id, where: `${groupName}, ${label}` });
  };
  return (
    <section className="panel flex flex-col gap-2 border-l-4 border-l-accent p-3" data-testid="place">
      <h3 className="font-bold">
        {section.instrument}, {number === "0" ? "pickup" : `bar ${number}`}: wrong in {wrong} of {takes} takes
      </h3>
      <p className="flex flex-wrap items-center gap-2">
        {examples.length === 0 ? "No take went wrong here." : "Hear it:"}
        {examples.map(({ takeId, playerName }) => (
          <a key={takeId} className="btn btn-sm border-base-300 bg-base-100" href={`/listen?take=${takeId}`}>
            {playerName}
          </a>
        ))}
      </p>
      {wrong > 0 &&
        (put ? (
          <output>
            {WORK_MINUTES} minutes are in the class of {put.where}.{" "}
            <a className="link" href="/week">
              See it in Week
            </a>
          </output>
        ) : (
          <p className="flex flex-wrap items-center gap-2">
            {own.length === 0 ? (
              <>They have no class in the next days. Set class times in the calendar first.</>
            ) : (
              <>Work on it, {WORK_MINUTES} minutes:</>
            )}
            {own.map((next) => (
              <span key={next.groupId} className="join">
                <button
                  type="button"
                  disabled={busy}
                  className="btn join-item btn-sm border-base-300 bg-base-100"
                  onClick={() => work(next, false)}
                >
                  {section.instrument} of {next.groupName}, {next.label}
                </button>
                <button
                  type="button"
                  disabled={busy}
                  className="btn join-item btn-sm border-base-300 bg-base-100"
                  onClick={() => work(next, true)}
                >
                  everybody
                </button>
              </span>
            ))}
          </p>
        ))}
      {wrong > 0 && <GiveWork line={line} chosen={chosen} classes={own} />}
      <Problem text={problem} />
    </section>
  );
}
