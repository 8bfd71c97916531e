import { useDeferredValue, useEffect, useMemo, useRef, useState } from "react";
import type { LineSummary, SavedViewRow, ShelfFilter } from "../../services/shelf/schema";
import { type Packed, unpacked } from "../../ui/packed";
import { BringBook } from "./BringBook";
import { SavedViews } from "./SavedViews";

const SHOWN_AT_ONCE = 100;
/** A list longer than this is no help; find the line first. */
const LIKE_AT_MOST = 300;
/** Lines printed at once. */
const MOST_PRINTED = 12;
/** Rhythms a director leaves out, in the order in which they are met. */
const RHYTHMS = [
  "tie",
  "dotted half",
  "eighth",
  "eighth rest",
  "dotted quarter",
  "pickup",
  "triplet",
  "16th",
];
const READY: Record<string, string[]> = {
  "every flute and reed": ["flutes", "double reeds", "clarinets", "saxes"],
  "all high brass": ["high brass"],
  "all low brass": ["low brass"],
  "all percussion": ["mallets", "drums"],
};

type Filter = ShelfFilter;
const NOTHING: Filter = {
  text: "",
  key: "",
  metre: "",
  without: "",
  ready: "",
  brings: "",
  crosses: false,
  like: "",
  book: "",
};
/** Lines so near in difficulty are about as hard as one another. */
const ABOUT_AS_HARD = 0.6;

const ORDERS = { book: "in book order", teaching: "in your own order", difficulty: "easy to hard" } as const;
type Order = keyof typeof ORDERS;

/** The filter and order live in the address: back and a sent link find the same lines again. */
function useAddress() {
  const [filter, setFilter] = useState<Filter>(NOTHING);
  const [order, setOrder] = useState<Order>("book");
  useEffect(() => {
    const given = new URLSearchParams(location.search);
    const read: Filter = { ...NOTHING };
    for (const name of Object.keys(NOTHING) as (keyof Filter)[]) {
      if (name === "crosses") read.crosses = given.get(name) === "yes";
      else read[name] = given.get(name) ?? "";
    }
    if (!(read.ready in READY) && read.ready !== "everybody") read.ready = "";
    setFilter(read);
    const asked = given.get("order");
    if (asked && asked in ORDERS) setOrder(asked as Order);
  }, []);
  const write = (now: Filter, by: Order) => {
    const query = new URLSearchParams(
      Object.entries(now).flatMap(([name, value]) =>
        value === "" || value === false ? [] : [[name, value === true ? "yes" : value]],
      ),
    );
    if (by !== "book") query.set("order", by);
    history.replaceState(history.state, "", query.size > 0 ? `?${query}` : location.pathname);
  };
  return {
    filter,
    order,
    setFilter: (now: Filter) => {
      setFilter(now);
      write(now, order);
    },
    setOrder: (by: Order) => {
      setOrder(by);
      write(filter, by);
    },
  };
}

