import { useEffect, useState } from "react";
import { countActivity } from "../../../client/activity";
import type { OwnInstrument } from "../../../services/practice/wire";
import { Beneath } from "../Beneath";
import { usePractice } from "../use-practice";
import { Chart } from "./Chart";
import { LongTones } from "./LongTones";
import { Metronome } from "./Metronome";
import { RangeLadder } from "./RangeLadder";
import { SetUp } from "./SetUp";
import { Sounds } from "./Sounds";
import { Tuner } from "./Tuner";

type Tool = "long" | "tuner" | "metronome" | "chart" | "range" | "set-up" | "sound";

const NAMES: Record<Tool, string> = {
  long: "Long tones",
  tuner: "Tuner",
  metronome: "Metronome",
  chart: "Fingerings",
  range: "Range",
  sound: "Making a sound",
  "set-up": "Putting it together",
};

/** Tools of the own instrument, each by itself. */
export default function Tools({
  playerId,
  close,
  first,
}: {
  playerId: string;
  close: () => void;
  /** The tool that is open at first. */
  first?: string | undefined;
}) {
  useEffect(countActivity, []);
  const { view, own, problem } = usePractice(playerId);
  const [tool, setTool] = useState<string | null>(first ?? null);
  const [which, setWhich] = useState(0);
  const instrument = view?.instruments[which];
  const tools = instrument && view ? toolsFor(instrument, view.firstWeeks) : [];
  const now = tools.find((each) => each === tool) ?? tools[0];
  const shared = view && instrument ? { view, instrument, playerId, own } : null;
  return (
    <Beneath title="Tools" says="For your own instrument." problem={problem} close={close}>
      {view && view.instruments.length > 1 && (
        <div className="flex flex-wrap gap-2">
          {view.instruments.map(({ id, name }, i) => (
            <button
              key={id}
              type="button"
              className={`btn h-11 ${i === which ? "btn-secondary" : "border-base-300 bg-base-100"}`}
              aria-pressed={i === which}
              onClick={() => setWhich(i)}
            >
              {name}
            </button>
          ))}
        </div>
      )}
      <div className="flex flex-wrap gap-2" role="tablist" aria-label="Tools">
        {tools.map((each) => (
          <button
            key={each}
            type="button"
            role="tab"
            aria-selected={each === now}
            className={`btn h-11 ${each === now ? "btn-primary" : "border-base-300 bg-base-100"}`}
            onClick={() => setTool(each)}
          >
            {NAMES[each]}
          </button>
        ))}
      </div>
      {shared && now === "long" && (
        <LongTones key={shared.instrument.id} {...shared} tune={() => setTool("tuner")} />
      )}
      {shared && now === "tuner" && <Tuner key={shared.instrument.id} {...shared} />}
      {now === "metronome" && <Metronome playerId={playerId} />}
      {shared && now === "chart" && <Chart {...shared} />}
      {shared && now === "range" && <RangeLadder key={shared.instrument.id} {...shared} />}
      {shared && now === "set-up" && <SetUp instrument={shared.instrument} playerId={playerId} />}
      {shared && now === "sound" && <Sounds {...shared} />}
    </Beneath>
  );
}

function toolsFor(instrument: OwnInstrument, firstWeeks: boolean): Tool[] {
  const sound: Tool[] = instrument.blown ? (firstWeeks ? ["set-up", "sound", "long"] : ["long"]) : [];
  const pitched: Tool[] = instrument.pitched ? ["tuner"] : [];
  const fingered: Tool[] = instrument.chart.some(({ fingering }) => fingering) ? ["chart"] : [];
  const range: Tool[] = instrument.blown && !firstWeeks ? ["range"] : [];
  const later: Tool[] = firstWeeks ? (instrument.blown ? [] : ["set-up"]) : ["set-up"];
  return [...sound, ...pitched, "metronome", ...fingered, ...range, ...later];
}
