import { useCallback, useEffect, useRef, useState } from "react";
import { call } from "../../client/api";
import { INSTRUMENTS, instrumentById, type Stage } from "../../core/music";
import { COLUMNS, type Column, RosterError, rosterText } from "../../core/roster";
import type { RosterLook } from "../../services/band/schema";
import { FileInput } from "../../ui/FileInput";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";
import {
  nameList,
  ROSTER_COLUMNS,
  ROSTER_PROBLEMS,
  rowProblem,
  rowWill,
  STAGE_NAMES,
} from "../../ui/wording";
import type { BandState } from "./use-band";

interface Props {
  desk: BandState;
  close: () => void;
}

/** A list of players: pasted or dropped, looked at, then brought in as one step. */
export function RosterDesk({ desk, close }: Props) {
  const [text, setText] = useState("");
  const [columns, setColumns] = useState<Column[]>();
  const [look, setLook] = useState<RosterLook | null>(null);
  const [choices, setChoices] = useState<Record<string, string>>({});
  const [instruments, setInstruments] = useState<Record<string, string>>({});
  const [stage, setStage] = useState<Stage>("five-notes");
  const [done, setDone] = useState("");
  const { busy, problem, run, say } = useCall();
  const newest = useRef("");

  const lookAt = useCallback(async (list: string, chosen?: Column[]) => {
    newest.current = list;
    if (!list.trim()) return setLook(null);
    const found = await call<RosterLook>("POST", "/api/roster/look", {
      text: list,
      ...(chosen ? { columns: chosen } : {}),
    });
    // A slow answer about an older list is not shown over a newer one.
    if (newest.current === list) setLook(found);
  }, []);
  useEffect(() => {
    const wait = setTimeout(() => {
      lookAt(text, columns).catch((error: Error) => say(error.message));
    }, 250);
    return () => clearTimeout(wait);
  }, [text, columns, lookAt, say]);

  const take = async (file: File | undefined) => {
    if (!file) return;
    say("");
    try {
      setColumns(undefined);
      setText(rosterText(new Uint8Array(await file.arrayBuffer())));
    } catch (error) {
      if (!(error instanceof RosterError)) throw error;
      say(ROSTER_PROBLEMS[error.reason]);
    }
  };
  const bring = async () => {
    let answer: { said: string; leftOut: number } | undefined;
    const went = await desk.act(async () => {
      answer = await run(
        () =>
          call("POST", "/api/roster", { text, choices, instruments, stage, ...(columns ? { columns } : {}) }),
        "The list could not be brought in.",
      );
    }, "The list could not be brought in.");
    if (!went || !answer) return;
    setDone(
      `${answer.said}.${answer.leftOut > 0 ? ` ${answer.leftOut} ${answer.leftOut === 1 ? "row was" : "rows were"} left out.` : ""}`,
    );
    setText("");
    setLook(null);
  };

  const counts = countsOf(look, choices, instruments);
  return (
    <section className="no-print panel flex flex-col gap-3 p-4" aria-label="Bring a list in">
      <div className="flex items-baseline justify-between gap-3">
        <h2 className="text-xl">Bring a list in</h2>
        <button type="button" className="btn btn-ghost btn-sm" onClick={close}>
          Close
        </button>
      </div>
      {done && (
        <output className="flex items-center gap-3 font-bold text-done">
          {done}
          <button
            type="button"
            className="btn btn-sm border-base-300 bg-base-100"
            disabled={desk.busy}
            onClick={() => desk.undo().then(() => setDone(""))}
          >
            Undo
          </button>
        </output>
      )}
      <label className="flex flex-col gap-1 text-sm">
        <span className="font-bold">
          Copy the rows in your spreadsheet and paste them here, or drop a CSV file. Nothing is stored until
          you have looked at it.
        </span>
        <textarea
          className="textarea h-28 w-full border-neutral font-mono text-sm"
          value={text}
          placeholder={
            "Name\tInstrument\tGroup\nAda Holm\tclarinet\tReeds\nBo Lind\tbells and snare\tPercussion"
          }
          onChange={(event) => {
            setColumns(undefined);
            setText(event.target.value);
          }}
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => {
            event.preventDefault();
            void take(event.dataTransfer.files[0]);
          }}
        />
      </label>
      <label className="flex flex-wrap items-center gap-2 text-sm">
        or choose a file
        <FileInput
          accept=".csv,.tsv,.txt,text/csv"
          className="file-input file-input-sm border-neutral"
          onFiles={([file]) => void take(file)}
        />
      </label>
      <Problem text={problem || (look?.problem ? ROSTER_PROBLEMS[look.problem] : "")} />
      {look && !look.problem && (
        <>
          <p className="text-sm">
            <b>
              {counts.add} new, {counts.change} changed, {counts.same} as they are
              {counts.open > 0 ? `, ${counts.open} to look at` : ""}.
            </b>{" "}
            {look.newGroups.length > 0 && `New groups: ${look.newGroups.join(", ")}. `}
            {look.notInList.length > 0 &&
              `Not in this list and left as they are: ${nameList(look.notInList)}.`}
          </p>
          <RosterRows
            look={look}
            choices={choices}
            choose={(line, choice) => setChoices({ ...choices, [line]: choice })}
            instruments={instruments}
            chooseInstrument={(line, id) => setInstruments({ ...instruments, [line]: id })}
            setColumn={(index, column) => setColumns(look.columns.with(index, column))}
          />
          <div className="flex flex-wrap items-end gap-3">
            <label className="flex flex-col text-sm font-bold">
              Stage of new players where the list says none
              <select
                className="select select-sm w-auto border-neutral font-normal"
                value={stage}
                onChange={(event) => setStage(event.target.value as Stage)}
              >
                {Object.entries(STAGE_NAMES).map(([id, name]) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </select>
            </label>
            <button
              type="button"
              className="btn btn-primary"
              disabled={busy || desk.busy || counts.add + counts.change === 0}
              onClick={bring}
            >
              {counts.add + counts.change === 0
                ? "Nothing would change"
                : `Bring in ${counts.add + counts.change} ${counts.add + counts.change === 1 ? "row" : "rows"}`}
            </button>
          </div>
        </>
      )}
    </section>
  );
}

/** How many rows would do what, the choices on the page counted in. */
function countsOf(
  look: RosterLook | null,
  choices: Record<string, string>,
  instruments: Record<string, string>,
): Record<"add" | "change" | "same" | "open", number> {
  const counts = { add: 0, change: 0, same: 0, open: 0 };
  for (const row of look?.rows ?? []) {
    const choice = choices[row.line];
    if (choice === "skip") continue;
    const withInstrument = instruments[row.line] !== undefined;
    if (row.act === "add" || row.act === "change" || row.act === "same") counts[row.act]++;
    else if (choice === "add" || (row.act === "unusable" && withInstrument && row.name)) counts.add++;
    else if (choice !== undefined) counts.same++;
    else counts.open++;
  }
  return counts;
}

interface RowsProps {
  look: RosterLook;
  choices: Record<string, string>;
  choose: (line: number, choice: string) => void;
  instruments: Record<string, string>;
  chooseInstrument: (line: number, id: string) => void;
  setColumn: (index: number, column: Column) => void;
}

function RosterRows({ look, choices, choose, instruments, chooseInstrument, setColumn }: RowsProps) {
  return (
    <div className="max-h-96 overflow-auto rounded border border-base-300">
      <table className="table table-sm text-sm">
        <caption className="sr-only">What each row of the list would do</caption>
        <thead className="sticky top-0 z-10 bg-base-100 text-base-content">
          <tr>
            <th colSpan={4}>
              <div className="flex flex-wrap gap-2">
                {look.columns.map((column, index) => (
                  <label key={`${index}-${look.headings[index]}`} className="flex flex-col font-normal">
                    “{look.headings[index]}” is
                    <select
                      className="select select-xs w-auto border-neutral text-sm"
                      value={column}
                      onChange={(event) => setColumn(index, event.target.value as Column)}
                    >
                      {COLUMNS.map((each) => (
                        <option key={each} value={each}>
                          {ROSTER_COLUMNS[each]}
                        </option>
                      ))}
                    </select>
                  </label>
                ))}
              </div>
            </th>
          </tr>
          <tr>
            <th>Line</th>
            <th>Player</th>
            <th>Plays</th>
            <th>What happens</th>
          </tr>
        </thead>
        <tbody>
          {look.rows.map((row) => {
            const lacks = row.instruments.length === 0;
            const asks = row.act === "ask" || row.act === "double" || row.act === "unusable";
            return (
              <tr key={row.line} className={asks && choices[row.line] === undefined ? "bg-reed/40" : ""}>
                <td className="text-quiet">{row.line}</td>
                <td className="font-bold">{row.name || "no name"}</td>
                <td>
                  {lacks && row.name ? (
                    <select
                      className="select select-xs w-auto border-neutral text-sm"
                      aria-label={`Instrument of ${row.name}`}
                      value={instruments[row.line] ?? ""}
                      onChange={(event) => chooseInstrument(row.line, event.target.value)}
                    >
                      <option value="" disabled>
                        choose …
                      </option>
                      {INSTRUMENTS.map(({ id, name }) => (
                        <option key={id} value={id}>
                          {name}
                        </option>
                      ))}
                    </select>
                  ) : (
                    row.instruments.map((id) => instrumentById(id).name).join(" and ")
                  )}
                </td>
                <td>
                  {rowWill(row)}
                  {row.problems.map((each) => (
                    <span key={rowProblem(each)} className="block text-brass">
                      {rowProblem(each)}
                    </span>
                  ))}
                  {(row.act === "ask" || row.act === "double") && (
                    <span className="mt-1 flex flex-wrap gap-1">
                      {row.act === "ask" && (
                        <Choice
                          on={choices[row.line] === row.playerId}
                          choose={() => choose(row.line, row.playerId)}
                        >
                          It is {row.likeName}
                        </Choice>
                      )}
                      <Choice on={choices[row.line] === "add"} choose={() => choose(row.line, "add")}>
                        {row.act === "double" ? "Two children of one name" : "A new player"}
                      </Choice>
                      <Choice on={choices[row.line] === "skip"} choose={() => choose(row.line, "skip")}>
                        Leave out
                      </Choice>
                    </span>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

function Choice({ on, choose, children }: { on: boolean; choose: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      className={`btn btn-xs text-sm ${on ? "btn-primary" : "border-base-300 bg-base-100"}`}
      onClick={choose}
    >
      {children}
    </button>
  );
}
