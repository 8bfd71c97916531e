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
  const size = Math.max(
    SMALLEST,
    Math.min(5.2, (fingerings ? 24 : 34) / Math.max(fingerings ? 4 : 6, all.length)),
  );
  // Fingerings need the room of the next bar.
  const next = fingerings ? null : place.next;
  // On a small screen letters are larger than their share of it.
  const share = Math.min(1, innerWidth / (100 * LEAST_PX));
  const wide = share * (next === null ? WIDE.alone : WIDE.now);
  const lines = all.length <= 4 ? 4 : all.length <= 6 ? 3 : 2;
  return (
    <table className="h-full w-full table-fixed border-collapse" data-testid="board">
      <colgroup>
        <col style={{ width: "23%" }} />
        <col style={{ width: next === null ? "77%" : "48%" }} />
        {next !== null && <col style={{ width: "29%" }} />}
      </colgroup>
      <thead>
        <tr className="text-left">
          <th scope="col">
            <span className="sr-only">Instruments</span>
          </th>
          <th scope="col" className="px-[1vw] font-bold">
            {barName(tune.numbers[place.bar])}
          </th>
          {next !== null && (
            <th scope="col" className="px-[1vw] font-normal">
              then {barName(tune.numbers[next])}
            </th>
          )}
        </tr>
      </thead>
      <tbody>
        {all.map((row) => {
          const off = silent(row);
          return (
            <tr
              key={row.labels.join()}
              style={{ height: `${90 / all.length}%` }}
              className={`border-t-2 border-base-300 ${off ? "opacity-40" : ""}`}
            >
              <th scope="row" className="py-0 pr-[1vw] text-left font-bold leading-tight">
                <span
                  style={{
                    display: "-webkit-box",
                    WebkitBoxOrient: "vertical",
                    WebkitLineClamp: lines,
                    overflow: "hidden",
                  }}
                >
                  {row.labels.length > 1 && row.labels.length === tune.rows.length
                    ? "Everybody"
                    : row.labels.join(", ")}
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
                    at={place.moment ? place.moment.beat + place.moment.share : null}
                    {...{ naming, fingerings, size, wide }}
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
              {next !== null && (
                <td className="relative border-l-2 border-base-300 p-0">
                  {!off && (
                    <Bar
                      row={row}
                      bar={next}
                      beats={place.nextBeats}
                      at={null}
                      {...{ naming, fingerings }}
                      size={size * 0.62}
                      wide={share * WIDE.next}
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

/** Columns of bars, percent of the wall's width: the one that is on beside the next, the next, and one alone. */
const WIDE = { now: 46, next: 28, alone: 74 };
/** One percent of the wall is never less, CSS pixels (as in the style sheet). */
const LEAST_PX = 7.5;
/** Names are never smaller, percent of the width. */
const SMALLEST = 2.2;

const barName = (number: string | undefined) => (number === "0" ? "pickup" : `bar ${number ?? ""}`);

/** The line as it sounds. */
function concertRow({ score }: RoomTune): BoardRow {
  return { instrumentIds: [], labels: ["Concert pitch"], notes: rowNotes(score, () => "") };
}

interface BarProps {
  row: BoardRow;
  bar: number;
  beats: number;
  /** Where the beat is, from 1, with its share that is over; null where nothing sounds. */
  at: number | null;
  naming: Parameters<typeof nameOnBoard>[1];
  fingerings: boolean;
  /** Of a name, and of the column, percent of the wall's width. */
  size: number;
  wide: number;
  /** Before the start the first note of the stretch stands out; null while the music goes. */
  firstOf: readonly [number, number] | null;
  numbers: readonly string[];
}

function Bar({ row, bar, beats, at, naming, fingerings, size, wide, firstOf, numbers }: BarProps) {
  const notes = row.notes.filter((note) => note.bar === bar);
  const first = firstOf ? firstNoteIn(row, ...firstOf) : undefined;
  const on = at === null ? undefined : notes.findLast((note) => note.beat <= at + 1e-6);
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
            note === first ? "rounded-md outline outline-[0.3vw] outline-accent" : ""
          } ${note === on ? "rounded-md bg-primary text-primary-content" : ""}`}
          style={{
            left: `calc(${(100 * (note.beat - 1)) / beats}% + 0.6vw)`,
            fontSize: `calc(${Math.max(SMALLEST, Math.min(size, 0.55 * roomOf(notes, note, beats) * wide))} * var(--w))`,
          }}
        >
          {nameOnBoard(note, naming)}
          {fingerings && note.fingering && (
            <span
              className="block font-normal leading-tight"
              style={{
                // A letter is about half as wide as it is high.
                fontSize: `calc(${Math.min(0.55 * size, (1.7 * roomOf(notes, note, beats) * wide) / note.fingering.length)} * var(--w))`,
              }}
            >
              {note.fingering}
            </span>
          )}
        </span>
      ))}
    </span>
  );
}

/** Share of the bar that is a note's until the next one. */
function roomOf(notes: readonly RowNote[], note: RowNote, beats: number): number {
  const after = notes[notes.indexOf(note) + 1];
  return ((after ? after.beat : beats + 1) - note.beat) / beats;
}
