import { useState } from "react";
import { ApiError, call } from "../../client/api";
import type { PartView } from "../../services/shelf/schema";

interface Props {
  lineId: string;
  part: PartView;
  /** The note chosen in the music, in words. */
  chosen: { eventId: string; label: string } | null;
  changed: () => void;
}

/** What was decided for this instrument, and the ways out when it does not fit: another octave, another note, or wait. */
export function WaysOut({ lineId, part, chosen, changed }: Props) {
  const [problem, setProblem] = useState("");
  const [note, setNote] = useState("");

  const set = async (body: { octave?: number | null; substitutes?: Record<string, string | null> }) => {
    setProblem("");
    try {
      await call("PUT", `/api/lines/${lineId}/overrides/${part.instrumentId}`, body);
      setNote("");
      changed();
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "This could not be changed.");
    }
  };
  const replace = (event: React.FormEvent) => {
    event.preventDefault();
    if (!chosen) return;
    const typed = note.trim().replace("♭", "b").replace("♯", "#");
    void set({ substitutes: { [chosen.eventId]: typed.charAt(0).toUpperCase() + typed.slice(1) } });
  };

  return (
    <div className="flex flex-col gap-3 text-sm">
      <p>
        {part.ownPart
          ? `${part.instrumentName} has a part of its own: ${part.partName}.`
          : `Made from ${part.partName === "Concert pitch" ? "the concert line" : `the part "${part.partName}"`}.`}{" "}
        {octaveSentence(part)}
      </p>
      <div className="flex flex-wrap items-center gap-2">
        <span className="font-bold">Octave</span>
        <button
          type="button"
          className="btn btn-sm border-base-300 bg-base-100"
          onClick={() => set({ octave: part.octaveShift - 1 })}
        >
          one lower
        </button>
        <button
          type="button"
          className="btn btn-sm border-base-300 bg-base-100"
          onClick={() => set({ octave: part.octaveShift + 1 })}
        >
          one higher
        </button>
        {part.octaveBy === "director" && (
          <button
            type="button"
            className="btn btn-sm border-base-300 bg-base-100"
            onClick={() => set({ octave: null })}
          >
            what fits the stage
          </button>
        )}
      </div>
      <form onSubmit={replace} className="flex flex-wrap items-center gap-2">
        <label className="flex items-center gap-2">
          <span className="font-bold">
            Instead of {chosen ? chosen.label : "a note (click it in the music)"} play
          </span>
          <input
            className="input input-sm w-24 border-neutral"
            placeholder="F4"
            value={note}
            disabled={!chosen}
            onChange={(event) => setNote(event.target.value)}
          />
        </label>
        <button
          type="submit"
          className="btn btn-sm border-base-300 bg-base-100"
          disabled={!chosen || note.trim() === ""}
        >
          Replace it for {part.instrumentName}
        </button>
      </form>
      {part.substituted.length > 0 && (
        <ul>
          {part.substituted.map(({ eventId, measure, from, to }) => (
            <li key={eventId}>
              bar {measure}: {to} instead of {from}{" "}
              <button
                type="button"
                className="link"
                onClick={() => set({ substitutes: { [eventId]: null } })}
              >
                put {from} back
              </button>
            </li>
          ))}
        </ul>
      )}
      {problem && (
        <p role="alert" className="font-bold text-felt">
          {problem}
        </p>
      )}
      <p className="text-quiet">
        A change makes a new version of the line: what was given and recorded before keeps its notes.
      </p>
    </div>
  );
}

function octaveSentence({ octaveShift, octaveBy, instrumentName }: PartView): string {
  const by = octaveBy === "director" ? "as you chose" : "where these notes are learned and lie well";
  if (octaveShift === 0)
    return `It stands in the octave of the plain transposition for ${instrumentName}, ${by}.`;
  const size = Math.abs(octaveShift) === 1 ? "an octave" : `${Math.abs(octaveShift)} octaves`;
  return `It stands ${size} ${octaveShift > 0 ? "higher" : "lower"} than the plain transposition, ${by}.`;
}