/** The shelf as a table that answers a director's questions. */
export function LineTable({ data, views }: { data: Packed<LineSummary[]>; views: SavedViewRow[] }) {
  const lines = useMemo(() => unpacked(data), [data]);
  const { filter, order, setFilter, setOrder } = useAddress();
  const table = useRef<HTMLTableElement>(null);
  const search = useRef<HTMLInputElement>(null);
  const [shown, setShown] = useState(SHOWN_AT_ONCE);
  const [printing, setPrinting] = useState<string[]>([]);
  const keys = useMemo(() => unique(lines.map((line) => line.concertKey)), [lines]);
  const metres = useMemo(() => unique(lines.map((line) => line.metre)), [lines]);
  const rhythms = useMemo(
    () => RHYTHMS.filter((rhythm) => lines.some((line) => line.rhythms.includes(rhythm))),
    [lines],
  );
  const brings = useMemo(() => unique(lines.flatMap((line) => line.bringsNew)), [lines]);
  const books = useMemo(() => unique(lines.flatMap((line) => line.book || [])), [lines]);
  const typed = useDeferredValue(filter);
  const like = lines.find((line) => line.id === typed.like)?.difficulty ?? null;
  const found = useMemo(
    () =>
      inOrder(
        lines.filter((line) => fits(line, typed, like)),
        order,
      ),
    [lines, typed, like, order],
  );
  const set = (change: Partial<Filter>) => {
    setFilter({ ...filter, ...change });
    setShown(SHOWN_AT_ONCE);
  };
  const filtered = JSON.stringify(filter) !== JSON.stringify(NOTHING);

  // A slash goes to the search field from anywhere on the page that is no field itself.
  useEffect(() => {
    const toSearch = (event: KeyboardEvent) => {
      if (
        event.key !== "/" ||
        (event.target as HTMLElement).closest("input, select, textarea, [role=application]")
      )
        return;
      event.preventDefault();
      search.current?.focus();
    };
    addEventListener("keydown", toSearch);
    return () => removeEventListener("keydown", toSearch);
  }, []);
  /** Up and down go from line to line, from the search field into the table and back. */
  const walk = (event: React.KeyboardEvent) => {
    if (event.key !== "ArrowDown" && event.key !== "ArrowUp") return;
    const links = [...(table.current?.querySelectorAll<HTMLAnchorElement>("tbody a") ?? [])];
    const at = links.indexOf(document.activeElement as HTMLAnchorElement);
    const next = at + (event.key === "ArrowDown" ? 1 : -1);
    if (at < 0 && document.activeElement !== search.current) return;
    event.preventDefault();
    (next < 0 ? search.current : links[Math.min(next, links.length - 1)])?.focus();
  };

  if (lines.length === 0) {
    return (
      <div className="panel flex flex-col items-start gap-3 p-6">
        <p>
          The shelf is empty. Begin with the book that comes with the bench: 36 lines from the first long note
          to a chorale, with second and easy parts. Or import a line from a MusicXML file, type one, or note
          page and number of the book on the stand.
        </p>
        <BringBook />
      </div>
    );
  }
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: arrow keys move the focus between the links inside
    <div className="flex min-w-0 flex-col gap-3" onKeyDown={walk}>
      <SavedViews
        views={views}
        filter={filter}
        filtered={filtered}
        apply={(kept) => set({ ...NOTHING, ...kept })}
      />
      <search className="panel flex flex-wrap items-end gap-x-3 gap-y-2 p-3">
        <label className="flex min-w-40 flex-1 flex-col text-sm font-bold">
          Find
          <input
            ref={search}
            type="search"
            aria-keyshortcuts="/"
            className="input w-full border-neutral font-normal"
            placeholder="number or words"
            value={filter.text}
            onChange={(event) => set({ text: event.target.value })}
          />
        </label>
        <Choice
          label="Concert key"
          all="any"
          options={keys}
          value={filter.key}
          choose={(key) => set({ key })}
        />
        <Choice
          label="Metre"
          all="any"
          options={metres}
          value={filter.metre}
          choose={(metre) => set({ metre })}
        />
        <Choice
          label="Without"
          all="–"
          options={rhythms}
          value={filter.without}
          choose={(without) => set({ without })}
        />
        <Choice
          label="Ready"
          all="anyone"
          options={["everybody", ...Object.keys(READY)]}
          value={filter.ready}
          choose={(ready) => set({ ready })}
        />
        <Choice
          label="Brings new"
          all="–"
          options={brings}
          value={filter.brings}
          choose={(note) => set({ brings: note })}
        />
        {books.length > 1 && (
          <Choice
            label="Book"
            all="any"
            options={books}
            value={filter.book}
            choose={(book) => set({ book })}
          />
        )}
        <label className="flex flex-col text-sm font-bold">
          About as hard as
          <select
            className="select max-w-44 border-neutral font-normal"
            value={filter.like}
            onChange={(event) => set({ like: event.target.value })}
          >
            <option value="">–</option>
            {lines.slice(0, LIKE_AT_MOST).map(
              (line) =>
                line.difficulty !== null && (
                  <option key={line.id} value={line.id}>
                    {line.number ? `No. ${line.number}, ` : ""}
                    {line.title}
                  </option>
                ),
            )}
          </select>
        </label>
        <label className="flex h-10 items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={filter.crosses}
            onChange={(event) => set({ crosses: event.target.checked })}
          />
          clarinets cross the break
        </label>
      </search>
      <p className="flex flex-wrap items-center gap-x-3 gap-y-1 text-sm text-quiet" aria-live="polite">
        {filtered ? `${found.length} of ` : ""}
        {lines.length === 1 ? "1 line," : `${lines.length} lines,`}
        <label>
          <span className="sr-only">Order</span>
          <select
            className="select select-sm w-auto text-sm border-neutral"
            value={order}
            onChange={(event) => setOrder(event.target.value as Order)}
          >
            {Object.entries(ORDERS).map(([id, name]) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
        {filtered && (
          <button type="button" className="link" onClick={() => set(NOTHING)}>
            show all
          </button>
        )}
        <span>
          <kbd className="key">/</kbd> finds, <kbd className="key">↑</kbd> <kbd className="key">↓</kbd> walk
          the lines. Difficulty begins at 0; range, leaps, rhythm, snags and signs add to it.
        </span>
      </p>
      {printing.length > 0 && (
        <p className="flex items-center gap-3 text-sm">
          <a
            className="btn btn-sm btn-primary"
            href={`/shelf/print?lines=${printing.slice(0, MOST_PRINTED).join(",")}`}
          >
            Print{" "}
            {printing.length === 1 ? "this line" : `these ${Math.min(printing.length, MOST_PRINTED)} lines`},
            one sheet a player
          </a>
          {printing.length > MOST_PRINTED && (
            <span className="text-felt">At most {MOST_PRINTED} at once.</span>
          )}
          <button type="button" className="link" onClick={() => setPrinting([])}>
            choose none
          </button>
        </p>
      )}
      <div className="panel overflow-x-auto">
        <table ref={table} className="table table-sm">
          <thead className="text-base-content">
            <tr>
              <th>
                <span className="sr-only">Choose to print</span>
              </th>
              <th>No.</th>
              <th>Line</th>
              <th>Concert key</th>
              <th>Metre</th>
              <th>Bars</th>
              <th>Tempo</th>
              <th>Difficulty</th>
              <th>Ready</th>
              <th>Given</th>
            </tr>
          </thead>
          <tbody>
            {found.slice(0, shown).map((line) => (
              <Row
                key={line.id}
                line={line}
                ownOrder={order === "teaching"}
                chosen={printing.includes(line.id)}
                choose={(on) =>
                  setPrinting(on ? [...printing, line.id] : printing.filter((id) => id !== line.id))
                }
              />
            ))}
          </tbody>
        </table>
        {found.length === 0 && <p className="p-4">No line fits. Leave out one of the conditions above.</p>}
        {found.length > shown && (
          <button type="button" className="btn btn-ghost m-2" onClick={() => setShown(shown + SHOWN_AT_ONCE)}>
            Show {Math.min(SHOWN_AT_ONCE, found.length - shown)} more
          </button>
        )}
      </div>
    </div>
  );
}

interface RowProps {
  line: LineSummary;
  ownOrder: boolean;
  /** Chosen to be printed with others. */
  chosen: boolean;
  choose: (on: boolean) => void;
}

function Row({ line, ownOrder, chosen, choose }: RowProps) {
  const details = [line.page ? `p. ${line.page}` : "", line.introduces].filter(Boolean).join(" · ");
  return (
    <tr>
      <td>
        {!line.catalogued && (
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            aria-label={`Print ${line.title} with others`}
            checked={chosen}
            onChange={(event) => choose(event.target.checked)}
          />
        )}
      </td>
      <td>{ownOrder ? (line.teachingPlace ?? "–") : (line.number ?? "–")}</td>
      <td>
        <a className="text-base font-bold hover:underline" href={`/shelf/${line.id}`}>
          {line.title}
        </a>
        <span className="block text-quiet">{details}</span>
        {ownOrder && line.teachingReason && <span className="block">{line.teachingReason}</span>}
      </td>
      <td>{line.concertKey}</td>
      <td>{line.metre}</td>
      <td>{line.bars}</td>
      <td className="whitespace-nowrap">{line.bpm} bpm</td>
      <td>{line.difficulty?.toFixed(1) ?? "–"}</td>
      <td className="whitespace-nowrap">
        {line.catalogued ? "in the book" : `${line.readyPlayers} of ${line.players}`}
        {line.crossesBreak && <span className="block text-felt">cl: break</span>}
      </td>
      <td>{line.assigned > 0 ? `${line.assigned}×` : "–"}</td>
    </tr>
  );
}

interface ChoiceProps {
  label: string;
  all: string;
  options: string[];
  value: string;
  choose: (value: string) => void;
}

function Choice({ label, all, options, value, choose }: ChoiceProps) {
  return (
    <label className="flex flex-col text-sm font-bold">
      {label}
      <select
        className="select w-auto border-neutral font-normal"
        value={value}
        onChange={(event) => choose(event.target.value)}
      >
        <option value="">{all}</option>
        {options.map((option) => (
          <option key={option}>{option}</option>
        ))}
      </select>
    </label>
  );
}

/** The director's own places first, then the book's; a line that is no music yet has no difficulty and comes last. */
function inOrder(lines: LineSummary[], order: Order): LineSummary[] {
  if (order === "book") return lines;
  const place = (line: LineSummary) =>
    (order === "teaching" ? line.teachingPlace : line.difficulty) ?? Number.POSITIVE_INFINITY;
  return [...lines].sort((a, b) => (place(a) === place(b) ? 0 : place(a) - place(b)));
}

function fits(line: LineSummary, filter: Filter, like: number | null): boolean {
  const text = filter.text.trim().toLowerCase();
  // Everything that a row shows is found.
  const within = [
    line.number ?? "",
    line.title,
    line.page ? `p. ${line.page}` : "",
    line.introduces,
    line.concertKey,
    line.metre,
    `${line.bpm} bpm`,
    line.teachingReason,
    line.book,
    line.catalogued ? "in the book" : "",
    line.crossesBreak ? "break" : "",
  ]
    .join(" ")
    .toLowerCase();
  return (
    (text === "" || text.split(/\s+/).every((word) => within.includes(word))) &&
    (filter.key === "" || line.concertKey === filter.key) &&
    (filter.metre === "" || line.metre === filter.metre) &&
    (filter.without === "" || !line.rhythms.includes(filter.without)) &&
    (filter.brings === "" || line.bringsNew.includes(filter.brings)) &&
    (!filter.crosses || line.crossesBreak) &&
    (filter.book === "" || line.book === filter.book) &&
    (like === null || (line.difficulty !== null && Math.abs(line.difficulty - like) <= ABOUT_AS_HARD)) &&
    (filter.without === "" || !line.catalogued) &&
    isReady(line, filter.ready)
  );
}

function isReady(line: LineSummary, who: string): boolean {
  if (who === "") return true;
  if (line.players === 0 || line.catalogued) return false;
  if (who === "everybody") return line.readyPlayers === line.players;
  return READY[who]!.every(
    (family) => !line.familiesAsked.includes(family) || line.readyFamilies.includes(family),
  );
}

function unique(values: string[]): string[] {
  return [...new Set(values)].sort((a, b) => a.localeCompare(b));
}
