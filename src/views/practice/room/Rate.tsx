const RATINGS = [
  [3, "It went well"],
  [2, "Nearly"],
  [1, "Not yet"],
] as const;

/** The player rates a take before the bench says anything. */
export function Rate({ rate }: { rate: (rating: 1 | 2 | 3) => void }) {
  return (
    <section className="panel flex flex-col gap-2 p-4" data-testid="rate">
      <h2 className="text-xl">How was it?</h2>
      <p className="text-sm text-quiet">You say it first; the bench says what it heard afterwards.</p>
      <div className="flex flex-wrap gap-2">
        {RATINGS.map(([rating, words]) => (
          <button
            key={rating}
            type="button"
            className="btn h-12 flex-1 border-base-300 bg-base-100"
            onClick={() => rate(rating)}
          >
            {words}
          </button>
        ))}
      </div>
    </section>
  );
}
