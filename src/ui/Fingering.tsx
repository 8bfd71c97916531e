import type { Clef, Fingering, FingeringCheck, HoleFingering } from "../core/music";
import type { NewNote } from "../services/shelf/schema";
import { CLEF_SHAPES, UNITS_PER_SPACE } from "./clef-shapes";
import { checkedBy } from "./wording";

interface Props {
  notes: NewNote[];
  /** Directors see which fingerings nobody has confirmed yet. */
  forDirector?: boolean;
}

/** Notes on a small staff with their fingering drawn and spelled out. */
export function FingeringList({ notes, forDirector = false }: Props) {
  return (
    <ul className="grid grid-cols-2 gap-2 sm:grid-cols-[repeat(auto-fill,minmax(170px,1fr))]">
      {notes.map((note) => (
        <li key={note.name} className="panel px-3 py-2">
          <FingeringCard note={note} forDirector={forDirector} />
        </li>
      ))}
    </ul>
  );
}

/** One note with its fingering. */
export function FingeringCard({ note, forDirector }: { note: NewNote; forDirector: boolean }) {
  return (
    <div className="flex items-center gap-2">
      <div className="flex flex-col items-center">
        <MiniStaff position={note.staffPosition} alter={note.alter} clef={note.clef} />
        <span className="font-heading text-base font-bold">{note.name}</span>
      </div>
      <div className="flex flex-1 flex-col items-center gap-1 text-center">
        {note.fingering && <FingeringDiagram fingering={note.fingering} />}
        <span className={note.fingering?.kind === "holes" ? "sr-only" : "text-sm text-quiet"}>
          {note.fingeringText}
        </span>
        {forDirector && note.tendency && <span className="text-sm text-quiet">{note.tendency}</span>}
        {forDirector && note.fingering && <CheckedBy checks={note.checkedBy} />}
      </div>
    </div>
  );
}

function CheckedBy({ checks }: { checks: FingeringCheck[] }) {
  return checks.length === 0 ? (
    <span className="text-sm text-felt" title="Written from memory; nobody has confirmed it yet">
      unverified
    </span>
  ) : (
    <span className="text-sm text-quiet">{checkedBy(checks)}</span>
  );
}

/** Pixels of one step on the staff, half a space. */
const STEP = 4;
const NOTE_X = 44;

/** Clef, five lines, ledger lines, a notehead and its accidental. */
export function MiniStaff({ position, alter, clef }: { position: number; alter: number; clef: Clef }) {
  const y = (place: number) => 46 - place * STEP;
  const ledgers = [];
  for (let place = -2; place >= position; place -= 2) ledgers.push(place);
  for (let place = 10; place <= position; place += 2) ledgers.push(place);
  const sign = { "-2": "♭♭", "-1": "♭", "0": "", "1": "♯", "2": "𝄪" }[String(alter)];
  const top = Math.min(y(8) - 13, y(position) - 8);
  const bottom = Math.max(y(0) + 13, y(position) + 8);
  const shape = clef === "percussion" ? null : CLEF_SHAPES[clef];
  const scale = (2 * STEP) / UNITS_PER_SPACE;
  return (
    <svg width="64" height={bottom - top} viewBox={`0 ${top} 64 ${bottom - top}`} aria-hidden="true">
      {[0, 2, 4, 6, 8].map((place) => (
        <path key={place} d={`M2 ${y(place)}h60`} className="stroke-neutral" strokeWidth="0.8" />
      ))}
      {shape && (
        <path
          d={shape.path}
          transform={`translate(4 ${y(shape.line)}) scale(${scale} ${-scale})`}
          className="fill-base-content"
        />
      )}
      {ledgers.map((place) => (
        <path
          key={place}
          d={`M${NOTE_X - 9} ${y(place)}h18`}
          className="stroke-base-content"
          strokeWidth="1.2"
        />
      ))}
      <ellipse
        cx={NOTE_X}
        cy={y(position)}
        rx="5.4"
        ry="3.9"
        transform={`rotate(-18 ${NOTE_X} ${y(position)})`}
        className="fill-base-content"
      />
      {sign && (
        <text
          x={NOTE_X - 10}
          y={y(position) + 6}
          textAnchor="end"
          fontSize="17"
          className="fill-base-content"
        >
          {sign}
        </text>
      )}
    </svg>
  );
}

function FingeringDiagram({ fingering }: { fingering: Fingering }) {
  if (fingering.kind === "holes") return <Holes fingering={fingering} />;
  if (fingering.kind === "slide") {
    return (
      <svg
        width={fingering.trigger ? 90 : 76}
        height="22"
        viewBox={`0 0 ${fingering.trigger ? 90 : 76} 22`}
        aria-hidden="true"
      >
        {fingering.trigger && <circle cx="82" cy="11" r="5" className="fill-base-content" />}
        <path d="M4 7h68M4 15h68" className="stroke-base-300" strokeWidth="2" />
        {[1, 2, 3, 4, 5, 6, 7].map((position) => (
          <rect
            key={position}
            x={2 + (position - 1) * 10.6}
            y={position === fingering.position ? 2 : 9}
            width="5"
            height={position === fingering.position ? 18 : 4}
            rx="2"
            className={position === fingering.position ? "fill-base-content" : "fill-neutral/50"}
          />
        ))}
      </svg>
    );
  }
  const four = fingering.valves.includes(4);
  const width = 58 + (four ? 19 : 0) + (fingering.thumb ? 16 : 0);
  return (
    <svg width={width} height="26" viewBox={`${fingering.thumb ? -16 : 0} 0 ${width} 26`} aria-hidden="true">
      {fingering.thumb && <rect x="-13" y="11" width="10" height="6" rx="3" className="fill-base-content" />}
      {(four ? [1, 2, 3, 4] : [1, 2, 3]).map((valve) => {
        const down = fingering.valves.includes(valve);
        return (
          <rect
            key={valve}
            x={(valve - 1) * 19 + 3}
            y={down ? 9 : 3}
            width="14"
            height="14"
            rx="3"
            strokeWidth="1.5"
            className={down ? "fill-base-content stroke-base-content" : "fill-none stroke-base-content"}
          />
        );
      })}
    </svg>
  );
}

/** Our own picture of a woodwind: both hands as two rows of three, thumb and register key before them, other keys as tags. */
function Holes({ fingering }: { fingering: HoleFingering }) {
  return (
    <>
      <svg width="92" height="38" viewBox="0 0 92 38" aria-hidden="true">
        {fingering.register && (
          <rect x="2" y="3" width="14" height="6" rx="3" className="fill-base-content" />
        )}
        {fingering.thumb && <circle cx="9" cy="18" r="5" className="fill-base-content" />}
        {fingering.fingers.map((state, finger) => {
          const [x, y] = [32 + (finger % 3) * 16 + (finger > 2 ? 10 : 0), finger > 2 ? 28 : 10];
          return (
            <g key={finger}>
              <circle
                cx={x}
                cy={y}
                r="5.5"
                strokeWidth="1.5"
                className={`stroke-base-content ${state === true ? "fill-base-content" : "fill-none"}`}
              />
              {state === "half" && (
                <path d={`M${x} ${y - 5.5}a5.5 5.5 0 0 0 0 11z`} className="fill-base-content" />
              )}
            </g>
          );
        })}
      </svg>
      {fingering.extra.length > 0 && (
        <span className="text-sm leading-tight font-bold" aria-hidden="true">
          {fingering.extra.map((key) => `+ ${key}`).join(" ")}
        </span>
      )}
    </>
  );
}
