import { type HEARD, type Rubric, type RubricCriterion, USUAL_RUBRIC } from "../../core/progress";
import type { SettingsView } from "../../services/settings/schema";
import { Choice, input, NumberSetting, Section, Setting, Tick } from "./settings-parts";

type Marking = Pick<
  SettingsView,
  "rubrics" | "late" | "redo" | "attempts" | "corrected" | "cleanSamples" | "markTogether"
>;

interface Props {
  now: Marking;
  set: (change: Partial<Marking>) => void;
  fields: Record<string, string>;
}

const HEARS_NAMES: Record<(typeof HEARD)[number] | "ear", string> = {
  notes: "pitches",
  rhythm: "time and lengths",
  articulation: "attacks",
  ear: "nothing: by ear",
};

/** How takes are marked: the band's ways to mark, what counts of several takes, and what is late. */
export function MarkingSettings({ now, set, fields }: Props) {
  const { rubrics, late } = now;
  const change = (at: number, rubric: Rubric) =>
    set({ rubrics: rubrics.map((each, i) => (i === at ? rubric : each)) });
  const problem = Object.entries(fields).find(([name]) => name.startsWith("rubrics"))?.[1];
  return (
    <Section title="How takes are marked" id="marking">
      <div className="flex flex-col gap-3 py-2">
        <p className="text-sm text-quiet">
          The first is the usual one; another is chosen where a line is given. Marks that were given stay as
          they were. Nothing is marked without you.
        </p>
        {rubrics.map((rubric, at) => (
          <RubricEditor
            key={rubric.id}
            rubric={rubric}
            change={(changed) => change(at, changed)}
            remove={rubrics.length > 1 ? () => set({ rubrics: rubrics.filter((_, i) => i !== at) }) : null}
          />
        ))}
        {problem && (
          <p role="alert" className="text-sm font-bold text-felt">
            {problem}
          </p>
        )}
        <button
          type="button"
          className="btn btn-sm self-start border-base-300 bg-base-100"
          onClick={() =>
            set({
              rubrics: [
                ...rubrics,
                { ...USUAL_RUBRIC, id: freshId(rubrics, "way"), name: freshName(rubrics) },
              ],
            })
          }
        >
          Add a way to mark
        </button>
      </div>
      <Setting
        label="Of several marked takes"
        says="Who plays it again is not marked down by a worse take, or is."
      >
        <Choice
          value={now.redo}
          options={{ best: "the best counts", last: "the last counts" }}
          choose={(redo) => set({ redo })}
        />
      </Setting>
      <Setting
        label="Of several attempts in one recording"
        says="Played twice with talk or quiet between, the bench tells them apart. New takes are heard by it."
      >
        <Choice
          value={now.attempts}
          options={{ best: "the best is judged", last: "the last is judged" }}
          choose={(attempts) => set({ attempts })}
        />
      </Setting>
      <Setting
        label="A wrong start that is put right"
        says="Another note was tried, then the right one. It is told in either case; new takes are heard by it."
      >
        <Choice
          value={now.corrected}
          options={{ right: "the note counts as right", wrong: "the note counts as wrong" }}
          choose={(corrected) => set({ corrected })}
        />
      </Setting>
      <Setting
        label="What comes late"
        says="From the day it was due to the first take; a redo is never late. A make-up has a day of its own."
        problem={fields.late}
      >
        <span className="flex items-center gap-2">
          <Percent
            label="Percent less a day"
            value={late.percentPerDay}
            set={(percentPerDay) => set({ late: { ...late, percentPerDay } })}
          />
          % less a day, at most
          <Percent
            label="Percent less at most"
            value={late.mostPercent}
            set={(mostPercent) => set({ late: { ...late, mostPercent } })}
          />
          %
        </span>
      </Setting>
      <NumberSetting
        label="Clean takes heard before the rest"
        says="In Listen, so many of the clean takes are heard; then the others can be accepted together."
        problem={fields.cleanSamples}
        min={1}
        max={20}
        value={now.cleanSamples}
        set={(cleanSamples) => set({ cleanSamples })}
      />
      <Tick
        on={now.markTogether}
        set={(markTogether) => set({ markTogether })}
        label="Takes accepted together are marked"
        says="As the bench suggests, for what it can hear; else they are accepted without marks."
      />
    </Section>
  );
}

function Percent({ label, value, set }: { label: string; value: number; set: (value: number) => void }) {
  return (
    <input
      type="number"
      className={`${input} w-20`}
      aria-label={label}
      min={0}
      max={100}
      value={value}
      onChange={(event) => set(Number(event.target.value))}
    />
  );
}

interface EditorProps {
  rubric: Rubric;
  change: (rubric: Rubric) => void;
  /** Null for the only one. */
  remove: (() => void) | null;
}

