import { useEffect, useState } from "react";
import { call } from "../../client/api";
import type { CleanTakes } from "../../services/listening/wire";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

interface Props {
  /** Words said since the page was opened: each may have been a sample. */
  said: number;
  done: (takeIds: string[]) => void;
}

/** Takes in which nothing was found are accepted together, after so many of them were heard as the band decided. */
export function CleanTogether({ said, done }: Props) {
  const [clean, setClean] = useState<CleanTakes | null>(null);
  const { run, busy, problem } = useCall();
  // biome-ignore lint/correctness/useExhaustiveDependencies: every word that is said may change it
  useEffect(() => {
    call<CleanTakes>("GET", "/api/takes/together").then(setClean, () => setClean(null));
  }, [said]);
  if (!clean || clean.takeIds.length === 0) return null;
  const { takeIds, samples, heard } = clean;
  const accept = async () => {
    const kept = await run(
      () => call<{ takeIds: string[] }>("PUT", "/api/takes/together", { takeIds, accepted: true }),
      "They could not be accepted. Nothing was changed that the list does not show.",
    );
    if (kept) done(kept.takeIds);
  };
  return (
    <div className="rounded border border-accent bg-base-100 p-2 text-sm" data-testid="clean-together">
      {heard < samples ? (
        `Nothing was found in these. Hear ${samples - heard} more, then accept the others together.`
      ) : (
        <>
          You heard {heard}. The others can be accepted unheard.
          <button type="button" className="btn btn-sm mt-1 w-full" disabled={busy} onClick={accept}>
            Accept {takeIds.length === 1 ? "the last one" : `these ${takeIds.length}`}
          </button>
        </>
      )}
      <Problem text={problem} />
    </div>
  );
}
