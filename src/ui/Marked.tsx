import { useEffect, useState } from "react";
import { call } from "../client/api";
import type { Terms } from "../core/practice";
import type { Rubric } from "../core/progress";

interface Props {
  terms: Terms;
  set: (part: Partial<Terms>) => void;
}

/** How a task is marked: by which rubric of the band, and what of it counts how much here. */
export function Marked({ terms, set }: Props) {
  const rubrics = useRubrics();
  const { criteria } = terms;
  const rubric = rubrics.find(({ id }) => id === terms.rubric) ?? rubrics[0];
  if (!rubric) return null;
  const asItSays = rubric.criteria.map(({ id, weight }) => ({ criterion: id, weight }));
  const weightOf = (id: string) => criteria?.find(({ criterion }) => criterion === id)?.weight ?? 0;
  return (
    <fieldset>
      <legend className="font-bold">How it is marked</legend>
      <label className="flex items-center gap-2">
        by
        <select
          aria-label="Marked by"
          className="select select-sm w-auto border-neutral"
          value={rubric.id}
          onChange={({ target: { value } }) =>
            set({ rubric: value === rubrics[0]!.id ? null : value, criteria: null })
          }
        >
          {rubrics.map(({ id, name, school }) => (
            <option key={id} value={id}>
              {name}
              {school === "pass" ? ": passed or not yet" : ""}
            </option>
          ))}
        </select>
        <a className="link" href="/band/settings#marking">
          change or add
        </a>
      </label>
      {rubric.school === "marks" && (
        <label className="mt-1 flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={criteria === null}
            onChange={({ target: { checked } }) => set({ criteria: checked ? null : asItSays })}
          />
          everything in it, as it says
        </label>
      )}
      {rubric.school === "marks" && criteria !== null && (
        <div className="mt-1 flex flex-wrap gap-2">
          {rubric.criteria.map(({ id, word }) => (
            <label key={id} className="flex items-center gap-1">
              {word}
              <select
                aria-label={`Weight of ${word.toLowerCase()}`}
                className="select select-sm w-16 border-neutral"
                value={weightOf(id)}
                onChange={(event) => {
                  const weight = Number(event.target.value);
                  const now = rubric.criteria
                    .map((each) => ({
                      criterion: each.id,
                      weight: each.id === id ? weight : weightOf(each.id),
                    }))
                    .filter((each) => each.weight > 0);
                  set({ criteria: now.length > 0 ? now : null });
                }}
              >
                {[0, 1, 2, 3, 4, 5].map((weight) => (
                  <option key={weight} value={weight}>
                    {weight === 0 ? "no" : `× ${weight}`}
                  </option>
                ))}
              </select>
            </label>
          ))}
        </div>
      )}
    </fieldset>
  );
}

/** The band's ways to mark; empty until they are here, and where they cannot be had: the task keeps what it has. */
function useRubrics(): Rubric[] {
  const [rubrics, setRubrics] = useState<Rubric[]>([]);
  useEffect(() => {
    call<{ rubrics: Rubric[] }>("GET", "/api/band/rubrics").then(
      (found) => setRubrics(found.rubrics),
      () => setRubrics([]),
    );
  }, []);
  return rubrics;
}