function RubricEditor({ rubric, change, remove }: EditorProps) {
  const { levels, criteria, school } = rubric;
  const changeCriterion = (at: number, part: Partial<RubricCriterion>) =>
    change({ ...rubric, criteria: criteria.map((each, i) => (i === at ? { ...each, ...part } : each)) });
  return (
    <fieldset className="rounded-box border border-base-300 p-3" aria-label={rubric.name}>
      <div className="flex flex-wrap items-center gap-2">
        <input
          className={`${input} w-44 font-bold`}
          aria-label="Name of this way to mark"
          value={rubric.name}
          maxLength={40}
          onChange={(event) => change({ ...rubric, name: event.target.value })}
        />
        <Choice
          label={`${rubric.name}: how`}
          value={school}
          options={{ marks: "levels, added up", pass: "passed or not yet" }}
          choose={(next) => change({ ...rubric, school: next })}
        />
        {remove && (
          <button type="button" className="btn btn-ghost btn-sm ml-auto" onClick={remove}>
            Take out
          </button>
        )}
      </div>
      {school === "marks" && (
        <div className="mt-2 flex flex-wrap items-center gap-1 text-sm">
          <span className="w-16">Levels</span>
          {levels.map((word, place) => (
            <input
              key={place}
              className={`${input} w-24`}
              aria-label={`Level ${place + 1}`}
              value={word}
              maxLength={30}
              onChange={(event) =>
                change({
                  ...rubric,
                  levels: levels.map((each, i) => (i === place ? event.target.value : each)),
                })
              }
            />
          ))}
          {levels.length < 6 && (
            <button
              type="button"
              className="btn btn-ghost btn-sm"
              onClick={() => change({ ...rubric, levels: [...levels, `level ${levels.length + 1}`] })}
            >
              One more
            </button>
          )}
          {levels.length > 2 && (
            <button
              type="button"
              className="btn btn-ghost btn-sm"
              onClick={() =>
                change({
                  ...rubric,
                  levels: levels.slice(0, -1),
                  criteria: criteria.map((each) => ({
                    ...each,
                    means: each.means.slice(0, levels.length - 1),
                  })),
                })
              }
            >
              One less
            </button>
          )}
        </div>
      )}
      <table className="mt-2 text-sm">
        <thead>
          <tr className="text-left">
            <th className="pr-2">Listened for</th>
            {school === "marks" && <th className="pr-2">Counts</th>}
            {school === "marks" && <th className="pr-2">The bench suggests by</th>}
            <th />
          </tr>
        </thead>
        <tbody>
          {criteria.map((criterion, at) => (
            <tr key={criterion.id}>
              <td className="py-0.5 pr-2">
                <input
                  className={`${input} w-36`}
                  aria-label={`Criterion ${at + 1}`}
                  value={criterion.word}
                  maxLength={30}
                  onChange={(event) => changeCriterion(at, { word: event.target.value })}
                />
              </td>
              {school === "marks" && (
                <td className="pr-2">
                  <select
                    className="select select-sm w-18 border-neutral"
                    aria-label={`${criterion.word} counts`}
                    value={criterion.weight}
                    onChange={(event) => changeCriterion(at, { weight: Number(event.target.value) })}
                  >
                    {[1, 2, 3, 4, 5].map((weight) => (
                      <option key={weight} value={weight}>
                        × {weight}
                      </option>
                    ))}
                  </select>
                </td>
              )}
              {school === "marks" && (
                <td className="pr-2">
                  <Choice
                    label={`${criterion.word}: the bench suggests by`}
                    value={criterion.hears ?? "ear"}
                    options={HEARS_NAMES}
                    choose={(hears) => changeCriterion(at, { hears: hears === "ear" ? null : hears })}
                  />
                </td>
              )}
              <td>
                {criteria.length > 1 && (
                  <button
                    type="button"
                    className="btn btn-ghost btn-sm"
                    aria-label={`Take out ${criterion.word}`}
                    onClick={() => change({ ...rubric, criteria: criteria.filter((_, i) => i !== at) })}
                  >
                    Take out
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-1 flex flex-wrap items-start gap-3">
        <button
          type="button"
          className="btn btn-sm border-base-300 bg-base-100"
          onClick={() =>
            change({
              ...rubric,
              criteria: [
                ...criteria,
                { id: freshId(criteria, "own"), word: "", weight: 1, means: [], hears: null },
              ],
            })
          }
        >
          Listen for something else too
        </button>
        {school === "marks" && <Meanings rubric={rubric} change={changeCriterion} />}
      </div>
    </fieldset>
  );
}

/** What each level means of each criterion, for whoever marks. */
function Meanings({
  rubric: { levels, criteria },
  change,
}: {
  rubric: Rubric;
  change: (at: number, part: Partial<RubricCriterion>) => void;
}) {
  return (
    <details className="text-sm">
      <summary className="cursor-pointer py-1">What the levels mean</summary>
      {criteria.map((criterion, at) => (
        <div key={criterion.id} className="mt-1">
          <b>{criterion.word}</b>
          {levels.map((word, place) => (
            <label key={place} className="mt-0.5 flex items-center gap-2">
              <span className="w-24">{word}</span>
              <input
                className={`${input} w-72`}
                aria-label={`${criterion.word}: ${word} means`}
                value={criterion.means[place] ?? ""}
                maxLength={160}
                onChange={(event) =>
                  change(at, {
                    means: levels.map((_, i) =>
                      i === place ? event.target.value : (criterion.means[i] ?? ""),
                    ),
                  })
                }
              />
            </label>
          ))}
        </div>
      ))}
    </details>
  );
}

function freshId(taken: readonly { id: string }[], prefix: string): string {
  let number = taken.length + 1;
  while (taken.some(({ id }) => id === `${prefix}-${number}`)) number += 1;
  return `${prefix}-${number}`;
}

function freshName(rubrics: readonly Rubric[]): string {
  let number = rubrics.length + 1;
  while (rubrics.some(({ name }) => name === `Way ${number}`)) number += 1;
  return `Way ${number}`;
}
