import { useState } from "react";
import { readForm } from "../../core/rhythm";
import type { TaskDetail } from "../../services/practice/wire";
import { FingeringList } from "../../ui/Fingering";
import { noteChoices } from "../../ui/wording";
import { Activities } from "../counting/Activities";
import { PencilPanel } from "../pencil/PencilPanel";
import { RecordingPlayer } from "../pencil/RecordingPlayer";
import { Difference } from "../shelf/Difference";
import { History } from "./answers";

interface Props {
  task: TaskDetail;
  bpm: number;
  reload: () => void;
}

/** What helps with a task before it is recorded: counting, new notes, the difference, play-alongs, pencil, earlier takes. */
export function TaskTools({ task, bpm, reload }: Props) {
  const [penciled, setPenciled] = useState("");
  const notes = noteChoices(task.part.noteList);
  return (
    <>
      {task.counting && (
        <Activities
          forms={task.counting.forms.map(readForm)}
          bpm={task.goalBpm}
          loops={2}
          system={task.counting.system}
          seed={task.counting.forms.length}
        />
      )}
      {task.part.newNotes.length > 0 && (
        <section>
          <h2 className="mb-2 text-xl">New notes here</h2>
          <FingeringList notes={task.part.newNotes} />
        </section>
      )}
      {!task.catalogued && !task.counting && (
        <details className="panel p-4">
          <summary className="cursor-pointer text-xl font-bold">Hear the difference</summary>
          <div className="mt-3">
            <Difference score={task.score} bpm={bpm} sound={task.instrumentId} />
          </div>
        </details>
      )}
      {task.recordings.length > 0 && (
        <section className="panel flex flex-col gap-3 p-4">
          <h2 className="text-xl">Play along</h2>
          {task.recordings.map((recording) => (
            <RecordingPlayer key={recording.id} recording={recording} />
          ))}
        </section>
      )}
      {!task.catalogued && (
        <details className="panel p-4">
          <summary className="cursor-pointer text-xl font-bold">
            Pencil{task.pencil.length > 0 ? ` (${task.pencil.length})` : ""}
          </summary>
          <div className="mt-3">
            <PencilPanel
              lineId={task.lineId}
              notes={notes}
              chosen={penciled || notes[0]?.eventId || ""}
              choose={setPenciled}
              marks={task.pencil}
              breaths={task.part.breaths}
              instrument={{ id: task.instrumentId, name: task.instrumentName }}
              forDirector={false}
              changed={reload}
            />
          </div>
        </details>
      )}
      {task.history.length > 0 && <History takes={task.history} reload={reload} />}
    </>
  );
}
