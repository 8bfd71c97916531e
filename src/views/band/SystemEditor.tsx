import { useState } from "react";
import { ApiError, call } from "../../client/api";
import { type CountingSystem, OWN_WORDS } from "../../core/rhythm";
import { Pick } from "../../ui/Pick";

const PLACES = {
  simple: ["on the beat", "first quarter after", "half", "last quarter"],
  triplet: ["on the beat", "second third", "last third"],
  compound: ["on the beat", "1/6", "1/3", "1/2", "2/3", "5/6"],
} as const;

/** The syllables a band counts in: the systems that ship as they are, own ones to be written. */
export function SystemEditor({ systems, chosen }: { systems: CountingSystem[]; chosen: string | null }) {
  const [draft, setDraft] = useState<CountingSystem>(() =>
    asOwn(systems.find((each) => each.id === chosen) ?? OWN_WORDS),
  );
  const [told, setTold] = useState("");
  const [problem, setProblem] = useState("");
  const doing = async (act: () => Promise<string>) => {
    setProblem("");
    setTold("");
    try {
      setTold(await act());
    } catch (error) {
      setProblem(error instanceof ApiError ? error.message : "That did not work. Try again in a moment.");
    }
  };
  const save = () =>
    doing(async () => {
      const { id: _id, source: _source, ...content } = draft;
      await call("POST", "/api/counting/systems", content);
      return `"${draft.name}" is kept. Reload the page to count in it.`;
    });
  const input = "input input-sm w-20 border-neutral font-normal";
  return (
    <section className="panel flex h-fit flex-col gap-3 p-4">
      <h2 className="text-xl">Counting system</h2>
      <div className="flex flex-wrap items-end gap-3">
        <Pick
          label="Begin from"
          value=""
          options={{
            "": "choose …",
            ...Object.fromEntries([...systems, OWN_WORDS].map(({ id, name }) => [id, name])),
          }}
          choose={(id) =>
            setDraft(asOwn([...systems, OWN_WORDS].find((each) => each.id === id) ?? OWN_WORDS))
          }
        />
        <Pick
          label="The band counts in"
          value={chosen ?? ""}
          options={{
            ...(chosen ? {} : { "": "choose …" }),
            ...Object.fromEntries(systems.map(({ id, name }) => [id, name])),
          }}
          choose={(system) =>
            doing(async () => {
              await call("PUT", "/api/counting/chosen", { system });
              return "New pages are counted in it.";
            })
          }
        />
      </div>
      <label className="flex flex-col text-sm font-bold">
        Name of your own
        <input
          className="input w-full border-neutral font-normal"
          value={draft.name}
          maxLength={60}
          onChange={(event) => setDraft({ ...draft, name: event.target.value })}
        />
      </label>
      {draft.kind === "position" ? (
        (["simple", "triplet", "compound"] as const).map((row) => (
          <fieldset key={row}>
            <legend className="text-sm font-bold">
              {
                { simple: "Beat in quarters", triplet: "Beat in thirds", compound: "Beat of 6/8 in sixths" }[
                  row
                ]
              }
              {row === "simple" && (
                <span className="font-normal text-quiet"> · {"{n}"} is the number of the beat</span>
              )}
            </legend>
            <div className="flex flex-wrap gap-2">
              {draft[row].map((syllable, i) => (
                <input
                  key={PLACES[row][i]}
                  className={input}
                  value={syllable}
                  maxLength={12}
                  aria-label={`${row}, ${PLACES[row][i]}`}
                  onChange={(event) =>
                    setDraft({
                      ...draft,
                      [row]: (draft[row] as string[]).with(i, event.target.value),
                    } as CountingSystem)
                  }
                />
              ))}
            </div>
          </fieldset>
        ))
      ) : (
        <fieldset>
          <legend className="text-sm font-bold">A syllable for each note value</legend>
          <p className="text-sm text-quiet">
            Several with blanks between are said by place in the beat: “ti ri” for sixteenths.
          </p>
          <div className="flex flex-wrap gap-2">
            {Object.entries(draft.values).map(([value, syllable]) => (
              <label key={value} className="flex flex-col text-sm">
                {value}
                <input
                  className={input}
                  value={syllable}
                  maxLength={12}
                  onChange={(event) =>
                    setDraft({ ...draft, values: { ...draft.values, [value]: event.target.value } })
                  }
                />
              </label>
            ))}
          </div>
        </fieldset>
      )}
      <div className="flex flex-wrap gap-3">
        <Pick
          label="Rests"
          value={draft.rests}
          options={{ brackets: "in brackets", silent: "silent" }}
          choose={(rests) => setDraft({ ...draft, rests })}
        />
        <Pick
          label="Tied notes"
          value={draft.ties}
          options={{ brackets: "in brackets", silent: "silent" }}
          choose={(ties) => setDraft({ ...draft, ties })}
        />
      </div>
      <button type="button" className="btn self-start border-base-300 bg-base-100" onClick={save}>
        Keep this system
      </button>
      {told && <output className="text-sm text-done">{told}</output>}
      {problem && (
        <p role="alert" className="text-sm text-felt">
          {problem}
        </p>
      )}
    </section>
  );
}

/** A copy to write on; one that ships gets a name of its own. */
function asOwn(system: CountingSystem): CountingSystem {
  return system.source === "own"
    ? system
    : { ...system, id: "own", source: "own", name: `Our ${system.name}` };
}
