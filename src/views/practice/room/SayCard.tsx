import { useMemo } from "react";
import { instrumentById, pitchName } from "../../../core/music";
import type { TaskDetail } from "../../../services/practice/wire";
import type { NewNote } from "../../../services/shelf/schema";
import { FingeringCard } from "../../../ui/Fingering";
import type { Follow } from "./use-round";

interface Props {
  task: TaskDetail;
  follow: Follow;
  step: "finger" | "sing";
  /** After a clean pass the fingering is no longer shown. */
  fromMemory: boolean;
}

/** What is said or sung now, large, and the fingering of what comes, a beat ahead. */
export function SayCard({ task, follow, step, fromMemory }: Props) {
  const notes = useMemo(() => {
    const byName = new Map<string, NewNote>();
    for (const note of [...task.practice.known, ...task.part.newNotes]) byName.set(note.name, note);
    return byName;
  }, [task]);
  const nameOf = useMemo(() => {
    const names = new Map<string, string>();
    for (const { events } of task.score.parts[0].measures)
      for (const { id, pitch } of events) if (pitch) names.set(id, pitchName(pitch));
    return names;
  }, [task]);
  const noteAt = (eventId: string | null) => notes.get(nameOf.get(eventId ?? "") ?? "");
  const now = noteAt(follow.eventId);
  const ahead = noteAt(follow.aheadId ?? follow.eventId) ?? noteAt(firstNote(task));
  const brass = typeof instrumentById(task.instrumentId).fingering === "object";
  const said =
    step === "sing" ? follow.text : now ? (brass ? now.fingeringText : now.name.replace(/\d+$/, "")) : "";
  return (
    <section className="panel flex items-center gap-4 p-3">
      <p
        className="min-w-28 text-center font-heading text-4xl font-bold"
        aria-hidden="true"
        data-testid="say"
      >
        {said || "·"}
      </p>
      {fromMemory ? (
        <p className="flex-1">Now from memory: no fingering is shown.</p>
      ) : ahead ? (
        <div className="flex flex-1 items-center gap-3">
          <span className="text-sm text-quiet">next</span>
          <FingeringCard note={ahead} forDirector={false} />
        </div>
      ) : (
        <p className="flex-1 text-quiet">
          {step === "sing" ? "Hear the first note, then sing with the beat." : "Say each note with the beat."}
        </p>
      )}
    </section>
  );
}

function firstNote(task: TaskDetail): string | null {
  return task.part.noteList[0]?.eventId ?? null;
}
