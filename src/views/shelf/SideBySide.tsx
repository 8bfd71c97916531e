import { useEffect, useState } from "react";
import { call } from "../../client/api";
import type { PartView } from "../../services/shelf/schema";
import { Notation } from "../../ui/Notation";

const MOST = 4;

/** The parts of several instruments one under another, bar against bar. */
export function SideBySide({
  lineId,
  title,
  stage,
  instruments,
}: {
  lineId: string;
  title: string;
  stage: string;
  instruments: { id: string; name: string }[];
}) {
  const [chosen, setChosen] = useState<string[]>(() =>
    ["clarinet", "sax-alto", "horn", "trombone"]
      .filter((id) => instruments.some((each) => each.id === id))
      .slice(0, 3),
  );
  const [parts, setParts] = useState<Map<string, PartView>>(new Map());
  const [problem, setProblem] = useState("");

  useEffect(() => {
    let current = true;
    Promise.all(
      chosen.map((id) => call<PartView>("GET", `/api/lines/${lineId}/parts/${id}?stage=${stage}&width=wide`)),
    ).then(
      (views) => current && setParts(new Map(views.map((view) => [view.instrumentId, view]))),
      (error: Error) => current && setProblem(error.message),
    );
    return () => {
      current = false;
    };
  }, [chosen, lineId, stage]);

  return (
    <div className="flex flex-col gap-3">
      <fieldset className="flex flex-wrap gap-x-4 gap-y-1 text-sm">
        <legend className="mb-1 text-quiet">Choose up to {MOST} instruments.</legend>
        {instruments.map(({ id, name }) => (
          <label key={id} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={chosen.includes(id)}
              disabled={!chosen.includes(id) && chosen.length >= MOST}
              onChange={(event) =>
                setChosen(event.target.checked ? [...chosen, id] : chosen.filter((each) => each !== id))
              }
            />
            {name}
          </label>
        ))}
      </fieldset>
      {problem && <p className="text-felt">{problem}</p>}
      {chosen.map((id) => {
        const part = parts.get(id);
        if (!part) return null;
        return (
          <section key={id}>
            <h3 className="text-base">
              {part.instrumentName}, {part.key}
              {part.newNotes.length > 0 && (
                <span className="font-sans text-sm font-normal text-felt">
                  {" "}
                  new: {part.newNotes.map((note) => note.name).join(" ")}
                </span>
              )}
            </h3>
            <Notation svg={part.svg} label={`${title}, ${part.instrumentName}, ${part.key}`} />
          </section>
        );
      })}
      {chosen.length === 0 && <p className="text-quiet">No instrument is chosen.</p>}
    </div>
  );
}
