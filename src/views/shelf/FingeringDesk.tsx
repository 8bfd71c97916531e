import { useState } from "react";
import { ApiError, call } from "../../client/api";
import type { ChartView } from "../../services/shelf/schema";
import { FingeringCard } from "../../ui/Fingering";
import { PrintButton } from "../../ui/PrintButton";
import { useReady } from "../../ui/use-ready";

/** An instrument's chart: read it, confirm what was written from memory, set the band's own fingering, print it. */
export function FingeringDesk({ first }: { first: ChartView }) {
  const ready = useReady();
  const [chart, setChart] = useState(first);
  const [editing, setEditing] = useState<number | null>(null);
  const [text, setText] = useState("");
  const [problem, setProblem] = useState("");
  const unverified = chart.notes.filter((note) => note.checkedBy.length === 0 && note.fingering);

  const load = async (build: string | null) =>
    setChart(
      await call<ChartView>("GET", `/api/fingerings/${chart.instrumentId}${build ? `?build=${build}` : ""}`),
    );
  const set = async (notes: { midi: number; text: string | null }[]) => {
    setProblem("");
    try {
      await call("PUT", `/api/fingerings/${chart.instrumentId}`, { notes });
      await load(chart.build);
      setEditing(null);
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "The fingering could not be kept.");
    }
  };

  return (
    <div className="flex flex-col gap-4">
      <section className="grid gap-x-6 gap-y-1 text-sm md:grid-cols-2">
        <p>{chart.overblows}</p>
        <p>
          {chart.voice !== "none" && `Balance voice: ${chart.voice}. `}
          {chart.tuningNote && `Tunes to concert ${chart.tuningNote}.`}
        </p>
        <ul className="list-disc pl-5">
          {chart.typicalSnags.map((snag) => (
            <li key={snag}>{snag}</li>
          ))}
        </ul>
        <ul className="list-disc pl-5">
          {chart.cautions.map((caution) => (
            <li key={caution}>{caution}</li>
          ))}
          <li>Your school's rules come first; ask a doctor, specialist or repair technician.</li>
        </ul>
      </section>
      {chart.notes.length === 0 ? (
        <p className="panel p-4">This instrument has no fingerings.</p>
      ) : (
        <>
          <div className="no-print flex flex-wrap items-center gap-3">
            {chart.builds.length > 0 && (
              <label className="flex items-center gap-2">
                <span className="font-bold">Build</span>
                <select
                  className="select border-neutral"
                  disabled={!ready}
                  value={chart.build ?? ""}
                  onChange={(event) =>
                    load(event.target.value).catch((error: Error) => setProblem(error.message))
                  }
                >
                  {chart.builds.map(({ id, name }) => (
                    <option key={id} value={id}>
                      {name}
                    </option>
                  ))}
                </select>
              </label>
            )}
            <PrintButton />
            {unverified.length > 0 && (
              <button
                type="button"
                className="btn btn-primary"
                disabled={!ready}
                onClick={() => set(unverified.map((note) => ({ midi: note.midi, text: note.fingeringText })))}
              >
                Confirm all {unverified.length} as shown
              </button>
            )}
            <p className="text-sm text-quiet">
              {unverified.length > 0
                ? "Marked ones were written from memory: check them against your book, change or confirm them."
                : "Under each note stands what it was checked by. Change what your book teaches otherwise."}
            </p>
          </div>
          {problem && (
            <p role="alert" className="font-bold text-felt">
              {problem}
            </p>
          )}
          <ul className="grid grid-cols-2 gap-2 sm:grid-cols-[repeat(auto-fill,minmax(190px,1fr))]">
            {chart.notes.map((note) => (
              <li key={note.midi} className="panel flex break-inside-avoid flex-col gap-1 px-3 py-2">
                <FingeringCard note={note} forDirector />
                {note.alternates.length > 0 && (
                  <p className="text-sm text-quiet">
                    also {note.alternates.slice(0, 3).join("; ")}
                    {note.otherwise && `: ${note.otherwise}`}
                  </p>
                )}
                {editing === note.midi ? (
                  <form
                    className="no-print flex flex-col gap-1"
                    onSubmit={(event) => {
                      event.preventDefault();
                      void set([{ midi: note.midi, text }]);
                    }}
                  >
                    <input
                      className="input input-sm w-full border-neutral"
                      aria-label={`Fingering of ${note.name}, like ${chart.example}`}
                      placeholder={chart.example}
                      value={text}
                      onChange={(event) => setText(event.target.value)}
                    />
                    <span className="flex gap-3 text-sm">
                      <button type="submit" className="link">
                        keep
                      </button>
                      <button type="button" className="link" onClick={() => setEditing(null)}>
                        leave it
                      </button>
                    </span>
                  </form>
                ) : (
                  <span className="no-print flex gap-3 text-sm">
                    {!note.checkedBy.includes("director") && note.fingering && (
                      <button
                        type="button"
                        className="link"
                        disabled={!ready}
                        onClick={() => set([{ midi: note.midi, text: note.fingeringText }])}
                      >
                        confirm
                      </button>
                    )}
                    <button
                      type="button"
                      className="link"
                      disabled={!ready}
                      onClick={() => {
                        setEditing(note.midi);
                        setText(note.fingering ? note.fingeringText : "");
                      }}
                    >
                      change
                    </button>
                    {note.set && (
                      <button
                        type="button"
                        className="link"
                        disabled={!ready}
                        onClick={() => set([{ midi: note.midi, text: null }])}
                      >
                        back to the chart
                      </button>
                    )}
                  </span>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}
