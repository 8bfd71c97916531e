import { useMemo } from "react";
import {
  type BoardRow,
  boardRows,
  doingIn,
  firstNoteIn,
  holdsInto,
  nameOnBoard,
  type RowNote,
  rowNotes,
} from "../../core/room";
import type { RoomTune } from "../../services/room/wire";
import { doingText } from "../../ui/wording";
import type { Place } from "./place";
import type { Wall } from "./use-wall";

interface Props {
  wall: Wall;
  place: Place;
}

/** One big row for each group of instruments that read the same names: the bar that is on, and the next. */
export function Board({ wall, place }: Props) {
  const { state, tune } = wall;
  const { naming, fingerings, shown, playingOnes, concert } = state;
  const all = useMemo(() => {
    if (!tune) return [];
    const rows = shown
      ? tune.rows.filter((row) => row.instrumentIds.some((id) => shown.includes(id)))
      : tune.rows;
    return boardRows(concert ? [concertRow(tune)] : rows, naming, fingerings);
  }, [tune, naming, fingerings, shown, concert]);
  if (!tune) return null;
  const silent = (row: BoardRow) =>
    playingOnes !== null &&
    row.instrumentIds.length > 0 &&
    !row.instrumentIds.some((id) => playingOnes.includes(id));
  // Many rows are smaller, so that nothing has to be scrolled.
  const size = Math.max(2.2, Math.min(5.2, 34 / Math.max(6, all.length) - (fingerings ? 0.6 : 0)));
  const lines = all.length <= 4 ? 4 : all.length <= 6 ? 3 : 2;
  return (
    <table className="h-full w-full table-fixed border-collapse" data-testid="board">
      <colgroup>
        <col style={{ width: "23%" }} />
        <col style={{ width: place.next === null ? "77%" : "48%" }} />
        {place.next !== null && <col style={{ width: "29%" }} />}
      </colgroup>
      <thead>
        <tr className="text-left">
          <th scope="col">
            <span className="sr-only">Instruments</span>
          </th>
          <th scope="col" className="px-[1vw] font-bold">
            {barName(tune.numbers[place.bar])}
          </th>
          {place.next !== null && (
            <th scope="col" className="px-[1vw] font-normal">
              then {barName(tune.numbers[place.next])}
            </th>
          )}
        </tr>
      </thead>
      <tbody>
        {all.map((row) => {
          const off = silent(row);
          return (
            <tr key={row.labels.join()} className={`border-t-2 border-base-300 ${off ? "opacity-40" : ""}`}>
              <th scope="row" className="py-0 pr-[1vw] text-left font-bold leading-tight">
                <span
                  style={{
                    display: "-webkit-box",
                    WebkitBoxOrient: "vertical",
                    WebkitLineClamp: lines,
                    overflow: "hidden",
                  }}
                >
                  {row.labels.join(", ")}
                </span>
              </th>
              <td className={`relative p-0 ${place.moment ? "bg-secondary" : ""}`}>
                {off ? (
                  <span className="px-[1vw]">rest</span>
                ) : (
                  <Bar
                    row={row}
                    bar={place.bar}
                    beats={place.beats}
                    beat={place.moment?.beat ?? null}
                    {...{ naming, fingerings, size }}
                    firstOf={place.moment && !place.moment.counting ? null : place.stretch}
                    numbers={tune.numbers}
                  />
                )}
                {place.sweep !== null && (
                  <span
                    className="pointer-events-none absolute inset-y-0 w-[0.5vw] bg-accent"
                    style={{ left: `${100 * place.sweep}%` }}
                  />
                )}
              </td>
              {place.next !== null && (
                <td className="relative border-l-2 border-base-300 p-0">
                  {!off && (
                    <Bar
                      row={row}
                      bar={place.next}
                      beats={place.nextBeats}
                      beat={null}
                      {...{ naming, fingerings }}
                      size={size * 0.62}
                      firstOf={null}
                      numbers={tune.numbers}
                    />
                  )}
                </td>
              )}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

const barName = (number: string | undefined) => (number === "0" ? "pickup" : `bar ${number ?? ""}`);

/** The line as it sounds. */
function concertRow({ score }: RoomTune): BoardRow {
  return { instrumentIds: [], labels: ["Concert pitch"], notes: rowNotes(score, () => "") };
}

interface BarProps {
  row: BoardRow;
  bar: number;
  beats: number;
  /** The beat that sounds; null where none does. */
  beat: number | null;
  naming: Parameters<typeof nameOnBoard>[1];
  fingerings: boolean;
  size: number;
  /** Before the start the first note of the stretch stands out; null while the music goes. */
  firstOf: readonly [number, number] | null;
  numbers: readonly string[];
}

function Bar({ row, bar, beats, beat, naming, fingerings, size, firstOf, numbers }: BarProps) {
  const notes = row.notes.filter((note) => note.bar === bar);
  const first = firstOf ? firstNoteIn(row, ...firstOf) : undefined;
  const on = beat === null ? undefined : notes.findLast((note) => note.beat < beat + 1 - 1e-6);
  if (notes.length === 0) {
    if (holdsInto(row, bar)) return <span className="px-[1vw]">hold</span>;
    const doing = firstOf ? doingIn(row, ...firstOf) : null;
    return <span className="px-[1vw]">{doing ? doingText(doing, numbers) : "rest"}</span>;
  }
  return (
    <span className="block h-full min-h-[6vh]">
      {notes.map((note) => (
        <span
          key={note.eventId}
          className={`absolute top-1/2 -translate-y-1/2 whitespace-nowrap px-[0.4vw] font-bold leading-none ${
            note === first ? "rounded-md outline outline-[0.4vw] outline-accent" : ""
          } ${note === on ? "rounded-md bg-primary text-primary-content" : ""}`}
          style={{
            left: `calc(${(100 * (note.beat - 1)) / beats}% + 0.6vw)`,
            fontSize: `calc(${sizeFor(size, notes, note, beats)} * var(--w))`,
          }}
        >
          {nameOnBoard(note, naming)}
          {fingerings && note.fingering && (
            <span className="block text-[0.5em] font-normal leading-tight">{note.fingering}</span>
          )}
        </span>
      ))}
    </span>
  );
}

/** Short notes stand close: their names are smaller where they would touch. */
function sizeFor(size: number, notes: readonly RowNote[], note: RowNote, beats: number): number {
  const after = notes[notes.indexOf(note) + 1];
  const room = ((after ? after.beat : beats + 1) - note.beat) / beats;
  return Math.max(1.6, Math.min(size, 26 * room));
}
