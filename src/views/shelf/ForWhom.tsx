import { STAGES, type Stage } from "../../core/music";
import { STAGE_NAMES } from "../../ui/wording";

/** Whom of a group something is for; everybody where nothing is said. */
export interface Only {
  instrumentIds?: string[];
  stages?: Stage[];
  playerIds?: string[];
}

/** A player as a target: with instruments and stage. */
export interface Person {
  id: string;
  name: string;
  groupIds: string[];
  instruments: string[];
  stage: Stage;
}

interface Props {
  people: readonly Person[];
  instruments: readonly { id: string; name: string }[];
  only: Only | null;
  choose: (only: Only | null) => void;
}

const KINDS = {
  everyone: "everybody in it",
  instrumentIds: "some instruments",
  stages: "some stages",
  playerIds: "single players",
} as const;
type Kind = keyof typeof KINDS;

/** Everybody of a group, or only some instruments, stages or players of it. */
export function ForWhom({ people, instruments, only, choose }: Props) {
  const kind: Kind = only?.playerIds
    ? "playerIds"
    : only?.stages
      ? "stages"
      : only?.instrumentIds
        ? "instrumentIds"
        : "everyone";
  const present = new Set(people.flatMap((person) => person.instruments));
  const options: Record<Exclude<Kind, "everyone">, { id: string; name: string }[]> = {
    instrumentIds: instruments.filter(({ id }) => present.has(id)),
    stages: STAGES.map((id) => ({ id, name: STAGE_NAMES[id] })),
    playerIds: [...people],
  };
  const chosen: readonly string[] = (kind !== "everyone" && only?.[kind]) || [];
  return (
    <fieldset className="mb-1 flex flex-col gap-1">
      <legend className="font-bold">For</legend>
      <select
        aria-label="For whom in it"
        className="select w-full border-neutral"
        value={kind}
        onChange={(event) => {
          const next = event.target.value as Kind;
          choose(next === "everyone" ? null : { [next]: [] });
        }}
      >
        {Object.entries(KINDS).map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
      {kind !== "everyone" && (
        <div className="flex max-h-40 flex-col gap-1 overflow-y-auto rounded border border-base-300 p-2 text-sm">
          {options[kind].map(({ id, name }) => (
            <label key={id} className="flex items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={chosen.includes(id)}
                onChange={(event) =>
                  choose({
                    [kind]: event.target.checked ? [...chosen, id] : chosen.filter((each) => each !== id),
                  })
                }
              />
              {name}
            </label>
          ))}
          {chosen.length === 0 && <p className="font-bold text-felt">Choose at least one.</p>}
        </div>
      )}
    </fieldset>
  );
}
