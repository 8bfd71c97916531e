import { useState } from "react";
import { tell } from "../../../client/practice-log";
import type { PracticeView } from "../../../services/practice/wire";
import { CountingResults } from "../../../ui/CountingResults";
import { PracticeWeeks } from "../../../ui/PracticeWeeks";
import { dayName } from "../../../ui/wording";
import { Beneath } from "../Beneath";
import { usePractice } from "../use-practice";
import { Curve } from "./Curve";

/** The week and the weeks before, counted by itself; what was done away from the bench; what grew. */
export default function Log({ playerId, close }: { playerId: string; close: () => void }) {
  const { view, problem } = usePractice(playerId);
  return (
    <Beneath
      title="My log and my growth"
      says="Minutes are counted while you practise here. Write down what you did away from the bench."
      problem={problem}
      close={close}
    >
      {view && (
        <>
          <Weeks view={view} />
          <Own view={view} playerId={playerId} />
          <Growth view={view} />
        </>
      )}
    </Beneath>
  );
}

function Weeks({ view }: { view: PracticeView }) {
  return (
    <section className="panel flex flex-col gap-3 p-4 print:border-0">
      <h2 className="text-xl">Days and minutes</h2>
      <PracticeWeeks days={view.days} today={view.today} by={view.logBy} />
      <p className="text-sm text-quiet">
        Asked: {view.askMinutes} minutes a day. Several short days are better than one long one.
      </p>
      {view.logSheet && (
        <>
          <p className="hidden print:mt-12 print:block">
            {view.playerName} practised as above. Signed at home: ____________________________
          </p>
          <button type="button" className="btn h-11 self-start print:hidden" onClick={() => print()}>
            Print it to be signed
          </button>
        </>
      )}
    </section>
  );
}

function Own({ view, playerId }: { view: PracticeView; playerId: string }) {
  const [minutes, setMinutes] = useState("10");
  const [text, setText] = useState("");
  const [entries, setEntries] = useState(view.entries);
  const keep = async () => {
    const count = Math.min(240, Math.max(1, Math.round(Number(minutes)) || 1));
    const fact = await tell(
      playerId,
      { kind: "own", minutes: count, text: text.trim(), seconds: 0 },
      view.today,
    );
    setEntries([{ id: fact.id, day: fact.day, minutes: count, text: text.trim() }, ...entries]);
    setText("");
  };
  return (
    <section className="panel flex flex-col gap-3 p-4 print:hidden">
      <h2 className="text-xl">Away from the bench</h2>
      <form
        className="flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void keep();
        }}
      >
        <label className="flex flex-col text-sm font-bold">
          Minutes
          <input
            type="number"
            className="input h-11 w-24 border-neutral font-normal"
            min={1}
            max={240}
            value={minutes}
            onChange={(event) => setMinutes(event.target.value)}
          />
        </label>
        <label className="flex min-w-52 flex-1 flex-col text-sm font-bold">
          What you did
          <input
            className="input h-11 w-full border-neutral font-normal"
            value={text}
            maxLength={120}
            onChange={(event) => setText(event.target.value)}
          />
        </label>
        <button type="submit" className="btn h-11 border-base-300 bg-base-100">
          Write it down
        </button>
      </form>
      <ul data-testid="entries">
        {entries.map(({ id, day, minutes: count, text: said }) => (
          <li key={id}>
            {dayName(day)}: {count} min{said ? `, ${said}` : ""}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Growth({ view }: { view: PracticeView }) {
  const tempi = view.tempi.filter(({ days }) => days.length > 1);
  const pitched = view.instruments.filter(({ chart }) => chart.length > 0);
  return (
    <section className="panel flex flex-col gap-4 p-4 print:hidden">
      <h2 className="text-xl">What grew</h2>
      {pitched.map((instrument) => (
        <div key={instrument.id}>
          <p className="font-bold">
            {instrument.name}: {instrument.chart.filter(({ known }) => known).length} notes
          </p>
          <ol className="flex flex-wrap gap-1 pt-1" aria-label={`Notes of the ${instrument.name}`}>
            {instrument.chart.map(({ midi, name, known }) => (
              <li
                key={midi}
                className={`rounded border px-1.5 py-0.5 text-sm ${known ? "border-done bg-done font-bold text-white" : "border-base-300 text-quiet"}`}
              >
                {name}
                <span className="sr-only">{known ? ", known" : ", to come"}</span>
              </li>
            ))}
          </ol>
        </div>
      ))}
      {view.counting.length > 0 && (
        <div>
          <p className="pb-2 font-bold">Counting</p>
          <CountingResults counting={view.counting} />
        </div>
      )}
      {view.tones.length > 1 && (
        <Curve
          title="Longest tone of the day, seconds"
          points={view.tones.map(({ day, heldSec }) => ({ day, value: heldSec }))}
          goal={10}
        />
      )}
      {tempi.map(({ taskId, title, goalBpm, days }) => (
        <Curve
          key={taskId}
          title={`${title}: clean at, beats a minute`}
          points={days.map(({ day, bpm }) => ({ day, value: bpm }))}
          goal={goalBpm}
        />
      ))}
      {view.tones.length <= 1 && tempi.length === 0 && view.counting.length === 0 && (
        <p className="text-quiet">
          After two days with long tones or with a line, what got better stands here as a curve.
        </p>
      )}
    </section>
  );
}
