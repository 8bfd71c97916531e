import { useState } from "react";
import { FingeringCard } from "../../../ui/Fingering";
import { usePlayAlong } from "../../../ui/use-play-along";
import type { ToolProps } from "./props";

const NOTE_SEC = 1.6;

/** Every note of the own instrument with its fingering; each can be heard. */
export function Chart({ instrument }: ToolProps) {
  const [all, setAll] = useState(false);
  const play = usePlayAlong();
  const shown = instrument.chart.filter(({ known, fingering }) => fingering && (all || known));
  const hear = (midi: number) =>
    void play.start(
      {
        events: [
          {
            atSec: 0,
            kind: "note",
            accent: false,
            midi: midi + instrument.soundsBySemitones,
            durationSec: NOTE_SEC,
          },
        ],
        startSec: 0,
        totalSec: NOTE_SEC + 0.3,
      },
      { count: false, click: false, reference: true, sound: instrument.id },
    );
  return (
    <section className="flex flex-col gap-3">
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="checkbox"
          checked={all}
          onChange={(event) => setAll(event.target.checked)}
        />
        Also notes I have not learned yet
      </label>
      {play.note && <p className="text-felt">{play.note}</p>}
      <ul className="grid grid-cols-2 gap-2 sm:grid-cols-3">
        {shown.map((note) => (
          <li key={note.midi}>
            <button
              type="button"
              className="panel w-full px-3 py-2"
              aria-label={`Hear ${note.name}`}
              onClick={() => hear(note.midi)}
            >
              <FingeringCard note={note} forDirector={false} />
            </button>
          </li>
        ))}
      </ul>
      {shown.length === 0 && <p className="panel p-4">No note is known yet. Tick the box to see them all.</p>}
    </section>
  );
}
