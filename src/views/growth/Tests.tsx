import type { GrowthTest } from "../../services/growth/schema";

type Result = GrowthTest["results"][number];

/** Playing tests: what each player reached, and who is still to be heard. */
export function Tests({ tests }: { tests: readonly GrowthTest[] }) {
  return (
    <section className="panel flex flex-col gap-2 p-4">
      <h2 className="text-xl">Playing tests</h2>
      {tests.map(({ assignmentId, name, results }, index) => {
        const marked = results.filter(({ mark }) => mark !== null);
        const toMark = results.filter(({ mark, takeId }) => mark === null && takeId !== null);
        const missing = results.filter(({ mark, takeId }) => mark === null && takeId === null);
        return (
          <details key={assignmentId} open={index === 0}>
            <summary className="cursor-pointer font-bold">
              {name}: {marked.length} of {results.length} marked
              {marked.length > 0 && `, median ${median(marked)} %`}
            </summary>
            <ul className="mt-1 grid gap-x-6 text-sm sm:grid-cols-2 lg:grid-cols-3">
              {[...marked]
                .sort((a, b) => a.mark! - b.mark!)
                .map((result) => (
                  <Row key={result.playerId} result={result} />
                ))}
              {toMark.map((result) => (
                <Row key={result.playerId} result={result} />
              ))}
            </ul>
            {missing.length > 0 && (
              <p className="mt-1 text-sm text-felt">
                Nothing sent yet: {missing.map(({ name: who }) => who).join(", ")}. A make-up is given in{" "}
                <a className="link" href="/week">
                  Week
                </a>
                , with “Change” beside the test.
              </p>
            )}
          </details>
        );
      })}
    </section>
  );
}

function Row({ result: { name, instrument, mark, madeUp, takeId } }: { result: Result }) {
  return (
    <li className="flex justify-between gap-2 border-b border-base-300 py-1">
      <a className="hover:underline" href={`/listen?take=${takeId}`}>
        {name}, {instrument}
        {madeUp && <span className="text-quiet"> (make-up)</span>}
      </a>
      <span className={mark === null ? "text-quiet" : "font-bold"}>
        {mark === null ? "to be marked" : `${mark} %`}
      </span>
    </li>
  );
}

function median(marked: readonly Result[]): number {
  const marks = marked.map(({ mark }) => mark!).sort((a, b) => a - b);
  const middle = (marks.length - 1) / 2;
  return (marks[Math.floor(middle)]! + marks[Math.ceil(middle)]!) / 2;
}
