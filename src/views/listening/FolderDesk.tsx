import { instrumentById } from "../../core/music";
import type { BringTask } from "../../services/listening/wire";
import { FileInput } from "../../ui/FileInput";
import { useReady } from "../../ui/use-ready";
import { type FolderRow, useFolder } from "./use-folder";

const BY: Record<NonNullable<FolderRow["by"]>, string> = {
  name: "by its name",
  sound: "by its sound",
  only: "the only line",
  hand: "by you",
};
const STATE: Record<FolderRow["state"], string> = {
  waiting: "waits",
  looking: "being looked at",
  ready: "ready",
  asks: "asks you",
  bringing: "being sent",
  done: "brought in",
  known: "was here already",
  refused: "cannot be used",
};

/** A folder of phone recordings: looked at first, whose and of which line each is, then brought in. */
export function FolderDesk({ tasks }: { tasks: BringTask[] }) {
  const ready = useReady();
  const folder = useFolder(tasks);
  const { rows, players, left, bringing } = folder;
  const count = (state: FolderRow["state"]) => rows.filter((row) => row.state === state).length;
  const toLookAt = count("waiting") + count("looking");
  const through = count("done") + count("known") + count("refused");
  const take = (files: File[]) => void folder.add(files);
  return (
    <div className="flex flex-col gap-4">
      <fieldset
        className="panel flex flex-wrap items-center gap-3 border-dashed p-4"
        aria-label="Files to bring in"
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          take([...event.dataTransfer.files]);
        }}
      >
        <label className={`btn btn-primary ${ready ? "" : "btn-disabled"}`}>
          Choose recordings
          <FileInput
            multiple
            className="sr-only"
            aria-label="Choose recordings"
            disabled={!ready}
            onFiles={take}
          />
        </label>
        <label className={`btn border-base-300 bg-base-100 ${ready ? "" : "btn-disabled"}`}>
          Choose a folder
          <FileInput
            multiple
            className="sr-only"
            aria-label="Choose a folder"
            disabled={!ready}
            ref={(input) => input?.setAttribute("webkitdirectory", "")}
            onFiles={take}
          />
        </label>
        <p className="max-w-xl text-sm text-quiet">
          Or drop files here. Names like “Ines No 26.m4a” are read; where only the player is named, the bench
          hears which of the player's lines it is. Nothing is stored before you have seen the list. Whoever is
          heard has to have agreed: your school's rules come first.
        </p>
      </fieldset>
      {left > 0 && (
        <p className="text-sm text-quiet">
          {left === 1 ? "One file is" : `${left} files are`} no recording and left out.
        </p>
      )}
      {rows.length > 0 && (
        <>
          <div className="flex flex-wrap items-center gap-3">
            <button
              type="button"
              className="btn btn-primary"
              disabled={bringing || count("ready") === 0}
              onClick={() => void folder.bring()}
            >
              Bring in {count("ready") === 1 ? "1 recording" : `${count("ready")} recordings`}
            </button>
            {toLookAt > 0 && (
              <button
                type="button"
                className="btn border-base-300 bg-base-100"
                onClick={() => folder.pauseLooking(!folder.pausedLooking)}
              >
                {folder.pausedLooking ? `Look at the other ${toLookAt}` : "Stop looking"}
              </button>
            )}
            {bringing && (
              <>
                <progress
                  className="progress w-48"
                  value={through}
                  max={rows.length}
                  aria-label="Brought in"
                />
                <button type="button" className="btn border-base-300 bg-base-100" onClick={folder.stop}>
                  Stop after these
                </button>
              </>
            )}
            <output data-testid="folder-state">
              {[
                toLookAt > 0 && `${rows.length - toLookAt} of ${rows.length} looked at`,
                count("asks") > 0 && `${count("asks")} ${count("asks") === 1 ? "asks" : "ask"} you`,
                count("done") > 0 && `${count("done")} brought in`,
                count("known") > 0 && `${count("known")} here already`,
                count("refused") > 0 && `${count("refused")} cannot be used`,
              ]
                .filter(Boolean)
                .join(" · ")}
            </output>
            {count("done") > 0 && !bringing && (
              <a className="link" href="/listen?order=newest">
                Hear them
              </a>
            )}
          </div>
          <table className="panel w-full text-left text-sm">
            <thead className="text-quiet">
              <tr>
                {["file", "player", "line", "found", ""].map((name) => (
                  <th key={name} className="px-3 py-1 font-normal">
                    {name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <Row key={row.key} row={row} players={players} tasks={tasks} choose={folder.choose} />
              ))}
            </tbody>
          </table>
        </>
      )}
    </div>
  );
}

interface RowProps {
  row: FolderRow;
  players: readonly BringTask[];
  tasks: readonly BringTask[];
  choose: ReturnType<typeof useFolder>["choose"];
}

function Row({ row, players, tasks, choose }: RowProps) {
  const { key, path, playerId, taskId, by, state, problem } = row;
  const may = new Set(tasks.filter((task) => row.may?.includes(task.taskId)).map((task) => task.playerId));
  const likelyFirst = [...players].sort((a, b) => Number(may.has(b.playerId)) - Number(may.has(a.playerId)));
  const fixed = !["ready", "asks"].includes(state);
  const own = tasks.filter((task) => task.playerId === playerId);
  const field = "select select-sm w-full border-neutral";
  return (
    <tr className={`border-t border-base-300 ${state === "asks" ? "bg-reed/40" : ""}`}>
      <th className="max-w-56 truncate px-3 py-1 font-normal" title={path}>
        {path}
      </th>
      <td className="px-3 py-1">
        <select
          className={field}
          aria-label={`Player of ${path}`}
          value={playerId ?? ""}
          disabled={fixed}
          onChange={(event) => choose(key, { playerId: event.target.value || null })}
        >
          <option value="">whose?</option>
          {likelyFirst.map((player) => (
            <option key={player.playerId} value={player.playerId}>
              {player.playerName}, {instrumentById(player.instrumentId).name}
            </option>
          ))}
        </select>
      </td>
      <td className="px-3 py-1">
        <select
          className={field}
          aria-label={`Line of ${path}`}
          value={taskId ?? ""}
          disabled={fixed || own.length === 0}
          onChange={(event) => choose(key, { taskId: event.target.value || null })}
        >
          <option value="">which?</option>
          {own.map((task) => (
            <option key={task.taskId} value={task.taskId}>
              {task.lineNumber ? `No. ${task.lineNumber} ` : ""}
              {task.lineTitle}, due {task.dueLabel}
              {task.state === "accepted" ? " (accepted)" : ""}
            </option>
          ))}
        </select>
      </td>
      <td className="whitespace-nowrap px-3 py-1">{by ? BY[by] : ""}</td>
      <td className={`px-3 py-1 ${state === "refused" || state === "asks" ? "text-felt" : ""}`}>
        {problem || STATE[state]}
      </td>
    </tr>
  );
}
