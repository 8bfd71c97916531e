import type { GrowthSight } from "../../services/growth/schema";

/** What was read at sight, one take each: apart from what was practised. */
export function AtSight({ read }: { read: readonly GrowthSight[] }) {
  return (
    <section className="panel flex flex-col gap-2 p-4">
      <h2 className="text-xl">Read at sight</h2>
      {read.map(({ assignmentId, name, results }, index) => {
        const sent = results.filter(({ takeId }) => takeId !== null);
        return (
          <details key={assignmentId} open={index === 0}>
            <summary className="cursor-pointer font-bold">
              {name}: {sent.length} of {results.length} have read it
            </summary>
            <ul className="mt-1 grid gap-x-6 text-sm sm:grid-cols-2 lg:grid-cols-3">
              {[...sent]
                .sort((a, b) => (a.cleanPercent ?? -1) - (b.cleanPercent ?? -1))
                .map(({ playerId, name: who, instrument, cleanPercent, takeId }) => (
                  <li key={playerId} className="flex justify-between gap-2 border-b border-base-300 py-1">
                    <a className="hover:underline" href={`/listen?take=${takeId}`}>
                      {who}, {instrument}
                    </a>
                    <span className={cleanPercent === null ? "text-quiet" : "font-bold"}>
                      {cleanPercent === null ? "to be heard" : `${cleanPercent} % clean`}
                    </span>
                  </li>
                ))}
            </ul>
          </details>
        );
      })}
    </section>
  );
}
