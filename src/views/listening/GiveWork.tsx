import { useState } from "react";
import { call } from "../../client/api";
import type { PracticeStep } from "../../core/practice";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import type { Chosen, Line } from "./Grain";

/** A class that comes next, to put work into. */
export interface NextClass {
  groupId: string;
  groupName: string;
  instruments: readonly string[];
  date: string;
  label: string;
}

interface Props {
  line: Line;
  chosen: Chosen;
  /** The next classes of the section. */
  classes: readonly NextClass[];
}

/** What a section takes home from a place: heard first, then put right slowly and put back (common practice, no published source). */
const DRILL: PracticeStep[] = ["ear", "look", "finger", "slow", "snags", "whole", "record"];
const TIMES_A_WEEK = 3;

/** Work for one section at home, from a place where it goes wrong: a drill of its bars, or only hearing what is wrong. */
export function GiveWork({ line, chosen: { section, bar }, classes }: Props) {
  const [given, setGiven] = useState("");
  const { run, busy, problem } = useCall();
  const first = Math.max(0, bar - 1);
  const last = Math.min(line.bars.length - 1, bar + 1);
  const [next] = classes;
  if (!next) return null;
  const give = async (what: "drill" | "ear") => {
    const done = await run(
      () =>
        call("POST", "/api/assignments", {
          lineId: line.id,
          groupId: next.groupId,
          only: { instrumentIds: [section.instrumentId] },
          goalBpm: line.goalBpm,
          timesPerWeek: TIMES_A_WEEK,
          dueDate: next.date,
          firstBar: first,
          lastBar: last,
          note:
            what === "drill"
              ? `Bar ${line.bars[bar]} goes wrong in many takes. Hear it first, then put it right slowly.`
              : `Bar ${line.bars[bar]} goes wrong in many takes. Can you hear how?`,
          terms: what === "drill" ? { steps: DRILL } : { steps: ["ear"], record: { kind: "nothing" } },
          sure: ["again", "day-off"],
        }),
      "This could not be given. Try again in a moment.",
    );
    if (done) setGiven(what === "drill" ? "The drill" : "Hearing the difference");
  };
  if (given)
    return (
      <output>
        {given} is on the stands of {section.instrument} in {next.groupName}, due {next.label}.{" "}
        <a className="link" href="/week">
          See it in Week
        </a>
      </output>
    );
  return (
    <p className="flex flex-wrap items-center gap-2">
      To take home, until {next.label}:
      <button
        type="button"
        disabled={busy}
        className="btn btn-sm border-base-300 bg-base-100"
        onClick={() => give("drill")}
      >
        A drill of bars {line.bars[first]} to {line.bars[last]}
      </button>
      <button
        type="button"
        disabled={busy}
        className="btn btn-sm border-base-300 bg-base-100"
        onClick={() => give("ear")}
      >
        Hear the difference
      </button>
      <Problem text={problem} />
    </p>
  );
}
