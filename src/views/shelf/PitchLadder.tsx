import { useState } from "react";
import type { Ladder } from "../../core/ready";

const STEP = 14;
const LEFT = 92;

/** The notes of a part on a ladder of semitones, against the range of the stage: what lies outside, what is new, what is easy. */
export function PitchLadder({
  ladder,
  name,
  teach,
}: {
  ladder: Ladder;
  name: string;
  /** Marks a written note as taught today to everybody who plays the instrument. */
  teach: (midi: number) => Promise<void>;
}) {
  const [taught, setTaught] = useState<string[]>([]);
  const fresh = ladder.notes.filter((note) => note.isNew && !taught.includes(note.name));
  const midis = ladder.notes.map((note) => note.midi);
  const lowest = Math.min(ladder.low, ...midis) - 1;
  const highest = Math.max(ladder.high, ...midis) + 1;
  const y = (midi: number) => (highest - midi) * STEP + 8;
  const height = y(lowest) + 8;
  const outside = (midi: number) => midi < ladder.low || midi > ladder.high;
  return (
    <div className="flex flex-wrap items-start gap-6">
      <svg
        width="300"
        height={height}
        viewBox={`0 0 300 ${height}`}
        role="img"
        aria-label={`Range of ${name}`}
      >
        <rect
          x={LEFT}
          y={y(ladder.high) - STEP / 2}
          width="64"
          height={y(ladder.low) - y(ladder.high) + STEP}
          rx="6"
          className="fill-base-100 stroke-neutral"
          strokeWidth="1.5"
        />
        <rect
          x={LEFT + 6}
          y={y(Math.min(ladder.easyHigh, ladder.high)) - STEP / 2}
          width="52"
          height={y(Math.max(ladder.easyLow, ladder.low)) - y(Math.min(ladder.easyHigh, ladder.high)) + STEP}
          rx="4"
          className="fill-reed"
        />
        {Array.from({ length: highest - lowest + 1 }, (_, i) => lowest + i).map((midi) => (
          <path key={midi} d={`M${LEFT + 26} ${y(midi)}h12`} className="stroke-base-300" strokeWidth="1" />
        ))}
        {ladder.notes.map((note) => (
          <g key={note.midi}>
            <text
              x={LEFT - 8}
              y={y(note.midi) + 4}
              textAnchor="end"
              fontSize="12"
              className={outside(note.midi) ? "fill-felt font-bold" : "fill-base-content"}
            >
              {note.name}
            </text>
            <ellipse
              cx={LEFT + 32}
              cy={y(note.midi)}
              rx="7"
              ry="4.6"
              strokeWidth="2"
              className={note.isNew ? "fill-base-100 stroke-felt" : "fill-base-content stroke-base-content"}
            />
            <text x={LEFT + 76} y={y(note.midi) + 4} fontSize="12" className="fill-quiet">
              concert {note.concert}
              {note.isNew ? ", new" : ""}
              {outside(note.midi) ? ", out of range" : ""}
            </text>
          </g>
        ))}
      </svg>
      <div className="max-w-sm text-sm text-quiet">
        <p>
          The frame is the range of this stage, the filled part of it where a first-year player sounds well
          without effort. Open beads are new at this stage.
        </p>
        <p className="mt-2">
          {ladder.notes.length} different notes, {(midis.at(-1) ?? 0) - (midis[0] ?? 0)} semitones from the
          lowest to the highest.
        </p>
        {fresh.length > 0 && (
          <p className="mt-2 flex flex-wrap gap-1">
            {fresh.map((note) => (
              <button
                key={note.midi}
                type="button"
                className="btn btn-xs border-base-300 bg-base-100 text-sm"
                onClick={() => teach(note.midi).then(() => setTaught([...taught, note.name]))}
              >
                {note.name} was taught today
              </button>
            ))}
          </p>
        )}
        {taught.length > 0 && (
          <output className="mt-2 block text-done">
            Every {name} knows {taught.join(", ")} now.
          </output>
        )}
        <p className="mt-2">
          Never force a high note: go up one semitone at a time, and rest as much as you play.
        </p>
      </div>
    </div>
  );
}
