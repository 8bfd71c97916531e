import { useMemo, useState } from "react";
import { modeFor } from "../../../core/listen";
import { parsePitch } from "../../../core/music";
import { fingerMoves, nearestKnown } from "../../../core/practice";
import type { TaskDetail } from "../../../services/practice/wire";
import type { NewNote } from "../../../services/shelf/schema";
import { FingeringList } from "../../../ui/Fingering";
import { movesText, noteChoices } from "../../../ui/wording";
import { PencilPanel } from "../../pencil/PencilPanel";
import { RecordingPlayer } from "../../pencil/RecordingPlayer";
import { History } from "../answers";
import { Asking } from "./Asking";
import { HearDifference } from "./HearDifference";
import type { Pair } from "./use-special";

interface Props {
  task: TaskDetail;
  reload: () => void;
  practisePair: (pair: Pair) => void;
  /** Opens playing with somebody. */
  playTogether: () => void;
}

const pitchOf = ({ name }: NewNote) => parsePitch(name);

/** What helps with a line, folded away until it is wanted: new notes, recordings, pencil, questions, earlier takes. */
export function Asides({ task, reload, practisePair, playTogether }: Props) {
  const [penciled, setPenciled] = useState("");
  const notes = noteChoices(task.part.noteList);
  const real = !task.catalogued && !task.counting;
  return (
    <div className="flex flex-col gap-3">
      {task.part.newNotes.length > 0 && (
        <Fold
          title={task.part.newNotes.length === 1 ? "One new note" : `${task.part.newNotes.length} new notes`}
        >
          <FingeringList notes={task.part.newNotes} />
          {task.part.newNotes.map((note) => (
            <FromKnown key={note.name} note={note} known={task.practice.known} practisePair={practisePair} />
          ))}
        </Fold>
      )}
      {real && modeFor(task.recordScore) === undefined && (
        <Fold title="Play with a partner, or with yourself">
          <p>
            You and somebody beside you, or you and your own take: play together, and see in which bars you
            differ.
          </p>
          <button
            type="button"
            className="btn h-11 self-start border-base-300 bg-base-100"
            onClick={playTogether}
          >
            Play with a partner
          </button>
        </Fold>
      )}
      {task.recordings.length > 0 && (
        <Fold title="Play along with a recording">
          {task.recordings.map((recording) => (
            <RecordingPlayer key={recording.id} recording={recording} />
          ))}
        </Fold>
      )}
      {real && (
        <Fold title="Hear the difference">
          <HearDifference task={task} />
        </Fold>
      )}
      {!task.catalogued && (
        <Fold title={`Write it in${task.pencil.length > 0 ? ` (${task.pencil.length})` : ""}`}>
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
        </Fold>
      )}
      <Fold title={`Ask your director${task.questions.length > 0 ? ` (${task.questions.length})` : ""}`}>
        <Asking task={task} />
      </Fold>
      {task.history.length > 0 && <History takes={task.history} score={task.score} reload={reload} />}
    </div>
  );
}

/** What is folded away is made when it is opened. */
function Fold({ title, children }: { title: string; children: React.ReactNode }) {
  const [opened, setOpened] = useState(false);
  return (
    <details className="panel p-4" onToggle={({ currentTarget }) => currentTarget.open && setOpened(true)}>
      <summary className="cursor-pointer text-base font-bold">{title}</summary>
      {opened && <div className="mt-3 flex flex-col gap-3">{children}</div>}
    </details>
  );
}

/** A new note from one that is known: which fingers stay, which move, and the drill of the change. */
function FromKnown({
  note,
  known,
  practisePair,
}: {
  note: NewNote;
  known: readonly NewNote[];
  practisePair: (pair: Pair) => void;
}) {
  const from = useMemo(
    () =>
      nearestKnown(
        { pitch: pitchOf(note), fingering: note.fingering },
        known.map((each) => ({ pitch: pitchOf(each), fingering: each.fingering, note: each })),
      ),
    [note, known],
  );
  if (!from?.fingering || !note.fingering) return null;
  const moves = fingerMoves(from.fingering, note.fingering);
  if (!moves) return null;
  return (
    <div className="flex flex-wrap items-center gap-3">
      <p className="min-w-52 flex-1">
        <b>
          From {from.note.name} to {note.name}:
        </b>{" "}
        {movesText(moves, note.fingering.kind).join(" ")}
      </p>
      <button
        type="button"
        className="btn h-11 border-base-300 bg-base-100"
        onClick={() =>
          practisePair({ from: from.note.name, to: note.name, pitches: [from.pitch, pitchOf(note)] })
        }
      >
        Practise the change
      </button>
    </div>
  );
}
