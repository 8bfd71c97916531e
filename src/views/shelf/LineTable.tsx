import { useMemo, useState } from "react";
import type { LineSummary } from "../../services/shelf/schema";

const SHOWN_AT_ONCE = 100;
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

interface Filter {
  text: string;
  key: string;
  metre: string;
  without: string;
  ready: string;
  brings: string;
  crosses: boolean;
}
const NOTHING: Filter = { text: "", key: "", metre: "", without: "", ready: "", brings: "", crosses: false };

/** The shelf as a table that answers a director's questions. */
export function LineTable({ lines }: { lines: LineSummary[] }) {
  const [filter, setFilter] = useState<Filter>(NOTHING);
  const [shown, setShown] = useState(SHOWN_AT_ONCE);
  const keys = useMemo(() => unique(lines.map((line) => line.concertKey)), [lines]);
  const metres = useMemo(() => unique(lines.map((line) => line.metre)), [lines]);
  const rhythms = useMemo(
    () => RHYTHMS.filter((rhythm) => lines.some((line) => line.rhythms.includes(rhythm))),
    [lines],
  );
  const brings = useMemo(() => unique(lines.flatMap((line) => line.bringsNew)), [lines]);
  const found = useMemo(() => lines.filter((line) => fits(line, filter)), [lines, filter]);
  const set = (change: Partial<Filter>) => {
    setFilter({ ...filter, ...change });
    setShown(SHOWN_AT_ONCE);
  };
  const filtered = JSON.stringify(filter) !== JSON.stringify(NOTHING);

  if (lines.length === 0) {
    return (
      <p className="panel p-6">
        The shelf is empty. Import a line from a MusicXML file, for example one exported from your notation
        program.
      </p>
    );
  }
  return (
    <div className="flex min-w-0 flex-col gap-3">
      <search className="panel flex flex-wrap items-end gap-x-3 gap-y-2 p-3">
        <label className="flex min-w-40 flex-1 flex-col text-sm font-bold">
          Find
          <input
            type="search"
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
      <p className="flex items-center gap-3 text-sm text-quiet" aria-live="polite">
        {filtered ? `${found.length} of ${lines.length} lines` : `${lines.length} lines, in book order`}
        {filtered && (
          <button type="button" className="link" onClick={() => set(NOTHING)}>
            show all
          </button>
        )}
      </p>
      <div className="panel overflow-x-auto">
        <table className="table table-sm">
          <thead className="text-base-content">
            <tr>
              <th>No.</th>
              <th>Line</th>
              <th>Concert key</th>
              <th>Metre</th>
              <th>Bars</th>
              <th>Mark</th>
              <th>Ready</th>
              <th>Given</th>
            </tr>
          </thead>
          <tbody>
            {found.slice(0, shown).map((line) => (
              <Row key={line.id} line={line} />
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

function Row({ line }: { line: LineSummary }) {
  const details = [line.page ? `p. ${line.page}` : "", line.introduces].filter(Boolean).join(" · ");
  return (
    <tr>
      <td>{line.number ?? "–"}</td>
      <td>
        <a className="text-base font-bold hover:underline" href={`/shelf/${line.id}`}>
          {line.title}
        </a>
        <span className="block text-quiet">{details}</span>
      </td>
      <td>{line.concertKey}</td>
      <td>{line.metre}</td>
      <td>{line.bars}</td>
      <td className="whitespace-nowrap">{line.bpm} bpm</td>
      <td className="whitespace-nowrap">
        {line.readyPlayers} of {line.players}
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

function fits(line: LineSummary, filter: Filter): boolean {
  const text = filter.text.trim().toLowerCase();
  const within = `${line.number ?? ""} ${line.title} ${line.introduces}`.toLowerCase();
  return (
    (text === "" || text.split(/\s+/).every((word) => within.includes(word))) &&
    (filter.key === "" || line.concertKey === filter.key) &&
    (filter.metre === "" || line.metre === filter.metre) &&
    (filter.without === "" || !line.rhythms.includes(filter.without)) &&
    (filter.brings === "" || line.bringsNew.includes(filter.brings)) &&
    (!filter.crosses || line.crossesBreak) &&
    isReady(line, filter.ready)
  );
}

function isReady(line: LineSummary, who: string): boolean {
  if (who === "") return true;
  if (line.players === 0) return false;
  if (who === "everybody") return line.readyPlayers === line.players;
  return READY[who]!.every(
    (family) => !line.familiesAsked.includes(family) || line.readyFamilies.includes(family),
  );
}

function unique(values: string[]): string[] {
  return [...new Set(values)].sort((a, b) => a.localeCompare(b));
}
