import { useMemo, useState } from "react";
import type { Assessment } from "../core/listen";
import type { Score } from "../core/score";
import { Notation } from "./Notation";

interface Props {
  svg: string;
  label: string;
  score: Score;
  /** Bead lanes are drawn for an assessed take; without one the part stands alone. */
  assessment: Assessment | null;
  /** What counts as in tune, cents. */
  inTuneCents: number;
  cursorId: string | null;
  aheadId?: string | null;
  passage?: { from: number; to: number } | undefined;
  rings?: readonly string[];
  pick?: ((eventId: string) => void) | undefined;
  marks?: { eventId: string; number: number }[];
  onNote?: (eventId: string) => void;
}

const NTH = ["First", "Second", "Third", "Fourth"];

/** A part with the bead lanes of one take; where bars are repeated, one time through is shown at once. */
export function LanedNotation({ assessment, score, inTuneCents, ...part }: Props) {
  const [pass, setPass] = useState(1);
  const assessed = assessment?.take.status === "assessed" ? assessment : null;
  const passes = useMemo(() => passCount(assessed), [assessed]);
  const lanes = useMemo(
    () => (assessed ? { assessment: assessed, score, pass, inTuneCents } : null),
    [assessed, score, pass, inTuneCents],
  );
  return (
    <>
      <Notation {...part} lanes={lanes} />
      {passes > 1 && (
        <div className="mt-1 flex gap-2 text-sm">
          {Array.from({ length: passes }, (_, i) => (
            <button
              key={i}
              type="button"
              aria-pressed={pass === i + 1}
              className={`btn btn-sm ${pass === i + 1 ? "btn-primary" : "border-base-300 bg-base-100"}`}
              onClick={() => setPass(i + 1)}
            >
              {NTH[i] ?? i + 1} time
            </button>
          ))}
        </div>
      )}
    </>
  );
}

function passCount(assessment: Assessment | null): number {
  const counts = new Map<string, number>();
  for (const note of assessment?.notes ?? []) counts.set(note.eventId, (counts.get(note.eventId) ?? 0) + 1);
  return Math.max(1, ...counts.values());
}
