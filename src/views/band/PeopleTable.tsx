import { useRef, useState } from "react";
import type { BandOverview, PlayerEdit, PlayerRow } from "../../services/band/schema";
import { stageReason } from "../../ui/wording";
import { CellEditor, COLUMN_NAMES, cellText, EDITABLE, type EditableField } from "./cells";
import { cellOf } from "./use-band";

interface Props {
  band: BandOverview;
  rows: PlayerRow[];
  chosen: ReadonlySet<string>;
  choose: (ids: Set<string>) => void;
  edit: (changes: PlayerEdit[]) => Promise<boolean>;
  busy: boolean;
}

/**
 * Everybody in one table. Arrow keys go from cell to cell, Enter or a click opens one, Enter keeps it, Escape leaves it as it
 * was; the box at the left chooses players for what is done to several.
 */
export function PeopleTable({ band, rows, chosen, choose, edit, busy }: Props) {
  const [at, setAt] = useState<[row: number, column: number]>([0, 0]);
  const [open, setOpen] = useState<string | null>(null);
  const table = useRef<HTMLTableElement>(null);
  const focus = (row: number, column: number) => {
    setAt([row, column]);
    table.current?.querySelector<HTMLElement>(`[data-cell="${row}-${column}"]`)?.focus();
  };
  const walk = (event: React.KeyboardEvent, row: number, column: number) => {
    const by = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[event.key];
    if (!by) return;
    event.preventDefault();
    focus(
      Math.max(0, Math.min(rows.length - 1, row + by[0]!)),
      Math.max(0, Math.min(EDITABLE.length - 1, column + by[1]!)),
    );
  };
  const close = (row: number, column: number) => {
    setOpen(null);
    requestAnimationFrame(() => focus(row, column));
  };
  const everybody = rows.length > 0 && rows.every(({ id }) => chosen.has(id));
  return (
    <div className="no-print panel overflow-x-auto">
      <table ref={table} className="table table-sm text-sm [&_td]:px-2 [&_th]:px-2">
        <thead className="text-base-content">
          <tr>
            <th>
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                aria-label={`Choose everybody shown (${rows.length})`}
                checked={everybody}
                onChange={(event) => choose(new Set(event.target.checked ? rows.map(({ id }) => id) : []))}
              />
            </th>
            {EDITABLE.map((field) => (
              <th key={field} scope="col">
                {COLUMN_NAMES[field]}
              </th>
            ))}
            <th scope="col">Card</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, place) => (
            <Row
              key={row.id}
              row={row}
              place={place}
              band={band}
              focused={at[0] === place ? at[1] : -1}
              open={open?.startsWith(row.id) ? (open.slice(row.id.length + 1) as EditableField) : null}
              chosen={chosen.has(row.id)}
              toggle={(on) => {
                const next = new Set(chosen);
                if (on) next.add(row.id);
                else next.delete(row.id);
                choose(next);
              }}
              walk={walk}
              openCell={(field, column) => {
                setAt([place, column]);
                if (!busy) setOpen(`${row.id}/${field}`);
              }}
              close={(column) => close(place, column)}
              save={(changes, column) => {
                close(place, column);
                if (changes.length > 0) void edit(changes);
              }}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface RowProps {
  row: PlayerRow;
  place: number;
  band: BandOverview;
  /** The column that takes the Tab key; -1 for none in this row. */
  focused: number;
  open: EditableField | null;
  chosen: boolean;
  toggle: (on: boolean) => void;
  walk: (event: React.KeyboardEvent, row: number, column: number) => void;
  openCell: (field: EditableField, column: number) => void;
  close: (column: number) => void;
  save: (changes: PlayerEdit[], column: number) => void;
}

/** One player. Drawn again on every change of the table, which a year's band of 150 bears. */
function Row({ row, place, band, focused, open, chosen, toggle, walk, openCell, close, save }: RowProps) {
  return (
    <tr className={chosen ? "bg-reed/40" : ""}>
      <td>
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          aria-label={`Choose ${row.name}`}
          checked={chosen}
          onChange={(event) => toggle(event.target.checked)}
        />
      </td>
      {EDITABLE.map((field, column) => {
        const text = cellText(row, field, band);
        return (
          <td key={field} className="relative">
            {open === field ? (
              <CellEditor
                row={row}
                field={field}
                band={band}
                cancel={() => close(column)}
                save={(is, also) => save(changesOf(row, field, is, also), column)}
              />
            ) : (
              <button
                type="button"
                data-cell={`${place}-${column}`}
                tabIndex={focused === column ? 0 : -1}
                className={`w-full min-w-8 rounded px-1 py-0.5 text-left hover:bg-reed/60 ${field === "name" ? "font-bold" : ""}`}
                aria-label={`${COLUMN_NAMES[field]} of ${row.name}: ${text || "nothing"}; change`}
                onClick={() => openCell(field, column)}
                onKeyDown={(event) => walk(event, place, column)}
              >
                {text || <span className="text-quiet">·</span>}
              </button>
            )}
            {field === "stage" && row.suggestion && (
              <button
                type="button"
                className="mt-0.5 block rounded border border-accent px-1 text-left text-sm text-brass hover:bg-reed/60"
                onClick={() => save(changesOf(row, "stage", row.suggestion!.to), column)}
              >
                {stageReason(row.suggestion)}
              </button>
            )}
          </td>
        );
      })}
      <td className="whitespace-nowrap">
        <a className="link" href={`/band/${row.id}`} aria-label={`Page of ${row.name}`}>
          page
        </a>
        {!row.hasCard && <span className="block text-quiet">no card</span>}
      </td>
    </tr>
  );
}

/** The changes a cell's new content comes to; none where it is the old one. */
function changesOf(
  row: PlayerRow,
  field: EditableField,
  is: unknown,
  also: Record<string, unknown> = {},
): PlayerEdit[] {
  const one = (name: PlayerEdit["field"], value: unknown) =>
    JSON.stringify(cellOf(row, name)) === JSON.stringify(value)
      ? []
      : [{ playerId: row.id, field: name, was: cellOf(row, name), is: value } as PlayerEdit];
  return [
    ...one(field, typeof is === "string" ? is.trim() : is),
    ...Object.entries(also).flatMap(([name, value]) => one(name as PlayerEdit["field"], value)),
  ];
}
