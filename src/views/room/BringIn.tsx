import { useState } from "react";
import { call } from "../../client/api";
import type { OtherLesson } from "../../services/room/wire";
import { Problem } from "../../ui/Problem";
import { useCall } from "../../ui/use-call";

const keyOf = ({ groupName, date }: OtherLesson) => `${groupName} ${date}`;
const nameOf = ({ groupName, label }: OtherLesson) => `${groupName}, ${label}`;
const isShown = ({ blocks }: OtherLesson) => blocks.some(({ left, brought }) => left || brought);

/** Takes over what the class did not get to, or what another lesson does: for several days, and for groups that take turns. */
export function BringIn({ roomId }: { roomId: string }) {
  const [lessons, setLessons] = useState<OtherLesson[] | null>(null);
  const [chosen, setChosen] = useState<string[]>([]);
  const [another, setAnother] = useState("");
  const [said, setSaid] = useState("");
  const { run, busy, problem } = useCall();
  const load = async () => {
    if (lessons) return;
    const found = await run(
      () => call<OtherLesson[]>("GET", `/api/room/${roomId}/lessons`),
      "The other lessons could not be read. Try again in a moment.",
    );
    if (!found) return;
    setLessons(found);
    const all = found.flatMap(({ blocks }) => blocks);
    const there = all.filter(({ brought }) => brought);
    setChosen((there.length > 0 ? there : all.filter(({ left }) => left)).map(({ id }) => id));
  };
  const bring = async () => {
    const done = await run(
      () => call("PUT", `/api/room/${roomId}/lessons`, { strips: chosen }),
      "This could not be brought in. Try again in a moment.",
    );
    if (done)
      setSaid(
        chosen.length === 0
          ? "Nothing of other lessons is in this one."
          : `${chosen.length} brought in. A wall that is open shows it when it is loaded again.`,
      );
  };
  const turn = (id: string) =>
    setChosen((all) => (all.includes(id) ? all.filter((each) => each !== id) : [...all, id]));
  return (
    <details className="w-full text-sm" onToggle={({ currentTarget }) => currentTarget.open && void load()}>
      <summary className="cursor-pointer py-1">Go on with another lesson in this one</summary>
      {lessons?.length === 0 && <p>There is no other lesson with anything planned.</p>}
      {lessons && lessons.length > 0 && (
        <div className="flex flex-col gap-2 border-l-4 border-l-base-300 pl-3">
          <p>
            What you choose comes first; once this lesson has begun it comes last. What the group did not
            reach in its lessons before is chosen already.
          </p>
          {lessons
            .filter((lesson) => isShown(lesson) || keyOf(lesson) === another)
            .map((lesson) => (
              <fieldset key={keyOf(lesson)}>
                <legend className="font-bold">{nameOf(lesson)}</legend>
                {lesson.blocks.map(({ id, title, minutes, left }) => (
                  <label key={id} className="flex items-center gap-2 py-1">
                    <input
                      type="checkbox"
                      className="checkbox checkbox-sm"
                      checked={chosen.includes(id)}
                      onChange={() => turn(id)}
                    />
                    {title}, {minutes} min{left && ", not reached"}
                  </label>
                ))}
              </fieldset>
            ))}
          <label className="flex items-center gap-2">
            From another lesson
            <select
              className="select select-sm w-auto border-neutral"
              value={another}
              onChange={({ target }) => setAnother(target.value)}
            >
              <option value="">choose</option>
              {lessons
                .filter((lesson) => !isShown(lesson))
                .map((lesson) => (
                  <option key={keyOf(lesson)} value={keyOf(lesson)}>
                    {nameOf(lesson)}
                  </option>
                ))}
            </select>
          </label>
          <button
            type="button"
            className="btn btn-sm self-start border-base-300 bg-base-100"
            disabled={busy}
            onClick={bring}
          >
            Do these in this lesson
          </button>
          <output>{said}</output>
        </div>
      )}
      <Problem text={problem} />
    </details>
  );
}
