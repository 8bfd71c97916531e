import { useState } from "react";
import type { NewNote } from "../../services/shelf/schema";
import { FingeringCard, MiniStaff } from "../../ui/Fingering";

/** The notes of a line as cards, for the weeks of making a sound: look, say the name, find the fingering, turn it over. */
export function NoteCards({ notes, name }: { notes: NewNote[]; name: string }) {
  const [at, setAt] = useState(0);
  const [turned, setTurned] = useState(false);
  const note = notes[at % Math.max(1, notes.length)];
  if (!note)
    return <p className="panel p-4">You know every note of this line. Hear it, and finger along silently.</p>;
  const next = () => {
    setAt((at + 1) % notes.length);
    setTurned(false);
  };
  return (
    <section className="panel flex flex-col items-center gap-3 p-4" aria-label="Note cards">
      <h2 className="text-xl">Cards for {name}</h2>
      <p className="text-center text-sm text-quiet">
        Say the name and show the fingering with your hands, then turn the card over. Nothing is recorded in
        these weeks.
      </p>
      <button
        type="button"
        className="flex h-44 w-64 items-center justify-center rounded border-2 border-base-300 bg-base-100"
        aria-label={turned ? `${note.name}: ${note.fingeringText}` : "Turn the card over"}
        onClick={() => setTurned(!turned)}
      >
        {turned ? (
          <FingeringCard note={note} forDirector={false} />
        ) : (
          <MiniStaff position={note.staffPosition} alter={note.alter} clef={note.clef} />
        )}
      </button>
      <div className="flex items-center gap-3">
        <button
          type="button"
          className="btn h-11 border-base-300 bg-base-100"
          onClick={() => setTurned(!turned)}
        >
          {turned ? "Turn it back" : "Turn it over"}
        </button>
        <button type="button" className="btn btn-primary h-11" onClick={next}>
          Next card
        </button>
        <span className="text-sm text-quiet">
          {at + 1} of {notes.length}
        </span>
      </div>
    </section>
  );
}
